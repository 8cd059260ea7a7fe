<script setup lang="ts">
/**
 * A picture from the camera, framed by the one before so that the crop is the same; a file where there is no
 * camera.
 */
import { useUserMedia } from '@vueuse/core'
import { onMounted, onUnmounted, ref, watchEffect } from 'vue'

defineProps<{ before: string }>()
const emit = defineEmits<{ taken: [picture: Blob | null] }>()
const SIDE = 1200
const video = ref<HTMLVideoElement>()
const shot = ref('')
const why = ref('')
const over = ref(true)
const open = ref(true)
// It is let go with this part.
const { isSupported, stream, start, stop } = useUserMedia({
  constraints: { video: { facingMode: 'environment', width: { ideal: 1920 } }, audio: false },
})
watchEffect(() => {
  if (video.value) video.value.srcObject = stream.value ?? null
})
async function turnOn() {
  if (!isSupported.value) {
    why.value = window.isSecureContext
      ? 'No camera here: choose a picture.'
      : 'The camera is off on plain HTTP: choose a picture.'
    return
  }
  try {
    await start()
    // Whoever allows it when this is closed already would leave it on.
    if (!open.value) stop()
  } catch {
    why.value = 'The camera was not opened: choose a picture.'
  }
}
function take() {
  const v = video.value
  if (!v?.videoWidth) return
  const side = Math.min(v.videoWidth, v.videoHeight)
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = Math.min(SIDE, side)
  canvas
    .getContext('2d')!
    .drawImage(
      v,
      (v.videoWidth - side) / 2,
      (v.videoHeight - side) / 2,
      side,
      side,
      0,
      0,
      canvas.width,
      canvas.height,
    )
  canvas.toBlob(
    (b) => {
      if (b) {
        shot.value = URL.createObjectURL(b)
        emit('taken', b)
      }
    },
    'image/jpeg',
    0.88,
  )
}
function again() {
  shot.value = ''
  emit('taken', null)
}
function chosen(e: Event) {
  emit('taken', (e.target as HTMLInputElement).files?.[0] ?? null)
}
onMounted(turnOn)
onUnmounted(() => (open.value = false))
</script>

<template>
  <div class="stack">
    <div v-show="!why" class="frame">
      <video v-show="!shot" ref="video" autoplay muted playsinline /><img
        v-if="shot"
        :src="shot"
        alt="What was taken"
      />
      <img v-if="before && over && !shot" class="over" :src="before" alt="" /><span
        class="cross"
        aria-hidden="true"
      />
    </div>
    <div v-show="!why" class="row">
      <button v-if="!shot" type="button" class="act strong" @click="take">Take it</button
      ><button v-else type="button" class="act" @click="again">Again</button
      ><button v-if="before" type="button" class="act quiet" :aria-pressed="over" @click="over = !over">
        {{ over ? 'Without the one before' : 'With the one before' }}
      </button>
    </div>
    <p v-if="why" class="soft small">{{ why }}</p>
    <input type="file" accept="image/*" capture="environment" aria-label="Picture" @change="chosen" />
  </div>
</template>

<style scoped>
.frame {
  position: relative;
  width: min(100%, 380px);
  aspect-ratio: 1;
  background: var(--black);
  overflow: hidden;
}
.frame video,
.frame img {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  object-fit: cover;
}
.over {
  opacity: 0.35;
  pointer-events: none;
}
.cross {
  position: absolute;
  inset: 12%;
  border: 2px dashed color-mix(in srgb, var(--white) 60%, transparent);
  pointer-events: none;
}
</style>
