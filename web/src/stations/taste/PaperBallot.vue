<script setup lang="ts">
/** A paper ballot typed in. It only writes; the lead who types it counts as knowing these answers. */
import { reactive, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { asTyped, type Cell } from './ballot'

const props = defineProps<{
  seat: Schemas['SeatView']
  rounds: Schemas['RoundView'][]
  scales: Schemas['AnswerScaleView'][]
}>()
const emit = defineEmits<{ save: [answers: Schemas['TasterAnswer'][]] }>()
const cells = reactive<Record<string, string>>({})
const wrong = ref('')
const scored = (r: Schemas['RoundView']) => r.drawn === 'samples'
const hint: Record<string, string> = {
  one: 'the code that was chosen',
  order: 'codes from the best to the last; = where two share a place, as 317 = 402, 588',
  groups: 'the two codes of one pair',
}
function save() {
  const found: Cell[] = []
  for (const r of props.rounds) {
    const order = props.seat.orders[r.position] ?? []
    if (!scored(r)) found.push({ round: r, order, code: '', text: cells[`${r.position}`] ?? '' })
    else
      for (const code of order) {
        for (const a of r.attributes)
          found.push({ round: r, order, code, asked: a, text: cells[`${r.position}|${code}|${a.id}`] ?? '' })
        found.push({ round: r, order, code, comment: true, text: cells[`${r.position}|${code}|`] ?? '' })
      }
  }
  try {
    const answers = found.flatMap((c) => asTyped(c, props.scales))
    wrong.value = answers.length ? '' : 'Nothing is typed yet.'
    if (answers.length) emit('save', answers)
  } catch (error) {
    wrong.value = (error as Error).message
  }
}
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
        >{{ r.question
        }}<el-input
          v-model="cells[`${r.position}`]"
          :placeholder="hint[r.drawn] ?? 'code = label, with commas'"
      /></label>
    </template>
    <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
    <div><button class="act strong">Keep this ballot</button></div>
  </form>
</template>

<style scoped>
.n {
  width: 84px;
}
</style>
