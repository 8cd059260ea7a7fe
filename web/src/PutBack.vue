<script setup lang="ts">
/** What was taken away or written over a moment ago, by name, and one touch that puts it back. */
import { useCssVar, useElementSize, useIntervalFn } from '@vueuse/core'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, changed, words } from './api/client'
import { queryKeys } from './api/queries/keys'

const client = useQueryClient()
const { data, refetch } = useQuery({
  queryKey: queryKeys.takenAway(),
  queryFn: async () => {
    const item = (await api.GET('/api/v1/taken-away')).data!.item ?? null
    return item && { ...item, until: Date.now() + 1000 * item.left_s }
  },
})
watch(changed, () => void refetch())
const now = ref(Date.now())
const { pause, resume } = useIntervalFn(() => (now.value = Date.now()), 1000)
watch(data, (d) => {
  now.value = Date.now()
  if (d) resume()
  else pause()
})
const hidden = ref('')
const problem = ref('')
const left = computed(() => Math.ceil(((data.value?.until ?? 0) - now.value) / 1000))
const shown = computed(() =>
  data.value && left.value > 0 && data.value.id !== hidden.value ? data.value : null,
)
// What stands at the end of a page can be scrolled out from under the strip.
const strip = ref<HTMLElement>()
const { height } = useElementSize(strip, undefined, { box: 'border-box' })
const room = useCssVar('--strip', document.documentElement)
watch([height, shown], () => (room.value = shown.value ? `${Math.ceil(height.value)}px` : '0px'))
watch(
  () => shown.value?.id,
  () => (problem.value = ''),
)
async function putBack(id: string) {
  try {
    await api.POST('/api/v1/taken-away/{taken_id}/put-back', { params: { path: { taken_id: id } } })
    hidden.value = id
    await client.invalidateQueries()
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <aside v-if="shown" ref="strip" class="taken" role="status" aria-label="What can be put back">
    <span class="grow"
      ><strong>{{ shown.what.slice(0, 1).toUpperCase() + shown.what.slice(1) }}</strong>
      {{ shown.deed === 'changed' ? 'changed.' : 'was taken away.' }}
      <span v-if="problem" class="bad" role="alert">{{ problem }}</span></span
    ><button v-if="!problem" class="act" @click="putBack(shown.id)">Put back {{ shown.what }}</button
    ><span class="mono small" aria-hidden="true">{{ left }} s</span
    ><button class="act quiet" @click="hidden = shown.id">Leave it so</button>
  </aside>
</template>

<style scoped>
.taken {
  position: fixed;
  left: 50%;
  bottom: 72px;
  transform: translateX(-50%);
  width: min(860px, calc(100vw - 24px));
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-3);
  align-items: center;
  padding: var(--gap-2) var(--gap-4);
  background: var(--paper);
  border: 2px solid var(--ink);
  border-radius: 12px;
  z-index: 30;
}
.taken .grow {
  flex: 1 1 240px;
}
@media (max-height: 420px) {
  .taken {
    position: static;
    transform: none;
    margin: var(--gap-2) auto;
  }
}
</style>
