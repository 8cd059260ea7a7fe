/** The last tap is taken back, and for a moment it is said which that was. */
import { useTimeoutFn } from '@vueuse/core'
import { ref } from 'vue'
import type { useBench } from './useBench'

const SAID_MS = 5000

export function useTakeBack(whole: Pick<ReturnType<typeof useBench>, 'undo' | 'batches'>) {
  const undone = ref('')
  const { start } = useTimeoutFn(
    () => {
      undone.value = ''
    },
    SAID_MS,
    { immediate: false },
  )
  async function takeBack() {
    const gone = await whole.undo()
    if (!gone) return
    const whose = whole.batches.value.get(gone.batch)?.tag ?? 'the shift'
    undone.value = `Taken back: ${gone.kind.replaceAll('_', ' ')} of ${whose}. It stays in the log.`
    start()
  }
  return { undone, takeBack }
}
