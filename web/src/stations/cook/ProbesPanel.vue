<script setup lang="ts">
/**
 * Devices at this bench: what each probe reads, whose core it is in, and moving it elsewhere; a doubt is said
 * where it belongs.
 */
import { ref } from 'vue'
import LoafMark from '../../bench/LoafMark.vue'
import { mass, temperature } from '../../bench/units'
import type { BenchBatch } from './useBench'
import type { DeviceView, Stay } from './useProbes'

const props = defineProps<{
  devices: DeviceView[]
  stays: Stay[]
  batches: BenchBatch[]
  now: number
  doubts: Map<string, string>
}>()
const emit = defineEmits<{
  put: [device: string, channel: string, name: string, batch: string, where: string]
}>()
const moving = ref('')
const to = ref('')
const where = ref('core')
const stayOf = (device: string, channel: string) =>
  props.stays.find((s) => s.device === device && s.channel === channel)
const batchOf = (id: string | undefined) => props.batches.find((b) => b.id === id)
const nameOf = (d: DeviceView, channel: string) => stayOf(d.id, channel)?.name || `${d.name} ${channel}`
const reading = (c: DeviceView['channels'][number]) =>
  c.value === null
    ? 'reads nothing'
    : c.measure === 'celsius'
      ? temperature(c.value, 1)
      : c.measure === 'kg'
        ? mass(c.value)
        : `${Math.round(c.value)} W`
const doubtOf = (device: string, channel: string) =>
  stayOf(device, channel)?.where === 'core' ? props.doubts.get(stayOf(device, channel)!.batch) : ''
function put(d: DeviceView, channel: string, out = false) {
  const old = stayOf(d.id, channel)
  emit(
    'put',
    d.id,
    channel,
    nameOf(d, channel),
    out ? (old?.batch ?? '') : to.value,
    out ? 'out' : where.value,
  )
  moving.value = ''
}
</script>

<template>
  <div class="stack">
    <p v-if="!devices.length" class="soft">
      No device here. Make one known at Kitchen, or bring in a log below.
    </p>
    <section v-for="d in devices" :key="d.id">
      <h3>
        {{ d.name }} <span v-if="d.silent" class="bad small">silent</span
        ><span v-if="d.battery !== null && d.battery !== undefined && d.battery < 0.2" class="bad small"
          >battery {{ Math.round(d.battery * 100) }} %</span
        ><span v-if="d.missing" class="soft small">{{ d.missing }} readings never came</span>
      </h3>
      <ul class="lines">
        <li v-for="c in d.channels" :key="c.channel" class="row">
          <strong class="mono">{{ nameOf(d, c.channel) }}</strong><span class="mono value">{{
            reading(c)
          }}</span>
          <template v-if="d.kind === 'hub'">
            <span v-if="batchOf(stayOf(d.id, c.channel)?.batch)" class="row nowrap grow"
              ><LoafMark :mark="batchOf(stayOf(d.id, c.channel)!.batch)!.mark" :size="22" />{{
                batchOf(stayOf(d.id, c.channel)!.batch)!.tag
              }}, {{ stayOf(d.id, c.channel)!.where }}</span
            ><span v-else class="soft grow">nowhere</span>
            <template v-if="moving === `${d.id}|${c.channel}`"
              ><el-select v-model="to" class="w" aria-label="Into which batch"
                ><el-option
                  v-for="b in batches"
                  :key="b.id"
                  :value="b.id"
                  :label="`${b.tag} ${b.name}`" /></el-select
              ><el-select v-model="where" class="w" aria-label="Where in it"
                ><el-option
                  v-for="w in ['core', 'chamber', 'surface']"
                  :key="w"
                  :value="w"
                  :label="w" /></el-select
              ><button class="act" :disabled="!to" @click="put(d, c.channel)">Put it there</button></template
            >
            <template v-else
              ><button
                class="act quiet"
                @click="
                  () => {
                    moving = `${d.id}|${c.channel}`
                    to = stayOf(d.id, c.channel)?.batch ?? batches[0]?.id ?? ''
                    where = stayOf(d.id, c.channel)?.where ?? 'core'
                  }
                "
              >
                {{ doubtOf(d.id, c.channel) ? 'Put back' : 'Move' }}</button
              ><button v-if="stayOf(d.id, c.channel)" class="act quiet" @click="put(d, c.channel, true)">
                Taken out
              </button></template
            >
          </template>
          <span v-else class="soft grow">{{ d.appliance }}</span>
          <span v-if="doubtOf(d.id, c.channel)" class="warn small full">{{ doubtOf(d.id, c.channel) }}</span>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.full {
  flex-basis: 100%;
  margin: 0 0 var(--gap-2);
}
.act {
  min-height: 40px;
  padding: var(--gap-1) var(--gap-3);
}
.value {
  min-width: 92px;
  font-size: var(--type-3);
}
.w {
  width: 170px;
}
.nowrap {
  flex-wrap: nowrap;
}
h3 span {
  margin-left: var(--gap-3);
  font-weight: 400;
}
</style>
