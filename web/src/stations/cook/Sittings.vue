<script setup lang="ts">
/** A shift that is too much for one sitting, split into several with a method in common. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words, type Schemas } from '../../api/client'

const props = defineProps<{ bench: Schemas['BenchView'] }>()
const router = useRouter()
const client = useQueryClient()
const methods = computed(() => [
  ...new Map(props.bench.batches.map((b) => [b.method_id, `${b.tag} ${b.name}`])).entries(),
])
const open = ref(false)
const common = ref(methods.value[0]?.[0] ?? '')
const most = ref(Math.max(2, Math.ceil((methods.value.length + 1) / 2)))
const problem = ref('')
const busy = ref(false)
const count = computed(() => Math.ceil((methods.value.length - 1) / Math.max(1, most.value - 1)))
async function split() {
  busy.value = true
  try {
    await api.POST('/api/v1/shifts/{shift_id}/sittings', {
      params: { path: { shift_id: props.bench.shift.id } },
      body: { common: common.value, most: most.value },
    })
    await client.invalidateQueries()
    await router.push(`/trials/${props.bench.shift.trial_id}/cook`)
  } catch (error) {
    problem.value = words(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <p v-if="!open" class="row soft">
    <span class="grow">Too many to taste at one age? Cook and taste them in sittings.</span
    ><button class="act quiet" @click="open = true">Split into sittings</button>
  </p>
  <form v-else class="row split" @submit.prevent="split">
    <label class="field common"
      >In every sitting<el-select v-model="common" aria-label="Method in every sitting"
        ><el-option v-for="[id, name] in methods" :key="id" :value="id" :label="name" /></el-select
    ></label>
    <label class="field most"
      >Methods in each<el-input-number
        v-model="most"
        :min="2"
        :max="Math.max(2, methods.length - 1)"
        controls-position="right"
    /></label>
    <button class="act" :disabled="busy">Make {{ count }} sittings, one a day</button>
    <button type="button" class="act quiet" @click="open = false">Leave it</button>
    <p class="small soft">
      The method in every sitting links them: without it a difference between days could not be told from one
      between methods.
    </p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
  </form>
</template>

<style scoped>
.split {
  align-items: flex-end;
  flex-wrap: wrap;
}
.common {
  min-width: 260px;
}
.most {
  width: 150px;
}
</style>
