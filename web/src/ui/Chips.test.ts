// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import Chips from './Chips.vue'

const pressed = (w: ReturnType<typeof mount>) =>
  w.findAll('button').map((b) => [b.text(), b.attributes('aria-pressed')])

describe('chips', () => {
  it('show values by their words and say which is taken', async () => {
    const w = mount(Chips, { props: { modelValue: 'b', of: ['a', ['b', 'after keeping']] } })
    expect(pressed(w)).toEqual([
      ['a', 'false'],
      ['after keeping', 'true'],
    ])
    await w.findAll('button')[0]!.trigger('click')
    expect(w.emitted('update:modelValue')).toEqual([['a']])
  })
  it('take a choice back only where none is allowed', async () => {
    for (const [toggles, given] of [
      [true, ''],
      [false, 'b'],
    ] as const) {
      const w = mount(Chips, { props: { modelValue: 'b', of: ['b'], toggles } })
      await w.find('button').trigger('click')
      expect(w.emitted('update:modelValue')).toEqual([[given]])
    }
  })
  it('send no form', () => {
    const w = mount(Chips, { props: { modelValue: '', of: ['a'] } })
    expect(w.find('button').attributes('type')).toBe('button')
  })
})
