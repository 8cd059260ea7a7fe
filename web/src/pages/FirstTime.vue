<script setup lang="ts">
import { reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words } from '../api/client'
import { useSession } from '../session'

const session = useSession()
const router = useRouter()
const form = reactive({ kitchen: '', name: '', login: '', password: '' })
const problem = ref('')
async function go() {
  try {
    await api.POST('/api/v1/first-lead', { body: { ...form } })
    await session.load()
    await router.push('/')
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <main class="page narrow">
    <h1>A new kitchen</h1>
    <p>Make the lead’s account. The lead sets up trials, invites others, opens blind codes and publishes.</p>
    <form class="stack" @submit.prevent="go">
      <label class="field">Name of the kitchen<el-input v-model="form.kitchen" name="kitchen" /></label>
      <label class="field">Your name<el-input v-model="form.name" name="name" autocomplete="name" /></label>
      <label class="field">Login<el-input v-model="form.login" name="login" autocomplete="username" /></label>
      <label class="field"
        >Password, 10 characters or more<el-input
          v-model="form.password"
          name="password"
          type="password"
          show-password
          autocomplete="new-password"
      /></label>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <button class="act strong">Make this kitchen</button>
    </form>
  </main>
</template>

<style scoped>
.narrow {
  max-width: 520px;
  display: grid;
  gap: var(--gap-4);
  padding-top: 6vh;
}
</style>
