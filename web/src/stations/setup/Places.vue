<script setup lang="ts">
/**
 * Maps of where pieces lie: dealt or dragged, checked for room, turned half-way, handed over from vessel to
 * vessel.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { queryKeys } from '../../api/queries/keys'
import { api, words, type Schemas, type Trial } from '../../api/client'
import { exactText } from '../../bench/units'
import PlaceMap from './PlaceMap.vue'

const props = defineProps<{ trial: Trial }>()
const client = useQueryClient()
const key = queryKeys.maps(props.trial.id)
const path = { params: { path: { trial_id: props.trial.id } } }
const { data } = useQuery({
  queryKey: key,
  queryFn: async () => (await api.GET('/api/v1/trials/{trial_id}/maps', path)).data!.items,
})
const marks = computed(() => Object.fromEntries(props.trial.methods.map((m) => [m.tag, m.mark])))
const problem = ref('')
const chosen = ref('')
const map = computed(() => data.value?.find((m) => m.id === chosen.value) ?? data.value?.[0] ?? null)
const places = ref<Schemas['PlaceView'][]>([])
watch(
  map,
  (m) => {
    places.value = m?.places.map((p) => ({ ...p })) ?? []
  },
  { immediate: true },
)
const turned = ref(false)
const shown = computed(() => (turned.value ? (map.value?.turned ?? []) : places.value))
async function run(act: () => Promise<{ data?: Schemas['MapList'] } | unknown>) {
  try {
    const done = (await act()) as { data?: Schemas['MapList'] }
    if (done.data?.items) client.setQueryData(key, done.data.items)
    else await client.invalidateQueries({ queryKey: key })
    problem.value = ''
    return done.data?.items ?? []
  } catch (error) {
    problem.value = words(error)
    return null
  }
}
const form = reactive({
  name: 'Tray',
  kind: 'tray' as Schemas['MapIn']['kind'],
  round: false,
  width: '38 cm',
  depth: '30 cm',
  piece: props.trial.methods[0]?.piece_thickness_m
    ? exactText('length', props.trial.methods[0].piece_thickness_m)
    : '5 cm',
  spacing: '1 cm',
})
const making = ref<'' | 'new' | 'hand'>('')
function begin(what: 'new' | 'hand') {
  if (what === 'hand')
    Object.assign(form, {
      name: 'Plate',
      kind: 'plate',
      round: true,
      width: '28 cm',
      depth: '28 cm',
      spacing: '0.5 cm',
      piece: map.value ? exactText('length', map.value.piece_m) : form.piece,
    })
  making.value = what
}
const body = () => ({
  name: form.name,
  kind: form.kind,
  round: form.round,
  width_m: form.width,
  depth_m: form.depth,
  piece_m: form.piece,
  spacing_m: form.spacing || null,
  places: null,
  spots: [],
})
async function make() {
  const from = map.value?.id ?? ''
  const done = await run(() =>
    making.value === 'hand'
      ? api.POST('/api/v1/trials/{trial_id}/maps/{map_id}/hand-overs', {
          params: { path: { trial_id: props.trial.id, map_id: from } },
          body: body(),
        })
      : api.POST('/api/v1/trials/{trial_id}/maps', { ...path, body: body() }),
  )
  if (done) {
    making.value = ''
    chosen.value = done.at(-1)?.id ?? ''
    turned.value = false
  }
}
const one = () => ({ params: { path: { trial_id: props.trial.id, map_id: map.value!.id } } })
function keep(spots = map.value!.spots) {
  const m = map.value!
  return run(() =>
    api.PUT('/api/v1/trials/{trial_id}/maps/{map_id}', {
      ...one(),
      headers: { 'If-Match': m.version ?? '' },
      body: {
        name: m.name,
        kind: m.kind as Schemas['MapIn']['kind'],
        round: m.round,
        width_m: m.width_m,
        depth_m: m.depth_m,
        piece_m: m.piece_m,
        spacing_m: m.spacing_m,
        places: places.value.map(({ x_m, y_m, tag, piece }) => ({ x_m, y_m, tag, piece })),
        spots,
      },
    }),
  )
}
function move(i: number, x: number, y: number) {
  const p = places.value[i]
  if (p) {
    p.x_m = x
    p.y_m = y
  }
}
const picked = ref(-1)
const give = reactive({ tag: '', piece: 1 })
watch(picked, (i) => {
  const p = places.value[i]
  if (p) Object.assign(give, { tag: p.tag, piece: p.piece || 1 })
})
async function put() {
  const p = places.value[picked.value]
  if (p) {
    p.tag = give.tag
    p.piece = give.tag ? give.piece : 0
    await keep()
  }
}
const each = ref(6)
const how = ref<'balanced' | 'random'>('balanced')
const who = ref(props.trial.methods.slice(0, 6).map((m) => m.id))
const deal = () =>
  run(() =>
    api.POST('/api/v1/trials/{trial_id}/maps/{map_id}/dealings', {
      ...one(),
      body: { how: how.value, method_ids: who.value, pieces_each: each.value, seed: null },
    }),
  )
const spot = reactive({ x: 50, y: 50, k: 5 })
const addSpot = () =>
  keep([
    ...map.value!.spots,
    { x_m: (map.value!.width_m * spot.x) / 100, y_m: (map.value!.depth_m * spot.y) / 100, k: spot.k },
  ])
const remove = () => run(() => api.DELETE('/api/v1/trials/{trial_id}/maps/{map_id}', one()))
</script>

<template>
  <section class="stack">
    <div class="row">
      <button
        v-for="m in data"
        :key="m.id"
        class="act"
        :class="{ quiet: m.id !== map?.id }"
        @click="
          () => {
            chosen = m.id
            turned = false
          }
        "
      >
        {{ m.name }}</button><span class="grow" /><button class="act quiet" @click="begin('new')">
        Draw a map</button
      ><a
        v-if="data?.length"
        class="act quiet"
        :href="`/api/v1/trials/${trial.id}/maps.pdf`"
        target="_blank"
        rel="noopener"
        >Print the maps</a
      >
    </div>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <form v-if="making" class="row new" @submit.prevent="make">
      <label class="field">Name<el-input v-model="form.name" name="map-name" /></label>
      <label class="field"
        >Vessel<el-select v-model="form.kind" class="s" aria-label="Vessel"
          ><el-option
            v-for="v in ['tray', 'basket', 'rack', 'grill', 'pot', 'plate']"
            :key="v"
            :value="v"
            :label="v" /></el-select
      ></label>
      <el-checkbox v-model="form.round" class="end">round</el-checkbox>
      <label class="field">Width<el-input v-model="form.width" class="s" /></label
      ><label class="field">Depth<el-input v-model="form.depth" class="s" /></label>
      <label class="field">A piece is<el-input v-model="form.piece" class="s" /></label
      ><label class="field">Air between<el-input v-model="form.spacing" class="s" /></label>
      <button class="act strong end">{{ making === 'hand' ? 'Hand over' : 'Draw it' }}</button><button
        type="button"
        class="act quiet end"
        @click="making = ''"
      >
        Not now
      </button>
    </form>
    <div v-if="map" class="two">
      <div class="stack">
        <h2>
          {{ map.name }}: {{ places.filter((p) => p.tag).length }} of {{ map.capacity }} places{{
            turned ? ', after the half-way turn' : ''
          }}
        </h2>
        <PlaceMap
          :map="map"
          :places="shown"
          :marks="marks"
          :movable="!turned"
          @move="move"
          @done="keep()"
          @pick="(i: number) => (picked = i)"
        />
        <p class="soft small center">front: the cook stands here</p>
        <div class="row">
          <button class="act" :aria-pressed="turned" @click="turned = !turned">
            {{ turned ? 'As laid' : 'Turn half-way' }}</button><button
            class="act quiet"
            @click="begin('hand')"
          >
            Hand over to another vessel</button
          ><button class="act quiet" @click="remove">Remove this map</button>
        </div>
      </div>
      <div class="stack side">
        <p v-if="map.dealt_how">
          <strong>{{ map.dealt_how.charAt(0).toUpperCase() + map.dealt_how.slice(1) }}.</strong>
        </p>
        <p v-for="p in map.problems.slice(0, 3)" :key="p" class="warn">{{ p }}</p>
        <p v-if="map.problems.length > 3" class="soft">and {{ map.problems.length - 3 }} more</p>
        <p v-if="Object.keys(map.mean_k).length && map.spots.length" class="mono small">
          Mean heat of places:
          {{
            Object.entries(map.mean_k)
              .map(([t, k]) => `${t} ${k > 0 ? '+' : ''}${k} K`)
              .join(', ')
          }}
        </p>
        <h3>Deal the places</h3>
        <el-select
          v-model="who"
          multiple
          collapse-tags
          :max-collapse-tags="6"
          aria-label="Methods that lie in it"
          ><el-option v-for="m in trial.methods" :key="m.id" :value="m.id" :label="m.tag"
        /></el-select>
        <div class="row">
          <label class="field"
            >Pieces each<el-input-number
              v-model="each"
              :min="1"
              :max="200"
              :controls="false"
              class="s"
              aria-label="Pieces of each method" /></label
          ><el-radio-group v-model="how"
            ><el-radio value="balanced">Balanced over hot spots</el-radio
            ><el-radio value="random">At random</el-radio></el-radio-group
          ><button class="act strong" :disabled="!who.length" @click="deal">Deal</button>
        </div>
        <template v-if="picked >= 0 && places[picked] && !turned"
          ><h3>Place {{ picked + 1 }}</h3>
          <div class="row">
            <el-select v-model="give.tag" class="s" clearable placeholder="empty" aria-label="Whose piece"
              ><el-option v-for="m in trial.methods" :key="m.id" :value="m.tag" :label="m.tag" /></el-select
            ><el-input-number
              v-model="give.piece"
              :min="1"
              :max="2000"
              :controls="false"
              class="s"
              aria-label="Piece number"
            /><button class="act quiet" @click="put">Put it there</button>
          </div></template
        >
        <h3>Hot and cool spots</h3>
        <p class="soft small">
          From a test with paper or thermometers. In % of width and depth from the front left corner, and how
          much hotter than the middle.
        </p>
        <div class="row">
          <el-input-number
            v-model="spot.x"
            :min="0"
            :max="100"
            :controls="false"
            class="s"
            aria-label="Across, percent"
          /><el-input-number
            v-model="spot.y"
            :min="0"
            :max="100"
            :controls="false"
            class="s"
            aria-label="Back, percent"
          /><el-input-number
            v-model="spot.k"
            :min="-60"
            :max="60"
            :controls="false"
            class="s"
            aria-label="Kelvin"
          /><button class="act quiet" @click="addSpot">Add</button
          ><button v-if="map.spots.length" class="act quiet" @click="keep([])">Clear</button>
        </div>
      </div>
    </div>
    <p v-else class="say">
      No map yet. Draw the tray, basket, rack or pot; places are then dealt so that no hot spot favours a
      method.
    </p>
  </section>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 600px) minmax(360px, 1fr);
  gap: var(--gap-6);
}
.s {
  width: 110px;
}
.end {
  align-self: end;
}
.center {
  text-align: center;
  max-width: 560px;
}
.new {
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  padding: var(--gap-3);
}
.side {
  align-content: start;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
