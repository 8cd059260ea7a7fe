<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { words } from '../api/client'
import { useSession } from '../session'

const session = useSession()
const router = useRouter()
const route = useRoute()
const login = ref('')
const password = ref('')
const problem = ref('')
if (session.state?.first_time) void router.replace('/first')
async function go() {
  try {
    await session.signIn(login.value, password.value)
    await router.push(
      typeof route.query.to === 'string' && route.query.to.startsWith('/') ? route.query.to : '/',
    )
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <main class="page narrow">
    <h1>Sign in</h1>
    <p class="soft">Cook one dish several ways, record it, taste it blind, publish what stands.</p>
    <form class="stack" @submit.prevent="go">
      <label class="field"
        >Login<el-input v-model="login" name="login" autocomplete="username" autofocus
      /></label>
      <label class="field"
        >Password<el-input
          v-model="password"
          name="password"
          type="password"
          show-password
          autocomplete="current-password"
      /></label>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <button class="act strong">Sign in</button>
    </form>
    <p class="soft small">Tasters need no account: open your personal link.</p>
  </main>
</template>

<style scoped>
.narrow {
  max-width: 480px;
  display: grid;
  gap: var(--gap-4);
  padding-top: 8vh;
}
</style>
