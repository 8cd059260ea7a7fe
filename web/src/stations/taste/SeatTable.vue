<script setup lang="ts">
/** Seats of a tasting: how far each is, and what may be done with it. */
import type { Schemas } from '../../api/client'

defineProps<{ tasting: Schemas['TastingView']; lead: boolean }>()
const emit = defineEmits<{
  hand: [s: Schemas['SeatView']]
  revoke: [s: Schemas['SeatView']]
  leave: [s: Schemas['SeatView']]
  ballot: [s: Schemas['SeatView']]
}>()
const state = (s: Schemas['SeatView']) =>
  s.finished
    ? 'done'
    : s.revoked
      ? 'has left'
      : s.answered
        ? `${s.answered} of ${s.wanted} begun`
        : 'not begun'
</script>

<template>
  <table class="plain">
    <tbody>
      <tr v-for="s in tasting.seats" :key="s.id">
        <td>
          <strong>{{ s.name }}</strong>
          <span v-if="s.knows.length" class="small block"
            >knows which is which: {{ s.knows.join(', ') }}</span
          >
          <span v-if="s.stop" class="bad small block">must not eat {{ s.stop }}: do not serve</span>
          <span v-if="s.allergies" class="small block">“{{ s.allergies }}” (not checked)</span>
        </td>
        <td class="mono small order">
          <span v-for="(o, i) in s.orders" :key="i" class="block"
            ><span v-if="tasting.rounds.length > 1" class="soft">{{ i + 1 }}: </span>{{ o.join(' → ') }}</span
          >
        </td>
        <td>{{ state(s) }}</td>
        <td class="no-print">
          <div class="acts">
            <template v-if="!tasting.opened_at && !tasting.stopped"
              ><button class="act quiet" @click="emit('hand', s)">Hand the link over</button
              ><button class="act quiet" @click="emit('revoke', s)">Make its link void</button
              ><button v-if="lead" class="act quiet" @click="emit('ballot', s)">Paper ballot</button
              ><button v-if="!s.revoked && !s.finished" class="act quiet" @click="emit('leave', s)">
                Has left
              </button></template
            >
            <span v-for="a in s.acts" :key="a" class="soft small block">{{ a }}</span>
          </div>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.block {
  display: block;
}
.order {
  white-space: nowrap;
}
td {
  vertical-align: top;
}
</style>
