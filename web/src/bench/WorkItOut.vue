<script setup lang="ts">
/**
 * A number a cook would work out in the head, worked out where it is typed: the calculators that answer it,
 * and “Take”.
 */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, type Schemas } from '../api/client'
import Calculator from './Calculator.vue'
import { durationText, massText } from './units'
import { queryKeys } from '../api/queries/keys'

const props = defineProps<{ calculators: string[]; given?: Record<string, string>; label?: string }>()
const emit = defineEmits<{ take: [text: string] }>()
const open = ref(false)
const key = ref(props.calculators[0] ?? '')
const { data: specs } = useQuery({
  queryKey: queryKeys.workbench(),
  staleTime: Infinity,
  enabled: open,
  queryFn: async () => (await api.GET('/api/v1/workbench')).data!.items,
})
const offered = computed(() => specs.value?.filter((c) => props.calculators.includes(c.key)) ?? [])
const chosen = computed(() => offered.value.find((c) => c.key === key.value) ?? offered.value[0])
const result = ref<Schemas['ResultView'] | null>(null)
const text = computed(() => {
  const r = result.value
  if (!r || r.take === null || r.take === undefined) return ''
  return r.take_kind === 'mass' ? massText(r.take) : durationText(r.take)
})
function take() {
  emit('take', text.value)
  open.value = false
}
</script>

<template>
  <button type="button" class="link" :aria-label="`Work out ${label ?? 'this'}`" @click="open = true">
    work it out
  </button>
  <el-dialog
    v-model="open"
    :title="`Work out ${label ?? 'this'}`"
    width="760"
    append-to-body
    destroy-on-close
  >
    <div class="stack">
      <el-radio-group v-if="offered.length > 1" v-model="key"
        ><el-radio v-for="c in offered" :key="c.key" :value="c.key">{{ c.name }}</el-radio></el-radio-group
      >
      <Calculator
        v-if="chosen"
        :key="chosen.key"
        :calculator="chosen"
        :given="given"
        @result="(r: Schemas['ResultView'] | null) => (result = r)"
      />
      <div class="row">
        <button type="button" class="act strong" :disabled="!text" @click="take">
          Take {{ text || '…' }}</button
        ><button type="button" class="act quiet" @click="open = false">Leave it</button>
      </div>
    </div>
  </el-dialog>
</template>

<style scoped>
.link {
  background: none;
  border: 0;
  padding: var(--gap-1) 0;
  min-height: 32px;
  font: inherit;
  font-size: var(--type-2);
  color: var(--ink-soft);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
  text-align: left;
}
</style>
