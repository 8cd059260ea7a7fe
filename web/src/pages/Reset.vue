<script setup lang="ts">
/** A new password, by a link that a lead made. */
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, words } from '../api/client'

const token = String(useRoute().params.token)
const router = useRouter()
const password = ref('')
const problem = ref('')
async function go() {
  try {
    await api.POST('/api/v1/password-resets', { body: { token, new: password.value } })
    await router.push('/signin')
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <main class="page narrow">
    <h1>A new password</h1>
    <p class="soft">The link holds once. Every device that was signed in is signed out by it.</p>
    <form class="stack" @submit.prevent="go">
      <label class="field"
        >Password, 10 characters or more; a few words do well<el-input
          v-model="password"
          name="new-password"
          type="password"
          show-password
          autocomplete="new-password"
      /></label>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <button class="act strong">Set it</button>
    </form>
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
