/**
 * The small offline fold: where every step stands and what the hands are asked for next. It computes alone so
 * that a tap starts its timer and brings up the next action without network. The rules are those of
 * yeasty/core/cook/bench.py and entries.py; both are held to tests/vectors/bench_fold.json.
 */
export interface FoldStep {
  key: string
  attention: string
  phase: string
  duration_s: number
  during_offset_s: number | null
  longest_s?: number | null
}
export interface FoldChain {
  batch: string
  steps: FoldStep[]
}
export interface FoldPlanned {
  batch: string
  step: string
  start: number
  end: number
}
export interface FoldEntry {
  id: string
  batch: string
  kind: string
  at: number
  device: string
  counter: number
  payload: Record<string, unknown>
  supersedes: string | null
  /** Why the server cannot read it; then it says nothing. */
  unreadable?: string
}
export interface StepRun {
  batch: string
  step: string
  start: number
  end: number
  state: 'todo' | 'running' | 'done'
}
export interface NextAction {
  batch: string
  step: string
  type: 'start' | 'do' | 'confirm'
  due: number
}
export interface BenchState {
  runs: StepRun[]
  actions: NextAction[]
}

const STEP_ENDS = new Set(['done', 'in', 'turned', 'out'])
const text = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)
const byOrder = (a: FoldEntry, b: FoldEntry) =>
  a.at - b.at || text(a.device, b.device) || a.counter - b.counter || text(a.id, b.id)
export const when = (e: FoldEntry): number => (typeof e.payload.at === 'number' ? e.payload.at : e.at)

export function effective(entries: FoldEntry[]): FoldEntry[] {
  const ordered = [...new Map(entries.map((e) => [e.id, e])).values()]
    .filter((e) => !e.unreadable)
    .sort(byOrder)
  const facts = ordered.filter((e) => e.kind !== 'undone')
  const alive = notUndone(ordered)
  const root = roots(facts)
  const replaced = new Set(
    facts.filter((e) => e.supersedes !== e.id && alive.has(e.id)).map((e) => e.supersedes),
  )
  // Of a fact and all its corrections one stands: the last that was neither undone nor corrected.
  const stands = new Map<string, FoldEntry>()
  for (const e of facts) if (alive.has(e.id) && !replaced.has(e.id)) stands.set(root.get(e.id)!, e)
  for (const e of facts) {
    // Corrections that go round in a circle: the last of them.
    const so = stands.get(root.get(e.id)!)
    if (alive.has(e.id) && (!so || replaced.has(so.id))) stands.set(root.get(e.id)!, e)
  }
  return facts.filter((e) => stands.get(root.get(e.id)!) === e)
}

/** Entries that were not undone; an undo that was undone undoes nothing. Walked without recursion. */
function notUndone(ordered: FoldEntry[]): Set<string> {
  const undos = new Map<string, string[]>()
  for (const e of ordered)
    if (e.kind === 'undone' && e.supersedes && e.supersedes !== e.id)
      undos.set(e.supersedes, [...(undos.get(e.supersedes) ?? []), e.id])
  const found = new Map<string, boolean>()
  for (const e of ordered) {
    const open = found.has(e.id) ? [] : [{ one: e.id, rivals: [...(undos.get(e.id) ?? [])] }]
    const path = new Set([e.id])
    while (open.length) {
      const { rivals } = open.at(-1)!
      let lives: boolean | null = true
      for (let u = rivals.shift(); u; u = rivals.shift()) {
        if (path.has(u)) continue
        const seen = found.get(u)
        if (seen === undefined) {
          open.push({ one: u, rivals: [...(undos.get(u) ?? [])] })
          path.add(u)
          lives = null
          break
        }
        if (seen) {
          lives = false
          break
        }
      }
      while (lives !== null && open.length) {
        const { one } = open.pop()!
        found.set(one, lives)
        path.delete(one)
        // An undo that lives settles what it undoes; else the next one is looked at.
        lives = lives ? false : null
      }
    }
  }
  return new Set([...found].filter(([, lives]) => lives).map(([id]) => id))
}

/** Of each fact the id of what it corrects in the end, which need not have arrived. */
function roots(facts: FoldEntry[]): Map<string, string> {
  const target = new Map(facts.map((e) => [e.id, e.supersedes]))
  const root = new Map<string, string>()
  for (const start of target.keys()) {
    const path = new Map<string, number>()
    let at = start
    while (!root.has(at)) {
      path.set(at, path.size)
      const then = target.get(at)
      if (!then || then === at) root.set(at, at)
      else if (path.has(then)) root.set(at, [...path.keys()].slice(path.get(then)).sort(text)[0]!)
      else at = then
    }
    for (const one of path.keys()) root.set(one, root.get(at)!)
  }
  return root
}

function chainOf<S extends FoldStep>(steps: S[]): { main: S; during: S[] }[] {
  const chain: { main: S; during: S[] }[] = []
  for (const s of steps) {
    const last = chain.at(-1)
    if (s.during_offset_s === null || !last) chain.push({ main: s, during: [] })
    else last.during.push(s)
  }
  for (const c of chain)
    c.during.sort((a, b) => (a.during_offset_s ?? 0) - (b.during_offset_s ?? 0) || text(a.key, b.key))
  return chain
}

const runsAlone = (s: FoldStep) => s.attention !== 'hands'
const drawnOut = (s: FoldStep) =>
  (s.longest_s ?? null) !== null && (s.phase === 'prepare' || s.phase === 'wait')
const contiguous = (a: FoldStep, b: FoldStep) =>
  !drawnOut(a) && (a.phase === 'cook' || a.phase === 'load' || b.phase === 'cook' || b.phase === 'wait')

/** Preheats for a later heat: the appliance heats up empty, beside what the food does meanwhile. */
export function preheatsBeside(steps: FoldStep[]): Set<string> {
  const found = new Set<string>()
  let cooked = false
  let inside = false
  for (const { main } of chainOf(steps)) {
    if (main.phase === 'cook') cooked = inside = true
    else if (main.phase === 'load') inside = true
    else if (main.phase === 'out') inside = false
    else if (main.phase === 'come_up' && cooked && !inside) found.add(main.key)
  }
  return found
}

export function benchState(chains: FoldChain[], plan: FoldPlanned[], entries: FoldEntry[]): BenchState {
  const planned = new Map(plan.map((p) => [`${p.batch}|${p.step}`, p]))
  const standing = effective(entries)
  const runs: StepRun[] = []
  const actions: NextAction[] = []
  for (const chain of chains) {
    const mine = standing.filter((e) => e.batch === chain.batch)
    const isVoid = mine.some((e) => e.kind === 'void')
    const ended = new Map<string, number>()
    const started = new Map<string, number>()
    const extra = new Map<string, number>()
    const foreseen = new Map<string, number>()
    for (const e of mine) {
      const step = e.payload.step as string | undefined
      if (!step) continue
      if (STEP_ENDS.has(e.kind)) ended.set(step, when(e))
      if (e.kind === 'started') started.set(step, when(e))
      if (e.kind === 'extended') {
        extra.set(step, (extra.get(step) ?? 0) + Number(e.payload.seconds))
        if (foreseen.has(step)) foreseen.set(step, foreseen.get(step)! + Number(e.payload.seconds))
      } else if (e.kind === 'foreseen') foreseen.set(step, Number(e.payload.ends_at))
    }
    const mains = chainOf(chain.steps).filter((c) => c.main.phase !== 'wash_up')
    const beside = preheatsBeside(chain.steps)
    // What is done beside the food says nothing of how far the food is.
    const lastOf = (said: Map<string, number>) =>
      mains.reduce((last, c, i) => (said.has(c.main.key) && !beside.has(c.main.key) ? i : last), -1)
    const lastEnded = lastOf(ended)
    const lastBegun = lastOf(started)
    let before: FoldStep | null = null
    let hotAt: number | null = null
    let previousEnd: number | null = null
    let previousDone = true
    let asked = isVoid
    mains.forEach(({ main, during }, i) => {
      const planStart = planned.get(`${chain.batch}|${main.key}`)?.start ?? null
      const length = Math.max(1, main.duration_s + (extra.get(main.key) ?? 0))
      const knownEnd = ended.get(main.key)
      const following = mains.slice(i + 1).find((c) => !beside.has(c.main.key))?.main
      if (beside.has(main.key)) {
        const was: FoldPlanned | undefined = before ? planned.get(`${chain.batch}|${before.key}`) : undefined
        const late = was && previousEnd !== null ? Math.max(0, previousEnd - was.end) : 0
        let begins = (planStart ?? previousEnd ?? 0) + late
        if (knownEnd !== undefined) begins = Math.min(begins, knownEnd)
        begins = started.get(main.key) ?? begins
        const goneIn = Math.max(lastEnded, lastBegun) > i
        const run: StepRun = {
          batch: chain.batch,
          step: main.key,
          start: begins,
          end: knownEnd !== undefined ? Math.max(begins, knownEnd) : begins + length,
          state: knownEnd !== undefined || goneIn ? 'done' : started.has(main.key) ? 'running' : 'todo',
        }
        runs.push(run)
        if (run.state !== 'done') {
          hotAt = Math.max(hotAt ?? run.end, run.end)
          if (!isVoid && run.state === 'todo')
            actions.push({ batch: chain.batch, step: main.key, type: 'start', due: begins })
          else if (!isVoid && (!following || runsAlone(following)))
            actions.push({ batch: chain.batch, step: main.key, type: 'confirm', due: run.end })
        }
        return
      }
      if (hotAt !== null) {
        // What the food goes into has to be hot.
        previousEnd = Math.max(previousEnd ?? 0, hotAt)
        previousDone = previousDone && !runsAlone(main)
        hotAt = null
      }
      const follows = runsAlone(main) && previousDone && i > 0
      let start: number
      const said = started.get(main.key)
      if (said !== undefined) start = said
      else if (follows && previousEnd !== null) start = previousEnd
      else if (knownEnd !== undefined && !runsAlone(main)) {
        start = Math.min(
          previousEnd === null ? knownEnd - length : Math.max(previousEnd, knownEnd - length),
          knownEnd,
        )
      } else if (previousEnd !== null && before && contiguous(before, main)) start = previousEnd
      else start = Math.max(...[planStart, previousEnd].filter((x): x is number => x !== null), -Infinity)
      if (start === -Infinity) start = 0
      const begun = said !== undefined || follows
      let state: StepRun['state']
      let end: number
      if (knownEnd !== undefined) {
        state = 'done'
        end = Math.max(start, knownEnd)
      } else if (lastEnded > i) {
        state = 'done'
        end = start + length
        const followingEnd = following && ended.get(following.key)
        if (following && followingEnd !== undefined && (begun || i === 0))
          end = Math.max(start, followingEnd - (runsAlone(following) ? 0 : following.duration_s))
      } else {
        state = begun ? 'running' : 'todo'
        // What its probe foretells counts more than the first guess, until the cook says that it has ended.
        end = begun ? Math.max(start + 1, foreseen.get(main.key) ?? start + length) : start + length
      }
      const planEnd = planned.get(`${chain.batch}|${main.key}`)?.end
      // A wait that may be drawn out ends when its plan says, within its range.
      if (knownEnd === undefined && lastEnded <= i && drawnOut(main) && planEnd !== undefined)
        end = Math.max(end, Math.min(start + Math.max(main.duration_s, main.longest_s ?? 0), planEnd))
      runs.push({ batch: chain.batch, step: main.key, start, end, state })
      for (const step of during) {
        const at = start + (step.during_offset_s ?? 0)
        const done = ended.get(step.key)
        if (done !== undefined)
          runs.push({
            batch: chain.batch,
            step: step.key,
            start: done - step.duration_s,
            end: done,
            state: 'done',
          })
        else if (state === 'done')
          runs.push({ batch: chain.batch, step: step.key, start: at, end: at, state: 'todo' })
        else {
          runs.push({
            batch: chain.batch,
            step: step.key,
            start: at,
            end: at + step.duration_s,
            state: 'todo',
          })
          if (state === 'running' && !isVoid)
            actions.push({ batch: chain.batch, step: step.key, type: 'do', due: at })
        }
      }
      if (!asked && state !== 'done') {
        const followingAlone = !following || runsAlone(following)
        if (!runsAlone(main)) {
          actions.push({ batch: chain.batch, step: main.key, type: 'do', due: start })
          asked = true
        } else if (state === 'todo') {
          actions.push({ batch: chain.batch, step: main.key, type: 'start', due: start })
          asked = true
        } else if (followingAlone) {
          actions.push({ batch: chain.batch, step: main.key, type: 'confirm', due: end })
          asked = true
        }
      }
      previousEnd = end
      previousDone = state === 'done'
      before = main
    })
  }
  actions.sort((a, b) => a.due - b.due || text(a.batch, b.batch) || text(a.step, b.step))
  return { runs, actions }
}
