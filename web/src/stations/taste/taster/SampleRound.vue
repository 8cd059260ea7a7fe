<script setup lang="ts">
/** Each sample by itself, in the seat's own order. */
import { computed, watch } from 'vue'
import type { Schemas } from '../../../api/client'
import AnswerScale from './AnswerScale.vue'
import { complete, type Round, type Said, type Telling } from './useTaster'

const props = defineProps<{ round: Round; scales: Schemas['AnswerScaleView'][]; oneWay: boolean }>()
const emit = defineEmits<{ tell: [t: Partial<Telling>] }>()
/** Which sample is in hand. */
const at = defineModel<number>('at', { required: true })
watch(
  () => props.round.position,
  () => {
    at.value = 0
  },
)
const sample = computed(() => props.round.samples[at.value]!)
const scaleOf = (key: Schemas['Scale']) => props.scales.find((s) => s.key === key)!
const tell = (t: Partial<Telling>) =>
  emit('tell', { round: props.round.position, code: sample.value.code, ...t })
const give = (asked: string, said: Said) => tell({ attribute_id: asked, said })
const shown = (asked: string) => sample.value.answers[asked] ?? null
function inWords(said: Said | null): string {
  if (said?.kind === 'value') return String(said.value)
  return said?.kind === 'range' ? `${said.low} to ${said.high}` : ''
}
const next = () => {
  at.value++
  window.scrollTo({ top: 0 })
}
</script>

<template>
  <nav class="codes" aria-label="Samples in your order">
    <button
      v-for="(s, i) in round.samples"
      :key="s.code"
      class="act"
      :class="{ strong: i === at, quiet: i !== at }"
      :aria-current="i === at"
      :disabled="oneWay && i !== at"
      @click="at = i"
    >
      {{ s.code }}<span v-if="complete(round, s)" aria-label="answered">✓</span>
    </button>
  </nav>
  <p class="small soft">
    Take them in this order. A sip of water in between.<template v-if="oneWay">
      You cannot go back to a sample.</template
    >
  </p>
  <h2 class="code mono">{{ sample.code }}</h2>
  <p v-if="sample.not_for_me" class="warn">Not for you tonight. That is an answer too.</p>
  <template v-else>
    <fieldset v-for="a in round.attributes" :key="`${sample.code}${a.id}`">
      <legend>
        <strong>{{ a.name }}</strong><span v-if="sample.refused.includes(a.id)" class="soft">
          would rather not say</span
        ><span v-else-if="inWords(shown(a.id))" class="mono"> {{ inWords(shown(a.id)) }}</span>
      </legend>
      <AnswerScale
        :question="a"
        :scale="scaleOf(a.scale)"
        :said="shown(a.id)"
        :samples="round.samples.length"
        @give="(said) => give(a.id, said)"
      />
      <button type="button" class="rather small" @click="tell({ attribute_id: a.id, refused: true })">
        I would rather not say
      </button>
    </fieldset>
    <label class="field"
      >In your words<textarea
        class="words"
        :value="sample.comment"
        rows="2"
        @change="tell({ comment: ($event.target as HTMLTextAreaElement).value })"
      />
    </label>
    <button type="button" class="rather small" @click="tell({ refused: true })">Not for me tonight</button>
  </template>
  <button v-if="at < round.samples.length - 1" class="act strong" @click="next">Next sample</button>
</template>

<style scoped>
.codes {
  display: flex;
  gap: var(--gap-2);
  flex-wrap: wrap;
}
.codes .act {
  padding: var(--gap-2) var(--gap-3);
}
.code {
  font-size: var(--type-7);
}
fieldset {
  border: 0;
  border-top: 2px solid var(--ink);
  margin: 0;
  padding: var(--gap-3) 0 var(--gap-1);
  display: grid;
  gap: var(--gap-2);
}
legend {
  padding: 0;
  float: left;
  width: 100%;
}
legend span {
  margin-left: var(--gap-2);
}
legend + * {
  clear: both;
}
.rather {
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
.words {
  font: inherit;
  padding: var(--gap-3);
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
}
</style>
