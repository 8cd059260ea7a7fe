<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { FoldEntry, NextAction } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { clock, countdown, mass, temperature } from '../../bench/units'
import type { BenchBatch, BenchStep } from './useBench'

const props = defineProps<{ actions: NextAction[]; steps: Map<string, BenchStep>; batches: Map<string, BenchBatch>; now: number; undoable: FoldEntry | null; zone?: string; waitingForPlan: boolean }>()
const emit = defineEmits<{ act: [a: NextAction]; later: [a: NextAction]; undo: [] }>()
const EARLY_S = 30
const next = computed(() => props.actions[0] ?? null)
const step = computed(() => (next.value ? props.steps.get(`${next.value.batch}|${next.value.step}`) : undefined))
const batch = computed(() => (next.value ? props.batches.get(next.value.batch) : undefined))
const left = computed(() => (next.value ? next.value.due - props.now : 0))
const early = computed(() => left.value > EARLY_S)
const asking = ref(false)
watch(() => next.value && `${next.value.batch}|${next.value.step}`, () => { asking.value = false })
function what(a: NextAction): string {
  const s = props.steps.get(`${a.batch}|${a.step}`)
  if (!s) return ''
  if (a.type === 'start') return `Start: ${s.what.charAt(0).toLowerCase()}${s.what.slice(1)}`
  return a.type === 'confirm' ? `${s.what}: reached?` : s.what
}
const facts = computed(() => {
  const s = step.value
  if (!s || !batch.value) return ''
  return [batch.value.name + (batch.value.replicate > 1 ? `, batch ${batch.value.replicate}` : ''), s.appliance_name, s.set_point_c !== null && temperature(s.set_point_c), s.power_w && `${s.power_w} W`, untilOf(s)].filter(Boolean).join(' · ')
})
/** What ends it, where that is not the clock. */
const untilOf = (s: BenchStep) => (s.end_rule === 'core' && s.end_core_c !== null ? `until the core reads ${temperature(s.end_core_c)}` : s.end_rule === 'weight' && s.end_kg ? `until it weighs ${mass(s.end_kg)}` : s.end_rule === 'match' ? `until it matches ${s.end_cue}` : s.end_rule === 'cue' && s.end_cue ? `until ${s.end_cue}` : '')
const doneWord = computed(() => (next.value?.type === 'start' ? 'Started' : next.value?.type === 'confirm' ? 'Reached' : 'Done'))
function done() {
  if (!next.value) return
  if (early.value && !asking.value) { asking.value = true; return }
  asking.value = false
  emit('act', next.value)
}
defineExpose({ done })
</script>

<template>
  <div class="card" :class="{ due: next && left <= 0 }" aria-live="polite">
    <p class="soft">next for your hands</p>
    <template v-if="next && step && batch">
      <div class="head"><LoafMark :mark="batch.mark" :size="46" /><div><h1>{{ what(next) }}</h1><p class="soft">{{ batch.tag }} · {{ facts }}</p></div></div>
      <p class="count mono" :class="{ long: countdown(left).length > 5 }" role="timer">{{ countdown(left) }}</p>
      <p v-if="left <= 0" class="now-word">now<span v-if="left < -60">, late since {{ clock(next.due, zone) }}</span></p>
      <div v-if="asking" class="ask warn"><p>It is {{ countdown(left) }} early. Log it as done now?</p><div class="row"><button class="act strong" @click="done">Yes, done <kbd>space</kbd></button><button class="act quiet" @click="asking = false">No</button></div></div>
      <div v-else class="acts">
        <button class="act main" @click="done">{{ early ? `${doneWord} early…` : doneWord }}<kbd>space</kbd></button>
        <button class="act quiet" title="Ask again in a minute" @click="emit('later', next)">Later<kbd>L</kbd></button>
        <button class="act quiet" :disabled="!undoable" @click="emit('undo')">Undo<kbd>U</kbd></button>
      </div>
      <ol class="then">
        <li v-for="a in actions.slice(1, 5)" :key="a.batch + a.step"><LoafMark v-if="batches.get(a.batch)" :mark="batches.get(a.batch)!.mark" :size="24" /><span class="grow"><span class="visually-hidden">{{ batches.get(a.batch)?.tag }}: </span>{{ what(a) }}</span><span class="mono">{{ countdown(a.due - now) }}</span></li>
      </ol>
      <slot />
      <p v-for="c in step.cautions" :key="c.text" class="warn small"><strong>Caution.</strong> {{ c.text }} <span class="soft">{{ c.source }}{{ c.recalled ? '; figure entered from memory, check your authority’s current edition' : '' }}. Local rules come first.</span></p>
    </template>
    <template v-else>
      <h1>{{ waitingForPlan ? 'The plan is being made …' : 'Nothing left for the hands' }}</h1>
      <p v-if="!waitingForPlan" class="soft">Weigh, wash up, note what you saw; then taste.</p>
      <button class="act quiet" :disabled="!undoable" @click="emit('undo')">Undo<kbd>U</kbd></button>
      <slot />
    </template>
  </div>
</template>

<style scoped>
.head { display: flex; gap: 12px; align-items: center; margin: 6px 0 2px; }
.head h1 { font-size: 30px; }
.count { font-weight: 700; font-size: 76px; line-height: 1.1; letter-spacing: -2px; }
.count.long { font-size: 58px; }
.now-word { font-weight: 700; color: var(--beet); }
.due .count { color: var(--beet); animation: pulse 1s ease-in-out infinite alternate; }
@keyframes pulse { to { opacity: .55; } }
@media (prefers-reduced-motion: reduce) { .due .count { animation: none; text-decoration: underline; } }
.acts { display: flex; gap: 8px; margin: 8px 0 12px; }
.acts .act { flex-direction: column; gap: 2px; justify-content: center; padding: 8px 12px; min-height: 64px; }
.acts .main { flex: 1; border-width: 3px; font-size: 18px; }
.then { list-style: none; margin: 0; padding: 0; border-top: 2px solid var(--ink); }
.then li { display: flex; gap: 10px; align-items: center; padding: 8px 0; border-bottom: 1px solid var(--line); }
.ask { display: grid; gap: 8px; margin: 8px 0 12px; }
.warn { margin-top: 10px; }
</style>
