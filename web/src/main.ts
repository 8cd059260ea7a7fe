import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { ApiProblem } from './api/client'
import './look/look.css'
import { router } from './router'
import { useSession } from './session'

const app = createApp(App)
app.use(createPinia())
app.use(VueQueryPlugin, {
  queryClientConfig: {
    defaultOptions: {
      queries: {
        retry: (n, e) => n < 2 && !(e instanceof ApiProblem && e.status > 0 && e.status < 500),
        refetchOnWindowFocus: false,
        staleTime: 2000,
      },
    },
  },
})
await useSession()
  .load()
  .catch(() => undefined)
app.use(router)
app.mount('#app')
if ('serviceWorker' in navigator && import.meta.env.PROD) {
  const { registerSW } = await import('virtual:pwa-register')
  registerSW({ immediate: true })
}
