/** Who is signed in. Kept on the device too, so that the bench opens without network. */
import { StorageSerializers, useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { forgetSent } from './bench/outbox'
import { api, ApiProblem, setCsrf, type Schemas } from './api/client'

type State = Schemas['SessionView']
const kept = useLocalStorage<State | null>('yeasty-session', null, {
  flush: 'sync',
  listenToStorageChanges: false,
  serializer: StorageSerializers.object,
})

export const useSession = defineStore('session', {
  state: () => ({ state: null as State | null, away: false }),
  getters: {
    me: (s) => s.state?.me ?? null,
    us: (s) => s.state?.me?.units === 'us',
    lead: (s) => s.state?.me?.role === 'lead',
  },
  actions: {
    async load(): Promise<void> {
      try {
        const { data } = await api.GET('/api/v1/session')
        if (data) this.take(data)
      } catch (error) {
        if (!(error instanceof ApiProblem) || (error.status !== 0 && error.status < 500)) throw error
        this.away = true
        if (kept.value) this.state = kept.value
      }
      document.documentElement.classList.toggle('dark', this.me?.dark ?? false)
    },
    take(state: State): void {
      this.state = state
      this.away = false
      setCsrf(state.csrf)
      kept.value = { ...state, csrf: '' }
    },
    async signIn(login: string, password: string): Promise<void> {
      await api.POST('/api/v1/session', { body: { login, password } })
      await this.load()
    },
    async signOut(): Promise<void> {
      // Sent first, while it still may be; what the server has is then taken off this device.
      await forgetSent().catch(() => undefined)
      await api.DELETE('/api/v1/session')
      kept.value = null
      await this.load()
    },
    async prefer(change: Partial<Schemas['Preferences']>): Promise<void> {
      await api.PATCH('/api/v1/me', { body: change })
      await this.load()
    },
  },
})
