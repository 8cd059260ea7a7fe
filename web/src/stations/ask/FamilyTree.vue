<script setup lang="ts">
/**
 * The family tree: generations from left to right, a line from each parent, what changed beside the chosen
 * one.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, words, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { Edit } from '../useTrial'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial; edit: Edit }>()
const client = useQueryClient()
const path = { params: { path: { trial_id: props.trial.id } } }
const { data } = useQuery({
  queryKey: queryKeys.family(
    props.trial.id,
    computed(() => props.trial.version),
  ),
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/family', path)).data!,
})
const chosen = ref<string | null>(null)
const nodes = computed(() => data.value?.items ?? [])
const many = computed(() => nodes.value.length > 24)
const W = 268,
  GAP = 74
const H = computed(() => (many.value ? 38 : 58))
const x = (g: number) => g * (W + GAP)
const y = (r: number) => r * (H.value + 8)
const width = computed(() => x(Math.max(0, ...nodes.value.map((n) => n.generation))) + W + 4)
const height = computed(() => y(Math.max(0, ...nodes.value.map((n) => n.row))) + H.value + 4)
const at = computed(() => new Map(nodes.value.map((n) => [n.method_id, n])))
const lines = computed(() =>
  nodes.value.flatMap((n) =>
    n.parents.flatMap((p) => {
      const from = at.value.get(p)
      if (!from) return []
      const [x1, y1, x2, y2] = [
        x(from.generation) + W,
        y(from.row) + H.value / 2,
        x(n.generation),
        y(n.row) + H.value / 2,
      ]
      return [
        {
          key: p + n.method_id,
          d: `M${x1} ${y1} C${x1 + GAP * 0.6} ${y1} ${x2 - GAP * 0.6} ${y2} ${x2} ${y2}`,
          lit: chosen.value === n.method_id || chosen.value === p,
        },
      ]
    }),
  ),
)
const one = computed(() => at.value.get(chosen.value ?? '') ?? null)
const { data: trials } = useQuery({
  queryKey: queryKeys.trialsShort(),
  queryFn: async () => (await api.GET('/api/v1/trials', { params: { query: { search: '' } } })).data!.items,
})
const feed = reactive({ name: '', into: '' })
const problem = ref('')
async function byProduct() {
  try {
    await api.POST('/api/v1/trials/{trial_id}/by-products', {
      params: { path: { trial_id: one.value!.trial_id } },
      body: { method_id: one.value!.method_id, into_trial_id: feed.into, name: feed.name },
    })
    problem.value = ''
    Object.assign(feed, { name: '', into: '' })
    await client.invalidateQueries({ queryKey: queryKeys.family(props.trial.id) })
  } catch (error) {
    problem.value = words(error)
  }
}
const others = computed(() => trials.value?.filter((t) => t.id !== one.value?.trial_id) ?? [])
</script>

<template>
  <section v-if="data" class="stack">
    <h2>{{ data.sentence }}</h2>
    <div class="scroll" role="region" tabindex="0" aria-label="Family tree, scrolls sideways">
      <div class="tree" :style="{ width: `${width}px`, height: `${height}px` }">
        <svg class="lines" :width="width" :height="height" aria-hidden="true">
          <path v-for="l in lines" :key="l.key" :d="l.d" :class="{ lit: l.lit }" />
        </svg>
        <button
          v-for="n in nodes"
          :key="n.method_id"
          type="button"
          class="node"
          :class="{ mine: n.trial_id === trial.id, chosen: chosen === n.method_id, small: many }"
          :style="{ left: `${x(n.generation)}px`, top: `${y(n.row)}px`, width: `${W}px`, height: `${H}px` }"
          @click="chosen = chosen === n.method_id ? null : n.method_id"
        >
          <LoafMark :mark="n.mark" :size="many ? 20 : 28" /><span class="t"
            ><strong>{{ n.tag }}</strong> {{ n.name
            }}<small v-if="!many">{{ n.outcome || n.change || n.trial }}</small></span
          >
        </button>
      </div>
    </div>
    <div v-if="one" class="one stack">
      <h3>
        {{ one.tag }} {{ one.name }}
        <span class="soft small"
          >in <router-link :to="`/trials/${one.trial_id}/ask`">{{ one.trial }}</router-link></span
        >
      </h3>
      <p v-if="one.parent_words && !one.parents.length" class="soft">Comes from {{ one.parent_words }}.</p>
      <p v-if="one.change">
        <strong>Meant:</strong> {{ one.change
        }}<template v-if="one.aimed_defect">, to cure “{{ one.aimed_defect }}”</template>
      </p>
      <p v-if="one.changed.length"><strong>Changed, worked out:</strong> {{ one.changed.join('; ') }}</p>
      <p v-else-if="one.parents.length" class="soft">Nothing written differs from its parent yet.</p>
      <p v-if="one.outcome"><strong>Outcome:</strong> {{ one.outcome }}</p>
      <p v-if="one.failed_tries">
        {{ one.failed_tries }} failed {{ one.failed_tries === 1 ? 'try' : 'tries' }} at it.
      </p>
      <p v-if="one.by_products.length"><strong>By-products:</strong> {{ one.by_products.join('; ') }}</p>
      <form class="row" @submit.prevent="byProduct">
        <label class="field"
          >What it left over<el-input v-model="feed.name" placeholder="cooking water" /></label
        ><label class="field"
          >becomes a lot of<el-select
            v-model="feed.into"
            class="w"
            filterable
            aria-label="Trial that it feeds"
            ><el-option v-for="t in others" :key="t.id" :value="t.id" :label="t.title" /></el-select></label
        ><button class="act quiet end" :disabled="!feed.name || !feed.into">Make it a lot</button>
      </form>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    </div>
    <p v-else class="soft small">
      Choose a method to see what changed from its parent. Outlined: this trial.
    </p>
  </section>
</template>

<style scoped>
.scroll {
  overflow: auto;
  padding: var(--gap-1) var(--gap-1) var(--gap-3);
  max-height: 62vh;
  border-bottom: 1px solid var(--line);
}
.tree {
  position: relative;
}
svg.lines {
  position: absolute;
  inset: 0;
}
path {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 2;
}
path.lit {
  stroke: var(--crust);
  stroke-width: 4;
}
.node {
  position: absolute;
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  text-align: left;
  font: inherit;
  font-size: var(--type-2);
  line-height: 1.15;
  color: inherit;
  background: var(--paper);
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  padding: var(--gap-0) var(--gap-2);
  cursor: pointer;
  overflow: hidden;
}
.node.mine {
  border: 2px solid var(--ink);
}
.node.chosen {
  background: var(--ink);
  color: var(--flour);
}
.t {
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.t small {
  display: block;
  font-size: var(--type-1);
  overflow: hidden;
  text-overflow: ellipsis;
  opacity: 0.85;
}
.node.small {
  font-size: var(--type-2);
}
.one {
  border-top: 2px solid var(--ink);
  padding-top: var(--gap-3);
}
.end {
  align-self: end;
}
.w {
  width: 300px;
}
</style>
