<script setup lang="ts">
/** Photos by face, a column a way, all on one crop: what was seen, side by side. */
import { computed } from 'vue'
import type { Method, Schemas } from '../../api/client'
import KeptPhoto from '../cook/KeptPhoto.vue'

const props = defineProps<{ trial: string; methods: Method[]; told: Schemas['MethodOutcome'][] }>()
const of = (id: string) => props.told.find((m) => m.method === id)?.photos ?? []
const shown = computed(() => props.methods.filter((m) => of(m.id).length))
const faces = computed(() => [...new Set(shown.value.flatMap((m) => of(m.id).map((p) => p.face)))].sort())
/** The newest of a face: what it came to. */
const last = (id: string, face: string) =>
  of(id)
    .filter((p) => p.face === face)
    .at(-1)
</script>

<template>
  <section v-if="shown.length" class="photos" aria-label="Photos by face">
    <h2>Photos by face</h2>
    <div class="scroll" role="region" tabindex="0" aria-label="Photos by face, scrolls sideways">
      <table>
        <thead>
          <tr>
            <td />
            <th v-for="m in shown" :key="m.id" scope="col">{{ m.tag }} {{ m.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in faces" :key="f">
            <th scope="row">{{ f || 'whole' }}</th>
            <td v-for="m in shown" :key="m.id">
              <KeptPhoto
                v-if="last(m.id, f)"
                :key="last(m.id, f)!.photo"
                :trial="trial"
                :photo="last(m.id, f)!.photo"
                :alt="`${m.name}, ${f || 'whole'}, batch ${last(m.id, f)!.replicate}`"
              /><span v-else class="soft small">none</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.photos {
  margin-top: var(--gap-4);
}
.scroll {
  overflow: auto;
}
th {
  text-align: left;
  vertical-align: top;
  padding: var(--gap-1) var(--gap-3) var(--gap-1) 0;
}
td {
  padding: var(--gap-1);
}
td :deep(img) {
  width: 180px;
  aspect-ratio: 1;
  object-fit: cover;
  border-radius: 8px;
}
</style>
