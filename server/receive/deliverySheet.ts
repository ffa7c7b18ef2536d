import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadDelivery } from '#contract/receive/endpoints.ts'
import { NO_QUANTITIES } from '#core/ledger/quantity.ts'
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
import { type Consent, whyNotDecide, whyNotWithdraw } from '#core/consent/consent.ts'
import { type CountedLine, countableUnits } from '#core/receive/facts.ts'
import type { ReceivingTerms } from '#core/receive/terms.ts'
import { may, type Read } from '#server/call.ts'
import { consentsById } from '#server/consent/consentStore.ts'
import { someIds } from '#server/database/rows.ts'
import { actionsJson, pathOf, sheetParts } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { gauge } from '#server/ledger/quantityStore.ts'
import { knownOrder, type KnownOrder, linesBeside } from '#server/order/orderStore.ts'
import { type ReceiptLineRow, receiptFacts, receiptsOf } from '#server/receive/receiptStore.ts'
import { namedPieces } from '#server/receive/assetStore.ts'
import { inspectionsOfParts } from '#server/receive/inspectionStore.ts'
import { announcedOf, despatchesJson } from '#server/receive/despatchStore.ts'
import { countedLines, lineCodes, receivesFrom } from '#server/receive/receivingStore.ts'
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
  const counted = await countedLines(
    call,
    order.lines.map(line => line.id),
  )
  const codes = await lineCodes(call, id)
  const counts = receipts.flatMap(receipt => receipt.parts)
  const pieces = await namedPieces(call, counts)
  const inspections = await inspectionsOfParts(call, counts)
  const asked = await consentsById(call, someIds(receipts.map(receipt => receipt.consentId)))
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
    openFrom: await receivesFrom(call),
    lines: order.lines.map((line, index) => ({
      id: line.id,
      position: line.position,
      kind: line.kind,
      description: lineWords(line, seesFee(call.actor, line.requesterId)),
      itemNumber: beside.get(line.id)?.itemNumber ?? null,
      codes: codes.get(line.id) ?? [],
      itemId: order.rows[index]!.itemId,
      unit: line.unit,
      units: countableUnits(line.unit, counted.get(line.id)!),
      ...(hidden(call, counted.get(line.id)!)
        ? { ordered: null, done: null, open: null }
        : { ordered: line.quantity, done: proven(line), open: toReceive(line) }),
      terms: termsJson(counted.get(line.id)!.terms.terms),
      termsFrom: counted.get(line.id)!.terms.from,
      inspects: line.inspects ?? false,
      proof: line.proof,
      instalments: (order.rows[index]!.details.instalments ?? []).map(({ title, amount, due }) => ({
        title,
        amount,
        due,
      })),
      // what is missing is expected next, once nothing is what it was needed for
      needBy: nextWanted(line) ?? line.needBy,
      promisedDate: nextPromised(line) ?? line.promisedDate,
      schedule: hidden(call, counted.get(line.id)!) ? [] : followed(line.schedule, promisedOf(line), proven(line)),
      address: beside.get(line.id)?.address ?? null,
      mayProve: open && whyNotProve(line, call.actor).length === 0,
      gauge: hidden(call, counted.get(line.id)!)
        ? gauge(line, '0', NO_QUANTITIES)
        : gauge(line, line.quantity, line.sums),
    })),
    announced: [...counted.values()].some(one => hidden(call, one))
      ? []
      : await despatchesJson(call, await announcedOf(call, id)),
    receipts: receipts.map(({ consentId, byId: _by, checkReason: reason, parts: counts, ...receipt }) => ({
      ...receipt,
      reason,
      mayReverse: whyNotReverse(facts.get(receipt.id)!, order, call.actor).length === 0,
      mayAnswer: whyNotDecide(asked.get(consentId ?? '') ?? null, call.actor).length === 0,
      mayWithdraw: isMine(asked.get(consentId ?? ''), call),
      parts: counts.map(part => ({
        ...partJson(part, order),
        pieces: pieces.get(part.id) ?? [],
        inspection: inspections.get(part.id) ?? null,
      })),
    })),
  }
}

const isMine = (consent: Consent | undefined, call: Read): boolean =>
  consent !== undefined && whyNotWithdraw(consent, call.actor).length === 0

function partJson(
  { receiptId: _receipt, orderLineId, inspect: _inspect, billsWait: _wait, ...part }: ReceiptLineRow,
  order: KnownOrder,
) {
  const line = order.lines.find(one => one.id === orderLineId)!
  return { ...part, lineId: orderLineId, position: line.position, unit: line.unit }
}

/** Who counts without being told what is expected; whoever buys knows it anyway. */
const hidden = (call: Read, { terms }: CountedLine): boolean => terms.terms.blind && !may(call, 'order.write')

const termsJson = ({ characteristics, ...terms }: ReceivingTerms) => ({
  ...terms,
  characteristics: characteristics.map(one => ({ ...one })),
})

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
