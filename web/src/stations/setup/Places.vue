<script setup lang="ts">
/**
 * Maps of where pieces lie: dealt or dragged, checked for room, turned half-way, handed over from vessel to
 * vessel; hot and cool spots put on them by touch.
 */
import { computed, ref } from 'vue'
import type { Schemas, Trial } from '../../api/client'
import { apart } from '../../bench/units'
import DealPlaces from './DealPlaces.vue'
import { asSpots, inside, newPoint, pointsOf, readings, type HeatPoint, type How } from './heatPoints'
import HotSpots from './HotSpots.vue'
import MapForm from './MapForm.vue'
import MapPoints from './MapPoints.vue'
import PlaceMap from './PlaceMap.vue'
import { useMaps, type MapBody } from './useMaps'

const props = defineProps<{ trial: Trial }>()
const { maps, map, places, chosen, problem, keep, make, deal, test, remove } = useMaps(props.trial)
const marks = computed(() => Object.fromEntries(props.trial.methods.map((m) => [m.tag, m.mark])))
const making = ref<'' | 'new' | 'hand'>('')
const turned = ref(false)
const picked = ref(-1)
const points = ref<HeatPoint[] | null>(null)
const how = ref<How>('eye')
const shown = computed(() => (turned.value ? (map.value?.turned ?? []) : places.value))
const lying = computed(() => places.value.filter((p) => p.tag).length)
const place = computed(() => (turned.value ? null : (places.value[picked.value] ?? null)))
const heats = computed(() =>
  map.value?.spots.length
    ? Object.entries(map.value.mean_k).map(([tag, k]) => `${tag} ${difference(map.value!, k)}`)
    : [],
)
const difference = (m: Schemas['MapView'], k: number) =>
  m.heat_unit === 'K' ? apart(k) : `${k > 0 ? '+' : ''}${k} ${m.heat_unit}`
function show(id: string) {
  chosen.value = id
  turned.value = false
  picked.value = -1
  points.value = null
}
async function draw(body: MapBody) {
  if (await make(body, making.value === 'hand')) {
    making.value = ''
    turned.value = false
  }
}
function move(i: number, x: number, y: number) {
  const p = places.value[i]
  if (p) Object.assign(p, { x_m: x, y_m: y })
}
async function put(tag: string, piece: number) {
  if (!place.value) return
  Object.assign(place.value, { tag, piece })
  await keep()
}
function beginSpots() {
  turned.value = false
  how.value = map.value!.spots.find((s) => s.how !== 'eye')?.how ?? 'eye'
  points.value = pointsOf(map.value!.spots)
}
function addPoint(x: number, y: number) {
  if (points.value && points.value.length < 20) points.value.push(newPoint(...inside(map.value!, x, y)))
}
function movePoint(i: number, x: number, y: number) {
  const [x_m, y_m] = inside(map.value!, x, y)
  Object.assign(points.value![i]!, { x_m, y_m })
}
async function keepSpots() {
  const told = points.value!
  const done =
    how.value === 'eye' ? await keep(asSpots(told)) : await test({ how: how.value, readings: readings(told) })
  if (done) points.value = null
}
</script>

<template>
  <section class="stack">
    <div class="row">
      <button
        v-for="m in maps"
        :key="m.id"
        class="act"
        :class="{ quiet: m.id !== map?.id }"
        @click="show(m.id)"
      >
        {{ m.name }}</button><span class="grow" /><button class="act quiet" @click="making = 'new'">
        Draw a map</button
      ><a
        v-if="maps?.length"
        class="act quiet"
        :href="`/api/v1/trials/${trial.id}/maps.pdf`"
        target="_blank"
        rel="noopener"
        >Print the maps</a
      >
    </div>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <MapForm
      v-if="making"
      :key="making"
      :trial="trial"
      :from="map"
      :hand-over="making === 'hand'"
      @make="draw"
      @away="making = ''"
    />
    <div v-if="map" class="two">
      <div class="stack">
        <h2>
          {{ map.name }}: {{ lying }} of {{ map.capacity }} places{{
            turned ? ', after the half-way turn' : ''
          }}
        </h2>
        <PlaceMap
          :map="map"
          :places="shown"
          :marks="marks"
          :movable="!turned && !points"
          :aside="!!points"
          @move="move"
          @done="keep()"
          @pick="(i: number) => (picked = i)"
          @touch="addPoint"
        >
          <template v-if="points" #default="{ k, height, at }">
            <MapPoints
              :points="points"
              :k="k"
              :height="height"
              :at="at"
              @move="movePoint"
              @remove="(i: number) => points!.splice(i, 1)"
            />
          </template>
        </PlaceMap>
        <p class="soft small center">front: the cook stands here</p>
        <div v-if="!points" class="row">
          <button class="act" :aria-pressed="turned" @click="turned = !turned">
            {{ turned ? 'As laid' : 'Turn half-way' }}</button><button
            class="act quiet"
            @click="making = 'hand'"
          >
            Hand over to another vessel</button
          ><button class="act quiet" @click="remove">Remove this map</button>
        </div>
      </div>
      <div class="stack side">
        <template v-if="!points">
          <p v-if="map.dealt_how">
            <strong>{{ map.dealt_how.charAt(0).toUpperCase() + map.dealt_how.slice(1) }}.</strong>
          </p>
          <p v-for="p in map.problems.slice(0, 3)" :key="p" class="warn">{{ p }}</p>
          <p v-if="map.problems.length > 3" class="soft">and {{ map.problems.length - 3 }} more</p>
          <p v-if="heats.length" class="mono small">Mean heat of places: {{ heats.join(', ') }}</p>
          <DealPlaces :trial="trial" :place="place" :number="picked" @deal="deal" @put="put" />
        </template>
        <HotSpots
          v-model:how="how"
          v-model:points="points"
          :map="map"
          :shades="map.shades"
          @begin="beginSpots"
          @keep="keepSpots"
          @clear="keep([])"
        />
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
.center {
  text-align: center;
  max-width: 560px;
}
.side {
  align-content: start;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
