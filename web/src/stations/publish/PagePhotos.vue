<script setup lang="ts">
/**
 * Photos of the page: one first, one for each way, some at steps. What lies in the middle of the cut is
 * touched, or moved by arrow keys; what is to be seen is said in words.
 */
import { computed, reactive, ref, watch } from 'vue'
import type { Method, Schemas } from '../../api/client'
import LoafMark from '../../bench/LoafMark.vue'
import CutPhoto from './CutPhoto.vue'
import PhotoOffer from './PhotoOffer.vue'

type Picture = Required<Schemas['PictureIn']>
const props = defineProps<{
  trial: string
  methods: Method[]
  data: Schemas['PublishView']
  /** Keeps what was chosen; whether it was kept. */
  keep: (rows: Picture[]) => Promise<boolean>
}>()

const way = (id: string) => props.methods.find((m) => m.id === id)
const offered = (id: string) => (id ? props.data.photos.filter((p) => p.way === id) : props.data.photos)
const said = (p: Schemas['MayBeChosen']) => `${way(p.way)?.name}, ${p.face || 'whole'}, batch ${p.replicate}`
const choices = (of: string) => offered(of).map((p) => ({ photo: p.photo, said: said(p) }))
const photoOf = (photo: string) => props.data.photos.find((p) => p.photo === photo)!
const markOf = (photo: string) => way(photoOf(photo).way)?.mark
const faceOf = (photo: string) => `${photoOf(photo).face || 'whole'}, ${photoOf(photo).replicate}`
const shows = (r: Picture) => {
  const p = props.data.photos.find((x) => x.photo === r.photo)
  return p ? said(p) : ''
}
/** Where a photo may stand that has none yet: at the head, for a way, at a step of what is written out. */
const places = computed(() => [
  { key: 'first', spot: 'first' as const, way: '', step: '', name: 'at the head of the page' },
  ...props.methods
    .filter((m) => offered(m.id).length)
    .map((m) => ({ key: m.id, spot: 'way' as const, way: m.id, step: '', name: `for ${m.name}` })),
  ...props.data.photo_steps
    .filter((s) => offered(s.way).length)
    .map((s) => ({
      key: s.way + s.step,
      spot: 'step' as const,
      way: s.way,
      step: s.step,
      name: `at the step “${s.what}”`,
    })),
])
const placeOf = (r: Picture) =>
  places.value.find((p) => p.spot === r.spot && (r.spot === 'first' || p.way === r.way) && p.step === r.step)
const free = computed(() => places.value.filter((p) => !rows.value.some((r) => placeOf(r)?.key === p.key)))
const gone = (r: Picture) => !shows(r)
const where = (r: Picture) => placeOf(r)?.name ?? 'at a step that this page does not write out'

const key = (r: Picture) => `${r.photo} ${r.spot} ${r.step}`
/** As chosen here: ahead of what is kept while that is on its way, so that a quick hand loses nothing. */
const rows = ref<Picture[]>([])
const typed = reactive<Record<string, string>>({})
let waiting = 0
function take() {
  rows.value = props.data.pictures.map((r) => {
    if (typed[key(r)] === r.alt) delete typed[key(r)]
    const { photo, spot, way: of, step, x, y, zoom } = r
    return { photo, spot, way: of, step, x, y, zoom, alt: typed[key(r)] ?? r.alt }
  })
}
watch(
  () => props.data.pictures,
  () => {
    if (!waiting) take()
  },
  { immediate: true },
)
async function put(next: Picture[]) {
  rows.value = next
  waiting += 1
  const kept = await props.keep(next)
  waiting -= 1
  if (kept && !waiting) take()
}
function change(n: number, what: Partial<Picture>) {
  void put(rows.value.map((r, i) => (i === n ? { ...r, ...what } : r)))
}
const adding = ref('')
const place = computed(() => places.value.find((p) => p.key === adding.value))
function add(photo: string) {
  if (!place.value) return
  const { spot, way: of, step } = place.value
  void put([...rows.value, { photo, spot, way: of, step, alt: '', x: 0.5, y: 0.5, zoom: 1 }])
  adding.value = ''
}
const remove = (n: number) => put(rows.value.filter((_, i) => i !== n))
/** The part that is shown, as the server cuts it. */
const boxOf = (r: Picture) => props.data.pictures.find((p) => key(p) === key(r))?.box
</script>

<template>
  <section class="stack" aria-label="Photos of the page">
    <h2>Photos</h2>
    <p v-if="!data.photos.length" class="soft small">
      No photo was taken of a batch that is judged. Take some at the bench, one of each face: they can stand
      here.
    </p>
    <p v-else class="soft small">
      Nothing is shown by itself. If somebody’s face is in one, cut it away: touch what is to be in the middle
      (or use the arrow keys on the photo) and go closer.
    </p>
    <ul v-if="rows.length" class="rows">
      <li v-for="(r, n) in rows" :key="key(r)">
        <CutPhoto
          :trial="trial"
          :photo="r.photo"
          :alt="shows(r)"
          :name="where(r)"
          :part="r"
          :box="boxOf(r)"
          @change="change(n, $event)"
        >
          <p class="small">
            <strong>{{ where(r) }}</strong> · {{ shows(r)
            }}<span v-if="gone(r)" class="warn">
              Its batch is not judged any more: it is not on the page.</span
            >
          </p>
          <label class="field"
            >What is to be seen, for who does not see it<el-input
              v-model="r.alt"
              type="textarea"
              autosize
              maxlength="300"
              placeholder="a cut bun, brown all round, crumb dry to the middle"
              @input="typed[key(r)] = r.alt"
              @change="change(n, {})"
          /></label>
          <template #acts
            ><button
              type="button"
              class="act quiet"
              :aria-label="`Take it away: the photo ${where(r)}`"
              @click="remove(n)"
            >
              Take it away
            </button></template
          >
        </CutPhoto>
      </li>
    </ul>
    <template v-if="data.photos.length && free.length">
      <label class="field"
        >A photo<el-select
          v-model="adding"
          clearable
          :value-on-clear="''"
          placeholder="where it stands"
          aria-label="Where a photo stands"
          ><el-option v-for="p in free" :key="p.key" :value="p.key" :label="p.name" /></el-select
      ></label>
      <PhotoOffer v-if="place" v-slot="{ photo }" :trial="trial" :photos="choices(place.way)" @take="add"
        ><LoafMark v-if="markOf(photo)" :mark="markOf(photo)!" :size="20" />{{ faceOf(photo) }}</PhotoOffer
      >
    </template>
  </section>
</template>

<style scoped>
.rows {
  list-style: none;
  padding: 0;
  display: grid;
  gap: var(--gap-4);
}
.rows li {
  border-bottom: 1px solid var(--line);
  padding-bottom: var(--gap-4);
}
</style>
