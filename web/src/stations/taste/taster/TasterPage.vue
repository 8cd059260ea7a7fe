<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import BeforeTheBite from './BeforeTheBite.vue'
import { DRAWN } from './drawn'
import SampleRound from './SampleRound.vue'
import { gaps, useTaster, type Said } from './useTaster'

const { page, away, problem, unsent, tell, allergens, finish } = useTaster(String(useRoute().params.token))
const router = useRouter()
/** Who is alone came here from the tasting, and has cups to turn over there. */
const cameFromKitchen = typeof window.history.state?.back === 'string'
const at = ref(0)
const quote = ref(false)
const sure = ref(false)
const sample = ref(0)
const round = computed(() => page.value?.rounds[at.value])
const more = computed(() => at.value < (page.value?.rounds.length ?? 0) - 1)
const upcoming = computed(() => page.value?.rounds[at.value + 1])
const left = computed(() => (round.value ? gaps(round.value) : []))
const all = computed(() => page.value?.rounds.flatMap(gaps) ?? [])
const title = computed(() =>
  [round.value?.name, round.value?.part, round.value?.condition, round.value?.age]
    .filter(Boolean)
    .join(' · '),
)
/** The way on stands where there is nothing left here, or at the last sample. */
const through = computed(
  () =>
    !left.value.length || round.value?.drawn !== 'samples' || sample.value === round.value.samples.length - 1,
)
const give = (said: Said) => tell({ round: round.value!.position, said })
function onward() {
  at.value++
  window.scrollTo({ top: 0 })
}
function done() {
  if (all.value.length && !sure.value) {
    sure.value = true
    return
  }
  void finish(quote.value)
}
const minutes = (s: number) => `${Math.round(s / 60)} min`
</script>

<template>
  <main class="taster">
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <p v-if="away" class="warn" role="status">
      No network.
      {{ unsent ? `${unsent} kept on this phone and sent` : 'What you say is kept here and sent' }}
      when it is back.
    </p>
    <template v-if="page">
      <h1>{{ page.dish }}</h1>
      <p class="soft">{{ page.name }}</p>
      <p v-if="page.stop" class="bad stop" role="alert">{{ page.stop }}</p>
      <section v-if="page.closed" class="say">
        <h2>The codes are open. Thank you: what you said stands.</h2>
      </section>
      <template v-else-if="page.told_allergens && page.must_not.length">
        <p class="bad stop" role="alert">
          Do not taste. You must not eat {{ page.must_not.join(', ') }}, and it is on this table. Tell the
          cook.
        </p>
        <BeforeTheBite :page="page" @said="allergens" />
      </template>
      <BeforeTheBite v-else-if="!page.told_allergens" :page="page" @said="allergens" />
      <section v-else-if="!page.served" class="say stack">
        <h2>Not served yet.</h2>
        <p>Your samples appear here by themselves.</p>
      </section>
      <section v-else-if="page.finished" class="say stack">
        <h2>Done. Thank you.</h2>
        <p>Your answers are private until all are opened together.</p>
        <div v-if="cameFromKitchen">
          <button class="act strong" @click="router.back()">Back to the kitchen</button>
        </div>
      </section>
      <template v-else-if="round">
        <p v-if="page.rounds.length > 1" class="soft">Round {{ at + 1 }} of {{ page.rounds.length }}</p>
        <p v-if="title">{{ title }}</p>
        <SampleRound
          v-if="round.drawn === 'samples'"
          v-model:at="sample"
          :round="round"
          :scales="page.scales"
          :one-way="page.one_way"
          @tell="tell"
        />
        <template v-else>
          <h2>{{ round.question }}</h2>
          <p v-if="!round.reference" class="small soft">
            Taste in this order: <span class="mono">{{ round.samples.map((s) => s.code).join(' → ') }}</span>.
            A sip of water in between.
          </p>
          <component :is="DRAWN[round.drawn]" :round="round" @give="give" />
          <button
            type="button"
            class="act quiet"
            :aria-pressed="round.refused"
            @click="tell({ round: round.position, refused: true })"
          >
            I would rather not say{{ round.refused ? ': kept' : '' }}
          </button>
        </template>
        <hr v-if="through" class="rule" />
        <template v-if="through && more">
          <p v-if="upcoming?.break_s" class="say">
            Before the next round: a break of {{ minutes(upcoming.break_s) }} and some water.
          </p>
          <div class="row">
            <button class="act strong" @click="onward">Next round</button
            ><span v-if="left.length" class="soft small">open here: {{ left.join(', ') }}</span>
          </div>
        </template>
        <template v-else-if="through">
          <label class="check"
            ><input v-model="quote" type="checkbox" /> My words may be told, without my name</label
          >
          <p v-if="sure && all.length" class="warn">Still open: {{ all.join(', ') }}. Finish all the same?</p>
          <div class="row">
            <button class="act strong" @click="done">
              {{ sure && all.length ? 'Yes, I am done' : 'I am done' }}</button><button
              v-if="at > 0 && !page.one_way"
              class="act quiet"
              @click="at--"
            >
              Back a round</button
            ><span v-if="all.length" class="soft small">{{ all.length }} still to answer</span>
          </div>
        </template>
        <p class="soft small" role="status">{{ unsent ? 'sending …' : 'kept as you say it' }}</p>
      </template>
    </template>
  </main>
</template>

<style scoped>
.taster {
  max-width: 560px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-4) var(--gap-7);
  display: grid;
  gap: var(--gap-3);
}
.stop {
  font-size: var(--type-5);
  font-weight: 700;
}
.check {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  min-height: 48px;
}
.check input {
  flex: none;
  width: 24px;
  height: 24px;
}
</style>
