import { plainWords } from '#core/request/personalFee.ts'
import { type ActorFacts, mayDo } from '#core/acts/actor.ts'
import { type Decision, done, NOT_YOURS, refused, saysWhy } from '#core/acts/decision.ts'
import type { QuantityEntry, QuantityKind } from '#core/ledger/quantity.ts'
import { Decimal, isDecimalText, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { billed, proven } from '#core/order/measures.ts'
import { whyNotOpen } from '#core/order/proving.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { provenBy, waitsForProof } from '#core/request/kinds.ts'
import type { Becoming } from '#core/receive/counts.ts'
import { RECEIPT_STATES, type ReceiptState } from '#core/receive/states.ts'
import { notNow } from '#core/states.ts'

/** A count of a receipt, with what of it still stands. */
export interface ReceiptPart extends Pick<Becoming, 'becomes'> {
  readonly id: string
  readonly lineId: string
  /** Less what was taken back. */
  readonly left: string
  /** Its inspection has said something. */
  readonly inspected: boolean
  /** How much of it is still there to be taken out: in its bin where it went to stock, pieces that are ours where each is an asset. */
  readonly there: string
  /** Its pieces that still stand, those first that nobody has tagged. */
  readonly pieces: readonly string[]
  /** So much of it nobody has found good: it waits for its inspection, or did not pass. */
  readonly notAccepted?: string
}
/** A receipt with the entries that it posted, less what was taken back of them. */
export interface ReceiptFacts {
  readonly id: string
  readonly number: string
  readonly state: ReceiptState
  readonly byId: string
  readonly parts: readonly ReceiptPart[]
  readonly entries: readonly {
    readonly id: string
    readonly lineId: string
    readonly kind: QuantityKind
    readonly quantity: string
  }[]
}

/** What is to be taken out of a receipt: so much of its counts, perhaps certain pieces. */
export interface TakenBack {
  readonly partId: string
  readonly quantity: string
  readonly pieces: readonly string[]
}
export interface ReversedNext {
  readonly state: ReceiptState
  readonly parts: readonly TakenBack[]
  /** Lines of which now less is proven than is billed. */
  readonly unproven: readonly { readonly lineId: string; readonly billed: string; readonly proven: string }[]
}

/** All that still stands of a receipt. */
export const allOf = (receipt: ReceiptFacts): TakenBack[] =>
  receipt.parts
    .filter(part => new Decimal(part.left).gt(0))
    .map(part => ({ partId: part.id, quantity: part.left, pieces: part.pieces }))

/** What stands in the way of taking out of a receipt at all. */
export function whyNotReverse(receipt: ReceiptFacts, order: OrderFacts, actor: ActorFacts): Reason[] {
  if (receipt.state === 'reversed') return [stop('receive.reversedAlready', { number: receipt.number })]
  return [
    ...notNow(RECEIPT_STATES, 'receipt', receipt.state, 'reverse'),
    ...whyNotOpen(order),
    ...(mayDo(actor, 'delivery.receive') || receipt.byId === actor.id ? [] : [NOT_YOURS]),
  ]
}

/** What stands in the way of taking these counts out: more than stands, gone back to the supplier, moved or issued since, inspected. */
function whyNotTakenBack(receipt: ReceiptFacts, order: OrderFacts, wanted: readonly TakenBack[]): Reason[] {
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const parts = new Map(receipt.parts.map(part => [part.id, part]))
  if (wanted.length === 0 || new Set(wanted.map(one => one.partId)).size !== wanted.length)
    return [stop('receive.nothingTakenBack')]
  const foreign = wanted.filter(one => !parts.has(one.partId))
  if (foreign.length > 0) return [stop('receive.foreignPart')]
  const reasons = wanted.flatMap(({ partId, quantity, pieces }, index): Reason[] => {
    const part = parts.get(partId)!
    const line = lines.get(part.lineId)!
    const place = { place: `parts.${index}.quantity` }
    const wrong = !isDecimalText(quantity) || new Decimal(quantity).lte(0) || new Decimal(quantity).gt(part.left)
    if (wrong) return [stop('receive.moreThanStands', { line: plainWords(line), left: tidy(part.left) }, place)]
    if (part.inspected && !new Decimal(quantity).equals(part.left))
      return [stop('receive.inspectedWhole', { line: plainWords(line) }, place)]
    if (new Decimal(quantity).gt(part.there))
      return [stop('receive.notThere', { line: plainWords(line), there: tidy(part.there) }, place)]
    const known = new Set(part.pieces)
    const odd = pieces.some(one => !known.has(one)) || new Set(pieces).size !== pieces.length
    return part.becomes === 'asset' && (odd || !new Decimal(quantity).equals(pieces.length))
      ? [stop('receive.whichPieces', { line: plainWords(line) }, place)]
      : []
  })
  if (reasons.length > 0) return reasons
  return [...outByLine(receipt, wanted)].flatMap(([lineId, quantity]) => {
    const line = lines.get(lineId)!
    return new Decimal(proven(line)).gte(quantity)
      ? []
      : [stop('receive.goneBack', { line: plainWords(line), left: tidy(proven(line)) })]
  })
}

function outByLine(receipt: ReceiptFacts, wanted: readonly TakenBack[]): Map<string, Decimal> {
  const parts = new Map(receipt.parts.map(part => [part.id, part]))
  const out = new Map<string, Decimal>()
  for (const { partId, quantity } of wanted) {
    const { lineId } = parts.get(partId)!
    out.set(lineId, (out.get(lineId) ?? new Decimal(0)).plus(quantity))
  }
  return out
}

/**
 * Takes counts out of a receipt by counter-entries; it stays and says so. What is billed already is no longer proven then: its invoices are
 * matched anew.
 */
export function reverseReceipt(
  receipt: ReceiptFacts,
  order: OrderFacts,
  actor: ActorFacts,
  reason: string,
  wanted: readonly TakenBack[] = allOf(receipt),
): Decision<ReversedNext> {
  const against = [
    ...whyNotReverse(receipt, order, actor),
    ...(saysWhy(reason) ? [] : [stop('receive.whyReversed', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const parts = whyNotTakenBack(receipt, order, wanted)
  if (parts.length > 0) return refused(parts)
  const out = outByLine(receipt, wanted)
  const all = receipt.parts.every(part => {
    const taken = wanted.find(one => one.partId === part.id)?.quantity ?? '0'
    return new Decimal(part.left).equals(taken)
  })
  const outcome = follow(
    order,
    [...out].flatMap(([lineId, quantity]) => counterEntries(receipt, order, lineId, quantity)),
  )
  const unproven = outcome.after.lines
    .filter(line => out.has(line.id) && waitsForProof(line) && new Decimal(proven(line)).lt(billed(line)))
    .map(line => ({ lineId: line.id, billed: billed(line), proven: tidy(proven(line)) }))
  const lines = new Map(order.lines.map(line => [line.id, line]))
  return done<ReversedNext>(
    { state: all ? 'reversed' : 'posted', parts: wanted, unproven },
    {
      action: all ? 'receiptReversed' : 'receiptReversedInPart',
      changes: {
        receipt: receipt.number,
        lines: [...out].map(([lineId, quantity]) => ({ position: lines.get(lineId)!.position, quantity: tidy(quantity), unit: lines.get(lineId)!.unit })), // prettier-ignore
        ...(unproven.length > 0 ? { unproven: unproven.length } : {}),
      },
      reason,
    },
    outcome,
  )
}

/**
 * Entries that take so much of a line out again, newest first, each naming what it reverses. Whatever the inspection made of the same goods goes with
 * them as far as it would stand above what is left.
 */
function counterEntries(receipt: ReceiptFacts, order: OrderFacts, lineId: string, quantity: Decimal): QuantityEntry[] {
  const line = order.lines.find(one => one.id === lineId)!
  const by = provenBy(line.kind)
  const counted = takeFrom(receipt, lineId, by, quantity)
  return line.inspects && by === 'received' ? [...counted, ...inspectedToo(receipt, line, quantity)] : counted
}

function takeFrom(receipt: ReceiptFacts, lineId: string, kind: QuantityKind, quantity: Decimal): QuantityEntry[] {
  let left = quantity
  return receipt.entries
    .filter(entry => entry.lineId === lineId && entry.kind === kind)
    .reverse()
    .flatMap((entry): QuantityEntry[] => {
      const taken = Decimal.min(left, entry.quantity)
      if (taken.lte(0)) return []
      left = left.minus(taken)
      return [{ lineId, kind, quantity: taken.negated().toString(), reversesId: entry.id }]
    })
}

/** What its inspections accepted or rejected of this receipt, as far as that is more than what stays of it. */
function inspectedToo(receipt: ReceiptFacts, line: OrderLine, quantity: Decimal): QuantityEntry[] {
  const sum = (kind: QuantityKind): Decimal =>
    receipt.entries.filter(one => one.lineId === line.id && one.kind === kind).reduce((total, one) => total.plus(one.quantity), new Decimal(0)) // prettier-ignore
  const stays = sum('received').minus(quantity)
  const tooMuch = Decimal.max(0, sum('accepted').plus(sum('rejected')).minus(stays))
  const accepted = Decimal.min(tooMuch, sum('accepted'))
  return [...takeFrom(receipt, line.id, 'accepted', accepted), ...takeFrom(receipt, line.id, 'rejected', tooMuch.minus(accepted))] // prettier-ignore
}
