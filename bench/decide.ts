import { ReadMyDecisions } from '#contract/decide/endpoints.ts'
import { ActTogether } from '#contract/documents/together.ts'
import { SubmitRequisition } from '#contract/request/endpoints.ts'
import { type Figure, figure, median } from '#bench/figures.ts'
import { account, draft, goodsLine } from '#test-helpers/steps.ts'
import type { World } from '#test-helpers/world.ts'

/** Requests that wait for one person, how many of them are approved at once, and how many are submitted beside each other. */
const MANY = { waiting: 2_000, together: 500, beside: 4 } as const
const FEW = { waiting: 60, together: 30, beside: 4 } as const
/** Milliseconds in which the first page has to be there, and that each approval may take. */
const PAGE = 300
const EACH = 60

let asked: Promise<string[]> | undefined

/** Requests that wait for Marit, submitted through the API; made once for both figures. */
const waitingForMarit = (world: World, small: boolean): Promise<string[]> =>
  (asked ??= submitMany(world, small ? FEW : MANY))

async function submitMany(world: World, { waiting, beside }: { waiting: number; beside: number }): Promise<string[]> {
  await world
    .db('budgetAccounts')
    .where({ id: await account(world, 'LS-210', '6210') })
    .update({ checkLevel: 'off' })
  const line = await goodsLine(world, 'PS-1200', '1')
  const joren = await world.as('Joren')
  const ids: string[] = []
  const one = async (): Promise<void> => {
    while (ids.length < waiting) {
      const title = `Bench ${ids.length}`
      ids.push('')
      const { id, version } = await draft(world, [line], title)
      await joren.do(SubmitRequisition, { params: { id }, body: { version, checkReason: 'Bench.' } })
      ids[Number(title.slice(6))] = id
    }
  }
  await Promise.all(Array.from({ length: beside }, one))
  return ids
}

/** The first page of what one person decides where thousands wait for them, against 300 milliseconds. */
export async function myDecisions(world: World, runs: number, small: boolean): Promise<Figure> {
  await waitingForMarit(world, small)
  const marit = await world.as('Marit')
  const read = (from: number) => marit.do(ReadMyDecisions, { query: { part: 'mine', from } })
  const { counts } = await read(0)
  const ours = await median(runs, () => read(0), 3)
  const last = await median(runs, () => read(Math.max(0, counts.mine - 60)), 3)
  return { ...figure('decide.mine', ours, PAGE, 1), note: `${counts.mine} wait; the last page ${last.toFixed(0)} ms` }
}

/** Many requests approved in one press, each for itself and in the books, against 60 milliseconds each. */
export async function approveTogether(world: World, _runs: number, small: boolean): Promise<Figure> {
  const ids = (await waitingForMarit(world, small)).slice(0, (small ? FEW : MANY).together)
  const marit = await world.as('Marit')
  const start = performance.now()
  const { rows } = await marit.do(ActTogether, { body: { kind: 'requisition', act: 'approve', ids, reason: '' } })
  const ours = performance.now() - start
  const done = rows.filter(row => row.done).length
  const one = figure('decide.approve-together', ours, EACH * ids.length, 1)
  return { ...one, ok: one.ok && done === ids.length, note: `${done} of ${ids.length} approved` }
}
