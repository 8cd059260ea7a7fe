<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { leftOut } from './api/client'
import PutBack from './PutBack.vue'
import StationGuide from './guide/StationGuide.vue'
import { useGuided } from './guide/useGuided'
import PracticeGuide from './stations/practice/PracticeGuide.vue'
import StationBar from './bench/StationBar.vue'
import { useSession } from './session'
import { useStations } from './stations/useTrial'

const route = useRoute()
const router = useRouter()
const session = useSession()
const trial = computed(() => (route.params.trial as string) || '')
const { data: words } = useStations(trial)
const insecure = ref(!window.isSecureContext)
const { guided, toggleGuide } = useGuided()
async function signOut() {
  await session.signOut()
  await router.push('/signin')
}
</script>

<template>
  <div v-if="insecure" class="warn insecure" role="alert">
    Plain HTTP on this address: the screen will not stay awake, the bench will not open again without network,
    and the camera is off.
    <a href="/trust">How to mend it</a>
    <button class="close" aria-label="Hide this" @click="insecure = false">×</button>
  </div>
  <div v-if="leftOut" class="warn insecure" role="alert">
    {{ leftOut }} {{ leftOut === 1 ? 'entry' : 'entries' }} of a list cannot be shown: what is stored does not
    fit. The fault is ours and is in the log; the rest is here.
    <button class="close" aria-label="Hide this" @click="leftOut = 0">×</button>
  </div>
  <header v-if="!route.meta.bare" class="top">
    <router-link to="/" class="home" aria-label="All trials">
      <svg viewBox="0 0 100 100" width="34" height="34" aria-hidden="true">
        <ellipse cx="50" cy="50" rx="46" ry="37" fill="none" stroke="currentColor" stroke-width="5" />
        <path
          d="M32 64 44 36M47 66 57 34M60 64 72 36"
          stroke="currentColor"
          stroke-width="6"
          stroke-linecap="round"
        />
      </svg>
    </router-link>
    <template v-if="trial && words"
      ><strong class="title">{{ words.title }}</strong
      ><span class="question">{{ words.question }}</span></template
    >
    <strong v-else class="title kitchen">{{ session.state?.kitchen ?? 'Yeasty Trial' }}</strong>
    <span class="grow" />
    <span id="top-right" class="mono meet" />
    <button
      v-if="route.meta.station"
      class="link"
      aria-label="What this station is for"
      :aria-pressed="guided"
      @click="toggleGuide"
    >
      ?
    </button>
    <nav v-if="session.me" class="row links" :class="{ intrial: trial }">
      <router-link to="/workbench">Workbench</router-link>
      <router-link to="/kitchen">Kitchen</router-link>
      <router-link v-if="!trial" to="/guide">Guide</router-link>
      <button
        class="link"
        :title="`Signed in as ${session.me.name}. Signs out here and on every other device`"
        @click="signOut"
      >
        Sign out
      </button>
    </nav>
  </header>
  <PracticeGuide
    v-if="words?.simulated && route.meta.station && !route.params.shift"
    :trial="trial"
    :station="String(route.meta.station)"
  />
  <StationGuide v-else-if="guided" :station="String(route.meta.station)" @away="toggleGuide" />
  <router-view
    :key="route.path.startsWith('/workbench') ? 'workbench' : route.path.split('/').slice(0, 5).join('/')"
  />
  <PutBack v-if="session.me && !route.params.shift" />
  <StationBar
    v-if="trial && route.meta.station"
    :trial="trial"
    :words="words ?? null"
    :here="String(route.meta.station)"
  />
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: var(--gap-4);
  padding: var(--gap-0) var(--gap-5);
  height: 56px;
  border-bottom: 2px solid var(--ink);
  background: var(--paper);
}
.home {
  display: inline-flex;
  padding: var(--gap-2);
}
.title {
  font-size: var(--type-3);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.question {
  flex: 1000 1 0;
  color: var(--ink-soft);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
#top-right {
  white-space: nowrap;
}
.links {
  gap: var(--gap-1);
  flex-wrap: nowrap;
}
.links a,
.link {
  padding: var(--gap-3) var(--gap-2);
  min-height: 44px;
  background: none;
  border: 0;
  font: inherit;
  font-size: var(--type-2);
  color: var(--ink-soft);
  text-decoration: none;
  cursor: pointer;
  white-space: nowrap;
}
.insecure {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.close {
  margin-left: auto;
  font-size: var(--type-5);
  min-width: 44px;
  min-height: 44px;
  background: none;
  border: 0;
  cursor: pointer;
  color: inherit;
}
@media (max-width: 1000px) {
  .question {
    display: none;
  }
}
@media (max-width: 800px) {
  .links.intrial {
    display: none;
  }
  .top {
    padding: var(--gap-0) var(--gap-3);
    gap: var(--gap-2);
  }
  .title {
    white-space: normal;
    font-size: var(--type-3);
    line-height: 1.15;
    max-height: 2.3em;
    overflow: hidden;
  }
  .links:not(.intrial) a,
  .links:not(.intrial) .link {
    padding: var(--gap-3) var(--gap-1);
    font-size: var(--type-2);
  }
  #top-right {
    font-size: var(--type-2);
  }
}
@media (max-width: 420px) {
  .top {
    height: auto;
    min-height: 56px;
    flex-wrap: wrap;
  }
  .links {
    flex-wrap: wrap;
  }
}
@media (max-width: 500px) {
  /* Whose kitchen it is, who is in it knows; where everything else is, they do not. */
  .kitchen {
    display: none;
  }
}
</style>
