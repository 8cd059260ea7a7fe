import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './session'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: () => import('./pages/Trials.vue') },
    { path: '/signin', component: () => import('./pages/SignIn.vue'), meta: { open: true } },
    { path: '/reset/:token', component: () => import('./pages/Reset.vue'), meta: { open: true, bare: true } },
    { path: '/first', component: () => import('./pages/FirstTime.vue'), meta: { open: true } },
    { path: '/kitchen', component: () => import('./pages/Kitchen.vue') },
    { path: '/kitchen/appliances/:appliance', component: () => import('./pages/AppliancePage.vue') },
    { path: '/kitchen/safety', component: () => import('./pages/SafetyFigures.vue') },
    { path: '/workbench/:key?', component: () => import('./pages/Workbench.vue') },
    { path: '/promises', component: () => import('./pages/Promises.vue') },
    { path: '/techniques', component: () => import('./pages/Techniques.vue') },
    { path: '/guide/:page?', component: () => import('./pages/Guide.vue'), meta: { open: true } },
    { path: '/defects', component: () => import('./pages/Defects.vue') },
    { path: '/g/:token', component: () => import('./pages/Guess.vue'), meta: { open: true, bare: true } },
    {
      path: '/t/:token',
      component: () => import('./stations/taste/taster/TasterPage.vue'),
      meta: { open: true, bare: true },
    },
    {
      path: '/trials/:trial/ask',
      component: () => import('./stations/ask/Ask.vue'),
      meta: { station: 'ask' },
    },
    {
      path: '/trials/:trial/setup',
      component: () => import('./stations/setup/SetUp.vue'),
      meta: { station: 'setup' },
    },
    {
      path: '/trials/:trial/cook',
      component: () => import('./stations/cook/Shifts.vue'),
      meta: { station: 'cook' },
    },
    {
      path: '/trials/:trial/cook/:shift',
      component: () => import('./stations/cook/Bench.vue'),
      meta: { station: 'cook' },
    },
    {
      path: '/trials/:trial/taste',
      component: () => import('./stations/taste/Taste.vue'),
      meta: { station: 'taste' },
    },
    {
      path: '/trials/:trial/decide',
      component: () => import('./stations/decide/Decide.vue'),
      meta: { station: 'decide' },
    },
    {
      path: '/trials/:trial/publish',
      component: () => import('./stations/publish/Publish.vue'),
      meta: { station: 'publish' },
    },
    { path: '/:rest(.*)', component: () => import('./pages/NotHere.vue'), meta: { open: true } },
  ],
})

router.beforeEach((to) => {
  const session = useSession()
  if (to.meta.open) return true
  if (session.state?.first_time) return '/first'
  if (!session.me) return { path: '/signin', query: { to: to.fullPath } }
  return true
})
