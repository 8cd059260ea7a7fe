<script setup lang="ts">
/** A recipe brought in: shown as it was read before anything is written. */
import { ref } from 'vue'
import { api, ifMatch, words, type Schemas, type Trial } from '../../api/client'
import { mass, minutes, temperature } from '../../bench/units'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const emit = defineEmits<{ close: [] }>()
const text = ref('')
const reading = ref<Schemas['ReadingView'] | null>(null)
const problem = ref('')
const prepared = ref(false)
async function read() {
  try {
    reading.value =
      (await api.POST('/api/v1/recipe-readings', { body: { text: text.value, trial_id: props.trial.id } }))
        .data ?? null
    prepared.value = reading.value?.advised ?? false
    problem.value = ''
  } catch (error) {
    reading.value = null
    problem.value = words(error)
  }
}
async function file(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  text.value = await chosen.text()
  await read()
}
async function take() {
  if (
    await props.edit((t) =>
      api.POST('/api/v1/recipes', {
        headers: ifMatch(t.version),
        body: { text: text.value, trial_id: t.id, dish: '', question: '', prepared: prepared.value },
      }),
    )
  )
    emit('close')
}
</script>

<template>
  <el-dialog :model-value="true" title="Bring in a recipe" width="820" @close="emit('close')">
    <div class="stack">
      <p class="soft small">
        A file or pasted text: recipe data as schema.org JSON-LD, the source of a page that holds it, or
        Markdown with headings “Ingredients” and “Method”.
      </p>
      <el-input v-model="text" type="textarea" :rows="reading ? 4 : 10" aria-label="Recipe text" />
      <div class="row">
        <button class="act strong" :disabled="!text.trim()" @click="read">Read it</button
        ><label class="act quiet file"
          >Choose a file<input
            type="file"
            accept=".json,.jsonld,.md,.markdown,.txt,.html,.htm"
            @change="file"
        /></label>
      </div>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <template v-if="reading">
        <h3>
          {{ reading.title || 'No title' }}
          <span class="soft small"
            >{{ reading.written_as
            }}<template v-if="reading.yield_text">, {{ reading.yield_text }}</template></span
          >
        </h3>
        <div v-if="reading.not_understood.length" class="warn">
          <strong>Not understood, or only half</strong>
          <ul>
            <li v-for="n in reading.not_understood" :key="n">{{ n }}</li>
          </ul>
        </div>
        <table class="plain">
          <thead>
            <tr>
              <th>Ingredient</th>
              <th>Read as</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="a in reading.amounts" :key="a.text">
              <td>{{ a.name }}</td>
              <td class="mono">
                {{ a.kg === null ? '—' : mass(a.kg) }} <span class="soft small">{{ a.note }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <table class="plain">
          <thead>
            <tr>
              <th>Step</th>
              <th>Kind</th>
              <th>Lasts</th>
              <th>Set to</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in reading.steps" :key="s.text">
              <td>{{ s.text }}</td>
              <td>
                {{ s.phase.replace('_', ' ') }}<template v-if="s.days_before">, the day before</template>
              </td>
              <td class="mono">
                {{ minutes(s.duration_s)
                }}<span v-if="s.assumed.length" class="soft small">
                  ({{ s.assumed.join(', ') }} assumed)</span
                >
              </td>
              <td class="mono">{{ s.set_point_c === null ? '' : temperature(s.set_point_c) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="reading.prepared.length || reading.by_the_others.length">
          <el-checkbox v-model="prepared">{{
            reading.prepared.length
              ? `Prepared once for all methods: ${reading.prepared.join(', ')}`
              : 'Nothing is prepared for all any more: this recipe has none of it'
          }}</el-checkbox><span v-if="!prepared && trial.preparation.items.length" class="soft block"
            >It is cooked after what is prepared for all:
            {{ trial.preparation.items.map((s) => s.what).join(', ') }}.</span
          ><span v-if="prepared && reading.by_the_others.length" class="warn block"
            >Then each of the other methods does by itself: {{ reading.by_the_others.join(', ') }}.</span
          >
        </p>
        <div class="row">
          <button class="act strong" @click="take">Make it a method</button
          ><button class="act quiet" @click="emit('close')">Leave it</button>
        </div>
      </template>
    </div>
  </el-dialog>
</template>

<style scoped>
.file input {
  position: absolute;
  opacity: 0;
  width: 1px;
}
.block {
  display: block;
}
.file {
  position: relative;
  min-height: 48px;
  border: 2px solid var(--line-strong);
  border-radius: 9px;
  padding: var(--gap-3) var(--gap-4);
  cursor: pointer;
}
ul {
  margin: var(--gap-1) 0 0;
  padding-left: var(--gap-5);
}
</style>
