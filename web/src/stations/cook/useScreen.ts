/** A screen at the bench: it stays on, and is bright or dark as whoever stands there wants it. */
import { useWakeLock } from '@vueuse/core'
import { onMounted } from 'vue'
import { api } from '../../api/client'

export function useAwake() {
  const wake = useWakeLock()
  onMounted(() => {
    if (wake.isSupported.value) void wake.request('screen').catch(() => undefined)
  })
}

/** Bright or dark, on this screen at once and kept with whoever is signed in. */
export function toggleDark() {
  const dark = document.documentElement.classList.toggle('dark')
  return api.PATCH('/api/v1/me', { body: { dark } })
}
