<script setup lang="ts">
/** Every key of the bench; press one to give it to an act. */
import { computed, ref } from 'vue'
import { ACTS, useKeys } from './useKeys'

const emit = defineEmits<{ close: [] }>()
const keys = useKeys()
const asking = ref('')
const problem = ref('')
const groups = computed(() =>
  [...new Set(Object.values(ACTS).map((a) => a.group))].map((g) => ({
    group: g,
    acts: Object.entries(ACTS).filter(([, a]) => a.group === g),
  })),
)
function pressed(e: KeyboardEvent) {
  if (!asking.value) return
  if (e.key === 'Escape') asking.value = ''
  else if (!['Shift', 'Control', 'Alt', 'Meta'].includes(e.key)) {
    problem.value = keys.choose(asking.value, e.key)
    if (!problem.value) asking.value = ''
  }
  e.preventDefault()
  e.stopPropagation()
}
</script>

<template>
  <el-dialog :model-value="true" width="820" title="Keys" @close="emit('close')">
    <div class="stack" @keydown="pressed">
      <p class="soft">
        1 to 9 choose a batch. Choose an act, then press the key it is to have. Kept on this device.
      </p>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <div class="columns">
        <section v-for="g in groups" :key="g.group">
          <h3>{{ g.group }}</h3>
          <button
            v-for="[act, a] in g.acts"
            :key="act"
            type="button"
            class="row-key"
            :aria-pressed="asking === act"
            @click="
              () => {
                asking = act
                problem = ''
              }
            "
          >
            <kbd>{{ asking === act ? 'press …' : keys.label(act) }}</kbd><span>{{ a.words }}</span>
          </button>
        </section>
      </div>
      <div><button class="act quiet" @click="keys.asShipped()">As they came</button></div>
    </div>
  </el-dialog>
</template>

<style scoped>
.columns {
  columns: 2;
  column-gap: var(--gap-5);
}
h3 {
  break-after: avoid;
}
.row-key {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  width: 100%;
  min-height: 34px;
  padding: var(--gap-0) var(--gap-1);
  background: none;
  border: 0;
  border-bottom: 1px solid var(--line);
  font: inherit;
  font-size: var(--type-2);
  color: inherit;
  text-align: left;
  cursor: pointer;
  break-inside: avoid;
}
.row-key kbd {
  flex: 0 0 62px;
  text-align: center;
}
.row-key[aria-pressed='true'] {
  background: var(--serve);
}
@media (max-width: 700px) {
  .columns {
    columns: 1;
  }
}
</style>
