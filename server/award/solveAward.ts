import { Worker } from 'node:worker_threads'
import { decisionsIn, exactModel, SMALL_ENOUGH } from '#core/award/exactModel.ts'
import type { Award, AwardProblem } from '#core/award/problem.ts'
import { recheckPlan } from '#core/award/recheck.ts'
import { searchInThread } from '#server/award/searchThreads.ts'

/** How the solver of whole models ended: it was not needed, it proved its plan, there is no plan, its time was up, or it is not there or broke. */
export type ExactEnd = 'notTried' | 'optimal' | 'infeasible' | 'timeUp' | 'failed'

/** How far solving is. Costs in ten-thousandths of the problem's unit of money. */
export interface Solved {
  readonly awards: readonly Award[] | null
  readonly cost: bigint | null
  /** In the problem's unit of money; no plan is cheaper. Infinity: there is no plan. */
  readonly bound: number
  /** (cost − bound) ÷ cost; null without a plan. */
  readonly gap: number | null
  readonly seconds: number
  /** Until the first plan that was rechecked. */
  readonly firstSeconds: number | null
  readonly proved: boolean
  readonly exact: ExactEnd
  /** The search broke or was ended from outside; what it had found is kept. */
  readonly broken: boolean
}

export interface SolvingEffort {
  readonly seconds: number
  /** How far above the bound the plan may stay, as a share of its cost. */
  readonly gap: number
  readonly start?: readonly Award[]
  readonly onProgress?: (so: Solved) => void
  readonly signal?: AbortSignal
  /** Where the solver of whole models lies; another one in tests. */
  readonly exactThread?: URL
}

const TEN_THOUSAND = 10_000
/** Seconds after which the solver of whole models is tried beside the search: most small problems are proved before. */
const EXACT_AFTER = 0.5
/** Relative gap that the solver of whole models is asked for. */
const EXACT_GAP = 1e-6
const EXACT = new URL('./exactThread.mjs', import.meta.url)
/** Megabytes that its thread may take. */
const MEMORY = { maxOldGenerationSizeMb: 1024 }
/** Seconds that a thread may overrun before it is ended from outside. */
const GRACE = 1

/**
 * Solves an award problem in threads of its own, so that nothing else waits: the search, and for small problems beside it the solver of whole models.
 * What either finds counts for both; each plan is rechecked. Ends when the plan is proved as far as asked, when time is up or when it is stopped, with
 * the best so far; a thread that breaks, runs out of memory or cannot be loaded leaves what the other found.
 */
export async function solveAward(problem: AwardProblem, effort: SolvingEffort): Promise<Solved> {
  const begun = performance.now()
  const seconds = (): number => (performance.now() - begun) / 1000
  let best: { awards: readonly Award[] | null; cost: bigint | null } = { awards: null, cost: null }
  let bound = -Infinity
  let firstSeconds: number | null = null
  let exact: ExactEnd = 'notTried'
  let broken = false

  const gap = (): number | null =>
    best.cost === null ? null : Math.max(0, 1 - (bound * TEN_THOUSAND) / Number(best.cost))
  const proved = (): boolean => bound === Infinity || (best.cost !== null && gap()! <= effort.gap + 1e-12)
  const solved = (): Solved => ({
    ...best,
    bound: best.cost === null ? bound : Math.min(bound, Number(best.cost) / TEN_THOUSAND),
    gap: gap(),
    seconds: seconds(),
    firstSeconds,
    proved: proved(),
    exact,
    broken,
  })
  function offer(awards: readonly Award[] | null): void {
    if (!awards) return
    const { faults, cost } = recheckPlan(problem, awards)
    if (faults.length > 0 || (best.cost !== null && cost >= best.cost)) return
    firstSeconds ??= seconds()
    best = { awards, cost }
  }

  const threads: Worker[] = []
  const ended = new AbortController()
  const endAll = (): void => {
    ended.abort()
    search.stop()
    for (const thread of threads) void thread.terminate()
  }
  if (effort.start) offer(effort.start)

  const search = searchInThread(
    { problem, seconds: effort.seconds, gap: effort.gap, ...(effort.start ? { start: effort.start } : {}) },
    word => {
      offer(word.awards)
      bound = Math.max(bound, word.bound)
      effort.onProgress?.(solved())
    },
  )
  const searching = search.ended.then(well => {
    if (!well && !ended.signal.aborted) broken = true
  })
  const solving = decisionsIn(problem) > SMALL_ENOUGH ? Promise.resolve() : trySolver()

  async function trySolver(): Promise<void> {
    await wait(EXACT_AFTER * 1000, ended.signal)
    const left = effort.seconds - seconds()
    if (ended.signal.aborted || proved() || left <= 0) return
    const model = exactModel(problem)
    const outcome = await runExact(model.text, left)
    exact = outcome.status
    if (outcome.status === 'infeasible' && best.cost === null) bound = Infinity
    if (outcome.status !== 'optimal') return
    offer(model.read(outcome.values))
    bound = Math.max(bound, outcome.objective * model.unit * (1 - EXACT_GAP))
    effort.onProgress?.(solved())
    if (proved()) endAll()
  }
  function runExact(text: string, left: number): Promise<ExactOutcome> {
    return new Promise(resolve => {
      const thread = new Worker(effort.exactThread ?? EXACT, {
        workerData: { text, seconds: left, gap: EXACT_GAP },
        resourceLimits: MEMORY,
      })
      threads.push(thread)
      thread.on(
        'message',
        ({ status, objective, values }: { status: string; objective: number; values: Record<string, number> }) =>
          resolve({
            status: status === 'Optimal' ? 'optimal' : status === 'Infeasible' ? 'infeasible' : 'timeUp',
            objective,
            values,
          }),
      )
      thread.on('error', () => resolve(FAILED))
      thread.on('exit', () => resolve(ended.signal.aborted ? { ...FAILED, status: 'timeUp' } : FAILED))
    })
  }

  const stop = wait(
    (effort.seconds + GRACE) * 1000,
    AbortSignal.any([ended.signal, ...(effort.signal ? [effort.signal] : [])]),
  )
  // the search that ends before its time has proved its plan, unless it broke: then the other may still bring one
  const done = searching.then(async () => {
    if (!proved() && seconds() < effort.seconds) await solving
  })
  await Promise.race([stop, done])
  endAll()
  return solved()
}

interface ExactOutcome {
  readonly status: ExactEnd
  readonly objective: number
  readonly values: Readonly<Record<string, number>>
}
const FAILED: ExactOutcome = { status: 'failed', objective: 0, values: {} }

/** Waits, or until somebody says that it is over. */
const wait = (milliseconds: number, over: AbortSignal): Promise<void> =>
  new Promise(resolve => {
    if (over.aborted) return resolve()
    const timer = setTimeout(resolve, milliseconds)
    over.addEventListener('abort', () => {
      clearTimeout(timer)
      resolve()
    })
  })
