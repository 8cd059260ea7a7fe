<script setup lang="ts">
/** Every way on one sheet: a word from the ladder by a key or a tap, and one note. */
import { nextTick, ref } from 'vue'
import type { Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'

export interface WayWords {
  word: string
  note: string
}
const props = defineProps<{ trial: Trial; ladder: string[] }>()
/** Method to what was said of it. */
const rows = defineModel<Record<string, WayWords>>({ required: true })
const emit = defineEmits<{ changed: [] }>()
const here = ref(0)
const body = ref<HTMLElement>()
function give(method: string, word: string) {
  rows.value[method]!.word = word
  emit('changed')
}
async function onKey(e: KeyboardEvent, i: number) {
  const id = props.trial.methods[i]?.id
  if (!id) return
  const last = props.trial.methods.length - 1
  const n = Number(e.key)
  if (n >= 1 && n <= props.ladder.length) {
    give(id, props.ladder[n - 1]!)
    here.value = Math.min(i + 1, last)
  } else if (e.key === 'ArrowDown') here.value = Math.min(i + 1, last)
  else if (e.key === 'ArrowUp') here.value = Math.max(i - 1, 0)
  else if (e.key === 'Backspace' || e.key === 'Delete') give(id, '')
  else return
  e.preventDefault()
  await nextTick()
  body.value?.querySelectorAll<HTMLElement>('[data-row]')[here.value]?.focus()
}
</script>

<template>
  <p class="soft small">
    A key from <kbd class="key">1</kbd> to <kbd class="key">{{ ladder.length }}</kbd> gives the word and goes
    on, <kbd class="key">↑</kbd> <kbd class="key">↓</kbd> move:
    {{ ladder.map((w, i) => `${i + 1} ${w}`).join(' · ') }}. By the cook alone and not blind.
  </p>
  <ol ref="body" class="sheet">
    <li v-for="(m, i) in trial.methods" :key="m.id" :class="{ here: here === i }">
      <button type="button" data-row class="way" @focus="here = i" @keydown="onKey($event, i)">
        <LoafMark :mark="m.mark" :size="22" /><strong>{{ m.tag }}</strong>
        <span class="grow">{{ m.name }}</span>
        <span class="visually-hidden">: {{ rows[m.id]?.word || 'not judged' }}</span>
      </button>
      <span class="words"
        ><button
          v-for="(w, n) in ladder"
          :key="w"
          type="button"
          :aria-pressed="rows[m.id]?.word === w"
          :title="w"
          @click="give(m.id, rows[m.id]!.word === w ? '' : w)"
        >
          {{ n + 1 }}
        </button></span
      >
      <span class="word">{{ rows[m.id]?.word }}</span>
      <input
        v-model="rows[m.id]!.note"
        class="note"
        placeholder="one note"
        :aria-label="`Note on ${m.name}`"
        @input="emit('changed')"
      />
    </li>
  </ol>
</template>

<style scoped>
.sheet {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 2px solid var(--ink);
}
.sheet li {
  display: grid;
  grid-template-columns: minmax(220px, 1.3fr) auto 150px minmax(140px, 1fr);
  gap: var(--gap-3);
  align-items: center;
  border-bottom: 1px solid var(--line);
}
.sheet li.here {
  background: var(--paper);
}
.way {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  min-height: 36px;
  padding: var(--gap-0) var(--gap-2);
  cursor: pointer;
}
.words {
  display: flex;
}
.words button {
  width: 34px;
  min-height: 34px;
  font: 400 var(--type-2) var(--mono);
  border: 1px solid var(--line-strong);
  border-left-width: 0;
  background: none;
  color: var(--ink-soft);
  cursor: pointer;
}
.words button:first-child {
  border-left-width: 1px;
}
.words button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--flour);
}
.note {
  border: 0;
  border-bottom: 1px solid transparent;
  background: none;
  font: inherit;
  font-size: var(--type-2);
  color: inherit;
  min-height: 34px;
  width: 100%;
}
.note:focus {
  border-bottom-color: var(--line-strong);
}
@media (max-width: 800px) {
  .sheet li {
    grid-template-columns: minmax(0, 1fr);
    gap: var(--gap-1);
    padding: var(--gap-2) 0;
  }
  .words button {
    flex: 1;
    min-height: 44px;
  }
  .word,
  .note {
    grid-column: 1 / -1;
    padding-left: var(--gap-2);
  }
}
</style>
