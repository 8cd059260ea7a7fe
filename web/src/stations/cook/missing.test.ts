// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import type { Schemas } from '../../api/client'
import BenchMissing from './BenchMissing.vue'
import { formFor } from './entryForm'
import { BENCH } from './useBench'

const row = (measure: string, too_late = false) =>
  ({ batch: 'b', kind: 'weight', of: 'drip', measure, too_late, sentence: measure }) as Schemas['Unmeasured']

describe('what is missing at the bench', () => {
  it('is measured, or said not to apply, and then asked no more on this device', async () => {
    const standing = ref<object[]>([])
    const logged: unknown[][] = []
    const log = (...entry: unknown[]) => {
      logged.push(entry)
      standing.value = [{ batch: 'b', kind: 'stated', payload: entry[2] }]
    }
    const w = mount(BenchMissing, {
      props: { missing: [row('drip weight'), row('raw weight', true)] },
      global: { provide: { [BENCH as symbol]: { standing, log } } },
    })
    const buttons = () => w.findAll('button').map((b) => b.text())
    expect(buttons()).toEqual(['Measure it', 'Does not apply', 'Leave it out'])
    await w.findAll('button')[0]!.trigger('click')
    expect(w.emitted('measure')).toEqual([[row('drip weight')]])
    await w.findAll('button')[1]!.trigger('click')
    expect(logged).toEqual([['b', 'stated', { question: 'applies', answer: 'no', measure: 'drip weight' }]])
    expect(buttons()).toEqual(['Leave it out'])
  })
  it('opens the form of its measure', () => {
    expect(formFor('weight', 'drip')).toEqual({ of: 'drip' })
    expect(formFor('weight', 'by eye: olive oil')).toEqual({ of: 'by eye', item: 'olive oil' })
    expect(formFor('size', 'diameter after')).toEqual({ dimension: 'diameter', side: 'after' })
    expect(formFor('tally', 'sealed')).toEqual({ text: 'sealed' })
    expect(formFor('energy', '')).toEqual({})
  })
})
