<script setup lang="ts">
/** What a taster gives to one question about a sample; the scale says which. */
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../../api/client'
import type { Said } from './useTaster'

const props = defineProps<{
  question: Schemas['AttributeView']
  scale: Schemas['AnswerScaleView']
  said: Said | null
  samples: number
}>()
const emit = defineEmits<{ give: [said: Said] }>()
const choices = computed(() => (props.scale.own_words ? props.question.words : props.scale.words))
const highest = computed(() =>
  props.scale.own_words ? choices.value.length : (props.scale.high ?? props.samples),
)
const steps = computed(() =>
  Array.from({ length: Math.round(highest.value - props.scale.low) + 1 }, (_, i) => props.scale.low + i),
)
const value = computed(() => (props.said?.kind === 'value' ? props.said.value : null))
const ends = computed(() => (props.said?.kind === 'range' ? [props.said.low, props.said.high] : null))
const middle = computed(() => (props.scale.low + highest.value) / 2)
const asRange = ref(props.said?.kind === 'range')
watch(
  () => props.said?.kind,
  (kind) => {
    if (kind) asRange.value = kind === 'range'
  },
)
const number = (event: Event) => Number((event.target as HTMLInputElement).value)
const give = (n: number) => emit('give', { kind: 'value', value: n })
function giveEnd(which: 0 | 1, n: number) {
  const now = ends.value ?? [value.value ?? middle.value, value.value ?? middle.value]
  const next = [...now]
  next[which] = n
  emit('give', { kind: 'range', low: Math.min(...next), high: Math.max(...next) })
}
const ticked = computed(() => (props.said?.kind === 'words' ? props.said.words : []))
const tick = (word: string) =>
  emit('give', {
    kind: 'words',
    words: ticked.value.includes(word) ? ticked.value.filter((w) => w !== word) : [...ticked.value, word],
  })
const met = ref(props.said?.kind === 'tally' ? String(props.said.met) : '')
const of = ref(props.said?.kind === 'tally' ? String(props.said.of) : '')
function tally() {
  const [m, o] = [Number(met.value), Number(of.value)]
  if (met.value !== '' && o > 0 && m >= 0 && m <= o) emit('give', { kind: 'tally', met: m, of: o })
}
</script>

<template>
  <template v-if="scale.drawn === 'slider'">
    <div class="ends small">
      <span>{{ scale.low }} {{ question.low_words }}</span
      ><span>{{ question.high_words }} {{ highest }}</span>
    </div>
    <input
      v-if="!asRange"
      type="range"
      :min="scale.low"
      :max="highest"
      :step="scale.step"
      :value="value ?? middle"
      :class="{ unset: value === null }"
      :aria-label="question.name"
      :aria-valuetext="value === null ? 'not answered' : String(value)"
      @change="give(number($event))"
      @pointerup="value === null && give(number($event))"
    />
    <template v-for="(end, i) in ['from', 'to']" v-else :key="end">
      <label class="end small"
        >{{ end
        }}<input
          type="range"
          :min="scale.low"
          :max="highest"
          :step="scale.step"
          :value="ends?.[i] ?? middle"
          :class="{ unset: !ends }"
          :aria-label="`${question.name}, ${end}`"
          :aria-valuetext="ends ? String(ends[i]) : 'not answered'"
          @change="giveEnd(i as 0 | 1, number($event))"
      /></label>
    </template>
    <button v-if="scale.ranges" type="button" class="link small" @click="asRange = !asRange">
      {{ asRange ? 'One value' : 'A range, as “7 to 8”' }}
    </button>
  </template>
  <div v-else-if="scale.drawn === 'ticks'" class="choices">
    <button
      v-for="word in choices"
      :key="word"
      type="button"
      class="act"
      :class="ticked.includes(word) ? 'strong' : 'quiet'"
      :aria-pressed="ticked.includes(word)"
      @click="tick(word)"
    >
      {{ word }}
    </button>
    <button v-if="!said" type="button" class="link small" @click="emit('give', { kind: 'words', words: [] })">
      None of these
    </button>
  </div>
  <div v-else-if="scale.drawn === 'tally'" class="tally">
    <input
      v-model="met"
      class="n"
      inputmode="numeric"
      :aria-label="`${question.name}: how many`"
      @change="tally"
    />
    of
    <input
      v-model="of"
      class="n"
      inputmode="numeric"
      :aria-label="`${question.name}: of how many`"
      @change="tally"
    />
  </div>
  <div v-else class="choices" :class="{ row: scale.drawn === 'places' }">
    <button
      v-for="(n, i) in steps"
      :key="n"
      type="button"
      class="act"
      :class="value === n ? 'strong' : 'quiet'"
      :aria-pressed="value === n"
      @click="give(n)"
    >
      <template v-if="scale.drawn === 'places'">{{ n }}{{ i === 0 ? ' best' : '' }}</template>
      <template v-else-if="scale.averaged"
        ><b class="mono">{{ n }}</b> {{ choices[i] }}</template
      >
      <template v-else>{{ choices[i] }}</template>
    </button>
  </div>
</template>

<style scoped>
.ends {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-5);
}
.end {
  display: grid;
  grid-template-columns: 44px 1fr;
  align-items: center;
}
input[type='range'] {
  width: 100%;
  height: 48px;
  accent-color: var(--ink);
}
input.unset {
  opacity: 0.45;
}
.choices {
  display: grid;
  gap: var(--gap-1);
}
.choices.row {
  display: flex;
}
.choices .act {
  justify-content: flex-start;
  min-height: 44px;
  padding: var(--gap-2) var(--gap-4);
}
.tally {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
.n {
  font: inherit;
  font-size: var(--type-5);
  width: 80px;
  padding: var(--gap-2);
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
  text-align: center;
}
.link {
  background: none;
  border: 0;
  text-decoration: underline;
  color: var(--ink-soft);
  min-height: 44px;
  font: inherit;
  font-size: var(--type-2);
  justify-self: start;
  cursor: pointer;
  padding: 0;
}
</style>
