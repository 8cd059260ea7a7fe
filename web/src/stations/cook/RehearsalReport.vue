<script setup lang="ts">
/** What a rehearsal showed: plates, what was late and why, where hands clashed, what to lay ready. */
import type { Schemas } from '../../api/client'
import { clock } from '../../bench/dates'
import { minutes } from '../../bench/units'

const props = defineProps<{ report: Schemas['Rehearsed']; zone?: string }>()
const apart = (done: number, planned: number) => {
  const late = done - planned
  if (Math.abs(late) < 60) return 'as planned'
  return `${minutes(Math.abs(late))} ${late > 0 ? 'late' : 'early'}`
}
const plate = (p: Schemas['PlateMet']) =>
  p.done === null
    ? `not reached; planned ${clock(p.planned, props.zone)}`
    : `${clock(p.done, props.zone)}, ${apart(p.done, p.planned)}`
</script>

<template>
  <div class="stack">
    <p class="sentence">{{ report.sentence }}</p>
    <section v-if="report.plates.length">
      <h3>On the table</h3>
      <ul class="lines">
        <li v-for="p in report.plates" :key="p.tag">
          <strong>{{ p.tag }}</strong> {{ plate(p) }}
        </li>
      </ul>
    </section>
    <section>
      <h3>Late</h3>
      <ul v-if="report.late.length" class="lines">
        <li v-for="l in report.late.slice(0, 12)" :key="l.tag + l.what + l.planned">
          <strong>{{ l.tag }}</strong> {{ l.what }}: {{ minutes(l.began - l.planned) }} after
          {{ clock(l.planned, zone) }}<template v-if="l.why">; {{ l.why }}</template>
        </li>
      </ul>
      <p v-else class="soft">Nothing began more than a minute late.</p>
      <p v-if="report.late.length > 12" class="soft">And {{ report.late.length - 12 }} more, less late.</p>
    </section>
    <section>
      <h3>Hands</h3>
      <ul v-if="report.clashes.length" class="lines">
        <li v-for="c in report.clashes" :key="c.begin">
          {{ clock(c.begin, zone) }} to {{ clock(c.end, zone) }}: {{ c.what.join(' and ') }}
        </li>
      </ul>
      <p v-else class="soft">They were never wanted in two places at once.</p>
    </section>
    <section v-if="report.skipped.length">
      <h3>Not done</h3>
      <ul class="lines">
        <li v-for="s in report.skipped" :key="s">{{ s }}</li>
      </ul>
    </section>
    <section v-if="report.ready.length">
      <h3>To have ready</h3>
      <ul class="lines">
        <li v-for="r in report.ready" :key="r.text">
          by {{ clock(r.by, zone) }}: {{ r.text }} <span class="soft">({{ r.tags.join(', ') }})</span>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.sentence {
  font-size: var(--type-4);
  margin: 0;
}
h3 {
  margin: 0 0 var(--gap-1);
}
</style>
