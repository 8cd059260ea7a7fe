<script setup lang="ts">
/** Photos side by side: a row for each face, a column for each batch, the newest in front. */
import { computed } from 'vue'
import { when, type FoldEntry } from '../../bench/fold'
import LoafMark from '../../bench/LoafMark.vue'
import { clock } from '../../bench/dates'
import KeptPhoto from './KeptPhoto.vue'
import type { BenchBatch } from './useBench'

const props = defineProps<{ photos: FoldEntry[]; batches: BenchBatch[]; trial: string; zone?: string }>()
const emit = defineEmits<{ close: [] }>()
const faces = computed(() => [...new Set(props.photos.map((p) => String(p.payload.face ?? '')))].sort())
const shown = computed(() => props.batches.filter((b) => props.photos.some((p) => p.batch === b.id)))
const of = (batch: string, face: string) =>
  props.photos.filter((p) => p.batch === batch && String(p.payload.face ?? '') === face).at(-1)
/** As large as so many columns allow: a difference is seen at size. */
const side = computed(
  () => `${Math.max(220, Math.min(460, Math.floor(1000 / Math.max(1, shown.value.length))))}px`,
)
</script>

<template>
  <el-dialog :model-value="true" width="min(1180px, 96vw)" title="Photos side by side" @close="emit('close')">
    <p v-if="!photos.length" class="soft">
      No photo yet. Take one of each face of each batch, framed by the one before.
    </p>
    <div
      v-else
      class="scroll"
      role="region"
      tabindex="0"
      aria-label="Photos side by side, scrolls sideways"
      :style="{ '--side': side }"
    >
      <table>
        <thead>
          <tr>
            <th />
            <th v-for="b in shown" :key="b.id">
              <span class="row nowrap"
                ><LoafMark :mark="b.mark" :size="24" /><strong
                  >{{ b.tag }}<template v-if="b.replicate > 1"> {{ b.replicate }}</template></strong
                ></span
              >
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in faces" :key="f">
            <th>{{ f || 'whole' }}</th>
            <td v-for="b in shown" :key="b.id">
              <figure v-if="of(b.id, f)">
                <KeptPhoto
                  :key="String(of(b.id, f)!.payload.photo_id)"
                  :trial="trial"
                  :photo="String(of(b.id, f)!.payload.photo_id)"
                  :alt="`${b.tag}, ${f || 'whole'}`"
                />
                <figcaption class="small mono">{{ clock(when(of(b.id, f)!), zone) }}</figcaption>
              </figure>
              <span v-else class="soft small">none yet</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </el-dialog>
</template>

<style scoped>
.scroll {
  overflow: auto;
  max-height: 72vh;
}
th {
  text-align: left;
  vertical-align: top;
  padding: var(--gap-1) var(--gap-3) var(--gap-1) 0;
}
td {
  padding: 0 var(--gap-2) var(--gap-2) 0;
  vertical-align: top;
}
img {
  width: var(--side);
  height: var(--side);
  object-fit: cover;
  display: block;
}
figure {
  margin: 0;
}
.nowrap {
  flex-wrap: nowrap;
}
</style>
