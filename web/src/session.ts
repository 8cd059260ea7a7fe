/** Who is signed in. Kept on the device too, so that the bench opens without network. */
import { defineStore } from 'pinia'
import { forgetSent } from './bench/outbox'
import { api, ApiProblem, setCsrf, type Schemas } from './api/client'

type State = Schemas['SessionView']
const KEPT = 'yeasty-session'

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
        const kept = localStorage.getItem(KEPT)
        if (kept) this.state = JSON.parse(kept)
      }
      document.documentElement.classList.toggle('dark', this.me?.dark ?? false)
    },
    take(state: State): void {
      this.state = state
      this.away = false
      setCsrf(state.csrf)
      localStorage.setItem(KEPT, JSON.stringify({ ...state, csrf: '' }))
    },
    async signIn(login: string, password: string): Promise<void> {
      await api.POST('/api/v1/session', { body: { login, password } })
      await this.load()
    },
    async signOut(): Promise<void> {
      // Sent first, while it still may be; what the server has is then taken off this device.
      await forgetSent().catch(() => undefined)
      await api.DELETE('/api/v1/session')
      localStorage.removeItem(KEPT)
      await this.load()
    },
    async prefer(change: Partial<Schemas['Preferences']>): Promise<void> {
      await api.PATCH('/api/v1/me', { body: change })
      await this.load()
    },
  },
})
