import { z } from 'zod'
import { compilePlan, minorOf } from '#core/award/compilePlan.ts'
import { computePlan, type Solve, stepsOf } from '#core/award/computePlan.ts'
import { formatAmount } from '#core/money/amount.ts'
import { minorDigits } from '#core/money/currency.ts'
import { found } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import type { LongWork } from '#server/jobs/longJobs.ts'
import { documentTopic, tell } from '#server/news/tell.ts'
import { type Solved, solveAward } from '#server/award/solveAward.ts'

const Params = z.strictObject({ runId: z.uuid() })
/** Seconds for the plan that everything hangs on, and for each of those beside it. */
const MAIN_SECONDS = 60
const BESIDE_SECONDS = 6
/** How far above the cheapest possible a plan may stay before no more time is given to it. */
const GAP = 0.0001
/** Milliseconds between two looks whether somebody wants it to end. */
const LOOK_EVERY = 400

/** Computes an award plan from what its run was made of. A run that dies begins again; one that is stopped keeps the best that it has. */
export const computeAwardPlan: LongWork = async (call, params, progress, stopped) => {
  const { runId } = Params.parse(params)
  const { facts, wishes, eventId } = found(await call.trx('awardPlanRuns').where({ id: runId }).first(), 'plan')
  const begun = Date.now()
  const ended = new AbortController()
  // where the database is away for a moment, the next look or word comes soon
  const away = (): void => undefined
  const looking = setInterval(() => void stopped().then(asked => asked && ended.abort(), away), LOOK_EVERY)
  const total = stepsOf(facts, wishes)
  const { perMoney } = compilePlan(facts, wishes)
  let done = 0
  const soFar = (so: Solved) => ({
    cost:
      so.cost === null ? null : formatAmount(minorOf(so.cost, perMoney, minorDigits(facts.currency)), facts.currency),
    gap: so.gap === null ? null : (so.gap * 100).toFixed(3),
    seconds: (Date.now() - begun) / 1000,
  })
  const solve: Solve = async (problem, effort, start) => {
    const main = effort === 'main'
    const solved = await solveAward(problem, {
      seconds: main ? MAIN_SECONDS : BESIDE_SECONDS,
      gap: GAP,
      signal: ended.signal,
      ...(start ? { start } : {}),
      ...(main ? { onProgress: so => void progress(done, total, soFar(so)).catch(away) } : {}),
    })
    return { awards: solved.awards, bound: solved.bound }
  }
  try {
    const outcome = await computePlan(facts, wishes, solve, () => ended.signal.aborted, async () => {
      done = Math.min(total - 1, done + 1)
      await progress(done, total)
    }) // prettier-ignore
    return async write => {
      await write
        .trx('awardPlanRuns')
        .where({ id: runId })
        .update({ outcome: json(outcome) as never, seconds: ((Date.now() - begun) / 1000).toFixed(3) })
      await tell(write, [documentTopic(eventId)])
      return { runId }
    }
  } finally {
    clearInterval(looking)
  }
}
