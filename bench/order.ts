import { randomUUID } from 'node:crypto'
import { ActOnAgreement, CreateAgreement, ReadAgreement, WriteAgreement } from '#contract/agreements/agreements.ts'
import { SubmitRequisition } from '#contract/request/endpoints.ts'
import {
  ApplyReturn,
  ChangeReturn,
  MakeWorkbook,
  ReadReturn,
  TakeWorkbook,
  WorkbookFile,
} from '#contract/order/workbook.ts'
import { readReturned } from '#core/order/workbookReading.ts'
import { rowDifference, WORKBOOK_FIELDS } from '#core/order/workbook.ts'
import { type Figure, figure } from '#bench/figures.ts'
import { readCells } from '#server/formats/cells.ts'
import { writeOrderWorkbook } from '#server/formats/orderWorkbook.ts'
import { runLongJob } from '#server/jobs/longJobs.ts'
import { draft, goodsLine, ordered } from '#test-helpers/steps.ts'
import type { World } from '#test-helpers/world.ts'

const LINES = 10_000
const SECONDS = 10_000
const MEGABYTES = 500

/** Making a workbook of ten thousand lines and reading it back, every row changed, to the table of differences; against ten seconds each, and so much memory. */
export async function workbookTenThousand(): Promise<Figure> {
  const values = {
    quantity: '4',
    needBy: '2027-01-01',
    promised: '',
    place: 'QUAY: Saltmere Quay',
    price: '12.5',
    buyer: 'Pilar Quenneville',
    act: '',
  }
  const lines = Array.from({ length: LINES }, (_one, at) => ({
    lineId: randomUUID(),
    order: `O-${at}`,
    position: 1,
    supplier: 'Nordhavn Pumpeverk',
    what: 'Circulation pump, 12 cubic metres an hour',
    unit: 'C62',
    currency: 'EUR',
    received: '0',
    billed: '0',
    state: 'issued',
    values: { ...values, needBy: '2027-02-03' },
    may: WORKBOOK_FIELDS,
  }))
  const before = process.memoryUsage().rss
  const start = performance.now()
  const bytes = await writeOrderWorkbook({
    id: 'w',
    lines,
    buyers: [values.buyer],
    places: [values.place],
    madeBy: '',
    madeOn: '2026-12-01',
  })
  const made = performance.now() - start
  const again = performance.now()
  const { headings, rows } = await readCells(Buffer.from(bytes), true)
  const ids = new Set(lines.map(line => line.lineId))
  const returned = readReturned([headings, ...rows], 'w', {
    lineIds: ids,
    buyers: [values.buyer],
    places: [values.place],
    today: '2026-12-01',
  })
  const changed = returned.filter(row => rowDifference({ lineId: row.lineId!, orderId: '', values, may: WORKBOOK_FIELDS }, row, values).state === 'ready') // prettier-ignore
  const read = performance.now() - again
  const memory = Math.round((process.memoryUsage().rss - before) / 1e6)
  const one = figure('order.workbook-10k', Math.max(made, read), SECONDS, 1)
  return {
    ...one,
    ok: one.ok && memory <= MEGABYTES && changed.length === LINES,
    note: `made in ${Math.round(made)} ms, read to ${changed.length} differences in ${Math.round(read)} ms, ${memory} MB more`,
  }
}

const DRAFTS = 50

/** An agreement with a ceiling that forty pieces use up, and fifty drafts that each call one off. */
async function tightAgreement(world: World): Promise<{ id: string; drafts: { id: string; version: number }[] }> {
  const offered = await goodsLine(world, 'CP-1200', '1')
  const rasmus = await world.as('Rasmus')
  const { id } = await rasmus.do(CreateAgreement, { body: { supplierId: offered.supplierId!, title: 'Contention', fromOffers: false } }) // prettier-ignore
  const sheet = await rasmus.do(ReadAgreement, { params: { id } })
  const line = { id: randomUUID(), itemId: offered.itemId, description: 'Pump', category: 'Pumps', unit: offered.unit, currency: offered.currency, pricing: { kind: 'tiers' as const, tiers: [{ from: '0', price: '10' }] }, priceBase: '1', listPrice: '', minimum: '1', multiple: '0', leadTimeDays: 3, incoterm: '', incotermPlace: '' } // prettier-ignore
  const content = { ...sheet.content, currency: offered.currency, lines: [line], ceilings: [{ scope: 'whole' as const, category: '', lineId: null, amount: '400', quantity: '' }] } // prettier-ignore
  const { version } = await rasmus.do(WriteAgreement, { params: { id }, body: { version: sheet.version, content } })
  await rasmus.do(ActOnAgreement, { params: { id }, body: { version, act: 'putForward', reason: '' } })
  const offer = (await world.db('offers').where({ agreementLineId: line.id }).first('id')) as { id: string }
  const asked = await goodsLine(world, 'CP-1200', '1', { offerId: offer.id, routes: ['callOff'] })
  return { id, drafts: await Promise.all(Array.from({ length: DRAFTS }, () => draft(world, [asked], 'Contention'))) }
}

/** Fifty people call off at the same moment what is left of a ceiling for forty of them: none is overdrawn. Against the same one after another at an agreement of its own. */
export async function agreementContention(world: World): Promise<Figure> {
  const [tight, calm] = [await tightAgreement(world), await tightAgreement(world)]
  const joren = await world.as('Joren')
  const submit = (one: { id: string; version: number }) =>
    joren.call(SubmitRequisition, { params: { id: one.id }, body: { version: one.version, checkReason: 'Bench.' } })
  const again = performance.now()
  let inTurn = 0
  for (const one of calm.drafts) if ((await submit(one)).status === 200) inTurn++
  const baseline = performance.now() - again
  const start = performance.now()
  const answers = await Promise.all(tight.drafts.map(submit))
  const ours = performance.now() - start
  const taken = answers.filter(answer => answer.status === 200).length
  const { consumed } = await (await world.as('Rasmus')).do(ReadAgreement, { params: { id: tight.id } })
  const one = figure('order.agreement-contention', ours, baseline, 2)
  const right = taken === 40 && inTurn === 40 && consumed === '400.00'
  return { ...one, ok: one.ok && right, note: `${taken} of ${DRAFTS} went through, ${consumed} of 400 called off` }
}

/** Changing lines of orders through a workbook against the plain inserts and updates that it comes to, one statement a row. */
export async function applyThousand(world: World, _runs: number, small: boolean): Promise<Figure> {
  const orders = small ? 10 : 200
  const made = []
  for (let at = 0; at < orders; at++)
    made.push(await ordered(world, await Promise.all(['PS-1200', 'PS-1220', 'PS-1240', 'PS-1260', 'CP-1220'].map(number => goodsLine(world, number, '3'))))) // prettier-ignore
  const pilar = await world.as('Pilar')
  const { id: workbookId } = await pilar.do(MakeWorkbook, { body: { orderIds: made.map(one => one.id) } })
  const bytes = await pilar.bytes(WorkbookFile, { id: workbookId }, {})
  const { body } = await pilar.upload('orders.xlsx', bytes)
  const { id } = await pilar.do(TakeWorkbook, { body: { fileId: body.id } })
  const { version, rows } = await pilar.do(ReadReturn, { params: { id } })
  await pilar.do(ChangeReturn, { params: { id }, body: { version, rows: rows.map(row => ({ row: row.row, values: { quantity: '2' } })) } }) // prettier-ignore
  const { jobId } = await pilar.do(ApplyReturn, { params: { id }, body: { version: version + 1, reason: 'Bench.' } })
  const start = performance.now()
  await runLongJob(world.jobs, jobId)
  const ours = performance.now() - start
  const actor = (await world.db('people').where({ name: 'Pilar Quenneville' }).first('id')) as { id: string }
  const lineIds = made.flatMap(one => one.lines.map(line => line.id))
  const again = performance.now()
  await world.db
    .transaction(async trx => {
      for (const lineId of lineIds) {
        await trx('orderLines').where({ id: lineId }).update({ quantity: '2' })
        // ordered less on the line and on its request, reserved again, committed less, confirmed taken back
        for (let entry = 0; entry < 3; entry++)
          await trx('quantityEntries').insert({ lineId, kind: 'ordered', quantity: '1', at: new Date().toISOString(), actorId: actor.id, documentKind: 'bench', documentId: lineId }) // prettier-ignore
        for (let entry = 0; entry < 2; entry++)
          await trx('budgetEntries').insert({ accountId: (await trx('budgetAccounts').first<{ id: string }>('id'))!.id, kind: 'accrued', amount: 1n, lineId, at: new Date().toISOString(), actorId: actor.id, documentKind: 'bench', documentId: lineId }) // prettier-ignore
      }
      throw new Error('undone')
    })
    .catch((error: unknown) => {
      if ((error as Error).message !== 'undone') throw error
    })
  const baseline = performance.now() - again
  const { outcome } = await pilar.do(ReadReturn, { params: { id } })
  const one = figure('order.apply-1k', ours, baseline, 6)
  return { ...one, ok: one.ok && outcome?.lines === lineIds.length, note: `${outcome?.lines ?? 0} lines of ${orders} orders, ${outcome?.mails ?? 0} mails` } // prettier-ignore
}
