// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, ref } from 'vue'

const sent: unknown[] = []
let dead = false
let slow = 0
const page = () => ({
  rounds: [
    {
      position: 0,
      drawn: 'samples',
      attributes: [{ id: 'crust' }, { id: 'crumb' }],
      samples: [{ code: '317', answers: {}, refused: [], comment: '', not_for_me: false }],
      said: null,
      refused: false,
    },
    { position: 1, drawn: 'one', attributes: [], samples: [], said: null, refused: false, name: 'Which?' },
  ],
  closed: false,
})
class ApiProblem extends Error {
  constructor(readonly status: number) {
    super('away')
  }
}
vi.mock('../../../api/client', () => ({
  ApiProblem,
  words: (e: Error) => e.message,
  api: {
    GET: async () => {
      if (dead) throw new ApiProblem(0)
      return { data: page() }
    },
    POST: async (_: string, given: { body: unknown }) => {
      if (dead) throw new ApiProblem(0)
      await new Promise((done) => setTimeout(done, slow))
      sent.push(given.body)
      return { data: page() }
    },
  },
}))
const { useTaster, told, complete, gaps } = await import('./useTaster')
type Page = Parameters<typeof told>[0]
/** Its page is there: on a busy machine that takes its time. */
const there = (phone: ReturnType<typeof useTaster>) =>
  vi.waitFor(() => expect(phone.page.value).toBeTruthy(), 4000)

beforeEach(() => {
  localStorage.clear()
  sent.length = 0
  dead = false
  slow = 0
})

describe('what a taster says', () => {
  it('shows at once, whatever the server does', () => {
    const first = told(page() as unknown as Page, {
      round: 0,
      code: '317',
      attribute_id: 'crust',
      said: { kind: 'value', value: 7 },
    })
    expect(first.rounds[0]!.samples[0]!.answers).toEqual({ crust: { kind: 'value', value: 7 } })
    const changed = told(first, { round: 0, code: '317', attribute_id: 'crust', refused: true })
    expect(changed.rounds[0]!.samples[0]!).toMatchObject({ answers: {}, refused: ['crust'] })
    expect(told(first, { round: 1, said: { kind: 'choice', code: '317' } }).rounds[1]!.said).toEqual({
      kind: 'choice',
      code: '317',
    })
  })
  it('is complete when each question has an answer, a refusal, or the sample is not for them', () => {
    const [round, whole] = page().rounds as unknown as Page['rounds']
    expect(gaps(round!)).toEqual(['317'])
    expect(gaps(whole!)).toEqual(['Which?'])
    const s = { ...round!.samples[0]!, refused: ['crust', 'crumb'] }
    expect(complete(round!, s)).toBe(true)
    expect(complete(round!, { ...round!.samples[0]!, not_for_me: true })).toBe(true)
  })
  it('loses nothing that is tapped while the tap before is still on its way', async () => {
    const scope = effectScope()
    const phone = scope.run(() => useTaster('token-2'))!
    await there(phone)
    const places = ref([['317']])
    const said = [
      phone.tell({ round: 1, said: { kind: 'order', places: places.value } as never }),
      phone.tell({ round: 0, code: '317', attribute_id: 'crust', said: { kind: 'value', value: 5 } }),
      phone.tell({ round: 1, said: { kind: 'choice', code: '317' } }),
    ]
    await Promise.all(said)
    await vi.waitFor(() => expect(sent).toHaveLength(3), 4000)
    await phone.tell({ round: 1, said: { kind: 'choice', code: '402' } })
    expect(sent).toHaveLength(4)
    scope.stop()
  })
  it('is done only once all of it is there, and not while the network is away', async () => {
    const scope = effectScope()
    const phone = scope.run(() => useTaster('token-3'))!
    await there(phone)
    slow = 30
    void phone.tell({ round: 0, code: '317', comment: 'snaps' })
    void phone.tell({ round: 1, said: { kind: 'choice', code: '317' } })
    await phone.finish(true)
    expect(sent).toMatchObject([{ comment: 'snaps' }, { round: 1 }, { may_quote: true }])
    dead = true
    await phone.tell({ round: 0, code: '317', comment: 'snaps loudly' })
    await phone.finish(true)
    expect(sent).toHaveLength(3)
    expect(phone.problem.value).toContain('kept on this phone')
    scope.stop()
  })
  it('waits on the phone through a dead network and a reload, and leaves in its order', async () => {
    const first = effectScope()
    const one = first.run(() => useTaster('token-1'))!
    await there(one)
    dead = true
    await one.tell({ round: 0, code: '317', attribute_id: 'crust', said: { kind: 'value', value: 7 } })
    await one.tell({ round: 0, code: '317', comment: 'snaps' })
    expect(one.away.value).toBe(true)
    expect(one.unsent.value).toBe(2)
    expect(one.page.value!.rounds[0]!.samples[0]!.comment).toBe('snaps')
    first.stop()
    dead = false
    const second = effectScope()
    const two = second.run(() => useTaster('token-1'))!
    await vi.waitFor(() => expect(two.unsent.value).toBe(0), 4000)
    expect(sent).toMatchObject([{ attribute_id: 'crust' }, { comment: 'snaps' }])
    second.stop()
  })
})
