<script setup lang="ts">
/**
 * A photo of the log. One that is still on this device, on its way or without network, is shown from here.
 */
import { useTimeoutFn } from '@vueuse/core'
import { computed, onUnmounted, ref } from 'vue'
import { heldPhoto } from '../../bench/outbox'

const props = defineProps<{ trial: string; photo: string; alt: string; thumb?: boolean }>()
const AGAIN_MS = 1500
const MOST = 40
const tries = ref(0)
const own = ref('')
const { start: againSoon } = useTimeoutFn(() => (tries.value += 1), AGAIN_MS, { immediate: false })
const src = computed(() => {
  const again = tries.value ? `&again=${tries.value}` : ''
  const asked = `?thumb=${props.thumb ? 'true' : 'false'}${again}`
  return own.value || `/api/v1/trials/${props.trial}/photos/${props.photo}${asked}`
})
/** Not there yet: from the outbox, else asked for again in a moment. */
async function missing() {
  if (own.value) return
  const photo = await heldPhoto(props.photo)
  if (photo) own.value = URL.createObjectURL(photo)
  else if (tries.value < MOST) againSoon()
}
onUnmounted(() => {
  if (own.value) URL.revokeObjectURL(own.value)
})
</script>

<template>
  <img :src="src" :alt="alt" loading="lazy" @error="missing" />
</template>
