<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, nextTick, onMounted, ref } from 'vue'
import { api } from '../../api/client'
import type { FoldEntry } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { clock } from '../../bench/dates'
import { padLength, padMass, padTemperature } from '../../bench/units'
import { useSession } from '../../session'
import Chips from '../../ui/Chips.vue'
import CameraShot from './CameraShot.vue'
import EffortFields from './EffortFields.vue'
import WashFields from './WashFields.vue'
import NumberPad from './NumberPad.vue'
import TallyFields from './TallyFields.vue'
import ByEyeFields from './ByEyeFields.vue'
import { BY_EYE, EMPTY_ENTRY, ENTRIES, entryOf, num, WEIGHTS, type EntryForm } from './entryForm'
import type { BenchBatch } from './useBench'
import { chipsFor, useChips } from './useChips'
import { usePans } from './useProbes'
import FormFoot from '../../ui/FormFoot.vue'

const props = defineProps<{
  kind: string
  batch: BenchBatch
  now: number
  bench: {
    shift: string
    trial: string
    photos: FoldEntry[]
    /** Words that pieces of this shift were counted under. */
    tallied: string[]
  }
  /** What is known of it already, as where a measure was asked for. */
  known?: Partial<EntryForm>
  /** Settles once the entry is on this device. */
  log: (kind: string, payload: Record<string, unknown>, photo?: Blob) => Promise<void>
  extend: (seconds: number) => Promise<void>
}>()
const emit = defineEmits<{ close: [] }>()
const DIMENSIONS = ['length', 'width', 'thickness', 'diameter']
const FACES = ['top', 'underside', 'cut', 'crumb', 'drip']
const PARTS = ['crust', 'centre', 'filling', 'edge', 'stalk', 'leaf']
const SIDES = [
  ['before', 'before the heat'],
  ['after', 'after the heat'],
] as const
const WHERE = [
  ['core', 'core'],
  ['chamber', 'chamber, oil or water'],
  ['surface', 'surface'],
] as const
const WRONG = [
  ['handling_error', 'Handling error: kept, not judged with the method'],
  ['void', 'Void: stop it here, kept, never tasted'],
] as const
const WATER = [
  ['right', 'Water is right'],
  ['low', 'Water is low'],
  ['topped up', 'Topped up'],
  ['not looked', 'No water here'],
] as const
const session = useSession()
const form = ref({ ...EMPTY_ENTRY, nuisance: [] as string[], ...props.known })
const poured = computed(() => props.kind === 'weight' && form.value.of === BY_EYE)
const problem = ref('')
const first = ref<HTMLElement>()
const file = ref<Blob | null>(null)
const { chips, keep } = useChips(props.bench.shift)
const mine = computed(() => chipsFor(chips.value, props.batch.technique, form.value.face))
const pans = usePans(props.bench.shift, props.kind === 'weight')
const byMeter = ref<{ joule: number; shared: string[] } | null>(null)
if (props.kind === 'energy') {
  void api
    .GET('/api/v1/shifts/{shift_id}/batches/{batch_id}/metered', {
      params: { path: { shift_id: props.bench.shift, batch_id: props.batch.id } },
    })
    .then(({ data }) => {
      if (data && data.joule !== null) byMeter.value = { joule: data.joule, shared: data.shared_with }
    })
    .catch(() => undefined)
}
const unit = computed(() =>
  props.kind === 'temperature'
    ? padTemperature.unit
    : props.kind === 'weight'
      ? padMass.unit
      : props.kind === 'size'
        ? padLength.unit
        : props.kind === 'energy'
          ? 'kWh'
          : 'min',
)
const at = computed(() => props.now - form.value.minutesAgo * 60)
const before = computed(() => {
  const same = props.bench.photos.filter((p) => (p.payload.face ?? '') === form.value.face)
  const last = same.filter((p) => p.batch === props.batch.id).at(-1) ?? same.at(-1)
  return last ? `/api/v1/trials/${props.bench.trial}/photos/${last.payload.photo_id}` : ''
})
// Washing-up is timed by itself from the moment the dialog opens; what was typed stands above it.
const began = Date.now()
const washed = ref(0)
useIntervalFn(() => (washed.value = (Date.now() - began) / 1000), 500)
onMounted(() =>
  nextTick(() =>
    (first.value?.querySelector('input:not([type=file]), textarea') as HTMLElement | null)?.focus(),
  ),
)
function useScale(kg: number) {
  form.value.number = String(Math.round((session.us ? kg / 0.028349523125 : kg * 1000) * 10) / 10)
}
function save() {
  if (keeping.value) return
  if (props.kind === 'extended') {
    const v = num(form.value.number)
    if (v === null) {
      problem.value = ENTRIES.extended!.missing
      return
    }
    void kept(props.extend(v * 60))
    return
  }
  const made = entryOf(props.kind, form.value, { picture: !!file.value, washed: washed.value })
  if (!made) {
    problem.value = ENTRIES[props.kind]?.missing ?? ''
    return
  }
  if (form.value.minutesAgo > 0) made[1].at = at.value
  void kept(props.log(made[0], made[1], file.value ?? undefined))
}
const keeping = ref(false)
/** Open until it is on this device: what closes before would be lost with the page. */
async function kept(done: Promise<void>) {
  keeping.value = true
  problem.value = ''
  try {
    await done
    emit('close')
  } catch (error) {
    problem.value =
      `This device could not keep it (${String(error)}). ` +
      'Your words are still here: write them down, then try again.'
  } finally {
    keeping.value = false
  }
}
/** A cue or a look that is one tap. */
function chip(text: string) {
  form.value.text = form.value.text ? `${form.value.text}, ${text}` : text
}
function water(w: string) {
  form.value.water = w
  if (w === 'right' || w === 'not looked') save()
}
</script>

<template>
  <el-dialog :model-value="true" :title="ENTRIES[kind]?.title" width="560" top="3vh" @close="emit('close')">
    <form ref="first" class="stack" @submit.prevent="save">
      <p class="row nowrap">
        <LoafMark :mark="batch.mark" :size="32" /><strong>{{ batch.tag }}</strong> {{ batch.name
        }}<span v-if="batch.replicate > 1">, batch {{ batch.replicate }}</span>
      </p>
      <template v-if="kind === 'weight'"
        ><button v-for="p in pans" :key="p.name" type="button" class="act" @click="useScale(p.kg)">
          {{ p.name }} shows
          {{ session.us ? `${(p.kg / 0.028349523125).toFixed(1)} oz` : `${(p.kg * 1000).toFixed(1)} g` }}:
          take it
        </button></template
      >
      <button
        v-if="byMeter"
        type="button"
        class="act"
        @click="form.number = (byMeter.joule / 3.6e6).toFixed(3)"
      >
        The meter counted {{ (byMeter.joule / 3.6e6).toFixed(2) }} kWh{{
          byMeter.shared.length ? `, with ${byMeter.shared.join(', ')} in the same heat` : ''
        }}: take it
      </button>
      <Chips
        v-if="kind === 'looked'"
        :model-value="form.water"
        :of="WATER"
        @update:model-value="water($event)"
      />
      <ByEyeFields v-if="poured" v-model="form" />
      <NumberPad
        v-else-if="
          ['temperature', 'weight', 'size', 'energy', 'extended'].includes(kind) ||
          (kind === 'looked' && form.water === 'topped up')
        "
        v-model="form.number"
        :unit="kind === 'looked' ? `${padMass.unit} added` : unit"
        :quick="kind === 'extended' ? [1, 2, 3, 5, 10, -1] : []"
      />
      <Chips v-if="kind === 'temperature'" v-model="form.where" :of="WHERE" />
      <div v-if="kind === 'temperature' && form.where === 'core'" class="row">
        <label class="field"
          >Which piece<el-input
            v-model="form.piece"
            name="piece"
            maxlength="60"
            placeholder="largest; coldest place; 3" /></label
        ><label class="field"
          >Where in it<el-input
            v-model="form.place"
            name="place"
            maxlength="60"
            placeholder="middle of the filling"
        /></label>
      </div>
      <p v-if="kind === 'temperature'" class="small soft">
        Read the largest piece and the one in the coldest place, and name them; then every piece that is
        served. Wipe the probe in between.
      </p>
      <Chips v-if="kind === 'weight'" v-model="form.of" :of="WEIGHTS" />
      <template v-if="kind === 'size'">
        <Chips v-model="form.dimension" :of="DIMENSIONS" />
        <Chips v-model="form.side" :of="SIDES" />
        <label class="field"
          >Which piece (the same one before and after)<el-input
            v-model="form.piece"
            name="piece"
            maxlength="60"
        /></label>
      </template>
      <TallyFields
        v-if="kind === 'tally'"
        v-model:word="form.text"
        v-model:count="form.number"
        v-model:out-of="form.outOf"
        :said="bench.tallied"
      />
      <template v-if="['photo', 'cue'].includes(kind)">
        <Chips v-model="form.face" :of="FACES" toggles />
        <Chips v-model="form.part" :of="PARTS" toggles />
      </template>
      <div v-if="kind === 'cue'" class="chips cues">
        <button v-for="c in mine" :key="c.face + c.text" type="button" class="act" @click="chip(c.text)">
          {{ c.text }}
        </button>
      </div>
      <label v-if="['cue', 'note', 'handling_error', 'looked'].includes(kind)" class="field"
        >{{ kind === 'handling_error' ? 'What happened' : 'In your words'
        }}<el-input v-model="form.text" type="textarea" :rows="2" name="text"
      /></label>
      <button
        v-if="kind === 'cue' && form.text.trim() && !mine.some((c) => c.text === form.text.trim())"
        type="button"
        class="act quiet"
        @click="keep(batch.technique, form.face, form.text)"
      >
        Keep “{{ form.text.trim() }}” as a chip of this kitchen
      </button>
      <Chips v-if="kind === 'handling_error'" v-model="form.wholeBatch" :of="WRONG" tall />
      <CameraShot v-if="kind === 'photo'" :before="before" @taken="file = $event" />
      <WashFields v-if="kind === 'wash_item'" v-model="form" :washed="washed" />
      <EffortFields v-if="kind === 'effort'" v-model="form" />
      <label v-if="kind !== 'extended'" class="field"
        >When<span class="row"
          ><el-input-number v-model="form.minutesAgo" :min="0" :max="1440" controls-position="right" /> min
          ago<span v-if="form.minutesAgo" class="mono">{{ clock(at, session.state?.time_zone) }}</span></span
        ></label
      >
      <FormFoot :problem="problem" :disabled="keeping" @close="emit('close')">Log it</FormFoot>
    </form>
  </el-dialog>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.chips .act {
  padding: var(--gap-2) var(--gap-3);
  min-height: 44px;
}
.chips .act[aria-pressed='true'] {
  background: var(--ink);
  color: var(--flour);
}
.cues {
  max-height: 180px;
  overflow: auto;
}
.nowrap {
  flex-wrap: nowrap;
}
</style>
