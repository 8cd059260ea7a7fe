<script setup lang="ts">
/** One tasting: its rounds, its seats, what it has told. */
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import TastingFound from './TastingFound.vue'
import Term from '../../guide/Term.vue'

const props = defineProps<{ tasting: Schemas['TastingView']; lead: boolean }>()
const emit = defineEmits<{
  key: []
  open: []
  print: []
  stop: []
  serve: []
  late: []
  spoilt: []
  table: [file: File]
}>()
const going = computed(() => !props.tasting.opened_at && !props.tasting.stopped)
const plated = computed(() => props.tasting.protocol === 'plated')
function bring(event: Event) {
  const box = event.target as HTMLInputElement
  const file = box.files?.[0]
  if (file) emit('table', file)
  box.value = ''
}
const titled = computed(() =>
  props.tasting.rounds.map((r) => ({
    ...r,
    title: [r.name, r.part, r.condition, r.age].filter(Boolean).join(' · '),
  })),
)
const keyed = computed(() => Object.entries(props.tasting.key))
</script>

<template>
  <section class="tasting">
    <div class="row">
      <h2 class="grow name">{{ tasting.name }}</h2>
      <template v-if="going">
        <button v-if="!tasting.served_at" class="act strong no-print" @click="emit('serve')">Serve now</button
        ><button v-if="plated" class="act quiet no-print" @click="emit('key')">Key, to plate</button
        ><button v-if="plated" class="act quiet no-print" @click="emit('print')">Print links</button
        ><button class="act quiet no-print" @click="emit('late')">Somebody comes late</button
        ><button class="act quiet no-print" @click="emit('stop')">Stop everyone</button
        ><button v-if="lead && plated && tasting.served_at" class="act no-print" @click="emit('open')">
          Open the codes
        </button></template
      >
    </div>
    <p v-if="tasting.stopped" class="bad">
      Stopped: {{ tasting.stopped }}. Nothing of it is judged; the codes were opened by it.
    </p>
    <p v-if="tasting.opened_elsewhere" class="warn no-print">
      Its codes were opened in another kitchen. Here its answers count once the lead has opened them here too.
    </p>
    <p v-if="going && !tasting.served_at" class="say small">
      Laid ready. Tasters can open their page and answer the allergens; they see
      <Term of="code">codes</Term> once it is served.
    </p>
    <p v-for="s in going ? tasting.serve_at : []" :key="s" class="small">{{ s }}</p>
    <p v-for="a in going && tasting.served_at ? tasting.ages : []" :key="a" class="small">{{ a }}</p>
    <p v-for="c in tasting.clock" :key="c" class="warn no-print">{{ c }}</p>
    <p v-if="tasting.link_warning && going && plated" class="warn no-print">{{ tasting.link_warning }}</p>
    <div v-for="r in titled" :key="r.position" class="small">
      <p>
        <strong v-if="tasting.rounds.length > 1">Round {{ r.position + 1 }}: </strong
        ><strong>{{ r.test_name }}</strong
        >&ensp;<span class="soft">{{ r.title }}</span>
      </p>
      <p v-if="!keyed.length" class="mono">{{ r.codes.join('  ') }}</p>
      <p class="soft">{{ r.balance }}</p>
      <p v-for="s in r.spoilt" :key="s" class="warn">Spoilt, kept and not judged: {{ s }}</p>
    </div>
    <p v-if="keyed.length" class="mono small">
      <span v-for="[c, m] in keyed" :key="c" class="keyed">{{ c }} = {{ m }}</span>
    </p>
    <TastingFound v-if="tasting.opened_at && !tasting.stopped" :tasting="tasting" />
    <slot />
    <p v-for="v in tasting.key_views" :key="v" class="soft small">Key looked at {{ v }}</p>
    <p v-if="going" class="row small paper no-print">
      <span class="soft">On paper:</span>
      <a :href="`/api/v1/tastings/${tasting.id}/stickers.pdf`" target="_blank">codes to stick on</a>
      <a :href="`/api/v1/tastings/${tasting.id}/ballots.pdf`" target="_blank">ballots</a>
      <a :href="`/api/v1/tastings/${tasting.id}/plates.pdf`" target="_blank">a mat a person</a>
      <label v-if="lead" class="file"
        >answers from a table (CSV)<input type="file" accept=".csv,text/csv" @change="bring"
      /></label>
    </p>
    <div v-if="lead && !tasting.stopped" class="no-print">
      <button class="act quiet small" @click="emit('spoilt')">A sample was spoilt</button>
    </div>
  </section>
</template>

<style scoped>
.tasting {
  border-top: 2px solid var(--ink);
  padding: var(--gap-3) 0 var(--gap-5);
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-2);
}
.name {
  font-size: var(--type-3);
}
.keyed {
  display: inline-block;
  margin-right: var(--gap-4);
}
.paper a,
.file {
  padding: var(--gap-2) 0;
}
.file {
  text-decoration: underline;
  cursor: pointer;
}
.file input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
</style>
