<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, type Method, type Schemas, type Trial } from '../../api/client'
import WorkItOut from '../../bench/WorkItOut.vue'
import { lengthText, massText, quantityText, temperatureText, type Quantity } from '../../bench/units'
import QuantityInput from '../../ui/QuantityInput.vue'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; method: Method; edit: Edit }>()
const path = { params: { path: { trial_id: props.trial.id, method_id: props.method.id } } }
const { data: appliances } = useQuery({
  queryKey: queryKeys.appliances(),
  queryFn: async () => (await api.GET('/api/v1/appliances')).data!.items,
})
interface Row {
  id: string | null
  what: string
  attention: Schemas['Attention']
  phase: Schemas['Phase']
  duration: Quantity
  end_rule: Schemas['EndRule']
  offset: Quantity
  core: Quantity
  cue: string
  appliance_id: string | null
  set_point: Quantity
  power: Quantity
  weight: Quantity
  days: number
  longest: Quantity
}
const rows = ref<Row[]>(
  props.method.steps.map((s) => ({
    id: s.id,
    what: s.what,
    attention: s.attention,
    phase: s.phase,
    duration: s.duration_s,
    end_rule: s.end_rule,
    offset: s.during_offset_s,
    core: s.end_core_c,
    cue: s.end_cue,
    appliance_id: s.appliance_id,
    set_point: s.set_point_c,
    power: s.power_w,
    weight: s.end_kg,
    days: s.days_before,
    longest: s.longest_s,
  })),
)
const phases: [Schemas['Phase'], string][] = [
  ['prepare', 'prepare'],
  ['come_up', 'come up'],
  ['load', 'put in'],
  ['cook', 'cook'],
  ['turn', 'turn, shake'],
  ['out', 'take out'],
  ['wait', 'rest, drain'],
  ['plate', 'plate'],
  ['wash_up', 'wash up'],
]
const words = reactive({
  name: props.method.name,
  tag: props.method.tag,
  batch: props.method.batch_kg as Quantity,
  piece: props.method.piece_kg as Quantity,
  start: props.method.start_c as Quantity,
  pieces: props.method.pieces_per_batch,
  hold: props.method.hold_limit_s as Quantity,
})
const timeText = (r: Row) =>
  typeof r.duration === 'string' ? r.duration : quantityText('duration', r.duration)
/** Words on the dial that somebody knows the temperature of. */
const dialOf = (r: Row) =>
  (appliances.value?.find((a) => a.id === r.appliance_id)?.dial ?? []).filter(
    (d) => d.celsius !== null && d.celsius !== undefined,
  )
/** Waits that may be drawn out, and cooking that the food ends: between two times. */
const mayLast = (r: Row) =>
  (['prepare', 'wait'].includes(r.phase) && r.attention === 'free' && r.offset === null) ||
  (r.phase === 'cook' && r.end_rule !== 'clock' && r.offset === null)
/** Rules that answer how long, by what heats. */
function rulesFor(r: Row): string[] {
  const kind = appliances.value?.find((a) => a.id === r.appliance_id)?.kind ?? ''
  if (kind === 'microwave') return ['microwave-power', 'microwave-load', 'weight', 'thickness']
  if (kind === 'pressure_cooker')
    return r.phase === 'come_up' ? ['come-up'] : ['pressure', 'thickness', 'size']
  if (r.phase === 'come_up') return ['preheat']
  return ['core-time', 'weight', 'thickness', 'size', 'hot-air', 'pan']
}
function add(i: number) {
  rows.value.splice(i + 1, 0, {
    id: null,
    what: '',
    attention: 'hands',
    phase: 'prepare',
    duration: 60,
    end_rule: 'clock',
    offset: null,
    core: null,
    cue: '',
    appliance_id: null,
    set_point: null,
    power: null,
    weight: null,
    days: 0,
    longest: null,
  })
}
function move(i: number, by: number) {
  const [row] = rows.value.splice(i, 1)
  rows.value.splice(i + by, 0, row)
}
/** A setting or time typed anew is no longer the one that was worked out for this kitchen. */
function kept(old: Schemas['StepView'] | undefined, r: Row) {
  if (!old) return {}
  return {
    dial_for_c: r.set_point === old.set_point_c ? old.dial_for_c : null,
    for_altitude_m: r.duration === old.duration_s ? old.for_altitude_m : null,
  }
}
async function save() {
  const before = new Map(props.method.steps.map((s) => [s.id, s] as const))
  const items = rows.value.map((r) => ({
    ...kept(before.get(r.id ?? ''), r),
    id: r.id,
    what: r.what,
    attention: r.attention,
    phase: r.phase,
    duration_s: r.duration ?? '',
    end_rule: r.end_rule,
    during_offset_s: r.offset,
    end_core_c: r.end_rule === 'core' ? r.core : null,
    end_cue: ['cue', 'match'].includes(r.end_rule) ? r.cue : '',
    end_kg: r.end_rule === 'weight' ? r.weight : null,
    days_before: r.days,
    longest_s: mayLast(r) ? r.longest : null,
    appliance_id: r.appliance_id || null,
    set_point_c: r.set_point,
    power_w: r.power,
  }))
  if (
    await props.edit((_, headers) =>
      api.PUT('/api/v1/trials/{trial_id}/methods/{method_id}/steps', { ...path, headers, body: { items } }),
    )
  )
    return
}
const saveWords = () =>
  props.edit((_, headers) =>
    api.PATCH('/api/v1/trials/{trial_id}/methods/{method_id}', {
      ...path,
      headers,
      body: {
        name: words.name,
        tag: words.tag.toUpperCase(),
        batch_kg: words.batch,
        piece_kg: words.piece,
        start_c: words.start,
        pieces_per_batch: words.pieces,
        hold_limit_s: words.hold,
      },
    }),
  )
</script>

<template>
  <div class="editor">
    <div class="row">
      <label class="field">Name<el-input v-model="words.name" /></label>
      <label class="field tag">Tag<el-input v-model="words.tag" maxlength="2" /></label>
      <label class="field tag"
        >Pieces a batch<el-input-number v-model="words.pieces" :min="1" :max="1000" :controls="false"
      /></label>
      <label class="field short"
        >Food in a batch<QuantityInput v-model="words.batch" kind="mass" placeholder="360 g"
      /></label>
      <label class="field short"
        >One piece<QuantityInput v-model="words.piece" kind="mass" placeholder="60 g"
      /></label>
      <label class="field short"
        >May wait, done<QuantityInput v-model="words.hold" kind="duration" placeholder="no limit"
      /></label>
      <label class="field short"
        >Starts at<QuantityInput v-model="words.start" kind="temperature" placeholder="20 °C"
      /></label>
      <button type="button" class="act quiet self-end" @click="saveWords">Save these</button>
    </div>
    <ol>
      <li v-for="(r, i) in rows" :key="i" :class="r.attention">
        <div class="row">
          <label class="field what">{{ i + 1 }}. What<el-input v-model="r.what" /></label>
          <label class="field kind"
            >Part of the job<el-select v-model="r.phase"
              ><el-option v-for="[v, w] in phases" :key="v" :value="v" :label="w" /></el-select
          ></label>
          <label class="field kind"
            >Needs<el-select v-model="r.attention"
              ><el-option value="hands" label="hands" /><el-option
                value="watched"
                label="someone there" /><el-option value="free" label="nobody" /></el-select
          ></label>
          <label class="field short"
            >Lasts<QuantityInput v-model="r.duration" kind="duration" placeholder="12 min" /><WorkItOut
              v-if="['cook', 'come_up', 'wait'].includes(r.phase)"
              :calculators="rulesFor(r)"
              :given="{
                time: timeText(r),
                mass: massText(method.batch_kg) || '500 g',
                thickness: lengthText(method.piece_thickness_m) || '4 cm',
              }"
              :label="`how long: ${r.what}`"
              @take="(v: string) => (r.duration = v)"
          /></label>
          <label class="field kind"
            >Ends by<el-select v-model="r.end_rule"
              ><el-option value="clock" label="the clock" /><el-option
                value="core"
                label="core temperature" /><el-option value="cue" label="a cue" /><el-option
                value="weight"
                label="weight" /><el-option value="match" label="matching a sample" /></el-select
          ></label>
          <label v-if="r.end_rule === 'core'" class="field short"
            >Core<QuantityInput v-model="r.core" kind="temperature" placeholder="93 °C"
          /></label>
          <label v-if="r.end_rule === 'cue'" class="field"
            >Seen when done<el-input v-model="r.cue" placeholder="golden, sounds hollow"
          /></label>
          <label v-if="r.end_rule === 'weight'" class="field short"
            >Comes down to<QuantityInput v-model="r.weight" kind="mass" placeholder="300 g"
          /></label>
          <label v-if="r.end_rule === 'match'" class="field"
            >Sample on the table<el-input v-model="r.cue" placeholder="the oven’s first tray"
          /></label>
        </div>
        <div class="row">
          <label v-if="['turn', 'prepare', 'load'].includes(r.phase) || r.offset !== null" class="field short"
            >During the step before, after<QuantityInput
              v-model="r.offset"
              kind="duration"
              placeholder="in order"
          /></label>
          <template v-if="['come_up', 'cook'].includes(r.phase)">
            <label class="field kind"
              >Appliance<el-select v-model="r.appliance_id" clearable
                ><el-option v-for="a in appliances" :key="a.id" :value="a.id" :label="a.name" /></el-select
            ></label>
            <label class="field short"
              >Set to<QuantityInput v-model="r.set_point" kind="temperature" placeholder="200 °C" /><span
                v-if="dialOf(r).length"
                class="dial"
                ><button
                  v-for="d in dialOf(r)"
                  :key="d.word"
                  type="button"
                  class="word"
                  :title="d.measured ? 'measured' : 'not measured'"
                  @click.prevent="r.set_point = Number(d.celsius)"
                >
                  {{ d.word }} {{ temperatureText(Number(d.celsius)) }}
                </button></span
              ></label
            >
            <label class="field short"
              >Power into food<QuantityInput v-model="r.power" kind="power" placeholder="700 W"
            /></label>
          </template>
          <label v-if="mayLast(r)" class="field short"
            >{{ r.phase === 'cook' ? 'At most' : 'Up to'
            }}<QuantityInput
              v-model="r.longest"
              kind="duration"
              :placeholder="r.phase === 'cook' ? 'not known' : 'no longer'"
          /></label>
          <label v-if="['prepare', 'wait'].includes(r.phase)" class="field short"
            >Days before<el-input-number v-model="r.days" :min="0" :max="30" :controls="false"
          /></label>
          <span class="grow" />
          <button
            type="button"
            class="act quiet"
            :disabled="i === 0"
            aria-label="Move up"
            @click="move(i, -1)"
          >
            ↑
          </button>
          <button
            type="button"
            class="act quiet"
            :disabled="i === rows.length - 1"
            aria-label="Move down"
            @click="move(i, 1)"
          >
            ↓
          </button>
          <button type="button" class="act quiet" @click="add(i)">Add below</button>
          <button type="button" class="act quiet" @click="rows.splice(i, 1)">Remove</button>
        </div>
      </li>
    </ol>
    <div class="row">
      <button type="button" class="act strong" @click="save">Save steps</button
      ><span class="soft small">Batches already in a shift keep the steps they were made with.</span>
    </div>
  </div>
</template>

<style scoped>
.editor {
  display: grid;
  gap: var(--gap-3);
  padding: var(--gap-2) 0 var(--gap-4);
}
ol {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: var(--gap-2);
}
li {
  border-left: 6px solid var(--line-strong);
  padding: var(--gap-2) 0 var(--gap-3) var(--gap-3);
  display: grid;
  gap: var(--gap-2);
  border-bottom: 1px solid var(--line);
}
li.hands {
  border-left-color: var(--ink);
}
li.watched {
  border-left-color: var(--warn-line);
}
.what {
  flex: 1 1 220px;
}
.kind {
  width: 150px;
}
.short {
  width: 130px;
}
.tag {
  width: 90px;
}
.tag :deep(.el-input-number) {
  width: 90px;
}
.dial {
  display: flex;
  gap: var(--gap-2);
}
.word {
  background: none;
  border: 0;
  padding: var(--gap-0) 0;
  font: inherit;
  font-size: var(--type-1);
  color: var(--ink-soft);
  text-decoration: underline;
  cursor: pointer;
  white-space: nowrap;
}
.self-end {
  align-self: end;
}
</style>
