import type { ResponseOf } from '#contract/endpoint.ts'
import type { PreviewAmendment } from '#contract/agreements/agreements.ts'
import type { AgreementContent } from '#core/agreements/content.ts'
import { priceOn } from '#core/agreements/prices.ts'
import { proposed } from '#core/agreements/write.ts'
import { sameDecimal } from '#core/money/decimal.ts'
import { isStarted } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { RuleBroken } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'
import { type Read, type Write, writing } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { needVisible } from '#server/documents/visible.ts'
import { type KnownAgreement, knownAgreement } from '#server/agreements/agreementStore.ts'
import { orderHands } from '#server/agreements/orderHands.ts'
import { indexValues, indicesOf } from '#server/ledger/agreedTermsStore.ts'
import { knownOrders, type KnownOrder } from '#server/order/orderStore.ts'

interface OtherPrice {
  readonly order: KnownOrder
  readonly lineId: string
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly before: string
  readonly after: string
}

/** Lines of open orders of which nothing has come in and whose price would be another by what an agreement would say. */
async function otherPrices(call: Read, agreement: KnownAgreement, content: AgreementContent): Promise<OtherPrice[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select distinct o.id from order_lines l join orders o on o.id = l.order_id join agreement_lines al on al.id = l.agreement_line_id
     where al.agreement_id = ? and o.state = any(?) order by o.id`,
    [agreement.id, ['draft', ...ORDER_GROUPS.live]],
  )
  const orders = await knownOrders(
    call,
    rows.map(row => row.id),
  )
  const lines = new Map(content.lines.map(line => [line.id, line]))
  const values = await indexValues(call, indicesOf(content.lines))
  return [...orders.values()].flatMap(order =>
    order.rows.flatMap((row, at) => {
      const agreed = lines.get(row.agreementLineId ?? '')
      const facts = order.lines[at]!
      if (!agreed || isStarted(facts) || agreed.currency !== order.currency || agreed.priceBase !== row.priceBase)
        return []
      const after = priceOn(agreed, row.quantity, values, call.today)
      return sameDecimal(after, row.price)
        ? []
        : [
            {
              order,
              lineId: row.id,
              description: row.description,
              quantity: row.quantity,
              unit: row.unit,
              before: row.price,
              after,
            },
          ]
    }),
  )
}

/** What an amendment would change for open orders. */
export async function previewAmendment(call: Read, id: string): Promise<ResponseOf<typeof PreviewAmendment>> {
  await needVisible(call, 'agreement', id)
  const agreement = await knownAgreement(call, id)
  const others = await otherPrices(call, agreement, proposed(agreement))
  return {
    orders: others.map(one => ({
      number: one.order.number,
      state: one.order.state,
      line: one.description,
      quantity: one.quantity,
      unit: one.unit,
      currency: one.order.currency,
      before: one.before,
      after: one.after,
    })),
  }
}

/** Open orders take the prices of an amendment, as it was asked for; one that may not is left as it is and named. */
export async function followAmendment(call: Write, before: KnownAgreement, content: AgreementContent): Promise<void> {
  const { openOrders } = before.row
  if (before.revision === 0 || before.state === 'windingDown' || openOrders === 'keep') return
  const others = await otherPrices(call, before, content)
  const wanted = new Map<string, Map<string, string>>()
  for (const { order, lineId, after } of others)
    if (order.state === 'draft' || (openOrders === 'all' && isIn(ORDER_GROUPS.live, order.state)))
      wanted.set(order.id, (wanted.get(order.id) ?? new Map<string, string>()).set(lineId, after))
  const numbers = new Map(others.map(({ order }) => [order.id, order.number]))
  const [changed, refused]: [string[], string[]] = [[], []]
  for (const [id, prices] of [...wanted].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const done = await tried(call, trx =>
      orderHands().reprice(writing(trx, call), id, prices, `Agreement ${before.number} was amended.`),
    )
    ;(done ? changed : refused).push(numbers.get(id)!)
  }
  await record(call, { kind: 'agreement', id: before.id, action: 'ordersRepriced', changes: { changed, refused } })
}

async function tried(call: Write, work: (trx: Write['trx']) => Promise<unknown>): Promise<boolean> {
  try {
    await call.trx.transaction(work)
    return true
  } catch (error) {
    if (error instanceof RuleBroken) return false
    throw error
  }
}
