<script setup lang="ts">
/** What is on the table, asked one by one before the first bite. A yes is a clear stop. */
import { computed, reactive, ref } from 'vue'
import type { Page } from './useTaster'

const props = defineProps<{ page: Page }>()
const emit = defineEmits<{ said: [answers: Record<string, 'yes' | 'no'>, own: string] }>()
const said = reactive<Record<string, 'yes' | 'no'>>(
  Object.fromEntries(props.page.allergens.filter((a) => a.said).map((a) => [a.what, a.said as 'yes' | 'no'])),
)
const own = ref(props.page.allergies)
const left = computed(() => props.page.allergens.filter((a) => !said[a.what]).length)
const noToAll = () => props.page.allergens.forEach((a) => (said[a.what] = 'no'))
</script>

<template>
  <section class="say stack">
    <h2>Before the first bite</h2>
    <p v-if="page.allergens.length">On this table is all of this. Must you not eat any of it?</p>
    <p v-else>Checked: no allergen of the list is on this table.</p>
    <ul v-if="page.allergens.length" class="list">
      <li v-for="a in page.allergens" :key="a.what">
        <span class="what"
          ><strong>{{ a.what }}</strong
          ><span v-if="!a.checked" class="soft small block">
            not checked for allergens: ask before you taste</span
          ></span
        >
        <span class="two" role="group" :aria-label="`Must you not eat ${a.what}?`"
          ><button
            type="button"
            class="act"
            :class="said[a.what] === 'no' ? 'strong' : 'quiet'"
            :aria-pressed="said[a.what] === 'no'"
            @click="said[a.what] = 'no'"
          >
            I may eat it</button
          ><button
            type="button"
            class="act"
            :class="said[a.what] === 'yes' ? 'strong' : 'quiet'"
            :aria-pressed="said[a.what] === 'yes'"
            @click="said[a.what] = 'yes'"
          >
            I must not
          </button></span
        >
      </li>
    </ul>
    <button v-if="left > 1" type="button" class="act quiet" @click="noToAll">I may eat all of these</button>
    <label class="field"
      >Anything else you must not eat, in your words<textarea v-model="own" class="words" rows="2" />
    </label>
    <p v-if="own.trim()" class="warn">
      “{{ own.trim() }}”: not checked by anybody here. Ask the cook before you taste.
    </p>
    <p class="small">
      If you are pregnant, frail, or tasting with a small child: leave what is soft-cooked, pink or raw. Any
      sample can be marked “not for me tonight”, and nobody asks why.
    </p>
    <button class="act strong" :disabled="left > 0" @click="emit('said', { ...said }, own)">
      {{ left ? `${left} still to answer` : 'Go on' }}
    </button>
  </section>
</template>

<style scoped>
.list {
  list-style: none;
  margin: 0;
  padding: 0;
}
.list li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
  padding: var(--gap-3) 0;
  border-top: 1px solid var(--line);
}
.what {
  flex: 1 1 240px;
}
.two {
  display: flex;
  gap: var(--gap-2);
}
.block {
  display: block;
}
.words {
  font: inherit;
  padding: var(--gap-3);
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--paper);
}
</style>
