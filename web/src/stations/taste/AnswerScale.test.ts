// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import type { Schemas } from '../../api/client'
import AnswerScale from './AnswerScale.vue'

type Scale = Schemas['AnswerScaleView']
const BASE: Scale = {
  key: 'intensity',
  name: '',
  low: 0,
  high: 10,
  step: 0.5,
  words: [],
  ends: true,
  drawn: 'slider',
  weighs: true,
  low_is_best: false,
}
const JUST_RIGHT: Scale = {
  ...BASE,
  key: 'just_right',
  low: 1,
  high: 5,
  step: 1,
  words: ['much too little', 'too little', 'just right', 'too much', 'much too much'],
  drawn: 'words',
}
const RANK: Scale = { ...BASE, key: 'rank', low: 1, high: null, step: 1, drawn: 'places', low_is_best: true }

const asked = (scale: Scale, value: number | null = null, samples = 3) =>
  mount(AnswerScale, {
    props: {
      question: {
        id: 'q',
        name: 'Salt',
        scale: scale.key,
        weight: 0,
        low_words: 'bland',
        high_words: 'salty',
        high_is_better: true,
      },
      scale,
      value,
      samples,
    },
  })

describe('an answer', () => {
  it('in words gives the place of the word, and shows which was given', async () => {
    const page = asked(JUST_RIGHT, 3)
    const buttons = page.findAll('button')
    expect(buttons.map((b) => b.text())).toEqual([
      '1 much too little',
      '2 too little',
      '3 just right',
      '4 too much',
      '5 much too much',
    ])
    expect(buttons.map((b) => b.attributes('aria-pressed'))).toEqual([
      'false',
      'false',
      'true',
      'false',
      'false',
    ])
    await buttons[3]!.trigger('click')
    expect(page.emitted('give')).toEqual([[4]])
  })

  it('in places has as many as there are samples, the first the best', () => {
    expect(
      asked(RANK, null, 4)
        .findAll('button')
        .map((b) => b.text()),
    ).toEqual(['1 best', '2', '3', '4'])
  })

  it('on a slider stands in the middle until it is touched, and says so by its look', async () => {
    const page = asked(BASE)
    const slider = page.find('input')
    expect(slider.attributes()).toMatchObject({ min: '0', max: '10', step: '0.5', 'aria-label': 'Salt' })
    expect(slider.element.value).toBe('5')
    expect(slider.classes()).toContain('unset')
    expect(page.text()).toContain('0 bland')
    expect(page.text()).toContain('salty 10')
    slider.element.value = '7.5'
    await slider.trigger('change')
    expect(page.emitted('give')).toEqual([[7.5]])
  })

  it('that is the middle itself is given by touching the slider where it stands', async () => {
    const page = asked(BASE)
    await page.find('input').trigger('pointerup')
    expect(page.emitted('give')).toEqual([[5]])
    const given = asked(BASE, 5)
    await given.find('input').trigger('pointerup')
    expect(given.emitted('give')).toBeUndefined()
  })
})
