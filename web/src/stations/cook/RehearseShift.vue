<script setup lang="ts">
/** A planned shift is rehearsed: one beside it is made, and its bench opened. */
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, words } from '../../api/client'
import RehearseForm from './RehearseForm.vue'
import { useRehearsal, type Wish } from './useRehearsal'

const props = defineProps<{ trial: string; shift: string }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { rehearsal } = useRehearsal(props.shift)
const problem = ref('')
async function go(wish: Wish) {
  try {
    const { data } = await api.POST('/api/v1/shifts/{shift_id}/rehearsals', {
      params: { path: { shift_id: props.shift } },
      body: { ...wish, speed: 20 },
    })
    if (data) await router.push(`/trials/${props.trial}/cook/${data.id}`)
  } catch (error) {
    problem.value = words(error)
  }
}
</script>

<template>
  <el-dialog :model-value="true" title="Rehearse" width="560" @close="emit('close')">
    <RehearseForm
      :possible="rehearsal?.possible ?? []"
      :problem="problem"
      :first="{ hands: true, mishaps: [] }"
      @go="go"
      @close="emit('close')"
    />
  </el-dialog>
</template>
