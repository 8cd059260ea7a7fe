<script setup lang="ts">
/** Where a trial goes on, once a station has done its part and nothing was done at the next one yet. */
import { computed } from 'vue'
import { useStations } from './useTrial'

type To = 'setup' | 'cook' | 'taste' | 'decide' | 'publish'
const props = defineProps<{ trial: string; to: To }>()
const { data: words } = useStations(computed(() => props.trial))
const SAYS: Record<To, string> = {
  setup: 'Go on: what differs',
  cook: 'Go on: plan the cooking',
  taste: 'Go on: taste',
  decide: 'Go on: the verdict',
  publish: 'Go on: the page',
}
/** Set up and Decide have always something to say: each is news until the station behind it was used. */
const UNTIL = { setup: 'cook', cook: 'cook', taste: 'taste', decide: 'publish', publish: 'publish' } as const
// A practice leads by itself.
const untouched = computed(() => !words.value?.simulated && words.value?.words[UNTIL[props.to]] === 'not yet')
</script>

<template>
  <router-link v-if="untouched" class="act strong next" :to="`/trials/${trial}/${to}`">{{
    SAYS[to]
  }}</router-link>
</template>

<style scoped>
.next {
  display: inline-block;
  margin-top: var(--gap-2);
}
</style>
