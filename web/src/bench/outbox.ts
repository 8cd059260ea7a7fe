/**
 * The outbox: a tap is written to IndexedDB (strict durability) before anything else, and goes from there to
 * the server. What the server acknowledged is kept for 14 days, so that a server restored from a backup can
 * be given it again. This is one of the places that work alone, without network.
 */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { effectScope, shallowReactive } from 'vue'
import { api, ApiProblem, sendFile, setCsrf, type Schemas } from '../api/client'
import type { FoldEntry } from './fold'

export const KEEP_S = 14 * 86400
export interface Kept {
  id: string
  shift: string
  trial: string
  entry: FoldEntry
  device_time: number
  offset_ms: number
  state: 'waiting' | 'sent' | 'refused'
  why?: string
  sent_at?: number
  photo?: Blob
}
interface Tables extends DBSchema {
  entries: { key: string; value: Kept; indexes: { state: string; shift: string } }
  benches: { key: string; value: { id: string; bench: Schemas['BenchView']; at: number } }
  meta: { key: string; value: { key: string; value: string | number } }
}

let opened: Promise<IDBPDatabase<Tables>> | null = null
function store(): Promise<IDBPDatabase<Tables>> {
  opened ??= openDB<Tables>('yeasty-trial', 1, {
    upgrade(db) {
      const entries = db.createObjectStore('entries', { keyPath: 'id' })
      entries.createIndex('state', 'state')
      entries.createIndex('shift', 'shift')
      db.createObjectStore('benches', { keyPath: 'id' })
      db.createObjectStore('meta', { keyPath: 'key' })
    },
  })
  return opened
}

/** What the screens show of saving: never out of sight. */
export const saving = shallowReactive({
  waiting: 0,
  sent: 0,
  refused: 0,
  away: false,
  signedOut: false,
  error: '',
})
export const clockOffset = shallowReactive({ s: 0, known: false })
export const now = (): number => Date.now() / 1000 + clockOffset.s

/**
 * A shift's clock: the kitchen's own, or a simulated one that shows `origin` at `anchor` and goes at `rate`.
 */
export interface ShiftClock {
  origin: number
  anchor: number
  rate: number | null
}
export const KITCHEN_CLOCK: ShiftClock = { origin: 0, anchor: 0, rate: null }
export const onShift = (clock: ShiftClock, at: number): number =>
  clock.rate === null ? at : clock.origin + (at - clock.anchor) * clock.rate

let wall = Date.now()
let steady = performance.now()
/**
 * A device clock that was put back is seen by the steady one beside it, and corrected at once. One that
 * jumped ahead may as well have slept: that is left to the next measurement.
 */
export function watchDeviceClock(): void {
  const jumped = Date.now() - wall - (performance.now() - steady)
  wall = Date.now()
  steady = performance.now()
  if (Math.abs(jumped) < 1500) return
  if (jumped < 0) {
    clockOffset.s -= jumped / 1000
    clockOffset.known = true
    // Kept at once: a reload without network would else go back to what was measured before the clock was
    // moved.
    void store().then((db) => db.put('meta', { key: 'offset', value: clockOffset.s }))
  }
  void measureClock()
}

/** A random id; `crypto.randomUUID` exists only on a secure origin. */
export function newId(): string {
  const b = crypto.getRandomValues(new Uint8Array(16))
  b[6] = (b[6] & 0x0f) | 0x40
  b[8] = (b[8] & 0x3f) | 0x80
  const h = [...b].map((x) => x.toString(16).padStart(2, '0')).join('')
  return `${h.slice(0, 8)}-${h.slice(8, 12)}-${h.slice(12, 16)}-${h.slice(16, 20)}-${h.slice(20)}`
}

const GOOD_ROUND_S = 0.25
/** Measure this device's clock against the server's, by the middle of the round trip. */
export async function measureClock(): Promise<void> {
  try {
    let best = Infinity
    let incarnation = ''
    // On a busy network one answer may be slow on one way only: of three the quickest is nearest to the
    // truth.
    for (let n = 0; n < 3 && best > GOOD_ROUND_S; n++) {
      const before = Date.now() / 1000
      const { data } = await api.GET('/api/v1/clock')
      if (!data) return
      const after = Date.now() / 1000
      if (after >= before && after - before < best) {
        best = after - before
        clockOffset.s = data.server_now - (before + after) / 2
      }
      incarnation = data.incarnation
    }
    clockOffset.known = true
    saving.away = false
    await meetServer(incarnation)
  } catch {
    saving.away = true
    if (!clockOffset.known) {
      const kept = await (await store()).get('meta', 'offset')
      if (kept) clockOffset.s = Number(kept.value)
    }
    return
  }
  await (await store()).put('meta', { key: 'offset', value: clockOffset.s })
}

/** A server with another incarnation was restored from a backup: everything still held is sent again. */
async function meetServer(incarnation: string): Promise<void> {
  const db = await store()
  const before = (await db.get('meta', 'incarnation'))?.value
  if (before === incarnation) return
  if (before !== undefined) {
    const tx = db.transaction('entries', 'readwrite', { durability: 'strict' })
    for (const kept of await tx.store.index('state').getAll('sent'))
      await tx.store.put({ ...kept, state: 'waiting' })
    await tx.done
  }
  await db.put('meta', { key: 'incarnation', value: incarnation })
  void send()
}

/** Write an entry to the device, durably, and set off sending it. Resolves once it is on the device. */
export async function tap(
  shift: string,
  trial: string,
  batch: string,
  kind: string,
  payload: Record<string, unknown>,
  supersedes: string | null = null,
  photo?: Blob,
  clock: ShiftClock = KITCHEN_CLOCK,
): Promise<FoldEntry> {
  watchDeviceClock()
  // The moment of the tap, before anything is waited for.
  const device_time = Date.now() / 1000
  const at = onShift(clock, device_time + clockOffset.s)
  const db = await store()
  const tx = db.transaction(['entries', 'meta'], 'readwrite', { durability: 'strict' })
  const meta = tx.objectStore('meta')
  const device = String((await meta.get('device'))?.value ?? newId())
  const counter = Number((await meta.get('counter'))?.value ?? 0) + 1
  await meta.put({ key: 'device', value: device })
  await meta.put({ key: 'counter', value: counter })
  const entry: FoldEntry = { id: newId(), batch, kind, at, device, counter, payload, supersedes }
  await tx.objectStore('entries').put({
    id: entry.id,
    shift,
    trial,
    entry,
    device_time,
    offset_ms: (entry.at - device_time) * 1000,
    state: 'waiting',
    photo,
  })
  await tx.done
  await count()
  void send()
  return entry
}

export async function held(shift: string): Promise<Kept[]> {
  return (await store()).getAllFromIndex('entries', 'shift', shift)
}
/** A photo that has not reached the server yet. */
export async function heldPhoto(photo: string): Promise<Blob | null> {
  const waiting = await (await store()).getAllFromIndex('entries', 'state', 'waiting')
  return waiting.find((k) => k.entry.payload.photo_id === photo)?.photo ?? null
}

export async function keepBench(bench: Schemas['BenchView']): Promise<void> {
  await (await store()).put('benches', { id: bench.shift.id, bench, at: Date.now() / 1000 })
}
export async function keptBench(shift: string): Promise<Schemas['BenchView'] | null> {
  return (await (await store()).get('benches', shift))?.bench ?? null
}

async function count(): Promise<void> {
  const db = await store()
  saving.waiting = await db.countFromIndex('entries', 'state', 'waiting')
  saving.sent = await db.countFromIndex('entries', 'state', 'sent')
  saving.refused = await db.countFromIndex('entries', 'state', 'refused')
}

let sending = false
let again = false
/** Send what waits, oldest first; one tab at a time where the browser can tell. */
export async function send(): Promise<void> {
  if (sending) {
    again = true
    return
  }
  sending = true
  try {
    do {
      again = false
      if (navigator.locks) await navigator.locks.request('yeasty-outbox', sendAll)
      else await sendAll()
    } while (again)
  } finally {
    sending = false
    await count()
  }
}

async function sendAll(): Promise<void> {
  const db = await store()
  for (;;) {
    const waiting = (await db.getAllFromIndex('entries', 'state', 'waiting')).sort(
      (a, b) => a.entry.counter - b.entry.counter,
    )
    if (!waiting.length) break
    const some = waiting.filter((k) => k.shift === waiting[0].shift).slice(0, 100)
    try {
      const ready: Kept[] = []
      for (const k of some) if (!k.photo || (await sentPhoto(k))) ready.push(k)
      if (ready.length) await deliverAll(ready)
      saving.away = saving.signedOut = false
      saving.error = ''
    } catch (error) {
      await trouble(error)
      break
    }
    await count()
  }
  await forgetOld(db)
}

/** Refused for what it is: sent again as it is it would be refused again. */
const forGood = (error: unknown): error is ApiProblem =>
  error instanceof ApiProblem && [400, 404, 409, 413, 415, 422].includes(error.status)
async function refuse(k: Kept, why: string): Promise<void> {
  const tx = (await store()).transaction('entries', 'readwrite', { durability: 'strict' })
  await tx.store.put({ ...k, state: 'refused', why })
  await tx.done
}
/** A photo on its way before its entry; one that the server will not have holds up none of the others. */
async function sentPhoto(k: Kept): Promise<boolean> {
  try {
    await sendFile('PUT', `/api/v1/trials/${k.trial}/photos/${k.entry.payload.photo_id}`, k.photo!)
    return true
  } catch (error) {
    if (!forGood(error)) throw error
    await refuse(k, error.message)
    return false
  }
}
/** Entries to the server; where it will not have them as they stand together, each by itself. */
async function deliverAll(some: Kept[]): Promise<void> {
  try {
    await deliver(some)
  } catch (error) {
    if (!forGood(error)) throw error
    if (some.length === 1) await refuse(some[0], error.message)
    else for (const k of some) await deliverAll([k])
  }
}
/** A refused entry put right by the cook, on its way again; or given up. */
export async function mend(id: string, payload: Record<string, unknown>): Promise<void> {
  const kept = await (await store()).get('entries', id)
  if (!kept) return
  const tx = (await store()).transaction('entries', 'readwrite', { durability: 'strict' })
  await tx.store.put({ ...kept, entry: { ...kept.entry, payload }, state: 'waiting', why: undefined })
  await tx.done
  await count()
  void send()
}
export async function giveUp(id: string): Promise<void> {
  await (await store()).delete('entries', id)
  await count()
}

async function deliver(some: Kept[]): Promise<void> {
  const { data } = await api.POST('/api/v1/shifts/{shift_id}/entries', {
    params: { path: { shift_id: some[0].shift } },
    body: {
      entries: some.map((k) => ({
        id: k.id,
        batch: k.entry.batch || null,
        kind: k.entry.kind as Schemas['EntryKind'],
        device: k.entry.device,
        counter: k.entry.counter,
        device_time: k.device_time,
        offset_ms: k.offset_ms,
        payload: k.entry.payload,
        supersedes: k.entry.supersedes,
      })),
    },
  })
  if (!data) throw new ApiProblem(0, 'No answer', '', [])
  const there = new Set([...data.written.map((w) => w.id), ...data.known])
  const refused = new Map(
    data.refused.map((r) => [r.id, `${r.problem.field}: ${r.problem.message}. ${r.problem.todo}`]),
  )
  const tx = (await store()).transaction('entries', 'readwrite', { durability: 'strict' })
  for (const k of some) {
    if (there.has(k.id))
      await tx.store.put({ ...k, state: 'sent', sent_at: Date.now() / 1000, photo: undefined })
    else if (refused.has(k.id)) await tx.store.put({ ...k, state: 'refused', why: refused.get(k.id) })
  }
  await tx.done
}

async function trouble(error: unknown): Promise<void> {
  if (!(error instanceof ApiProblem)) throw error
  saving.away = error.status === 0 || error.status >= 500
  saving.signedOut = error.status === 401
  saving.error = error.status && error.status < 500 ? error.message : ''
  if (error.status === 403) {
    try {
      const { data } = await api.GET('/api/v1/session')
      if (data) setCsrf(data.csrf)
    } catch {
      /* tried again with the next round */
    }
  }
}

async function forgetOld(db: IDBPDatabase<Tables>): Promise<void> {
  for (const k of await db.getAllFromIndex('entries', 'state', 'sent')) {
    if ((k.sent_at ?? 0) < Date.now() / 1000 - KEEP_S) await db.delete('entries', k.id)
  }
}

/** What may be left on a device that is handed on: only what has not reached the server yet. */
export async function forgetSent(): Promise<void> {
  await send()
  const db = await store()
  for (const k of await db.getAllFromIndex('entries', 'state', 'sent')) await db.delete('entries', k.id)
  await db.clear('benches')
  await count()
}

let keeping = false
/** Keep sending while the page is open: at once when the network is back, and every few seconds. */
export function keepSending(): void {
  if (keeping) return
  keeping = true
  // In no component's life: a bench that is left goes on sending.
  effectScope(true).run(() => {
    useEventListener(window, 'online', () => void send())
    // Asked, not believed: a kitchen's own server on this machine answers without any network.
    useEventListener(window, 'offline', () => void measureClock())
    useIntervalFn(() => {
      if (saving.waiting) void send()
      else if (saving.away) void measureClock()
    }, 3000)
    useIntervalFn(() => void measureClock(), 60_000)
    useIntervalFn(watchDeviceClock, 1000)
  })
  void measureClock().then(() => send())
}
