<script setup lang="ts">
/** A reader's guess before the test: the question, the names, nothing of what was found. */
import { reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, words, type Schemas } from '../api/client'
import LoafMark from '../bench/LoafMark.vue'

const path = { params: { path: { token: String(useRoute().params.token) } } }
const page = ref<Schemas['GuessPage'] | null>(null)
const problem = ref('')
const done = ref(false)
const form = reactive({ who: '', method_id: '', why: '' })
void (async () => {
  try {
    page.value = (await api.GET('/api/v1/guess-pages/{token}', path)).data ?? null
  } catch (error) {
    problem.value = words(error)
  }
})()
async function send() {
  try {
    await api.POST('/api/v1/guess-pages/{token}/guesses', { ...path, body: { ...form } })
    done.value = true
    problem.value = ''
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <main class="page narrow stack">
    <template v-if="page">
      <p class="soft">{{ page.dish }}</p>
      <section class="say">
        <h1>{{ page.question }}</h1>
      </section>
      <p v-if="done" class="say"><strong>Thank you.</strong> Your guess is kept and shown after the test.</p>
      <p v-else-if="page.closed" class="warn">The result is out: guesses are no longer taken.</p>
      <form v-else class="stack" @submit.prevent="send">
        <h2>Which will win?</h2>
        <label
          v-for="c in page.choices"
          :key="c.method_id"
          class="choice"
          :class="{ on: form.method_id === c.method_id }"
          ><input v-model="form.method_id" type="radio" name="method" :value="c.method_id" /><LoafMark
            :mark="c.mark"
            :size="30"
          />{{ c.name }}</label
        >
        <label class="field">Because<el-input v-model="form.why" /></label>
        <label class="field">Your name, if you like<el-input v-model="form.who" /></label>
        <button class="act strong" :disabled="!form.method_id">Send the guess</button>
      </form>
    </template>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
  </main>
</template>

<style scoped>
.narrow {
  max-width: 560px;
}
.choice {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  min-height: 52px;
  border: 2px solid var(--line-strong);
  border-radius: 10px;
  padding: var(--gap-1) var(--gap-4);
  cursor: pointer;
}
.choice.on {
  border-color: var(--ink);
  background: var(--paper);
  font-weight: 700;
}
.choice input {
  width: 22px;
  height: 22px;
  accent-color: var(--ink);
}
</style>
