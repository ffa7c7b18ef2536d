import { parentPort } from 'node:worker_threads'
import type { Award, AwardProblem } from '#core/award/problem.ts'
import { searchAward, type SearchState } from '#core/award/searchAward.ts'

/** What the thread is told. */
export interface SearchTask {
  readonly problem: AwardProblem
  readonly seconds: number
  readonly gap: number
  readonly start?: readonly Award[]
}
/** What it tells: how far it is, and whether that was the last word about the task. */
export type SearchWord = SearchState & { readonly ended: boolean }

/** Milliseconds between words about how far it is; a better plan is told at once. */
const EVERY = 150

function search({ problem, seconds, gap, start }: SearchTask): void {
  const until = performance.now() + seconds * 1000
  const searching = searchAward(problem, { now: () => performance.now(), until, gap, ...(start ? { start } : {}) })
  let told = -EVERY
  let cost: bigint | null = null
  for (;;) {
    const { value, done } = searching.next()
    const now = performance.now()
    if (done || value.cost !== cost || now - told >= EVERY) {
      parentPort!.postMessage({ ...value, ended: done ?? false } satisfies SearchWord)
      told = now
      cost = value.cost
    }
    if (done) break
  }
}

parentPort!.on('message', search)
