<script setup lang="ts">
/** What must be so before a batch starts: ticked one by one or all at once, or waived with a reason. */
import { computed, reactive } from 'vue'
import LoafMark from '../../bench/LoafMark.vue'
import type { BenchBatch } from './useBench'

const props = defineProps<{ batch: BenchBatch; left: BenchBatch['checklist'] }>()
const emit = defineEmits<{ done: [items: { item: string; text: string; waived?: string }[]]; close: [] }>()
const ticked = reactive<Record<string, boolean>>({})
const waived = reactive<Record<string, string>>({})
const waiving = reactive<Record<string, boolean>>({})
const settled = (k: string) => !!ticked[k] || (!!waiving[k] && (waived[k]?.trim().length ?? 0) > 2)
const all = computed(() => props.left.every((i) => settled(i.key)))
const open = computed(() => props.left.filter((i) => !settled(i.key) && !waiving[i.key]))
const startWords = computed(() => {
  if (!open.value.length) return 'Start'
  const all = open.value.length === props.left.length
  return `${all ? 'All' : 'The other'} ${open.value.length} are so, start`
})
function start() {
  for (const i of open.value) ticked[i.key] = true
  if (!all.value) return
  emit(
    'done',
    props.left.map((i) => ({
      item: i.key,
      text: i.text,
      ...(waiving[i.key] && !ticked[i.key] ? { waived: waived[i.key]!.trim() } : {}),
    })),
  )
}
</script>

<template>
  <el-dialog :model-value="true" width="640" title="Before it starts" @close="emit('close')">
    <div class="stack">
      <p class="row">
        <LoafMark :mark="batch.mark" :size="34" /><strong>{{ batch.tag }}</strong> {{ batch.name }}
      </p>
      <ul>
        <li v-for="i in left" :key="i.key">
          <button
            type="button"
            class="tick"
            :aria-pressed="!!ticked[i.key]"
            @click="
              () => {
                ticked[i.key] = !ticked[i.key]
                waiving[i.key] = false
              }
            "
          >
            <span class="box">{{ ticked[i.key] ? '✓' : '' }}</span><span class="grow"
              >{{ i.text }}<small class="soft">{{ i.why }}</small></span
            ></button
          ><button
            type="button"
            class="act quiet"
            @click="
              () => {
                waiving[i.key] = !waiving[i.key]
                ticked[i.key] = false
              }
            "
          >
            Not needed</button
          ><el-input
            v-if="waiving[i.key]"
            v-model="waived[i.key]"
            class="why"
            placeholder="because …"
            :aria-label="`Why not needed: ${i.text}`"
          />
        </li>
      </ul>
      <div class="row">
        <button class="act strong big" autofocus :disabled="!all && !open.length" @click="start">
          {{ startWords }}</button><button class="act quiet" @click="emit('close')">Not yet</button>
      </div>
    </div>
  </el-dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--line);
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
  border-bottom: 1px solid var(--line);
}
.tick {
  flex: 1;
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  text-align: left;
  min-height: 52px;
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
}
.tick small {
  display: block;
  font-size: var(--type-1);
}
.box {
  width: 30px;
  height: 30px;
  border: 2px solid var(--ink);
  border-radius: 6px;
  display: grid;
  place-items: center;
  font-weight: 700;
  flex: none;
}
.tick[aria-pressed='true'] .box {
  background: var(--ink);
  color: var(--flour);
}
.why {
  flex-basis: 100%;
  margin-bottom: var(--gap-2);
}
.big {
  flex: 1;
  min-height: 60px;
  justify-content: center;
  font-size: var(--type-3);
}
</style>
