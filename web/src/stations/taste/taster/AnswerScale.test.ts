// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import type { Schemas } from '../../../api/client'
import AnswerScale from './AnswerScale.vue'
import type { Said } from './useTaster'

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
  shape: 'value',
  own_words: false,
  ranges: true,
  averaged: true,
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
  averaged: false,
  ranges: false,
}
const RANK: Scale = { ...BASE, key: 'rank', low: 1, high: null, step: 1, drawn: 'places', low_is_best: true }

const value = (n: number): Said => ({ kind: 'value', value: n })

const asked = (scale: Scale, said: Said | null = null, samples = 3, words: string[] = []) =>
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
        words,
      },
      scale,
      said,
      samples,
    },
  })

describe('an answer', () => {
  it('in words gives the place of the word, and shows which was given', async () => {
    const page = asked(JUST_RIGHT, value(3))
    const buttons = page.findAll('button')
    expect(buttons.map((b) => b.text())).toEqual([
      'much too little',
      'too little',
      'just right',
      'too much',
      'much too much',
    ])
    expect(buttons.map((b) => b.attributes('aria-pressed'))).toEqual([
      'false',
      'false',
      'true',
      'false',
      'false',
    ])
    await buttons[3]!.trigger('click')
    expect(page.emitted('give')).toEqual([[value(4)]])
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
    expect(page.emitted('give')).toEqual([[value(7.5)]])
  })

  it('that is the middle itself is given by touching the slider where it stands', async () => {
    const page = asked(BASE)
    await page.find('input').trigger('pointerup')
    expect(page.emitted('give')).toEqual([[value(5)]])
    const given = asked(BASE, value(5))
    await given.find('input').trigger('pointerup')
    expect(given.emitted('give')).toBeUndefined()
  })

  it('as a range keeps both ends, the lower first', async () => {
    const page = asked(BASE, value(6))
    await page.find('button').trigger('click')
    const [low, high] = page.findAll('input')
    high!.element.value = '5'
    await high!.trigger('change')
    expect(page.emitted('give')).toEqual([[{ kind: 'range', low: 5, high: 6 }]])
    expect(low!.attributes('aria-label')).toBe('Salt, from')
  })

  it('in words of the question’s own shows them, and ticks keep what was ticked', async () => {
    const ladder: Scale = {
      ...BASE,
      key: 'words',
      low: 1,
      high: null,
      drawn: 'words',
      own_words: true,
      averaged: false,
    }
    expect(
      asked(ladder, null, 3, ['raw', 'firm', 'tender'])
        .findAll('button')
        .map((b) => b.text()),
    ).toEqual(['raw', 'firm', 'tender'])
    const ticks: Scale = { ...ladder, key: 'check_all', drawn: 'ticks', shape: 'words' }
    const page = asked(ticks, { kind: 'words', words: ['nutty'] }, 3, ['nutty', 'sweet'])
    await page.findAll('button')[1]!.trigger('click')
    await page.findAll('button')[0]!.trigger('click')
    expect(page.emitted('give')).toEqual([
      [{ kind: 'words', words: ['nutty', 'sweet'] }],
      [{ kind: 'words', words: [] }],
    ])
  })

  it('as a tally is given once both numbers are there and can be', async () => {
    const page = asked({ ...BASE, key: 'tally', drawn: 'tally', shape: 'tally', high: 1 })
    const [met, of] = page.findAll('input')
    await met!.setValue('6')
    await met!.trigger('change')
    await of!.setValue('4')
    await of!.trigger('change')
    expect(page.emitted('give')).toBeUndefined()
    await of!.setValue('8')
    await of!.trigger('change')
    expect(page.emitted('give')!.at(-1)).toEqual([{ kind: 'tally', met: 6, of: 8 }])
  })
})
