<script setup lang="ts">
/** Before starting: the last cooking of this method, what was set and what came of it. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { minutes, temperature } from '../../bench/units'
import { weekday } from '../../bench/dates'

const props = defineProps<{ last: Schemas['LastTimeView'] }>()
const setTo = (s: Schemas['SetView']) =>
  [s.set_point_c === null ? '' : temperature(s.set_point_c), s.power_w === null ? '' : `${s.power_w} W`]
    .filter(Boolean)
    .join(' ')
const came = computed(() => {
  const last = props.last
  const told = [
    last.standing !== 'judged' && `${last.standing}: ${last.why}`,
    last.highest_core_c !== null && `core ${temperature(last.highest_core_c)}`,
    last.cooked_yield !== null && `${Math.round(last.cooked_yield * 100)} % of its weight left`,
    ...last.cues.slice(0, 3),
    ...last.notes.slice(-1),
    last.outcome,
  ]
  return told.filter(Boolean).join(' · ') || 'Nothing was noted.'
})
</script>

<template>
  <div class="last small">
    <p>
      <strong>Last time</strong>, {{ weekday(last.when)
      }}<template v-if="!last.same_method">, of the method this one comes from</template>:
      <template v-for="s in last.sets" :key="s.what"
        >{{ s.what }} <span class="mono">{{ setTo(s) }}</span>; </template
      >in the heat <span class="mono">{{ minutes(last.cooked_s) }}</span><template
        v-if="Math.abs(last.cooked_s - last.planned_s) >= 60"
      >
        ({{ minutes(last.planned_s) }} planned)</template
      >.
    </p>
    <p>
      {{ came }}
    </p>
  </div>
</template>

<style scoped>
.last {
  border-left: 5px solid var(--line-strong);
  padding: var(--gap-0) 0 var(--gap-0) var(--gap-3);
  margin: var(--gap-2) 0;
  display: grid;
  gap: var(--gap-0);
}
</style>
