<script setup lang="ts">
/** A paper ballot typed in as it is written; the server reads it. It only writes. */
import { reactive } from 'vue'
import type { Schemas } from '../../api/client'

const props = defineProps<{ seat: Schemas['SeatView']; rounds: Schemas['RoundView'][] }>()
const emit = defineEmits<{ save: [lines: Schemas['TypedLine'][]] }>()
const cells = reactive<Record<string, string>>({})
const scored = (r: Schemas['RoundView']) => r.drawn === 'samples'
const HINTS: Record<string, string> = {
  one: 'the code that was chosen',
  order: 'codes from the best to the last; = where two share a place, as 317 = 402, 588',
  groups: 'the two codes of one pair',
  labels: 'code = label, with commas',
}
function linesOf(r: Schemas['RoundView']): Schemas['TypedLine'][] {
  const line = (code: string, asked: string | null, comment: boolean) => ({
    round: r.position,
    code,
    attribute_id: asked,
    text: cells[`${r.position}|${code}|${asked ?? ''}`] ?? '',
    comment,
  })
  if (!scored(r)) return [line('', null, false)]
  return (props.seat.orders[r.position] ?? []).flatMap((code) => [
    ...r.attributes.map((a) => line(code, a.id, false)),
    line(code, null, true),
  ])
}
const save = () =>
  emit(
    'save',
    props.rounds.flatMap(linesOf).filter((l) => l.text?.trim()),
  )
</script>

<template>
  <form class="stack" @submit.prevent="save">
    <p>
      Type what is on the paper; a dash where the taster would rather not say. That you typed it is kept with
      your name, and you count as knowing these answers.
    </p>
    <template v-for="r in rounds" :key="r.position">
      <h3 v-if="rounds.length > 1">Round {{ r.position + 1 }}</h3>
      <table v-if="scored(r)" class="plain">
        <thead>
          <tr>
            <th>Code</th>
            <th v-for="a in r.attributes" :key="a.id">{{ a.name }}</th>
            <th>Words</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in seat.orders[r.position]" :key="c">
            <td class="mono">{{ c }}</td>
            <td v-for="a in r.attributes" :key="a.id">
              <el-input
                v-model="cells[`${r.position}|${c}|${a.id}`]"
                class="n"
                :aria-label="`${a.name} of ${c}`"
              />
            </td>
            <td><el-input v-model="cells[`${r.position}|${c}|`]" :aria-label="`Words on ${c}`" /></td>
          </tr>
        </tbody>
      </table>
      <label v-else class="field"
        >{{ r.question }}<el-input v-model="cells[`${r.position}||`]" :placeholder="HINTS[r.drawn]"
      /></label>
    </template>
    <div><button class="act strong">Keep this ballot</button></div>
  </form>
</template>

<style scoped>
.n {
  width: 84px;
}
</style>
