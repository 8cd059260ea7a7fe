<script setup lang="ts">
/** Everybody who has a name here; a lead takes a name away when somebody asks for it. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, words, type Schemas } from '../api/client'
import { useSession } from '../session'
import { queryKeys } from '../api/queries/keys'

const session = useSession()
const client = useQueryClient()
const { data: people } = useQuery({
  queryKey: queryKeys.people(),
  queryFn: async () => (await api.GET('/api/v1/people')).data!.items,
})
const chosen = ref<Schemas['PersonView'] | null>(null)
const reason = ref('')
const problem = ref('')
async function erase() {
  try {
    await api.POST('/api/v1/people/{person_id}/erasure', {
      params: { path: { person_id: chosen.value!.id } },
      body: { reason: reason.value },
    })
    chosen.value = null
    for (const queryKey of [queryKeys.people(), queryKeys.accounts(), queryKeys.audit()])
      await client.invalidateQueries({ queryKey })
  } catch (error) {
    problem.value = words(error)
  }
}
function choose(person: Schemas['PersonView']) {
  chosen.value = person
  reason.value = problem.value = ''
}
const does = (p: Schemas['PersonView']) =>
  [
    p.login && `signs in as ${p.login}`,
    p.seats && `tasted at ${p.seats} seat${p.seats === 1 ? '' : 's'}`,
    p.from_elsewhere && 'came with an archive',
  ]
    .filter(Boolean)
    .join(', ') || 'nothing yet'
</script>

<template>
  <details v-if="people?.length" class="people">
    <summary>Everybody with a name here: {{ people.length }}</summary>
    <table class="plain">
      <tbody>
        <tr v-for="p in people" :key="p.id">
          <td>
            <strong>{{ p.name }}</strong>
          </td>
          <td>{{ does(p) }}</td>
          <td>
            <button
              v-if="p.login !== session.me?.login"
              class="act quiet"
              :aria-label="`Erase ${p.name}`"
              @click="choose(p)"
            >
              Erase …
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <el-dialog
      :model-value="chosen !== null"
      :title="`Erase ${chosen?.name ?? ''}`"
      width="520"
      @close="chosen = null"
    >
      <form class="stack" @submit.prevent="erase">
        <p>
          Name, contact and login go, and the account is shut. What was tapped, tasted and decided stands, by
          somebody whose name is gone; words typed in notes and comments are not searched.
        </p>
        <label class="field">Why<el-input v-model="reason" name="erase-reason" maxlength="500" /></label>
        <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
        <div class="row">
          <button class="act strong" :disabled="reason.trim().length < 3">Erase the name</button>
          <button type="button" class="act quiet" @click="chosen = null">Keep it</button>
        </div>
      </form>
    </el-dialog>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  padding: var(--gap-3) 0;
}
</style>
