<script setup lang="ts">
/** What opens over the bench: one at a time, by its name. */
import { computed, defineAsyncComponent } from 'vue'
import { api, words, type Schemas } from '../../api/client'
import type { FoldEntry } from '../../bench/fold'
import { useSession } from '../../session'
import BenchMissing from './BenchMissing.vue'
import ChangeShift from './ChangeShift.vue'
import KeysDialog from './KeysDialog.vue'
import LogList from './LogList.vue'
import PaperLog from './PaperLog.vue'
import PhotosDialog from './PhotosDialog.vue'
import PlacesPanel from './PlacesPanel.vue'
import ProbesPanel from './ProbesPanel.vue'
import RefusedEntries from './RefusedEntries.vue'
import RescueDialog from './RescueDialog.vue'
import WhatIf from './WhatIf.vue'
import { useThisBench } from './useBench'
import { staysOf, useDevices } from './useProbes'

const ProbeCurves = defineAsyncComponent(() => import('./ProbeCurves.vue'))
defineProps<{
  forBatch: string
  doubts: Map<string, string>
  photos: FoldEntry[]
  missing: Schemas['Unmeasured'][]
}>()
const emit = defineEmits<{ measure: [missing: Schemas['Unmeasured']] }>()
const open = defineModel<string>('open', { required: true })
const whole = useThisBench()
const { trial, shift, state, standing, steps, batches, problem, tick, log, reload, together, unreadable } =
  whole
/** There is one as long as anything is open. */
const bench = computed(() => whole.bench.value!)
const session = useSession()
const zone = computed(() => session.state?.time_zone)
const ended = computed(() => bench.value.shift.ended)
const { data: probes } = useDevices(shift, ended)
const probeStays = computed(() => staysOf(standing.value))
const markOfTag = computed(() => Object.fromEntries(bench.value.batches.map((b) => [b.tag, b.mark])))
function again() {
  open.value = ''
  void reload()
}
const putProbe = (device: string, channel: string, name: string, batch: string, where: string) =>
  log(batch, 'probe', { device, channel, where, name })
function measure(m: Schemas['Unmeasured']) {
  open.value = ''
  emit('measure', m)
}
async function endShift() {
  try {
    await api.POST('/api/v1/shifts/{shift_id}/end', { params: { path: { shift_id: shift } } })
  } catch (error) {
    problem.value = words(error)
  }
  again()
}
</script>

<template>
  <WhatIf v-if="open === 'whatif'" :shift="shift" :zone="zone" @close="open = ''" @taken="again" />
  <ChangeShift
    v-if="open === 'change'"
    :shift="shift"
    :trial="trial"
    :batches="bench.batches"
    @close="open = ''"
    @changed="again"
  />
  <PlacesPanel v-if="open === 'places'" :trial="trial" :marks="markOfTag" @close="open = ''" />
  <KeysDialog v-if="open === 'keys'" @close="open = ''" />
  <PhotosDialog
    v-if="open === 'photos'"
    :photos="photos"
    :batches="bench.batches"
    :trial="trial"
    :zone="zone"
    @close="open = ''"
  />
  <RescueDialog
    v-if="open === 'rescue' && batches.get(forBatch)"
    :shift="shift"
    :batch="batches.get(forBatch)!"
    @close="open = ''"
    @made="again"
  />
  <el-dialog :model-value="open === 'log'" title="Log of this shift" width="760" @close="open = ''"
    ><RefusedEntries v-if="open === 'log'" :shift="shift" :zone="zone" :tag-of="(b) => batches.get(b)?.tag" />
    <p v-for="e in unreadable" :key="e.id" class="warn">
      {{ batches.get(e.batch)?.tag }} {{ e.kind.replace('_', ' ') }} cannot be read and says nothing:
      {{ e.unreadable }}
    </p>
    <LogList
      v-if="open === 'log'"
      :standing="standing"
      :batches="batches"
      :steps="steps"
      :trial="trial"
      :zone="zone"
      :now="tick"
      @correct="(e, p) => log(e.batch, e.kind, p, e.id)"
      @undo="(e) => log(e.batch, 'undone', {}, e.id)"
  /></el-dialog>
  <el-dialog :model-value="open === 'paper'" title="Write up times" width="760" @close="open = ''"
    ><PaperLog
      v-if="open === 'paper'"
      :batches="bench.batches"
      :runs="state.runs"
      :standing="standing"
      :zone="zone"
      :now="tick"
      :together="together"
      :log="log"
      @close="open = ''"
  /></el-dialog>
  <el-dialog :model-value="open === 'probes'" title="Probes, scale and meters" width="900" @close="open = ''"
    ><template v-if="open === 'probes'"
      ><ProbesPanel
        :devices="probes?.devices ?? []"
        :stays="probeStays"
        :batches="bench.batches"
        :now="tick"
        :doubts="doubts"
        @put="putProbe" /><ProbeCurves :bench="bench" :zone="zone" @changed="reload" /></template
  ></el-dialog>
  <el-dialog :model-value="open === 'end'" title="End this shift?" width="520" @close="open = ''"
    ><p>Late results can still be logged. The bench stays as it is.</p>
    <BenchMissing v-if="open === 'end'" :missing="missing" @measure="measure" />
    <div class="row" style="margin-top: var(--gap-4)">
      <button class="act strong" @click="endShift">End it</button
      ><button class="act quiet" @click="open = ''">Not yet</button>
    </div></el-dialog
  >
</template>
