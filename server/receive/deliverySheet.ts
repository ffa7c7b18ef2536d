import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadDelivery } from '#contract/receive/endpoints.ts'
import {
  INCOMPLETE,
  isLate,
  lastPromise,
  nextPromised,
  nextWanted,
  proven,
  receiveExtent,
  toReceive,
} from '#core/order/measures.ts'
import { promisedOf } from '#core/order/revision.ts'
import { followed } from '#core/order/schedule.ts'
import { whyNotOpen, whyNotProve } from '#core/order/proving.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { deliveryActions } from '#core/receive/actions.ts'
import { whyNotReverse } from '#core/receive/reverseReceipt.ts'
import { isIn } from '#core/states.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { lineWords, seesFee } from '#core/request/personalFee.ts'
import { may, type Read } from '#server/call.ts'
import { actionsJson, pathOf, sheetParts } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { gauge } from '#server/ledger/quantityStore.ts'
import { knownOrder, type KnownOrder, linesBeside } from '#server/order/orderStore.ts'
import { receiptFacts, receiptsOf } from '#server/receive/receiptStore.ts'
import { threadOf } from '#server/thread/thread.ts'

/** An order as those see it who receive it: buyers and receivers all of them, others what they asked for. */
export async function readDelivery(call: Read, id: string): Promise<ResponseOf<typeof ReadDelivery>> {
  await needVisible(call, 'delivery', id)
  const order = await knownOrder(call, id)
  if (order.state === 'draft') throw new RuleBroken(stop('document.notFound', { kind: 'order' }))
  const parts = await sheetParts(call, 'delivery', id)
  const thread = await threadOf(call, { orderIds: [id] })
  const beside = await linesBeside(call, id)
  const receipts = await receiptsOf(call, id)
  const facts = await receiptFacts(
    call,
    receipts.map(receipt => receipt.id),
  )
  const places = await call.trx('addresses').where({ open: true }).orderBy('name').select('id', 'name', 'dock')
  const open = whyNotOpen(order).length === 0
  return {
    kind: 'delivery',
    id,
    number: order.number,
    title: order.title,
    state: order.state,
    version: order.row.version,
    ...parts,
    thread,
    budgets: [],
    steps: [],
    ...statusOf(call, order),
    actions: actionsJson(deliveryActions(order, call.actor)),
    supplier: order.supplier,
    orderPath: may(call, 'order.read') ? pathOf('order', id) : null,
    places: places.map(place => ({ id: place.id, label: `${place.name}, ${place.dock}` })),
    usualPlaceId: order.rows.find(line => line.addressId)?.addressId ?? places[0]?.id ?? null,
    today: call.today,
    lines: order.lines.map((line, index) => ({
      id: line.id,
      position: line.position,
      kind: line.kind,
      description: lineWords(line, seesFee(call.actor, line.requesterId)),
      itemNumber: beside.get(line.id)?.itemNumber ?? null,
      unit: line.unit,
      ordered: line.quantity,
      done: proven(line),
      open: toReceive(line),
      proof: line.proof,
      instalments: (order.rows[index]!.details.instalments ?? []).map(({ title, amount, due }) => ({
        title,
        amount,
        due,
      })),
      // what is missing is expected next, once nothing is what it was needed for
      needBy: nextWanted(line) ?? line.needBy,
      promisedDate: nextPromised(line) ?? line.promisedDate,
      schedule: followed(line.schedule, promisedOf(line), proven(line)),
      address: beside.get(line.id)?.address ?? null,
      mayProve: open && whyNotProve(line, call.actor).length === 0,
      gauge: gauge(line, line.quantity, line.sums),
    })),
    receipts: receipts.map(({ byId: _by, ...receipt }) => ({
      ...receipt,
      mayReverse: whyNotReverse(facts.get(receipt.id)!, order, call.actor).length === 0,
    })),
  }
}

function statusOf(call: Read, order: KnownOrder): Pick<ResponseOf<typeof ReadDelivery>, 'sentence' | 'tone'> {
  const extent = receiveExtent(order.lines)
  const late = isLate({ ...order, receiveExtent: extent }, call.today)
  const live = isIn(ORDER_GROUPS.live, order.state)
  return {
    sentence: {
      code: live ? `delivery.is.${late ? 'late' : extent}` : `order.is.${order.state}`,
      details: {
        supplier: order.supplier,
        needBy: order.needBy ?? '',
        promised: lastPromise(order, order.lines),
        at: order.row.changedAt,
      },
    },
    tone: late ? 'stop' : isIn(INCOMPLETE, extent) ? 'plain' : 'settled',
  }
}
