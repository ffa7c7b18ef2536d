import { parentPort, workerData } from 'node:worker_threads'
import type { Award, AwardProblem } from '#core/award/problem.ts'
import { searchAward, type SearchState } from '#core/award/searchAward.ts'

/** What the thread is told. */
export interface SearchTask {
  readonly problem: AwardProblem
  readonly seconds: number
  readonly gap: number
  readonly start?: readonly Award[]
}

/** Milliseconds between words about how far it is; a better plan is told at once. */
const EVERY = 150
const { problem, seconds, gap, start } = workerData as SearchTask
const until = performance.now() + seconds * 1000
const search = searchAward(problem, { now: () => performance.now(), until, gap, start })
let told = -EVERY
let cost: bigint | null = null
for (;;) {
  const { value, done } = search.next()
  const now = performance.now()
  if (done || value.cost !== cost || now - told >= EVERY) {
    parentPort!.postMessage({ ...value, ended: done } satisfies SearchState & { ended: boolean | undefined })
    told = now
    cost = value.cost
  }
  if (done) break
}
