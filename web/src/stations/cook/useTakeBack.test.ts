import { describe, expect, it, vi } from 'vitest'
import { effectScope, ref } from 'vue'
import { useTakeBack } from './useTakeBack'

function taking(gone: { kind: string; batch: string } | null) {
  const batches = ref(new Map([['b1', { tag: 'OV' }]]))
  const whole = { undo: () => Promise.resolve(gone), batches } as never
  return effectScope().run(() => useTakeBack(whole))!
}

describe('a tap that is taken back', () => {
  it('is named for a moment, and each anew', async () => {
    vi.useFakeTimers()
    const { undone, takeBack } = taking({ kind: 'handling_error', batch: 'b1' })
    await takeBack()
    expect(undone.value).toBe('Taken back: handling error of OV. It stays in the log.')
    vi.advanceTimersByTime(4000)
    await takeBack()
    vi.advanceTimersByTime(4000)
    expect(undone.value).not.toBe('')
    vi.advanceTimersByTime(1001)
    expect(undone.value).toBe('')
    vi.useRealTimers()
  })
  it('of no batch is one of the shift', async () => {
    const { undone, takeBack } = taking({ kind: 'timer', batch: '' })
    await takeBack()
    expect(undone.value).toContain('timer of the shift')
  })
  it('says nothing where there was none', async () => {
    const { undone, takeBack } = taking(null)
    await takeBack()
    expect(undone.value).toBe('')
  })
})
