<script setup lang="ts">
/** Two who share a name: one person, or two? Nobody is made one with another by the name alone. */
import { api, type Schemas } from '../../api/client'
import { day } from '../../bench/dates'

defineProps<{ pairs: Schemas['SamePerson'][]; run: (act: () => Promise<unknown>) => Promise<boolean> }>()
const say = (p: Schemas['SamePerson'], same: boolean) =>
  api.POST('/api/v1/same-people', { body: { one: p.one.id, other: p.other.id, same } })
const when = (p: Schemas['PanelistView']) =>
  p.last ? `sat ${p.sat} ${p.sat === 1 ? 'time' : 'times'}, last ${day(p.last)}` : 'signs in here'
</script>

<template>
  <details class="same">
    <summary>
      {{ pairs.length === 1 ? 'One name is there twice' : `${pairs.length} names are there twice` }}: one
      person, or two?
    </summary>
    <p class="small soft">Whoever sat at two tastings counts as one person only once this is said.</p>
    <ul>
      <li v-for="p in pairs" :key="p.one.id + p.other.id" class="row">
        <span class="grow"
          ><strong>{{ p.one.name }}</strong> ({{ when(p.one) }}) and <strong>{{ p.other.name }}</strong> ({{
            when(p.other)
          }})</span
        ><button class="act" @click="run(() => say(p, true))">One person</button
        ><button class="act quiet" @click="run(() => say(p, false))">Two</button>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.same {
  margin: 0 0 var(--gap-3);
}
ul {
  list-style: none;
  padding: 0;
  margin: var(--gap-2) 0;
  display: grid;
  gap: var(--gap-2);
}
</style>
