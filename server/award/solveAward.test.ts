import { expect } from 'chai'
import { awardInstance } from '#bench/awardInstances.ts'
import { problemOfInstance } from '#core/award/instanceFile.ts'
import type { AwardProblem } from '#core/award/problem.ts'
import { recheckPlan } from '#core/award/recheck.ts'
import { solveAward } from '#server/award/solveAward.ts'

const GAP = 0.0001
/** One whose search alone does not prove it quickly; the solver of whole models does. */
const HARD = problemOfInstance(awardInstance('small', 3))

describe('solving an award', function () {
  this.timeout(60_000)

  it('proves small problems, and every plan is rechecked', async () => {
    const problem = problemOfInstance(awardInstance('small', 1))
    const { awards, cost, gap, proved, firstSeconds, seconds } = await solveAward(problem, { seconds: 20, gap: GAP })
    expect(recheckPlan(problem, awards!)).to.deep.include({ faults: [], cost })
    expect(proved).to.equal(true)
    expect(gap).to.be.within(0, GAP)
    expect(firstSeconds!).to.be.at.most(seconds)
  })

  it('takes the proof of the solver of whole models where the search has none', async () => {
    const { exact, proved, cost } = await solveAward(HARD, { seconds: 30, gap: 1e-5 })
    expect([exact, proved, cost]).to.deep.equal(['optimal', true, 258_786_645_160n])
  })

  it('keeps the plan of the search, and says so, where the solver is missing, breaks or is killed', async () => {
    for (const [code, end] of [
      ['throw new Error("no WASM here")', 'failed'],
      ['process.exit(9)', 'failed'],
      [
        'import { parentPort } from "node:worker_threads"; parentPort.postMessage({ status: "Time limit reached", objective: 0, values: {} })',
        'timeUp',
      ],
    ] as const) {
      // prettier-ignore
      const exactThread = new URL(`data:text/javascript,${encodeURIComponent(code)}`)
      const { exact, awards, broken } = await solveAward(HARD, { seconds: 4, gap: 0, exactThread })
      expect([exact, broken], code).to.deep.equal([end, false])
      expect(recheckPlan(HARD, awards!).faults, code).to.deep.equal([])
    }
    const missing = new URL('./noSuchThread.mjs', import.meta.url)
    expect((await solveAward(HARD, { seconds: 3, gap: 0, exactThread: missing })).exact).to.equal('failed')
  })

  it('stops when asked, with the best so far', async () => {
    const problem = problemOfInstance(awardInstance('large', 1))
    const ended = new AbortController()
    const solving = solveAward(problem, { seconds: 50, gap: 0, signal: ended.signal, onProgress: so => { if (so.awards) ended.abort() } }) // prettier-ignore
    const { awards, seconds, proved, bound } = await solving
    expect(seconds).to.be.lessThan(20)
    expect([recheckPlan(problem, awards!).faults, proved]).to.deep.equal([[], false])
    expect(bound).to.be.greaterThan(0)
  })

  it('says that there is no plan where limits contradict each other', async () => {
    const problem: AwardProblem = { ...HARD, spendRules: [{ suppliers: [0], leastShare: 6000 }, { suppliers: [0], mostShare: 5000 }] } // prettier-ignore
    const { awards, bound, proved } = await solveAward(problem, { seconds: 20, gap: GAP })
    expect([awards, bound, proved]).to.deep.equal([null, Infinity, true])
  })

  it('begins with a plan that is known', async () => {
    const known = await solveAward(HARD, { seconds: 20, gap: GAP })
    const again = await solveAward(HARD, { seconds: 20, gap: GAP, start: known.awards! })
    expect(again.cost! <= known.cost!).to.equal(true)
    expect((await solveAward(HARD, { seconds: 20, gap: GAP, start: [] })).cost).to.not.equal(null)
  })
})
