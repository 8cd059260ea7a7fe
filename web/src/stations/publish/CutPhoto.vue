<script setup lang="ts">
/**
 * A whole photo with the part of it that is shown: what lies in the middle is touched, or moved by arrow
 * keys, and how close it is seen is chosen.
 */
import { computed, ref } from 'vue'
import KeptPhoto from '../cook/KeptPhoto.vue'

type Part = { x: number; y: number; zoom: number }
const props = defineProps<{
  trial: string
  photo: string
  /** What the photo is of, and where it stands. */
  alt: string
  name: string
  part: Part
  /** The part that is shown as the server cuts it; else it is drawn as it will. */
  box?: readonly number[]
}>()
const emit = defineEmits<{ change: [what: Partial<Part>] }>()
const ASPECT = 4 / 3
const shape = ref(0)
function seen(e: Event) {
  const img = e.target as HTMLImageElement
  shape.value = img.naturalWidth / img.naturalHeight
}
const own = computed(() => {
  if (!shape.value) return null
  const wide = Math.min(1, ASPECT / shape.value) / props.part.zoom
  const high = Math.min(1, shape.value / ASPECT) / props.part.zoom
  const from = (middle: number, size: number) => Math.min(Math.max(middle - size / 2, 0), 1 - size)
  const left = from(props.part.x, wide)
  const top = from(props.part.y, high)
  return [left, top, left + wide, top + high]
})
const frame = computed(() => {
  const box = props.box ?? own.value
  if (!box) return { display: 'none' }
  const [left, top, right, bottom] = box.map((v) => 100 * v) as [number, number, number, number]
  return { left: `${left}%`, top: `${top}%`, width: `${right - left}%`, height: `${bottom - top}%` }
})
function touched(e: MouseEvent) {
  // A press of the keyboard on the button has no place.
  if (!e.detail) return
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  emit('change', { x: (e.clientX - box.left) / box.width, y: (e.clientY - box.top) / box.height })
}
const STEP = 0.05
const MOVES: Record<string, [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
}
const inside = (v: number) => Math.min(1, Math.max(0, Math.round(v * 100) / 100))
function moved(e: KeyboardEvent) {
  const by = MOVES[e.key]
  if (!by) return
  e.preventDefault()
  emit('change', { x: inside(props.part.x + by[0]), y: inside(props.part.y + by[1]) })
}
const CLOSER: [number, string][] = [
  [1, 'all that fits'],
  [1.25, 'a little closer'],
  [1.5, 'closer'],
  [2, 'twice as close'],
  [3, 'a detail'],
]
</script>

<template>
  <div class="cut">
    <button
      type="button"
      class="whole"
      :aria-label="`Photo ${name}: touch or move by arrow keys what is in the middle`"
      @click="touched"
      @keydown="moved"
    >
      <KeptPhoto :trial="trial" :photo="photo" :alt="alt" @load="seen" /><span
        class="frame"
        :style="frame"
        aria-hidden="true"
      />
    </button>
    <div class="stack words">
      <slot />
      <div class="row">
        <label class="row small"
          >Shown<el-select
            :model-value="part.zoom"
            class="closer"
            :aria-label="`How close, ${name}`"
            @update:model-value="emit('change', { zoom: $event as number })"
            ><el-option v-for="[z, said] in CLOSER" :key="z" :value="z" :label="said" /></el-select></label
        ><slot name="acts" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.cut {
  display: grid;
  grid-template-columns: minmax(140px, 220px) 1fr;
  gap: var(--gap-4);
  align-items: start;
}
.whole {
  position: relative;
  padding: 0;
  border: 0;
  background: none;
  cursor: crosshair;
  overflow: hidden;
  border-radius: 8px;
}
.whole :deep(img) {
  display: block;
  width: 100%;
}
/* What is cut away lies in the shade. */
.frame {
  position: absolute;
  border: 2px solid var(--white);
  box-shadow: 0 0 0 999px rgb(0 0 0 / 55%);
  pointer-events: none;
}
.words {
  min-width: 0;
}
.closer {
  width: 150px;
}
@media (max-width: 640px) {
  .cut {
    grid-template-columns: 1fr;
  }
}
</style>
