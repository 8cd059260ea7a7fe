<script setup lang="ts">
/** One's own password, changed; every other device is signed out by it. */
import { reactive, ref } from 'vue'
import { api, words } from '../api/client'
import { useSession } from '../session'

const session = useSession()
const form = reactive({ current: '', new: '' })
const problem = ref('')
const done = ref(false)
async function change() {
  try {
    await api.PUT('/api/v1/me/password', { body: form })
    await session.load()
    Object.assign(form, { current: '', new: '' })
    problem.value = ''
    done.value = true
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <section class="stack">
    <h2>Your password</h2>
    <form class="row" @submit.prevent="change" @input="done = false">
      <label class="field"
        >The one you have<el-input
          v-model="form.current"
          name="current-password"
          type="password"
          autocomplete="current-password"
      /></label>
      <label class="field"
        >A new one, 10 characters or more<el-input
          v-model="form.new"
          name="new-password"
          type="password"
          autocomplete="new-password"
      /></label>
      <button class="act end">Change it</button
      ><span v-if="done" class="soft end">Changed. Every other device is signed out.</span>
    </form>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.end {
  align-self: flex-end;
}
</style>
