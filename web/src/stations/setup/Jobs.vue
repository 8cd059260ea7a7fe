<script setup lang="ts">
/**
 * The whole job of each method on one scale: hands in ink, watching hatched dark, heat in the method's
 * colour, waiting empty.
 */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { minutes } from '../../bench/units'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial }>()
const { data } = useQuery({
  queryKey: queryKeys.fairness(props.trial.id, 'jobs'),
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/jobs', { params: { path: { trial_id: props.trial.id } } }))
      .data!,
})
const method = (id: string) => props.trial.methods.find((m) => m.id === id)
const rows = computed(() => data.value?.items.filter((j) => method(j.method_id)) ?? [])
const open = ref('')
const x = (s: number) => (100 * s) / (data.value?.longest_s || 1)
const main = (j: Schemas['JobView']) => j.stretches.filter((s) => !s.days_before)
const ahead = (j: Schemas['JobView']) => j.stretches.filter((s) => s.days_before)
const tight = computed(() => rows.value.length > 10)
</script>

<template>
  <section v-if="data" class="stack">
    <h2>{{ data.sentence }}</h2>
    <p class="row small soft legend">
      <span><i class="hands" />hands</span><span><i class="watched" />someone there</span
      ><span><i class="heat" />heat</span><span><i class="waiting" />waiting</span
      ><span><i class="wash_up" />washing-up</span>
    </p>
    <ol class="jobs" :class="{ tight }">
      <li v-for="j in rows" :key="j.method_id" :style="{ '--m': method(j.method_id)!.mark.colour }">
        <button
          class="who"
          :aria-expanded="open === j.method_id"
          @click="open = open === j.method_id ? '' : j.method_id"
        >
          <LoafMark :mark="method(j.method_id)!.mark" :size="tight ? 22 : 30" /><strong>{{
            method(j.method_id)!.tag
          }}</strong
          ><span class="name">{{ method(j.method_id)!.name }}</span>
        </button>
        <div class="track" role="img" :aria-label="`${minutes(j.total_s)} in all`">
          <i
            v-for="(s, i) in main(j)"
            :key="i"
            :class="s.kind"
            :style="{ left: `${x(s.start_s)}%`, width: `${Math.max(x(s.length_s), 0.25)}%` }"
            :title="`${s.what}, ${minutes(s.length_s)}`"
          />
        </div>
        <span class="mono total">{{ minutes(j.total_s) }}</span>
        <span class="small soft told"
          >hands {{ minutes(j.hands_s) }} in {{ j.called }} goes<template v-if="j.watched_s">
            · someone there {{ minutes(j.watched_s) }}</template
          >
          · heat {{ minutes(j.heat_s) }} · waiting {{ minutes(j.waiting_s) }} · washing-up
          {{ minutes(j.wash_up_s) }}<template v-if="j.rounds > 1"> · {{ j.rounds }} rounds</template
          ><template v-if="j.ahead_s">
            · before the day:
            {{
              ahead(j)
                .map((s) => `${s.what.toLowerCase()} (${minutes(s.length_s)})`)
                .join(', ')
            }}</template
          ></span
        >
        <table v-if="open === j.method_id" class="plain steps">
          <tbody>
            <tr v-for="(s, i) in j.stretches" :key="i">
              <td class="mono">{{ s.days_before ? `${s.days_before} d before` : minutes(s.start_s) }}</td>
              <td>{{ s.what }}</td>
              <td>{{ s.appliance }}</td>
              <td class="mono">{{ minutes(s.length_s) }}</td>
              <td class="soft">
                {{
                  {
                    hands: 'hands',
                    watched: 'someone there',
                    heat: 'heat',
                    waiting: 'waiting',
                    wash_up: 'washing-up',
                  }[s.kind]
                }}
              </td>
            </tr>
          </tbody>
        </table>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.jobs {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: var(--gap-3);
}
.jobs li {
  display: grid;
  grid-template-columns: 260px 1fr 104px;
  gap: 0 var(--gap-3);
  align-items: center;
}
.who {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  background: none;
  border: 0;
  padding: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
  min-height: 36px;
  min-width: 0;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.track {
  position: relative;
  height: 26px;
  border: 1px solid var(--line);
  background: var(--paper);
}
.track i {
  position: absolute;
  top: 0;
  bottom: 0;
}
.hands {
  background: var(--ink);
}
.watched {
  background: repeating-linear-gradient(135deg, var(--hatch-dark-a) 0 5px, var(--hatch-dark-b) 5px 10px);
}
.heat {
  background: var(--m, var(--crust));
}
.waiting {
  background: repeating-linear-gradient(135deg, var(--hatch-a) 0 5px, var(--hatch-b) 5px 10px);
}
.wash_up {
  background: repeating-linear-gradient(45deg, var(--alone-a) 0 4px, var(--alone-b) 4px 8px);
}
.total {
  text-align: right;
  white-space: nowrap;
}
.told {
  grid-column: 2 / -1;
}
.steps {
  grid-column: 1 / -1;
}
.legend {
  gap: var(--gap-4);
}
.legend span {
  display: inline-flex;
  gap: var(--gap-2);
  align-items: center;
}
.legend i {
  width: 26px;
  height: 14px;
  border: 1px solid var(--line-strong);
}
.tight {
  gap: var(--gap-0);
}
.tight .told {
  display: none;
}
.tight .track {
  height: 18px;
}
.tight .who {
  min-height: 30px;
}
@media (max-width: 800px) {
  .jobs li {
    grid-template-columns: 1fr 80px;
  }
  .track {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  .told {
    grid-column: 1 / -1;
  }
}
</style>
