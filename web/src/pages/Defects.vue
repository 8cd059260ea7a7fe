<script setup lang="ts">
/**
 * The kitchen's library of what goes wrong. Nothing of it is told to readers until a lead takes it up; opened
 * from a trial it offers what was seen there.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, words, type Schemas } from '../api/client'
import { useSession } from '../session'
import KeptPhoto from '../stations/cook/KeptPhoto.vue'
import CutPhoto from '../stations/publish/CutPhoto.vue'
import PhotoOffer from '../stations/publish/PhotoOffer.vue'
import { queryKeys } from '../api/queries/keys'

const session = useSession()
const client = useQueryClient()
const trial = String(useRoute().query.trial ?? '')
const { data } = useQuery({
  queryKey: queryKeys.defects(),
  queryFn: async () => (await api.GET('/api/v1/defects')).data!.items,
})
const { data: techniques } = useQuery({
  queryKey: queryKeys.techniques(),
  queryFn: async () => (await api.GET('/api/v1/techniques')).data!.items,
})
const { data: seen } = useQuery({
  queryKey: queryKeys.defectsSeen(trial),
  enabled: !!trial,
  queryFn: async () =>
    (
      await api.GET('/api/v1/trials/{trial_id}/defects-seen', {
        params: { path: { trial_id: trial } },
      })
    ).data!,
})
type Kept = Schemas['Kept']
const photoOf = (k: Kept) => {
  if (!k.photo) return null
  const { photo, alt = '', x, y, zoom } = k.photo
  return { photo, alt, x, y, zoom }
}
/** The trial whose log the chosen photo is in. */
const photoTrial = ref('')
function take(photo: string) {
  photoTrial.value = trial
  form.photo = { photo, alt: '', x: 0.5, y: 0.5, zoom: 1 }
}
const EMPTY = {
  id: '',
  shipped: '',
  name: '',
  looks: '',
  causes: '',
  cure: '',
  normal: false,
  stands_on: '',
  techniques: [] as string[],
  trial_id: '',
  taken_up: true,
  photo: null as Schemas['DefectPhotoIn'] | null,
}
const form = reactive({ ...EMPTY })
const editing = ref(false)
const problem = ref('')
const nameOf = (key: string) => techniques.value?.find((t) => t.key === key)?.name ?? key
function begin(k: Kept) {
  Object.assign(form, EMPTY, k.trouble, {
    id: k.id,
    shipped: k.shipped,
    techniques: [...k.techniques],
    trial_id: k.trial_id,
    taken_up: k.taken_up,
    photo: photoOf(k),
  })
  photoTrial.value = k.photo_trial ?? ''
  editing.value = true
}
function start(t?: Schemas['Trouble']) {
  Object.assign(form, EMPTY, { techniques: [] }, t ?? {}, { trial_id: trial })
  editing.value = true
}
const body = (f: typeof form): Schemas['DefectIn'] => ({
  name: f.name,
  looks: f.looks,
  causes: f.causes,
  cure: f.cure,
  normal: f.normal,
  stands_on: f.stands_on,
  techniques: f.techniques,
  taken_up: f.taken_up,
  shipped: f.shipped,
  trial_id: f.trial_id || null,
  photo: f.photo,
})
async function run(act: () => Promise<unknown>) {
  try {
    await act()
    problem.value = ''
    await client.invalidateQueries({ queryKey: queryKeys.defects() })
    return true
  } catch (error) {
    problem.value = words(error)
    return false
  }
}
const send = (f: typeof form) =>
  run(() =>
    f.id
      ? api.PUT('/api/v1/defects/{defect_id}', {
          params: { path: { defect_id: f.id } },
          body: body(f),
        })
      : api.POST('/api/v1/defects', { body: body(f) }),
  )
const save = async () => {
  if (await send(form)) editing.value = false
}
function turn(k: Kept) {
  void send({
    ...EMPTY,
    ...k.trouble,
    id: k.id,
    shipped: k.shipped,
    techniques: [...k.techniques],
    trial_id: k.trial_id,
    taken_up: !k.taken_up,
    photo: photoOf(k),
  })
}
const remove = (k: Kept) =>
  run(() => api.DELETE('/api/v1/defects/{defect_id}', { params: { path: { defect_id: k.id } } }))
const told = computed(() => data.value?.filter((k) => k.taken_up).length ?? 0)
const sentence = computed(() =>
  told.value
    ? `${told.value} of ${data.value?.length} are told on pages.`
    : 'What goes wrong, why, and what cures it. Nothing of it is told to readers yet.',
)
const about = (k: Kept) =>
  [
    ...k.techniques.map(nameOf),
    ...(k.trial_id ? ['seen in a trial'] : []),
    ...(k.shipped ? ['came with the program'] : []),
  ].join(', ')
</script>

<template>
  <main class="page stack">
    <section class="say row">
      <h1 class="grow">{{ sentence }}</h1>
      <button v-if="session.lead" class="act strong" @click="start()">Add one</button>
    </section>
    <p class="soft">
      A page tells those that a lead took up: of the techniques it writes out, and what its own trial saw.
    </p>
    <p v-if="problem && !editing" class="bad" role="alert">{{ problem }}</p>
    <section v-if="seen?.seen.length" class="stack" aria-label="Seen in this trial">
      <h2>Seen in this trial</h2>
      <ul class="lines">
        <li v-for="s in seen.seen" :key="s.name" class="row">
          <span class="grow"
            ><strong>{{ s.name }}</strong
            ><span class="soft small block">{{ s.stands_on }}</span></span
          ><button v-if="session.lead" class="act quiet" @click="start(s)">Write it up</button>
        </li>
      </ul>
    </section>
    <ul class="lines">
      <li v-for="k in data" :key="k.id || k.shipped" class="row">
        <KeptPhoto
          v-if="k.photo"
          class="looks"
          :trial="k.photo_trial ?? ''"
          :photo="k.photo.photo"
          :alt="k.photo.alt ?? ''"
          thumb
        />
        <span class="grow"
          ><strong>{{ k.trouble.name }}</strong
          ><span v-if="k.taken_up" class="soft"> · told on pages</span
          ><span v-if="k.trouble.normal" class="soft"> · looks wrong but is normal</span
          ><span class="block">{{ k.trouble.looks }}</span
          ><span class="block small">Likely why: {{ k.trouble.causes }}</span
          ><span v-if="k.trouble.cure" class="block small">What to do: {{ k.trouble.cure }}</span
          ><span class="block small soft"
            >{{ about(k)
            }}<template v-if="k.trouble.stands_on"> · known from {{ k.trouble.stands_on }}</template></span
          ></span
        >
        <template v-if="session.lead">
          <button
            class="act"
            :aria-label="`${k.taken_up ? 'Put it off' : 'Take it up'}: ${k.trouble.name}`"
            @click="turn(k)"
          >
            {{ k.taken_up ? 'Put it off' : 'Take it up' }}</button><button
            class="act quiet"
            :aria-label="`Change ${k.trouble.name}`"
            @click="begin(k)"
          >
            Change</button
          ><button v-if="k.id" class="act quiet" :aria-label="`Remove ${k.trouble.name}`" @click="remove(k)">
            Remove
          </button>
        </template>
        <span v-else class="soft">{{ k.taken_up ? 'told on pages' : 'not told' }}</span>
      </li>
    </ul>
    <el-dialog v-model="editing" title="What goes wrong" width="620"
      ><form class="stack" @submit.prevent="save">
        <label class="field"
          >What it is called<el-input v-model="form.name" name="name" maxlength="120"
        /></label>
        <label class="field"
          >How it looks<el-input v-model="form.looks" name="looks" type="textarea" :rows="2" maxlength="500"
        /></label>
        <label class="field"
          >Likely why<el-input v-model="form.causes" name="causes" type="textarea" :rows="2" maxlength="500"
        /></label>
        <label v-if="!form.normal" class="field"
          >What to do<el-input v-model="form.cure" name="cure" type="textarea" :rows="2" maxlength="500"
        /></label>
        <el-checkbox v-model="form.normal">It only looks wrong, and is normal</el-checkbox>
        <label class="field"
          >Ways of cooking it belongs to<el-select
            v-model="form.techniques"
            multiple
            filterable
            aria-label="Ways of cooking it belongs to"
            ><el-option v-for="t in techniques" :key="t.key" :value="t.key" :label="t.name" /></el-select
        ></label>
        <label class="field"
          >What it is known from<el-input v-model="form.stands_on" name="stands_on" maxlength="300"
        /></label>
        <CutPhoto
          v-if="form.photo"
          :trial="photoTrial"
          :photo="form.photo.photo"
          :alt="form.photo.alt"
          name="of how it looks"
          :part="{ x: form.photo.x!, y: form.photo.y!, zoom: form.photo.zoom! }"
          @change="Object.assign(form.photo!, $event)"
          ><label class="field"
            >What is to be seen, for who does not see it<el-input v-model="form.photo.alt" maxlength="300"
          /></label>
          <p class="small soft">
            It is shown on every page that tells this. If somebody’s face is in it, cut it away.
          </p>
          <template #acts
            ><button type="button" class="act quiet" @click="form.photo = null">
              Take the photo away
            </button></template
          ></CutPhoto
        >
        <template v-else-if="seen?.photos.length">
          <p class="small">A photo of how it looks, from this trial’s log:</p>
          <PhotoOffer :trial="trial" :photos="seen.photos" @take="take" />
        </template>
        <p v-else class="small soft">
          A photo is chosen from a trial’s log: open this list from that trial’s Publish.
        </p>
        <el-checkbox v-model="form.taken_up">Tell it on pages</el-checkbox>
        <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
        <div><button class="act strong">Keep it</button></div>
      </form></el-dialog
    >
  </main>
</template>

<style scoped>
.lines .grow {
  flex-basis: 320px;
}
.looks {
  width: 120px;
  height: 90px;
  object-fit: cover;
  border-radius: 8px;
}
.block {
  display: block;
}
</style>
