<script setup lang="ts">
/** How long until the plates meet, beside the name of the trial. */
import { useMounted } from '@vueuse/core'
import { computed } from 'vue'
import { clock as clockWords } from '../../bench/dates'
import { countdown } from '../../bench/units'
import { useSession } from '../../session'
import { useThisBench } from './useBench'

const { bench, tick } = useThisBench()
const session = useSession()
const there = useMounted()
const shift = computed(() => bench.value!.shift)
const words = computed(() => {
  const s = shift.value
  const left = s.serve_from - tick.value
  if (s.ended) return 'shift ended'
  if (left > 0) return `${s.same_age ? 'first plate' : 'plates meet'} in ${countdown(left)}`
  if (tick.value < s.serve_until) return s.same_age ? 'one plate after another' : 'plates meet now'
  return `plates were to meet ${clockWords(s.serve_from, session.state?.time_zone)}`
})
</script>

<template>
  <Teleport v-if="there" to="#top-right">{{ words }}</Teleport>
</template>
