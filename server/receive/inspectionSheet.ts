import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadInspection } from '#contract/receive/inspections.ts'
import { needsRight } from '#core/acts/actor.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { tidy } from '#core/money/decimal.ts'
import { INSPECTION_STATES, type InspectionState, verdict } from '#core/receive/inspection.ts'
import { notNow } from '#core/states.ts'
import { found, type Read } from '#server/call.ts'
import { reasonsJson, sheetParts } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { knownOrder } from '#server/order/orderStore.ts'
import { inspectionFacts } from '#server/receive/inspectionStore.ts'
import { threadOf } from '#server/thread/thread.ts'

export const INSPECTION_TONES = {
  waiting: 'attention',
  passed: 'settled',
  passedInPart: 'attention',
  rejected: 'stop',
  ended: 'plain',
} as const satisfies Readonly<Record<InspectionState, string>>

/** Goods that wait for their inspection: what is looked at, how many of them, and what was found. */
export async function readInspection(call: Read, id: string): Promise<ResponseOf<typeof ReadInspection>> {
  await needVisible(call, 'inspection', id)
  const row = found(await call.trx('inspections').where({ id }).first(), 'inspection')
  const order = await knownOrder(call, row.orderId)
  const part = found(await call.trx('receiptLines').where({ id: row.receiptLineId }).first(), 'receipt')
  const receipt = found(await call.trx('receipts').where({ id: row.receiptId }).first('number', 'placeId'), 'receipt')
  const place = await call.trx('addresses').where({ id: receipt.placeId }).first('name')
  const by = row.byId ? await call.trx('people').where({ id: row.byId }).first('name') : undefined
  const facts = inspectionFacts(row, part)
  const line = order.lines.find(one => one.id === row.orderLineId)!
  return {
    kind: 'inspection',
    id,
    number: row.number,
    title: row.title,
    state: row.state,
    version: row.version,
    ...(await sheetParts(call, 'inspection', id)),
    thread: await threadOf(call, { orderIds: [order.id] }),
    budgets: [],
    steps: [],
    sentence: {
      code: `inspection.is.${row.state}`,
      details: {
        sample: row.plan.sample,
        most: row.plan.acceptUpTo,
        taken: tidy(row.accepted),
        rejected: tidy(row.rejected),
      },
    },
    tone: INSPECTION_TONES[row.state],
    actions: [],
    orderId: order.id,
    order: order.number,
    supplier: order.supplier,
    position: line.position,
    unit: line.unit,
    receipt: receipt.number,
    place: place?.name ?? '',
    detail: [part.bin, part.batch, ...part.serials].filter(Boolean).join(', '),
    left: facts.left,
    plan: row.plan,
    characteristics: [...row.characteristics],
    billsWait: part.billsWait,
    finding: {
      looked: row.looked,
      readings: row.readings.map(one => ({ ...one })),
      accepted: tidy(row.accepted),
      deducted: tidy(row.deducted),
      deductPercent: tidy(row.deductPercent),
      rejected: tidy(row.rejected),
      reason: row.reason,
    },
    failed: verdict(facts, row.readings).failed,
    debitNumber: row.debitNumber,
    debitNet: formatAmount(minor(row.debitNet), order.currency),
    currency: order.currency,
    by: by?.name ?? null,
    mayConclude: reasonsJson([
      ...notNow(INSPECTION_STATES, 'inspection', row.state, 'pass'),
      ...needsRight(call.actor, 'delivery.receive'),
    ]),
  }
}
