<script setup lang="ts">
/** A tasting that nobody plates: what to do, and the cups turned over once every answer is in. */
import { computed, reactive } from 'vue'
import type { Schemas } from '../../api/client'

const props = defineProps<{ tasting: Schemas['TastingView']; problem: string }>()
const emit = defineEmits<{ taste: [seat: Schemas['SeatView']]; over: [cups: Schemas['CupRead'][]] }>()
const read = reactive<Record<number, string>>({})
const open = computed(() => props.tasting.seats.filter((s) => !s.finished && !s.revoked))
const alone = computed(() => props.tasting.protocol === 'alone')
const whole = computed(() => props.tasting.cards.every((c) => read[c.place]))
function turn() {
  emit(
    'over',
    props.tasting.cards.map((c) => ({ place: c.place, under: read[c.place] ?? '' })),
  )
}
</script>

<template>
  <section class="nobody stack">
    <ol>
      <li v-for="s in tasting.steps" :key="s">{{ s }}</li>
    </ol>
    <div v-if="tasting.served_at && open.length" class="row">
      <button v-for="s in open" :key="s.id" class="act strong" @click="emit('taste', s)">
        Taste now: {{ s.name }}
      </button>
    </div>
    <form v-if="tasting.served_at && !open.length" class="stack" @submit.prevent="turn">
      <p>
        <strong>{{
          alone
            ? 'Every answer is sealed. Turn the cups over: which letter is under each?'
            : 'Every answer is sealed. Ask the helper: what stood on each card?'
        }}</strong>
      </p>
      <div v-for="c in tasting.cards" :key="c.place" class="row">
        <span class="mono card">{{ c.codes.join(' / ') }}</span>
        <el-radio-group v-model="read[c.place]" :aria-label="`Under ${c.codes[0]}`">
          <el-radio v-for="u in tasting.under" :key="u.under" :value="u.under">{{ u.words }}</el-radio>
        </el-radio-group>
      </div>
      <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
      <div><button class="act strong" :disabled="!whole">That is what was under them</button></div>
    </form>
  </section>
</template>

<style scoped>
.nobody {
  border-left: 4px solid var(--line-strong);
  padding-left: var(--gap-4);
}
ol {
  margin: 0;
  padding-left: var(--gap-5);
}
.card {
  width: 130px;
  font-size: var(--type-4);
}
</style>
