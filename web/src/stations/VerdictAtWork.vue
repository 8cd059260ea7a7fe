<script setup lang="ts">
/** A verdict that is not that of the records: being worked out, or stopped by who did not want it. */
import { useQueryClient } from '@tanstack/vue-query'
import { queryKeys } from '../api/queries/keys'
import { doAgain } from '../api/queries/slowWork'
import AtWork from './AtWork.vue'

const props = defineProps<{ trial: string; stopped: boolean; words: string; older: string }>()
const client = useQueryClient()
const told = () =>
  Promise.all([
    client.invalidateQueries({ queryKey: queryKeys.decision(props.trial) }),
    client.invalidateQueries({ queryKey: queryKeys.publication(props.trial) }),
  ])
async function again() {
  await doAgain('verdict', props.trial)
  await told()
}
</script>

<template>
  <div v-if="stopped" class="row warn">
    <span class="grow">Stopped. {{ older }}</span
    ><button type="button" class="act" @click="again">Work it out</button>
  </div>
  <AtWork v-else kind="verdict" :words="words" :subject="trial" stops="Stop" @stopped="told" />
</template>
