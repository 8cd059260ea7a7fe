// @vitest-environment happy-dom
import 'fake-indexeddb/auto'
import { IDBFactory } from 'fake-indexeddb'
import { effectScope } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'

/** A server that can be away, refuse, forget, and be restored from a backup. */
const server = {
  away: false,
  noPhotos: false,
  wholeFor: '',
  signedOut: false,
  incarnation: 'one',
  refuse: new Set<string>(),
  entries: new Map<string, { kind: string; counter: number }>(),
  now: () => Date.now() / 1000,
  sent: 0,
}
class ApiProblem extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}
vi.mock('../api/client', () => ({
  ApiProblem,
  setCsrf: () => undefined,
  sendFile: async () => {
    if (server.noPhotos) throw new ApiProblem(422, 'photo: is not a picture.')
  },
  api: {
    GET: async () => {
      if (server.away) throw new ApiProblem(0, 'away')
      return { data: { server_now: server.now(), incarnation: server.incarnation, csrf: 'x' } }
    },
    POST: async (
      _: string,
      { body }: { body: { entries: { id: string; kind: string; counter: number }[] } },
    ) => {
      if (server.away) throw new ApiProblem(0, 'away')
      if (server.signedOut) throw new ApiProblem(401, 'Sign in')
      if (server.wholeFor && body.entries.some((e) => e.kind === server.wholeFor))
        throw new ApiProblem(422, 'Not understood')
      server.sent += body.entries.length
      const known = body.entries.filter((e) => server.entries.has(e.id)).map((e) => e.id)
      const refused = body.entries
        .filter((e) => server.refuse.has(e.kind))
        .map((e) => ({ id: e.id, problem: { field: 'weight', message: 'is missing', todo: 'Type it.' } }))
      const fresh = body.entries.filter((e) => !known.includes(e.id) && !server.refuse.has(e.kind))
      for (const e of fresh) server.entries.set(e.id, e)
      return { data: { written: fresh.map((e) => ({ id: e.id })), known, refused } }
    },
  },
}))

type Box = typeof import('./outbox')
/** Sent, and nothing more on its way: also what a tap set off by itself. */
async function settle(box: Box) {
  await box.send()
  await vi.waitFor(async () => {
    const waits = (await box.held('s')).filter((k) => k.state === 'waiting').length
    expect(waits === box.saving.waiting && (waits === 0 || box.saving.away || box.saving.signedOut)).toBe(
      true,
    )
  })
  await new Promise((r) => setTimeout(r, 20))
}
async function fresh() {
  vi.resetModules()
  globalThis.indexedDB = new IDBFactory()
  return import('./outbox')
}
/** The same device after its page was opened anew: another module on the same store. */
async function reopened() {
  vi.resetModules()
  return import('./outbox')
}
beforeEach(() => {
  Object.assign(server, {
    away: false,
    noPhotos: false,
    wholeFor: '',
    signedOut: false,
    incarnation: 'one',
    sent: 0,
  })
  server.entries.clear()
  server.refuse.clear()
})

describe('a tap', () => {
  it('arrives once, in order, with a counter that never goes back', async () => {
    const box = await fresh()
    for (let n = 0; n < 5; n++) await box.tap('s', 't', 'b', 'note', { text: `${n}` })
    await settle(box)
    expect([...server.entries.values()].map((e) => e.counter)).toEqual([1, 2, 3, 4, 5])
    await settle(box)
    expect(server.sent).toBe(5)
    expect(box.saving.waiting).toBe(0)
    expect(box.saving.sent).toBe(5)
  })
  it('made without network waits through a page opened anew', async () => {
    const box = await fresh()
    server.away = true
    await box.tap('s', 't', 'b', 'note', { text: 'alone' })
    await settle(box)
    expect(box.saving.away).toBe(true)
    expect(box.saving.waiting).toBe(1)
    const later = await reopened()
    await later.tap('s', 't', 'b', 'note', { text: 'still alone' })
    server.away = false
    await settle(later)
    expect([...server.entries.values()].map((e) => e.counter)).toEqual([1, 2])
    expect(later.saving.away).toBe(false)
  })
  it('goes on being sent after the bench it was made at is left', async () => {
    const box = await fresh()
    server.away = true
    const bench = effectScope()
    bench.run(() => box.keepSending())
    await box.tap('s', 't', 'b', 'note', { text: 'made here' })
    await settle(box)
    expect(box.saving.waiting).toBe(1)
    bench.stop()
    server.away = false
    window.dispatchEvent(new Event('online'))
    await vi.waitFor(() => expect(server.entries.size).toBe(1))
  })
  it('whose answer was lost on the way is known when it comes again', async () => {
    const box = await fresh()
    server.away = true
    const made = await box.tap('s', 't', 'b', 'note', { text: 'twice sent' })
    await settle(box)
    server.entries.set(made.id, { kind: 'note', counter: 1 })
    server.away = false
    await settle(box)
    expect(server.entries.size).toBe(1)
    expect(box.saving.sent).toBe(1)
  })
  it('that is refused is kept, with the field and what to do, and holds up nothing', async () => {
    const box = await fresh()
    server.refuse.add('weight')
    await box.tap('s', 't', 'b', 'weight', {})
    await box.tap('s', 't', 'b', 'note', { text: 'after it' })
    await settle(box)
    expect(server.entries.size).toBe(1)
    expect(box.saving.refused).toBe(1)
    expect((await box.held('s')).find((k) => k.state === 'refused')?.why).toBe('weight: is missing. Type it.')
  })
  it('whose photo the server will not have is kept, and the taps behind it leave', async () => {
    const box = await fresh()
    server.noPhotos = true
    await box.tap('s', 't', 'b', 'photo', { photo_id: 'p' }, null, new Blob(['x']))
    await box.tap('s', 't', 'b', 'note', { text: 'after it' })
    await settle(box)
    expect([...server.entries.values()].map((e) => e.kind)).toEqual(['note'])
    expect(box.saving.refused).toBe(1)
    expect(box.saving.waiting).toBe(0)
  })
  it('that the server will not read at all is found among the others, mended and sent', async () => {
    const box = await fresh()
    server.wholeFor = 'cue'
    server.away = true
    await box.tap('s', 't', 'b', 'note', { text: 'before' })
    const bad = await box.tap('s', 't', 'b', 'cue', { text: 'cut \ud83d' })
    await box.tap('s', 't', 'b', 'note', { text: 'after' })
    server.away = false
    await settle(box)
    expect([...server.entries.values()].map((e) => e.counter)).toEqual([1, 3])
    expect(box.saving.refused).toBe(1)
    server.wholeFor = ''
    await box.mend(bad.id, { text: 'cut' })
    await settle(box)
    expect(server.entries.get(bad.id)?.kind).toBe('cue')
    expect(box.saving.refused).toBe(0)
    server.refuse.add('weight')
    const given = await box.tap('s', 't', 'b', 'weight', {})
    await settle(box)
    await box.giveUp(given.id)
    expect(box.saving.refused).toBe(0)
  })
  it('of someone signed out waits and says so', async () => {
    const box = await fresh()
    server.signedOut = true
    await box.tap('s', 't', 'b', 'note', { text: 'x' })
    await settle(box)
    expect(box.saving.signedOut).toBe(true)
    expect(box.saving.away).toBe(false)
    expect(box.saving.waiting).toBe(1)
  })
})

describe('a device that is signed out', () => {
  it('holds nothing any more but what has not reached the server', async () => {
    const box = await fresh()
    await box.tap('s', 't', 'b', 'note', { text: 'there' })
    await settle(box)
    server.away = true
    await box.tap('s', 't', 'b', 'note', { text: 'not yet' })
    await settle(box)
    await box.forgetSent()
    expect((await box.held('s')).map((k) => k.entry.payload.text)).toEqual(['not yet'])
    server.away = false
    await settle(box)
    await box.forgetSent()
    expect(await box.held('s')).toEqual([])
  })
})

describe('a server', () => {
  it('out of reach is told before anything is tapped, and no more once it answers', async () => {
    const box = await fresh()
    server.away = true
    await box.measureClock()
    expect(box.saving.away).toBe(true)
    server.away = false
    await box.measureClock()
    expect(box.saving.away).toBe(false)
  })
  it('restored from an older backup is given again what the device holds', async () => {
    const box = await fresh()
    await box.measureClock()
    await box.tap('s', 't', 'b', 'note', { text: 'one' })
    await box.tap('s', 't', 'b', 'note', { text: 'two' })
    await settle(box)
    const lost = [...server.entries.keys()][1]!
    server.entries.delete(lost)
    server.incarnation = 'two'
    await box.measureClock()
    await settle(box)
    expect(server.entries.has(lost)).toBe(true)
    expect(server.entries.size).toBe(2)
  })
  it('of the same incarnation is sent nothing twice', async () => {
    const box = await fresh()
    await box.measureClock()
    await box.tap('s', 't', 'b', 'note', { text: 'one' })
    await settle(box)
    const sent = server.sent
    await box.measureClock()
    await settle(box)
    expect(server.sent).toBe(sent)
  })
})

describe('a device clock', () => {
  it('that is off is measured and corrected', async () => {
    const box = await fresh()
    server.now = () => Date.now() / 1000 + 600
    await box.measureClock()
    expect(box.clockOffset.s).toBeCloseTo(600, 0)
    const made = await box.tap('s', 't', 'b', 'note', { text: 'x' })
    expect(made.at).toBeCloseTo(Date.now() / 1000 + 600, 0)
    const kept = (await box.held('s'))[0]!
    expect(kept.offset_ms).toBeCloseTo(600_000, -3)
    server.now = () => Date.now() / 1000
  })
  it('put back between two looks is seen by the steady one beside it', async () => {
    const box = await fresh()
    server.away = true
    box.watchDeviceClock()
    const real = Date.now
    Date.now = () => real() - 600_000
    try {
      box.watchDeviceClock()
      expect(box.clockOffset.s).toBeCloseTo(600, 0)
      expect(box.now()).toBeCloseTo(real() / 1000, 0)
    } finally {
      Date.now = real
    }
  })
  it('of a simulated shift goes at its own rate', async () => {
    const box = await fresh()
    expect(box.onShift({ origin: 1000, anchor: 50, rate: 60 }, 51)).toBe(1060)
    expect(box.onShift(box.KITCHEN_CLOCK, 51)).toBe(51)
  })
})

it('ids are of the kind the server takes, and differ', async () => {
  const box = await fresh()
  const ids = Array.from({ length: 200 }, box.newId)
  expect(new Set(ids).size).toBe(200)
  for (const id of ids)
    expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/)
})

it('a photo is shown from the device until the server has it', async () => {
  const box = await fresh()
  server.away = true
  const photo = new Blob(['x'])
  await box.tap('s', 't', 'b', 'photo', { photo_id: 'p1' }, null, photo)
  expect(await box.heldPhoto('p1')).not.toBeNull()
  expect(await box.heldPhoto('p2')).toBeNull()
  server.away = false
  await settle(box)
  expect(await box.heldPhoto('p1')).toBeNull()
})

it('a bench is kept for the time without network', async () => {
  const box = await fresh()
  const bench = { shift: { id: 's' }, batches: [] } as never
  await box.keepBench(bench)
  expect(await (await reopened()).keptBench('s')).toEqual(bench)
  expect(await box.keptBench('other')).toBeNull()
})
