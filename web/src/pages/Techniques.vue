<script setup lang="ts">
/**
 * The kitchen's library of technique templates: shipped ones changed, hidden or put back, own ones made from
 * them.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, words, type Schemas } from '../api/client'
import { minutes, temperature } from '../bench/units'
import { queryKeys } from '../api/queries/keys'
import TechniqueDialog from './TechniqueDialog.vue'
import { keyOf, techniqueSent, type TechniqueForm } from './techniqueForm'

const client = useQueryClient()
const { data } = useQuery({
  queryKey: queryKeys.techniqueLibrary(),
  queryFn: async () => (await api.GET('/api/v1/techniques')).data!,
})
const problem = ref('')
type T = Schemas['TechniqueView']
const RANGES: [string, string][] = [
  ['set_point_c', 'set to'],
  ['cook_s', 'cooked'],
  ['power_w', 'watts into the food'],
]
const say = (k: string, v: number) =>
  k === 'cook_s' ? minutes(v) : k === 'power_w' ? `${v} W` : temperature(v)
const told = (t: T) =>
  RANGES.filter(([k]) => t.ranges[k])
    .map(([k, w]) => `${w} ${say(k, t.ranges[k]![0]!)} to ${say(k, t.ranges[k]![1]!)}`)
    .join(', ')
const editing = ref<{ technique: T; own: boolean } | null>(null)
async function run(act: () => Promise<unknown>) {
  try {
    await act()
    problem.value = ''
    editing.value = null
    await client.invalidateQueries({ queryKey: queryKeys.techniqueLibrary() })
    await client.invalidateQueries({ queryKey: queryKeys.techniques() })
  } catch (error) {
    problem.value = words(error)
  }
}
const keep = (form: TechniqueForm) =>
  run(() =>
    api.PUT('/api/v1/techniques/{key}', {
      params: { path: { key: form.key || keyOf(form.name) } },
      headers: { 'If-Match': form.version },
      body: techniqueSent(form),
    }),
  )
const hide = (t: T) =>
  run(() =>
    api.PATCH('/api/v1/techniques/{key}', {
      params: { path: { key: t.key } },
      headers: { 'If-Match': t.version ?? '' },
      body: { hidden: !t.hidden },
    }),
  )
const reset = (t: T) =>
  run(() => api.DELETE('/api/v1/techniques/{key}', { params: { path: { key: t.key } } }))
const own = computed(() => data.value?.items.filter((t) => t.own).length ?? 0)
</script>

<template>
  <main v-if="data" class="page stack">
    <p><router-link to="/kitchen">Kitchen</router-link></p>
    <section class="say">
      <h1>
        {{ data.items.length }} techniques to start a method from<template v-if="own"
          >, {{ own }} of them this kitchen’s own</template
        >.
      </h1>
      <p class="soft">
        Settings are usual ranges, from practice and not measured. A change here leaves methods that were made
        before as they are.
      </p>
    </section>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <ul class="lines ruled">
      <li v-for="t in data.items" :key="t.key" :class="{ off: t.hidden }">
        <div class="row">
          <span class="grow"
            ><strong>{{ t.name }}</strong> <span v-if="t.own" class="chip">ours</span
            ><span v-if="t.hidden" class="chip">not offered</span
            ><span class="soft small block"
              >{{ told(t) }}. {{ t.steps.length }} steps. Gear: {{ t.gear.join(', ') || 'none' }}. Hazards:
              {{ t.hazards.map((h) => h.replace(/_/g, ' ')).join(', ') || 'none' }}.</span
            ></span
          >
          <button class="act quiet" @click="editing = { technique: t, own: false }">Change</button
          ><button class="act quiet" @click="editing = { technique: t, own: true }">New from it</button
          ><button class="act quiet" @click="hide(t)">{{ t.hidden ? 'Offer again' : 'Do not offer' }}</button
          ><button v-if="t.own" class="act quiet" @click="reset(t)">As shipped</button>
        </div>
      </li>
    </ul>
    <TechniqueDialog
      v-if="editing"
      :technique="editing.technique"
      :own="editing.own"
      :known="data"
      :problem="problem"
      @keep="keep"
      @close="editing = null"
    />
  </main>
</template>

<style scoped>
.off {
  opacity: 0.7;
}
.block {
  display: block;
}
.chip {
  border: 1px solid currentcolor;
  border-radius: 6px;
  padding: 0 var(--gap-2);
  font-size: var(--type-1);
  margin-right: var(--gap-1);
}
</style>
