// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Schemas } from '../../api/client'
import RehearsalReport from './RehearsalReport.vue'
import RehearseForm from './RehearseForm.vue'

beforeEach(() => setActivePinia(createPinia()))
const stubs = {
  'el-radio-group': { template: '<div><slot /></div>' },
  'el-radio': { template: '<label><slot /></label>' },
  'el-checkbox-group': { template: '<div><slot /></div>' },
  'el-checkbox': { props: ['disabled'], template: '<label :data-off="disabled"><slot /></label>' },
}
const possible = [
  { mishap: 'forgotten_turn', name: 'A turn is forgotten', why_not: '' },
  { mishap: 'breaker', name: 'A breaker', why_not: 'no two on one circuit' },
] as Schemas['MishapView'][]

describe('how a rehearsal is gone through', () => {
  it('says why something cannot go wrong here', () => {
    const form = (hands: boolean) =>
      mount(RehearseForm, {
        props: { possible, problem: '', first: { hands, mishaps: [] } },
        global: { stubs },
      })
    const off = (hands: boolean) =>
      form(hands)
        .findAll('[data-off="true"]')
        .map((x) => x.text())
    expect(off(true)).toEqual(['A breaker no two on one circuit'])
    expect(off(false)).toHaveLength(2)
  })
})

describe('what a rehearsal showed', () => {
  const report: Schemas['Rehearsed'] = {
    sentence: 'The last plate was 4 min late.',
    late: [{ tag: 'A', what: 'Turn it out', planned: 0, began: 240, why: 'Fry took longer' }],
    clashes: [],
    plates: [
      { tag: 'A', planned: 0, done: 240 },
      { tag: 'B', planned: 0, done: null },
    ],
    ready: [{ text: 'A pan', tags: ['A', 'B'], by: 0 }],
    skipped: ['B: Turn it out'],
  }
  it('stands under its sentence, with what was not reached', () => {
    const text = mount(RehearsalReport, { props: { report, zone: 'UTC' } }).text()
    expect(text).toContain('A 00:04, 4 min late')
    expect(text).toContain('B not reached; planned 00:00')
    expect(text).toMatch(/A Turn it out: 4 min after\s+00:00; Fry took longer/)
    expect(text).toContain('never wanted in two places')
    expect(text).toContain('(A, B)')
  })
})
