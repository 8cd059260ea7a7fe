<script setup lang="ts">
/** Leads through a practice trial: what there is to do at a station, at a touch where stand-ins do it. */
import { computed, toRef } from 'vue'
import type { Schemas } from '../../api/client'
import { practiceAt } from './practiceWords'
import { usePractice } from './usePractice'

const props = defineProps<{ trial: string; station: string }>()
const { practice, problem, busy, doIt, ownQuestion } = usePractice(toRef(props, 'trial'))
const said = computed(() => (practice.value ? practiceAt(practice.value, props.station) : null))
const act = computed(() => said.value?.stage.act as Schemas['PracticeAct'] | '' | undefined)
</script>

<template>
  <aside v-if="said" class="guide" aria-label="Practice">
    <p role="status">
      <strong>Practice, {{ said.place }} of 6: {{ said.stage.title }}.</strong> {{ said.stage.says }}
    </p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <button v-if="act && !said.stage.done" class="act strong" :disabled="busy" @click="doIt(act)">
      {{ said.stage.act_words }}
    </button>
    <router-link
      v-if="said.next"
      class="act"
      :class="said.done ? 'strong' : 'quiet'"
      :to="`/trials/${trial}/${said.next.station}`"
      >Go on: {{ said.next.title }}</router-link
    >
    <button v-else class="act strong" :disabled="busy" @click="ownQuestion">Ask a question of my own</button>
  </aside>
</template>

<style scoped src="../../guide/strip.css"></style>

<style scoped>
.guide {
  border-bottom: 2px solid var(--ink);
  background: var(--warn-bg);
}
</style>
