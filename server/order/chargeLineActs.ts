import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { ChargeAsLine } from '#contract/order/endpoints.ts'
import { chargeAsLine } from '#core/order/chargeLine.ts'
import type { ChargeKind } from '#core/order/charges.ts'
import type { OrderLine } from '#core/order/facts.ts'
import type { Done, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { obey } from '#server/documents/obey.ts'
import { insertSplits } from '#server/ledger/splitStore.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOrder } from '#server/order/orderStore.ts'

/** What a line of a charge is called where the charge has no words of its own. */
const CALLED = { freight: 'Freight', packing: 'Packing', insurance: 'Insurance', handling: 'Handling', other: 'Charge', discount: 'Discount' } as const satisfies Record<ChargeKind, string> // prettier-ignore

/** Gives a charge of a draft a line of its own. */
export async function giveChargeLine(call: Write, id: string, body: BodyOf<typeof ChargeAsLine>): Promise<Done> {
  const order = await heldOrder(call, id, body.version)
  const called = CALLED[order.chargeItems[body.at]?.kind ?? 'other']
  const decision = chargeAsLine(order, body.at, randomUUID(), called, call.actor)
  await insertLine(call, id, obey(decision).next.line)
  return await carryOut(call, order, decision)
}

async function insertLine(call: Write, orderId: string, line: OrderLine): Promise<void> {
  const { id, position, kind, charge, description, quantity, unit, price, priceBase, amount, baseAmount, proof, overReceiptPercent } = line // prettier-ignore
  await call.trx('orderLines').insert({
    id,
    orderId,
    position,
    kind,
    description,
    quantity,
    unit,
    price,
    priceBase,
    amount,
    baseAmount,
    proof,
    overReceiptPercent,
    details: json({ charge }),
  })
  await insertSplits(call, 'orderLineId', [line])
}
