import type { ResponseOf } from '#contract/endpoint.ts'
import type { PoolLine } from '#contract/order/pool.ts'
import { toOrder } from '#core/ledger/quantity.ts'
import { formatAmount } from '#core/money/amount.ts'
import { earliestDelivery, tierAt } from '#core/request/offer.ts'
import { note } from '#core/reasons.ts'
import { found, type Read } from '#server/call.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import { factsOf, lineContext } from '#server/request/lineStore.ts'
import type { OfferRow } from '#server/request/offerStore.ts'
import { withSplits } from '#server/request/requisitionStore.ts'

/** One line of the pool with what a buyer needs to decide about it. */
export async function readPoolLine(call: Read, id: string): Promise<ResponseOf<typeof PoolLine>> {
  const row = found(await call.trx('requisitionLines').where({ id }).first(), 'requisitionLine')
  const [line] = await withSplits(call, [row])
  const requisition = found(
    await call.trx('requisitions').where({ id: row.requisitionId }).first('version', 'reason'),
    'requisition',
  )
  const question = await call
    .trx('requestQuestions')
    .where({ lineId: id })
    .orderBy('askedAt', 'desc')
    .first('question', 'answer')
  const offers = row.itemId
    ? await call
        .trx('offers')
        .join('suppliers', 'suppliers.id', 'offers.supplierId')
        .where({ itemId: row.itemId, unit: row.unit })
        .where('suppliers.state', 'active')
        .whereRaw('(valid_to is null or valid_to >= ?)', [call.today])
        .orderByRaw("(agreement = ''), (tiers -> 0 ->> 'price')::numeric")
        .select<(OfferRow & { supplier: string })[]>('offers.*', 'suppliers.name as supplier')
    : []
  const calendar = await teamCalendar(call)
  const sums = await quantitySums(call, [id])
  const facts = factsOf(await lineContext(call, [line!]), line!)
  return {
    id,
    version: requisition.version,
    description: row.description,
    open: toOrder(sums(id)),
    unit: row.unit,
    routes: facts.routes,
    routeReason: row.routeReason,
    reason: requisition.reason,
    question: question?.question ?? null,
    answer: question?.answer ?? null,
    offers: offers.map(offer => ({
      id: offer.id,
      supplier: offer.supplier,
      agreement: offer.agreement,
      price: tierAt(offer.tiers, row.quantity).price,
      currency: offer.currency,
      unit: offer.unit,
      earliest: earliestDelivery(call.today, offer.leadTimeDays, calendar),
    })),
    reasons: reasonsJson(
      facts.offerNow?.now
        ? [
            note('pool.offerChanged', {
              kept: facts.offerNow.kept,
              now: facts.offerNow.now,
              amount: formatAmount(row.amount, row.currency),
            }),
          ]
        : [],
    ),
  }
}
