<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, words, type Trial } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import { useSession } from '../../session'
import { queryKeys } from '../../api/queries/keys'

const props = defineProps<{ trial: Trial }>()
const client = useQueryClient()
const session = useSession()
const path = { params: { path: { trial_id: props.trial.id } } }
const { data } = useQuery({
  queryKey: queryKeys.guesses(props.trial.id),
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/guesses', path)).data!,
})
const form = reactive({ who: '', method_id: '', why: '' })
const problem = ref('')
async function run(act: () => Promise<{ data?: unknown }>) {
  try {
    const { data } = await act()
    if (data) client.setQueryData(queryKeys.guesses(props.trial.id), data)
    problem.value = ''
    return true
  } catch (error) {
    problem.value = words(error)
    return false
  }
}
async function guess() {
  if (await run(() => api.POST('/api/v1/trials/{trial_id}/guesses', { ...path, body: { ...form } })))
    Object.assign(form, { who: '', method_id: '', why: '' })
}
const close = () => run(() => api.POST('/api/v1/trials/{trial_id}/guesses/closure', path))
const name = (id: string | null) => props.trial.methods.find((m) => m.id === id)
const origin = window.location.origin
</script>

<template>
  <section v-if="data" class="stack">
    <h2>
      {{ data.count }} guess{{ data.count === 1 ? '' : 'es'
      }}{{ data.shown ? '' : ', closed until the codes are open' }}
    </h2>
    <p class="soft">
      Guesses are written down before the test, because they bias it, and shown only afterwards. Readers guess
      by this link: <a :href="data.link" class="mono">{{ origin }}{{ data.link }}</a>
    </p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <form v-if="!data.shown" class="row" @submit.prevent="guess">
      <label class="field">Who<el-input v-model="form.who" placeholder="you" /></label>
      <label class="field"
        >Will win<el-select v-model="form.method_id" class="w" aria-label="Will win"
          ><el-option
            v-for="m in trial.methods"
            :key="m.id"
            :value="m.id"
            :label="`${m.tag} ${m.name}`" /></el-select
      ></label>
      <label class="field grow">Because<el-input v-model="form.why" /></label>
      <button class="act strong end" :disabled="!form.method_id">Guess</button>
    </form>
    <table v-if="data.shown" class="plain">
      <thead>
        <tr>
          <th>Who</th>
          <th>Guessed</th>
          <th>Because</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(g, i) in data.items" :key="i">
          <td>{{ g.who || (g.by_link ? 'a reader' : '—') }}</td>
          <td>
            <span v-if="name(g.method_id)" class="row"
              ><LoafMark :mark="name(g.method_id)!.mark" :size="26" />{{ name(g.method_id)!.tag }}
              {{ name(g.method_id)!.name }}</span
            >
          </td>
          <td>{{ g.why }}</td>
        </tr>
      </tbody>
    </table>
    <div v-if="!data.shown && session.me?.role === 'lead'">
      <button class="act quiet" @click="close">End the guessing and show them</button
      ><span class="soft small">&ensp;for a trial without a blind tasting</span>
    </div>
  </section>
</template>

<style scoped>
.w {
  width: 260px;
}
.end {
  align-self: end;
}
</style>
