<script setup lang="ts">
/** Who signs in, what they may do, a link for whoever forgot the password; what was done, for the lead. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { api, words, type Schemas } from '../api/client'
import { useSession } from '../session'
import People from './People.vue'
import { queryKeys } from '../api/queries/keys'
import { dayAndTime } from '../bench/dates'

const session = useSession()
const client = useQueryClient()
const { data: people } = useQuery({
  queryKey: queryKeys.accounts(),
  queryFn: async () => (await api.GET('/api/v1/accounts')).data!.items,
})
const { data: done } = useQuery({
  queryKey: queryKeys.audit(),
  queryFn: async () => (await api.GET('/api/v1/audit')).data!.items,
})
const account = reactive({ name: '', login: '', password: '', role: 'cook' as 'cook' | 'lead' })
const problem = ref('')
const link = ref<{ of: string; link: string; holds_h: number } | null>(null)
async function act(what: () => Promise<unknown>): Promise<boolean> {
  try {
    await what()
    problem.value = ''
    await client.invalidateQueries({ queryKey: queryKeys.accounts() })
    await client.invalidateQueries({ queryKey: queryKeys.audit() })
    return true
  } catch (error) {
    problem.value = words(error)
    return false
  }
}
async function add() {
  if (await act(() => api.POST('/api/v1/accounts', { body: account })))
    Object.assign(account, { name: '', login: '', password: '' })
}
const change = (a: Schemas['AccountView'], body: Schemas['AccountChange']) =>
  act(async () => {
    await api.PATCH('/api/v1/accounts/{account_id}', { params: { path: { account_id: a.id } }, body })
    // Whose own role was changed signs in anew.
    if (a.id === session.me?.id) await session.load()
  })
const makeLink = (a: Schemas['AccountView']) =>
  act(async () => {
    const { data } = await api.POST('/api/v1/accounts/{account_id}/resets', {
      params: { path: { account_id: a.id } },
    })
    if (data) link.value = { of: a.name, ...data }
  })
</script>

<template>
  <section class="stack">
    <h2>People who sign in</h2>
    <table class="plain">
      <tbody>
        <tr v-for="a in people" :key="a.id">
          <td>
            <strong>{{ a.name }}</strong>
          </td>
          <td>{{ a.login }}</td>
          <td>
            <el-select
              :model-value="a.role"
              class="role"
              :aria-label="`Role of ${a.login}`"
              @change="(role: 'cook' | 'lead') => change(a, { role })"
              ><el-option value="cook" label="cook" /><el-option value="lead" label="lead"
            /></el-select>
          </td>
          <td>{{ a.active ? '' : 'shut' }}</td>
          <td class="row">
            <button class="act quiet" @click="makeLink(a)">Link for a new password</button>
            <button class="act quiet" @click="change(a, { active: !a.active })">
              {{ a.active ? 'Shut' : 'Open again' }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="link" class="warn">
      For {{ link.of }}, for one use within {{ link.holds_h }} hours, shown this once:
      <code data-testid="reset-link">{{ link.link }}</code>
    </p>
    <form class="row" @submit.prevent="add">
      <label class="field">Name<el-input v-model="account.name" name="account-name" /></label
      ><label class="field">Login<el-input v-model="account.login" name="account-login" /></label>
      <label class="field"
        >Password<el-input
          v-model="account.password"
          name="account-password"
          type="password"
          autocomplete="new-password"
      /></label>
      <label class="field"
        >Role<el-select v-model="account.role" class="role"
          ><el-option value="cook" label="cook" /><el-option value="lead" label="lead" /></el-select
      ></label>
      <button class="act strong end">Add</button>
    </form>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <People />
    <details v-if="done?.length">
      <summary>What was done lately: {{ done.length }}</summary>
      <table class="plain">
        <tbody>
          <tr v-for="(d, n) in done" :key="n">
            <td class="mono small">{{ dayAndTime(d.at) }}</td>
            <td>{{ d.who || 'not signed in' }}</td>
            <td>
              <strong>{{ d.what }}</strong>
            </td>
            <td>{{ d.about }}</td>
            <td class="mono small">{{ d.address }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </section>
</template>

<style scoped>
.role {
  width: 120px;
}
.end {
  align-self: flex-end;
}
code {
  overflow-wrap: anywhere;
}
summary {
  cursor: pointer;
  padding: var(--gap-3) 0;
}
</style>
