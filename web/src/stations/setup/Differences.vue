<script setup lang="ts">
/**
 * What differs, slipped in first and by what it sways. Side by side up to six methods, grouped by value
 * above.
 */
import { computed, ref } from 'vue'
import { api, type Schemas, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { Edit } from '../useTrial'
import { groupsOf } from './groups'
import Term from '../../guide/Term.vue'
import OwnSway from './OwnSway.vue'
import SettleDifference from './SettleDifference.vue'

const props = defineProps<{
  trial: Trial
  fair: Schemas['FairnessView']
  edit: Edit
  busy: boolean
  problem: string
}>()
const path = { params: { path: { trial_id: props.trial.id } } }
type D = Schemas['DifferenceView']
const open = computed(() => props.fair.differences.filter((d) => !d.varied && !d.result && !d.accepted))
const settled = computed(() => props.fair.differences.filter((d) => d.varied || d.result || d.accepted))
const wide = computed(() => props.trial.methods.length <= 6)
const settling = ref<{ difference: D; how: 'accept' | 'mend' } | null>(null)
/** What it sways is seen otherwise in this kitchen. */
const seen = ref<D | null>(null)
const told = ref('')
const vary = (field: string, on: boolean) =>
  props.edit((t, headers) =>
    api.PATCH('/api/v1/trials/{trial_id}', {
      ...path,
      headers,
      body: { varied: on ? [...t.varied, field] : t.varied.filter((v) => v !== field) },
    }),
  )
const declared = (field: string) =>
  props.trial.varied.some((v) => v === field || (v.endsWith(' of') && field.startsWith(v)))
const mark = (tag: string) => props.trial.methods.find((m) => m.tag === tag)?.mark
</script>

<template>
  <div class="scroll" role="region" tabindex="0" aria-label="Differences, scrolls sideways">
    <table class="plain">
      <thead>
        <tr>
          <th><Term of="what differs">Field</Term></th>
          <template v-if="wide"
            ><th v-for="m in trial.methods" :key="m.id">
              <span class="row nowrap"
                ><LoafMark :mark="m.mark" :size="26" /><strong>{{ m.tag }}</strong></span
              >
            </th></template
          >
          <th v-else>Who has what</th>
          <th>Stands as</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="d in [...open, ...settled]"
          :key="d.field"
          :class="{ open: !d.varied && !d.result && !d.accepted }"
        >
          <td class="field-name">
            <strong>{{ d.field }}</strong>
            <button
              class="why"
              :aria-expanded="told === d.field"
              @click="told = told === d.field ? '' : d.field"
            >
              {{
                d.sways.length
                  ? `sways ${d.sways
                      .slice(0, 3)
                      .map((s) => `${s.attribute.toLowerCase()} ${s.words}`)
                      .join(', ')}`
                  : 'what it sways is not known'
              }}
            </button>
            <span v-if="told === d.field" class="reasons"
              ><span v-for="s in d.sways" :key="s.attribute" class="soft small block"
                >{{ s.attribute }}: {{ s.reason }} <em>{{ s.status }}</em></span
              ><button class="why" @click="seen = d">
                {{ d.sways.length ? 'We see it otherwise' : 'Say what it sways' }}
              </button></span
            >
          </td>
          <template v-if="wide"
            ><td v-for="m in trial.methods" :key="m.id">{{ d.values[m.tag] }}</td></template
          >
          <td v-else>
            <span v-for="g in groupsOf(d.values)" :key="g.value" class="group"
              ><strong>{{ g.value }}</strong>
              <span class="tags"
                ><span v-for="t in g.tags.slice(0, 14)" :key="t" class="tag"
                  ><LoafMark v-if="mark(t) && g.tags.length <= 6" :mark="mark(t)!" :size="18" />{{ t }}</span
                ><span v-if="g.tags.length > 14" class="tag">and {{ g.tags.length - 14 }} more</span></span
              ></span
            >
          </td>
          <td class="acts">
            <template v-if="d.varied && !declared(d.field)">the one thing changed</template>
            <template v-else-if="d.varied"
              >varied on purpose
              <button class="act quiet" :disabled="busy" @click="vary(d.field, false)">
                Not meant
              </button></template
            >
            <template v-else-if="d.result"
              >a result: the state ends it, not the clock
              <button class="act quiet" :disabled="busy" @click="vary(d.field, true)">
                It is what we vary
              </button></template
            >
            <template v-else-if="d.accepted">comes with the method: {{ d.accepted }}</template>
            <template v-else
              ><strong>slipped in</strong><br /><button
                class="act"
                :disabled="busy"
                @click="settling = { difference: d, how: 'mend' }"
              >
                Mend it</button
              ><button class="act quiet" @click="settling = { difference: d, how: 'accept' }">
                Accept in writing</button
              ><button class="act quiet" :disabled="busy" @click="vary(d.field, true)">
                It is what we vary
              </button></template
            >
          </td>
        </tr>
        <tr v-if="!fair.differences.length">
          <td :colspan="wide ? trial.methods.length + 2 : 3" class="soft">
            Nothing differs as far as it is written.
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <SettleDifference
    v-if="settling"
    :trial="trial"
    :difference="settling.difference"
    :how="settling.how"
    :edit="edit"
    :busy="busy"
    :problem="problem"
    @close="settling = null"
  />
  <OwnSway v-if="seen" :trial="trial" :difference="seen" :edit="edit" @close="seen = null" />
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.nowrap {
  flex-wrap: nowrap;
  gap: var(--gap-2);
}
.open td {
  background: var(--warn-bg);
}
.open td:first-child {
  border-left: 6px solid var(--warn-line);
  padding-left: var(--gap-3);
}
.acts {
  min-width: 200px;
}
.acts .act {
  margin: var(--gap-0) var(--gap-2) var(--gap-0) 0;
}
.field-name {
  min-width: 200px;
  max-width: 300px;
}
.reasons {
  display: block;
}
.block {
  display: block;
  line-height: 1.25;
}
.block em {
  font-style: normal;
  opacity: 0.8;
}
.block em::before {
  content: '· ';
}
.why {
  background: none;
  border: 0;
  padding: var(--gap-1) 0;
  font: inherit;
  font-size: var(--type-1);
  color: var(--ink-soft);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
  min-height: 28px;
  display: block;
  text-align: left;
  line-height: 1.2;
}
.group {
  display: block;
  margin-bottom: var(--gap-0);
}
.tags {
  display: inline-flex;
  flex-wrap: wrap;
  gap: var(--gap-0) var(--gap-2);
}
.tag {
  display: inline-flex;
  align-items: center;
  gap: var(--gap-0);
  font-family: var(--mono);
  font-size: var(--type-2);
}
</style>
