<script setup lang="ts">
/**
 * Which methods are cooked together: on one tray or in one basket, preheated for, put in and taken out once.
 */
import { computed, reactive } from 'vue'
import { api, type Method, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import type { Edit } from '../useTrial'

const props = defineProps<{ trial: Trial; edit: Edit; busy: boolean }>()
const fresh = reactive({ name: '', methods: [] as string[] })
const loads = computed(() => {
  const found = new Map<string, Method[]>()
  for (const m of props.trial.methods)
    if (m.together) found.set(m.together, [...(found.get(m.together) ?? []), m])
  return [...found].map(([name, methods]) => ({ name, methods }))
})
const alone = computed(() => props.trial.methods.filter((m) => !m.together))
const set = (items: { name: string; methods: string[] }[]) =>
  props.edit((t, headers) =>
    api.PUT('/api/v1/trials/{trial_id}/loads', {
      params: { path: { trial_id: t.id } },
      headers,
      body: { items },
    }),
  )
const plain = () => loads.value.map((l) => ({ name: l.name, methods: l.methods.map((m) => m.id) }))
async function add() {
  if (await set([...plain(), { name: fresh.name, methods: [...fresh.methods] }]))
    Object.assign(fresh, { name: '', methods: [] })
}
const apart = (name: string) => set(plain().filter((l) => l.name !== name))
</script>

<template>
  <section class="stack loads">
    <h2>Cooked together</h2>
    <p class="soft">
      Two treatments on one tray or in one basket: preheated for once, in and out by one tap. Nothing that the
      oven does can then set them apart; what they were given before can.
    </p>
    <ul v-if="loads.length">
      <li v-for="l in loads" :key="l.name" class="row">
        <strong class="name">{{ l.name }}</strong>
        <span v-for="m in l.methods" :key="m.id" class="row nowrap"
          ><LoafMark :mark="m.mark" :size="26" />{{ m.tag }} {{ m.name }}</span
        >
        <button class="act quiet" :disabled="busy" @click="apart(l.name)">Cook each by itself</button>
      </li>
    </ul>
    <form v-if="alone.length > 1" class="row" @submit.prevent="add">
      <label class="field methods"
        >Methods<el-select
          v-model="fresh.methods"
          multiple
          placeholder="two or more"
          aria-label="Methods cooked together"
          ><el-option v-for="m in alone" :key="m.id" :value="m.id" :label="`${m.tag} ${m.name}`" /></el-select
      ></label>
      <label class="field"
        >What they share<el-input v-model="fresh.name" name="load-name" placeholder="tray 1"
      /></label>
      <button class="act" :disabled="busy">Cook them together</button>
    </form>
  </section>
</template>

<style scoped>
.loads {
  margin-top: var(--gap-5);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: var(--gap-1) 0;
}
.nowrap {
  flex-wrap: nowrap;
}
.name {
  min-width: 90px;
}
.methods {
  min-width: min(340px, 100%);
}
form {
  align-items: flex-end;
}
</style>
