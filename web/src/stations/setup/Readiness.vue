<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive } from 'vue'
import { api, type Method, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const { data } = useQuery({
  queryKey: queryKeys.fairness(props.trial.id, 'readiness'),
  queryFn: async () =>
    (await api.GET('/api/v1/trials/{trial_id}/readiness', { params: { path: { trial_id: props.trial.id } } }))
      .data!.items,
})
const lists = computed(() => new Map((data.value ?? []).map((l) => [l.method_id, l.items] as const)))
const own = reactive<Record<string, string>>({})
const typed = reactive(
  Object.fromEntries(
    props.trial.methods.map((m) => [m.id, { vessel: m.vessel, place: m.place, operator: m.operator }]),
  ) as Record<string, { vessel: string; place: string; operator: string }>,
)
const set = (m: Method, body: Record<string, unknown>) =>
  props.edit((_, headers) =>
    api.PATCH('/api/v1/trials/{trial_id}/methods/{method_id}', {
      params: { path: { trial_id: props.trial.id, method_id: m.id } },
      headers,
      body,
    }),
  )
async function add(m: Method) {
  if (own[m.id]?.trim() && (await set(m, { checks: [...m.checks, own[m.id]!.trim()] }))) own[m.id] = ''
}
const takeOff = (m: Method, check: string) => set(m, { checks: m.checks.filter((k) => k !== check) })
</script>

<template>
  <section class="stack">
    <h2>Ticked or waived at the bench before a method starts</h2>
    <p class="soft">
      Made from steps, appliances, vessel, lid and hazards. A shift keeps the list as it was when it was made.
    </p>
    <article v-for="m in trial.methods" :key="m.id" class="one">
      <div class="row">
        <LoafMark :mark="m.mark" :size="28" />
        <h3 class="grow">{{ m.tag }} {{ m.name }}</h3>
        <label class="row small"
          >Vessel<el-input
            v-model="typed[m.id]!.vessel"
            class="w"
            placeholder="tray"
            :aria-label="`Vessel of ${m.tag}`"
            @change="set(m, { vessel: typed[m.id]!.vessel })"
        /></label>
        <label class="row small"
          >Lid<el-select
            :model-value="m.lid || undefined"
            class="s"
            clearable
            placeholder="none"
            :aria-label="`Lid of ${m.tag}`"
            @change="(v: string) => set(m, { lid: v ?? '' })"
            ><el-option
              v-for="l in ['lid on', 'lid off', 'lid ajar']"
              :key="l"
              :value="l"
              :label="l" /></el-select
        ></label>
        <label class="row small"
          >Place<el-input
            v-model="typed[m.id]!.place"
            class="w"
            placeholder="middle shelf"
            :aria-label="`Place of ${m.tag}`"
            @change="set(m, { place: typed[m.id]!.place })"
        /></label>
        <label class="row small"
          >Cooked by<el-input
            v-model="typed[m.id]!.operator"
            class="w"
            :aria-label="`Operator of ${m.tag}`"
            @change="set(m, { operator: typed[m.id]!.operator })"
        /></label>
      </div>
      <ul>
        <li v-for="i in lists.get(m.id)" :key="i.key">
          {{ i.text }} <span class="soft small">{{ i.why }}</span>
        </li>
      </ul>
      <form class="row" @submit.prevent="add(m)">
        <el-input
          v-model="own[m.id]"
          class="more"
          placeholder="something of your own"
          :aria-label="`Add to the list of ${m.tag}`"
        /><button class="act quiet">Add</button
        ><button v-for="c in m.checks" :key="c" type="button" class="act quiet" @click="takeOff(m, c)">
          Take “{{ c }}” off
        </button>
      </form>
    </article>
  </section>
</template>

<style scoped>
.one {
  border-top: 1px solid var(--line);
  padding-top: var(--gap-3);
}
ul {
  margin: var(--gap-2) 0;
  padding: 0;
  list-style: none;
  columns: 2;
  column-gap: var(--gap-6);
}
li {
  break-inside: avoid;
  padding: var(--gap-0) 0 var(--gap-0) var(--gap-5);
  position: relative;
}
li::before {
  content: '';
  position: absolute;
  left: 2px;
  top: 8px;
  width: 14px;
  height: 14px;
  border: 2px solid var(--ink);
  border-radius: 3px;
}
.w {
  width: 130px;
}
.s {
  width: 110px;
}
.more {
  width: 320px;
}
@media (max-width: 800px) {
  ul {
    columns: 1;
  }
}
</style>
