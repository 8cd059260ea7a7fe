// @vitest-environment happy-dom
import { createApp, h, nextTick, ref } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Quantity, QuantityKind } from '../bench/units'

const person = { us: false }
vi.mock('../session', () => ({ useSession: () => person }))
const { exactText, quantityText } = await import('../bench/units')
const QuantityInput = (await import('./QuantityInput.vue')).default

beforeEach(() => {
  person.us = false
})

/** A form with one quantity. */
function form(kind: QuantityKind, stored: Quantity) {
  const value = ref<Quantity>(stored)
  const host = document.createElement('div')
  const app = createApp({
    render: () =>
      h(QuantityInput, {
        kind,
        modelValue: value.value,
        'onUpdate:modelValue': (v: Quantity) => {
          value.value = v
        },
      }),
  })
  app.mount(host)
  const box = host.querySelector('input')!
  const type = async (text: string) => {
    box.value = text
    box.dispatchEvent(new Event('input'))
    await nextTick()
  }
  return { value, box, type }
}

const KINDS: [QuantityKind, number[]][] = [
  ['temperature', [74, 73.9, 165.3, -18, 4, 99.97]],
  ['mass', [0.45, 0.4508, 0.0123, 1.2345, 12.3456]],
  ['duration', [720, 90.5, 61, 36_000.25]],
  ['length', [0.04, 0.0254, 0.0123456]],
  ['power', [700, 333.333]],
]

describe('a quantity nobody touched goes back as the number it was', () => {
  for (const us of [false, true])
    for (const [kind, numbers] of KINDS)
      it(`${kind}, ${us ? 'US' : 'metric'}`, async () => {
        person.us = us
        for (const n of numbers) {
          const { value, box, type } = form(kind, n)
          expect(value.value).toBe(n)
          const shown = box.value
          await type('1')
          expect(value.value).toBe('1')
          await type(shown)
          expect(value.value).toBe(n)
        }
      })
})

describe('what is typed', () => {
  it('goes as the words', async () => {
    const { value, type } = form('mass', 0.45)
    await type('1 lb 2 oz')
    expect(value.value).toBe('1 lb 2 oz')
  })
  it('and nothing as nothing', async () => {
    const { value, type } = form('mass', 0.45)
    await type('  ')
    expect(value.value).toBeNull()
  })
})

describe('exact text reads back as the very number', () => {
  const factor: Record<string, number> = {
    g: 0.001,
    kg: 1,
    oz: 0.028349523125,
    mm: 0.001,
    cm: 0.01,
    in: 0.0254,
  }
  const read = (text: string) => {
    const [number, unit] = text.split(' ') as [string, string]
    if (unit === '°F') return (Number(number) - 32) / 1.8
    if (unit === '°C') return Number(number)
    return Number(number) * factor[unit]!
  }
  for (const us of [false, true])
    it(us ? 'US' : 'metric', () => {
      person.us = us
      for (const n of [0.45, 0.0605, 1.2345, 0.0123]) expect(read(exactText('mass', n))).toBeCloseTo(n, 9)
      for (const n of [74, 73.9, 88, -18]) expect(read(exactText('temperature', n))).toBeCloseTo(n, 9)
      for (const n of [0.04, 0.0254, 0.005]) expect(read(exactText('length', n))).toBeCloseTo(n, 9)
    })
  it('is short where a short one is exact', () => {
    person.us = true
    expect([exactText('mass', 0.45), exactText('temperature', 74), quantityText('temperature', 74)]).toEqual([
      '450 g',
      '165.2 °F',
      '165 °F',
    ])
  })
})
