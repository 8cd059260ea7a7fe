// @vitest-environment happy-dom
import { VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'

const said = { food: { food_class: 'poultry', why: 'from “turkey”' }, judged: [] as object[], earlier: '' }
const sent: unknown[] = []
vi.mock('../api/client', () => ({
  words: String,
  api: {
    GET: (path: string) =>
      Promise.resolve({
        data: {
          items:
            path === '/api/v1/kinds-of-trial'
              ? [
                  { kind: 'side_by_side', laid_out: false },
                  { kind: 'ladder', laid_out: true },
                  { kind: 'screening', laid_out: false },
                ]
              : [],
        },
      }),
    POST: (path: string, given: { body: unknown }) => {
      if (path === '/api/v1/trials') sent.push(given.body)
      return Promise.resolve({ data: path === '/api/v1/trials' ? { id: 'x' } : said })
    },
  },
}))
const { useNewTrial } = await import('./useNewTrial')

async function asked() {
  vi.useFakeTimers()
  let found!: ReturnType<typeof useNewTrial>
  mount(
    {
      setup() {
        found = useNewTrial()
        return () => null
      },
    },
    { global: { plugins: [VueQueryPlugin] } },
  )
  const settle = async () => {
    await nextTick()
    await vi.advanceTimersByTimeAsync(400)
    await flushPromises()
  }
  await settle()
  return { ...found, settle }
}
const row = (name: string) => ({ name, low_words: 'dry', high_words: 'juicy', weight: 2, why: '' })

describe('a new trial', () => {
  beforeEach(() => {
    sent.length = 0
    said.judged = [row('Juiciness'), row('Taste')]
  })
  it('takes the kind of food that its words propose until somebody chooses', async () => {
    const t = await asked()
    t.form.dish = 'turkey'
    await t.settle()
    expect(t.form.food_class).toBe('poultry')
    expect(t.why.value).toBe('from “turkey”')
    t.form.food_class = 'plant'
    t.chosen.food = true
    t.form.dish = 'turkey again'
    await t.settle()
    expect(t.form.food_class).toBe('plant')
    expect(t.why.value).toBe('')
  })
  it('sends what is judged but what was struck out, and ways only where no layout brings them', async () => {
    const t = await asked()
    t.form.dish = 'turkey'
    t.take('oven')
    t.take('pan')
    t.take('pan')
    await t.settle()
    t.strike('Taste')
    expect(await t.make()).toBe('x')
    t.form.kind = 'ladder'
    await t.make()
    t.form.kind = 'screening'
    await t.make()
    const rows = sent as { techniques: string[]; judged: { name: string }[] }[]
    expect(rows.map((r) => r.techniques)).toEqual([['oven'], [], ['oven']])
    expect(rows.map((r) => r.judged.map((j) => j.name))).toEqual([['Juiciness'], ['Juiciness'], []])
  })
})
