/**
 * Whether a station says what it is for: until it is sent away on this device, and again by the question
 * mark.
 * A bench has no room for it and hands that are busy, so there it comes only when asked for.
 */
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

export function useGuided() {
  const route = useRoute()
  const sentAway = useLocalStorage<string[]>('yeasty-guide-away', [])
  const station = computed(() => (route.meta.station ? String(route.meta.station) : ''))
  const atBench = computed(() => !!route.params.shift)
  const asked = ref(false)
  watch(
    () => route.path,
    () => {
      asked.value = false
    },
  )
  const guided = computed(
    () => !!station.value && (asked.value || (!atBench.value && !sentAway.value.includes(station.value))),
  )
  function toggleGuide() {
    if (atBench.value) {
      asked.value = !asked.value
      return
    }
    const rest = sentAway.value.filter((s) => s !== station.value)
    sentAway.value = guided.value ? [...rest, station.value] : rest
  }
  return { guided, toggleGuide }
}
