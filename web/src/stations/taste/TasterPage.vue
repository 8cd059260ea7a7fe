<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, words, type Schemas } from '../../api/client'
import AnswerScale from './AnswerScale.vue'

const token = String(useRoute().params.token)
const path = { params: { path: { token } } }
const page = ref<Schemas['TasterView'] | null>(null)
const problem = ref('')
const at = ref(0)
// One request after the other: an answer that comes late must not show an older page over a newer one.
let before: Promise<void> = Promise.resolve()
function run(act: () => Promise<{ data?: Schemas['TasterView'] }>): Promise<void> {
  before = before.then(() => ask(act))
  return before
}
async function ask(act: () => Promise<{ data?: Schemas['TasterView'] }>) {
  try {
    const { data } = await act()
    if (data) page.value = data
    problem.value = ''
  } catch (error) {
    problem.value = words(error)
  }
}
void run(() => api.GET('/api/v1/taste/{token}', path))
const sample = computed(() => page.value?.samples[at.value])
const give = (attribute: string, value: number | null, refused = false) =>
  run(() =>
    api.POST('/api/v1/taste/{token}/answers', {
      ...path,
      body: { code: sample.value!.code, attribute_id: attribute, value, refused },
    }),
  )
const comment = (text: string) =>
  run(() =>
    api.POST('/api/v1/taste/{token}/answers', { ...path, body: { code: sample.value!.code, comment: text } }),
  )
const shown = (a: string) => sample.value?.answers[a] ?? null
const scaleOf = (key: Schemas['Scale']) => page.value!.scales.find((s) => s.key === key)!
const complete = (s: Schemas['TasterSample']) =>
  page.value!.attributes.every((a) => s.answers[a.id] !== undefined || s.refused.includes(a.id))
const left = computed(() => page.value?.samples.filter((s) => !complete(s)).length ?? 0)
</script>

<template>
  <main class="taster">
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <template v-if="page">
      <h1>{{ page.dish }}</h1>
      <p class="soft">
        {{ page.name }}<template v-if="page.part"> · {{ page.part }}</template
        ><template v-if="page.age"> · {{ page.age }}</template>
      </p>
      <p v-if="page.stop" class="bad" role="alert">{{ page.stop }}</p>
      <section v-if="page.closed" class="say">
        <h2>The codes are open. Thank you: what you said stands.</h2>
      </section>
      <section v-else-if="!page.told_allergens" class="say stack">
        <h2>Before the first bite</h2>
        <p v-if="page.allergens.length">
          On this table: <strong>{{ page.allergens.join(', ') }}</strong>.
        </p>
        <p v-if="page.unchecked.length">
          <strong>Not checked for allergens:</strong> {{ page.unchecked.join(', ') }}. Ask before you taste.
        </p>
        <p v-else-if="!page.allergens.length">Checked: no allergen of the list is on this table.</p>
        <p>If any of this is not for you, don’t taste. Not answering is an answer too.</p>
        <button class="act strong" @click="run(() => api.POST('/api/v1/taste/{token}/allergens-told', path))">
          I have read this
        </button>
      </section>
      <section v-else-if="page.finished" class="say stack">
        <h2>Done. Thank you.</h2>
        <p>Your answers are private until all are opened together.</p>
      </section>
      <template v-else-if="sample">
        <nav class="codes" aria-label="Samples in your order">
          <button
            v-for="(s, i) in page.samples"
            :key="s.code"
            class="act"
            :class="{ strong: i === at, quiet: i !== at }"
            :aria-current="i === at"
            @click="at = i"
          >
            {{ s.code }}<span v-if="complete(s)" aria-label="answered">✓</span>
          </button>
        </nav>
        <p class="small soft">Take them in this order. A sip of water in between.</p>
        <h2 class="code mono">{{ sample.code }}</h2>
        <fieldset v-for="a in page.attributes" :key="a.id">
          <legend>
            <strong>{{ a.name }}</strong><span v-if="sample.refused.includes(a.id)" class="soft">
              would rather not say</span
            ><span v-else-if="shown(a.id) !== null" class="mono"> {{ shown(a.id) }}</span>
          </legend>
          <AnswerScale
            :question="a"
            :scale="scaleOf(a.scale)"
            :value="shown(a.id)"
            :samples="page.samples.length"
            @give="(value) => give(a.id, value)"
          />
          <button type="button" class="rather small" @click="give(a.id, null, true)">
            I would rather not say
          </button>
        </fieldset>
        <label class="field"
          >In your words<textarea
            class="words"
            :value="sample.comment"
            rows="2"
            @change="comment(($event.target as HTMLTextAreaElement).value)"
          />
        </label>
        <div class="row nextrow">
          <button v-if="at < page.samples.length - 1" class="act strong" @click="at++">Next sample</button>
          <button
            v-else
            class="act strong"
            :disabled="left > 0"
            @click="run(() => api.POST('/api/v1/taste/{token}/finish', path))"
          >
            I am done
          </button>
          <span v-if="left" class="soft small">{{ left }} still to answer</span>
        </div>
      </template>
    </template>
  </main>
</template>

<style scoped>
.taster {
  max-width: 560px;
  margin: 0 auto;
  padding: 16px 16px 60px;
  display: grid;
  gap: 12px;
}
.codes {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
.codes .act {
  padding: 8px 12px;
}
.code {
  font-size: 44px;
}
fieldset {
  border: 0;
  border-top: 2px solid var(--ink);
  margin: 0;
  padding: 10px 0 4px;
  display: grid;
  gap: 6px;
}
legend {
  padding: 0;
  float: left;
  width: 100%;
}
legend span {
  margin-left: 8px;
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
  font-size: 15px;
  justify-self: start;
  cursor: pointer;
  padding: 0;
}
.words {
  font: inherit;
  padding: 10px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
}
</style>
