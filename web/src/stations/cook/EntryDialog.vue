<script setup lang="ts">
import { computed, nextTick, onMounted, reactive, ref } from 'vue'
import LoafMark from '../../bench/LoafMark.vue'
import { newId, now as serverNow } from '../../bench/outbox'
import { clock, padMass, padTemperature } from '../../bench/units'
import { useSession } from '../../session'
import type { BenchBatch } from './useBench'

const props = defineProps<{ kind: string; batch: BenchBatch; now: number }>()
const emit = defineEmits<{ close: []; log: [kind: string, payload: Record<string, unknown>, photo?: Blob]; extend: [seconds: number] }>()
const TITLES: Record<string, string> = { temperature: 'Temperature', weight: 'Weight', cue: 'Cue', photo: 'Photo', note: 'Note', extended: 'Extend', effort: 'Effort', handling_error: 'Something went wrong', energy: 'Meter' }
const CUES = ['pale', 'golden', 'deep brown', 'pale underneath', 'even colour', 'wet skin', 'dry skin', 'crackles', 'soft', 'springs back', 'split', 'leaks', 'sticks', 'sounds hollow', 'crushes between two fingers', 'foam']
const session = useSession()
const form = reactive({ number: '', where: 'core', of: 'cooked', text: '', face: '', minutesAgo: 0, wholeBatch: 'handling_error', hands: '', washItems: '', wash: '', nuisance: [] as string[] })
const problem = ref('')
const first = ref<HTMLElement>()
const file = ref<File | null>(null)
const unit = computed(() => (props.kind === 'temperature' ? padTemperature.unit : props.kind === 'weight' ? padMass.unit : props.kind === 'energy' ? 'kWh' : 'min'))
const at = computed(() => serverNow() - form.minutesAgo * 60)
onMounted(() => nextTick(() => (first.value?.querySelector('input, textarea') as HTMLElement | null)?.focus()))
function num(text: string): number | null {
  const v = Number(text.replace(',', '.').replace('−', '-'))
  return text.trim() && Number.isFinite(v) ? v : null
}
function payload(): [string, Record<string, unknown>] | null {
  const v = num(form.number)
  const text = form.text.trim()
  switch (props.kind) {
    case 'temperature': return v === null ? null : ['temperature', { celsius: Math.round(padTemperature.toSi(v) * 10) / 10, where: form.where }]
    case 'weight': return v === null ? null : ['weight', { kg: Math.round(padMass.toSi(v) * 1e5) / 1e5, of: form.of }]
    case 'energy': return v === null ? null : ['energy', { joule: v * 3.6e6 }]
    case 'cue': return text ? ['cue', { text, ...(form.face ? { face: form.face } : {}) }] : null
    case 'note': return text ? ['note', { text }] : null
    case 'handling_error': return text ? [form.wholeBatch, { why: text }] : null
    case 'photo': return file.value ? ['photo', { photo_id: newId(), ...(form.face ? { face: form.face } : {}) }] : null
    case 'effort': {
      const [hands, items, wash] = [num(form.hands), num(form.washItems), num(form.wash)]
      if (hands === null && items === null && wash === null && !form.nuisance.length) return null
      return ['effort', { ...(hands !== null && { hands_s: hands * 60 }), ...(items !== null && { wash_items: items }), ...(wash !== null && { wash_s: wash * 60 }), ...(form.nuisance.length && { nuisance: [...form.nuisance] }) }]
    }
    default: return null
  }
}
function save() {
  if (props.kind === 'extended') {
    const v = num(form.number)
    if (v === null) { problem.value = 'Type how many minutes.'; return }
    emit('extend', v * 60)
    emit('close')
    return
  }
  const made = payload()
  if (!made) {
    problem.value = { temperature: 'Type a temperature.', weight: 'Type a weight.', energy: 'Type what the meter shows.', photo: 'Choose or take a picture.', effort: 'Fill in at least one.' }[props.kind] ?? 'Write a word or two.'
    return
  }
  if (form.minutesAgo > 0) made[1].at = at.value
  emit('log', made[0], made[1], file.value ?? undefined)
  emit('close')
}
</script>

<template>
  <el-dialog :model-value="true" :title="TITLES[kind]" width="520" @close="emit('close')">
    <form ref="first" class="stack" @submit.prevent="save">
      <p class="row nowrap"><LoafMark :mark="batch.mark" :size="32" /><strong>{{ batch.tag }}</strong> {{ batch.name }}<span v-if="batch.replicate > 1">, batch {{ batch.replicate }}</span></p>
      <label v-if="['temperature', 'weight', 'energy', 'extended'].includes(kind)" class="field">{{ unit }}<el-input v-model="form.number" class="big" inputmode="decimal" name="number" autocomplete="off" /></label>
      <el-radio-group v-if="kind === 'temperature'" v-model="form.where"><el-radio value="core">core</el-radio><el-radio value="chamber">chamber, oil or water</el-radio><el-radio value="surface">surface</el-radio></el-radio-group>
      <p v-if="kind === 'temperature'" class="small soft">Raw to cooked: clean the probe in between.</p>
      <el-radio-group v-if="kind === 'weight'" v-model="form.of"><el-radio v-for="o in ['raw', 'prepared', 'cooked', 'drained', 'edible', 'drip', 'expelled liquid', 'rendered fat', 'fat taken up', 'liquid added', 'liquid left', 'trimmings']" :key="o" :value="o">{{ o }}</el-radio></el-radio-group>
      <template v-if="kind === 'cue'"><div class="chips"><button v-for="c in CUES" :key="c" type="button" class="act quiet" @click="form.text = form.text ? `${form.text}, ${c}` : c">{{ c }}</button></div></template>
      <label v-if="['cue', 'note', 'handling_error'].includes(kind)" class="field">{{ kind === 'handling_error' ? 'What happened' : 'In your words' }}<el-input v-model="form.text" type="textarea" :rows="2" name="text" /></label>
      <el-radio-group v-if="kind === 'handling_error'" v-model="form.wholeBatch"><el-radio value="handling_error">Handling error: kept, not judged with the method</el-radio><el-radio value="void">Void: stop it here, kept, never tasted</el-radio></el-radio-group>
      <template v-if="kind === 'photo'"><input type="file" accept="image/*" capture="environment" aria-label="Picture" @change="file = ($event.target as HTMLInputElement).files?.[0] ?? null" /></template>
      <label v-if="['photo', 'cue'].includes(kind)" class="field">Face<el-select v-model="form.face" clearable><el-option v-for="f in ['top', 'underside', 'cut', 'crumb', 'drip']" :key="f" :value="f" :label="f" /></el-select></label>
      <template v-if="kind === 'effort'">
        <label class="field">Hands-on minutes (else as logged)<el-input v-model="form.hands" inputmode="decimal" /></label><label class="field">Things to wash<el-input v-model="form.washItems" inputmode="numeric" /></label><label class="field">Minutes washing<el-input v-model="form.wash" inputmode="decimal" /></label>
        <el-checkbox-group v-model="form.nuisance"><el-checkbox v-for="n in ['smell', 'spatter', 'noise', 'heat', 'watching']" :key="n" :value="n">{{ n }}</el-checkbox></el-checkbox-group>
      </template>
      <label v-if="kind !== 'extended'" class="field">When<span class="row"><el-input-number v-model="form.minutesAgo" :min="0" :max="1440" controls-position="right" /> min ago<span v-if="form.minutesAgo" class="mono">{{ clock(at, session.state?.time_zone) }}</span></span></label>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <div class="row"><button class="act strong">Log it</button><button type="button" class="act quiet" @click="emit('close')">Not now</button></div>
    </form>
  </el-dialog>
</template>

<style scoped>
.big :deep(input) { font: 700 34px var(--mono); height: 60px; }
.chips { display: flex; flex-wrap: wrap; gap: 6px; }
.chips .act { padding: 6px 12px; }
.nowrap { flex-wrap: nowrap; }
</style>
