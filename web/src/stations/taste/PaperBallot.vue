<script setup lang="ts">
/** A paper ballot typed in. It only writes; the lead who types it counts as knowing these answers. */
import { reactive } from 'vue'
import type { Schemas } from '../../api/client'

const props = defineProps<{ seat: Schemas['SeatView']; attributes: Schemas['AttributeView'][] }>()
const emit = defineEmits<{ save: [answers: Schemas['TypedAnswer'][]] }>()
const rows = reactive(
  Object.fromEntries(
    props.seat.order.map((c) => [c, Object.fromEntries(props.attributes.map((a) => [a.id, '']))]),
  ) as Record<string, Record<string, string>>,
)
const comments = reactive(Object.fromEntries(props.seat.order.map((c) => [c, ''])) as Record<string, string>)
function save() {
  const answers: Schemas['TypedAnswer'][] = []
  for (const code of props.seat.order) {
    for (const a of props.attributes) {
      const text = (rows[code]![a.id] ?? '').trim().replace(',', '.')
      if (text === '') continue
      if (text === '-') answers.push({ code, attribute_id: a.id, value: null, refused: true, comment: '' })
      else answers.push({ code, attribute_id: a.id, value: Number(text), refused: false, comment: '' })
    }
    if (comments[code]!.trim())
      answers.push({ code, attribute_id: null, value: null, refused: false, comment: comments[code]! })
  }
  emit('save', answers)
}
</script>

<template>
  <form class="stack" @submit.prevent="save">
    <p>
      Type what is on the paper; a dash where the taster would rather not say. That you typed it is kept with
      your name, and you count as knowing these answers.
    </p>
    <table class="plain">
      <thead>
        <tr>
          <th>Code</th>
          <th v-for="a in attributes" :key="a.id">{{ a.name }}</th>
          <th>Words</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in seat.order" :key="c">
          <td class="mono">{{ c }}</td>
          <td v-for="a in attributes" :key="a.id">
            <el-input
              v-model="rows[c]![a.id]"
              class="n"
              inputmode="decimal"
              :aria-label="`${a.name} of ${c}`"
            />
          </td>
          <td><el-input v-model="comments[c]" :aria-label="`Words on ${c}`" /></td>
        </tr>
      </tbody>
    </table>
    <div><button class="act strong">Keep this ballot</button></div>
  </form>
</template>

<style scoped>
.n {
  width: 72px;
}
</style>
