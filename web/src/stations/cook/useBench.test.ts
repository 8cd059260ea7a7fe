// @vitest-environment happy-dom
import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'

type Heard = (m: { data: string; lastEventId: string }) => void
const heard = new Map<string, Heard>()
class Stream {
  static CLOSED = 2
  addEventListener(event: string, act: Heard) {
    heard.set(event, act)
  }
  close() {}
}
vi.stubGlobal('EventSource', Stream)
vi.stubGlobal('BroadcastChannel', undefined)
delete (window as { BroadcastChannel?: unknown }).BroadcastChannel

const bench = (plan: number | null, batches = 1) => ({
  shift: { id: 's', clock: { origin: 0, anchor: 0, rate: null }, batches },
  batches: Array.from({ length: batches }, (_, n) => ({ id: `b${n}`, steps: [], shared: {} })),
  plan: plan === null ? null : { number: plan, items: [] },
  entries: [],
  number: plan ?? 0,
})
const answers: ((b: object) => void)[] = []
vi.mock('../../api/client', () => ({
  words: String,
  ApiProblem: class extends Error {},
  api: { GET: () => new Promise((done) => answers.push((data) => done({ data }))) },
}))
vi.mock('../../bench/outbox', () => ({
  KITCHEN_CLOCK: { origin: 0, anchor: 0, rate: null },
  held: () => Promise.resolve([]),
  keepBench: () => Promise.resolve(),
  keepSending: () => undefined,
  keptBench: () => Promise.resolve(null),
  now: () => 0,
  onShift: () => 0,
  tap: () => Promise.resolve({}),
}))
const { useBench } = await import('./useBench')

async function opened(first: object) {
  let found!: ReturnType<typeof useBench>
  const page = mount({
    setup() {
      found = useBench('t', 's')
      return () => null
    },
  })
  answers.shift()!(first)
  await flushPromises()
  return { ...found, page }
}
const hear = (event: string, data: object, id = 0) =>
  heard.get(event)!({ data: JSON.stringify(data), lastEventId: String(id) })

describe('what a bench knows', () => {
  it('keeps a plan that came by the stream while it was asking for all', async () => {
    const b = await opened(bench(3))
    // A rescue begins: one batch more, so everything is asked for; its plan is there before the answer is.
    hear('shift', { batches: 2 })
    hear('plan', { number: 9, items: [] }, 9)
    answers.shift()!(bench(3, 2))
    await flushPromises()
    expect(b.bench.value!.plan!.number).toBe(9)
    expect(b.bench.value!.batches).toHaveLength(2)
    b.page.unmount()
  })
  it('takes the plan of the answer where that is newer, and the first that comes', async () => {
    const b = await opened(bench(null))
    expect(b.bench.value!.plan).toBeNull()
    void b.reload()
    answers.shift()!(bench(4))
    await flushPromises()
    expect(b.bench.value!.plan!.number).toBe(4)
    b.page.unmount()
  })
})
