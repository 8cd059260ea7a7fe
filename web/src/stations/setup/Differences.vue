<script setup lang="ts">
/**
 * What differs, slipped in first and by what it sways. Side by side up to six methods, grouped by value
 * above.
 */
import { computed, reactive, ref } from 'vue'
import { api, words, type Schemas, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { Edit } from '../useTrial'
import { groupsOf } from './groups'
import Term from '../../guide/Term.vue'

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
const accepting = ref<D | null>(null)
const mending = ref<D | null>(null)
const reason = ref('')
const told = ref('')
const like = ref('')
async function accept() {
  const d = accepting.value
  if (
    d &&
    (await props.edit((_, headers) =>
      api.POST('/api/v1/trials/{trial_id}/accepted-differences', {
        ...path,
        headers,
        body: { field: d.field, signature: d.signature, reason: reason.value },
      }),
    ))
  ) {
    accepting.value = null
    reason.value = ''
  }
}
async function mend() {
  const d = mending.value
  if (
    d &&
    (await props.edit((_, headers) =>
      api.POST('/api/v1/trials/{trial_id}/mended-differences', {
        ...path,
        headers,
        body: { field: d.field, like: like.value },
      }),
    ))
  ) {
    mending.value = null
    like.value = ''
  }
}
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

// The kitchen's own line on what sways what.
const line = reactive({ field: '', attributes: '', strength: 2, reason: '' })
const editing = ref(false)
const wrong = ref('')
function own(d: D) {
  Object.assign(line, {
    field: d.field,
    attributes:
      d.sways.map((s) => s.attribute).join(', ') || props.trial.attributes.map((a) => a.name).join(', '),
    strength: d.sways[0]?.strength ?? 2,
    reason: '',
  })
  wrong.value = ''
  editing.value = true
}
async function saveLine() {
  try {
    await api.POST('/api/v1/sways', {
      body: {
        field: line.field,
        attributes: line.attributes
          .split(',')
          .map((a) => a.trim())
          .filter(Boolean),
        strength: line.strength,
        reason: line.reason,
      },
    })
    editing.value = false
    await props.edit((t, headers) =>
      api.PATCH('/api/v1/trials/{trial_id}', { ...path, headers, body: { varied: t.varied } }),
    )
  } catch (error) {
    wrong.value = words(error)
  }
}
const STRENGTH = ['does not matter here', 'a little', 'clearly', 'strongly']
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
              ><button class="why" @click="own(d)">
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
                @click="
                  () => {
                    mending = d
                    like = ''
                  }
                "
              >
                Mend it</button
              ><button class="act quiet" @click="accepting = d">Accept in writing</button
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
  <el-dialog
    :model-value="!!accepting"
    :title="`Accept: ${accepting?.field}`"
    width="560"
    @close="accepting = null"
  >
    <form class="stack" @submit.prevent="accept">
      <p v-for="g in groupsOf(accepting?.values ?? {})" :key="g.value">
        <strong>{{ g.tags.join(', ') }}</strong> {{ g.value }}
      </p>
      <label class="field"
        >Why it may differ<el-input
          v-model="reason"
          name="reason"
          type="textarea"
          :rows="2"
          placeholder="It comes with the method: …"
      /></label>
      <p v-if="problem" class="bad">{{ problem }}</p>
      <div class="row">
        <button class="act strong" :disabled="busy">Accept</button
        ><button type="button" class="act quiet" @click="accepting = null">Not now</button>
      </div>
    </form>
  </el-dialog>
  <el-dialog :model-value="!!mending" :title="`Mend: ${mending?.field}`" width="560" @close="mending = null">
    <form class="stack" @submit.prevent="mend">
      <p>Make it the same in all methods, as it is in</p>
      <el-radio-group v-model="like" class="stack"
        ><el-radio
          v-for="g in groupsOf(mending?.values ?? {})"
          :key="g.value"
          :value="trial.methods.find((m) => m.tag === g.tags[0])?.id ?? ''"
          >{{ g.value }}
          <span class="soft"
            >({{ g.tags.slice(0, 6).join(', ') }}{{ g.tags.length > 6 ? ', …' : '' }})</span
          ></el-radio
        ></el-radio-group
      >
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <div class="row">
        <button class="act strong" :disabled="busy || !like">Make it the same</button
        ><button type="button" class="act quiet" @click="mending = null">Not now</button>
      </div>
    </form>
  </el-dialog>
  <el-dialog v-model="editing" :title="`What ${line.field} sways, as this kitchen sees it`" width="560">
    <form class="stack" @submit.prevent="saveLine">
      <label class="field">Attributes<el-input v-model="line.attributes" /></label>
      <label class="field"
        >How hard<el-select v-model="line.strength" aria-label="How hard"
          ><el-option v-for="(s, i) in STRENGTH" :key="s" :value="i" :label="s" /></el-select
      ></label>
      <label class="field">Why<el-input v-model="line.reason" name="sway-reason" /></label>
      <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
      <p class="soft small">It only changes the order here. No difference is ever hidden.</p>
      <div class="row">
        <button class="act strong">Keep this line</button
        ><button type="button" class="act quiet" @click="editing = false">Not now</button>
      </div>
    </form>
  </el-dialog>
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
