import { check, type Reason, stop } from '#core/reasons.ts'
import { Decimal, isDecimalText, tidy } from '#core/money/decimal.ts'

export interface ReceivedLine {
  readonly position: number
  readonly quantity: string
  readonly ordered: string
  readonly alreadyReceived: string
  /** Per cent of the ordered quantity that may come in above it. */
  readonly overTolerancePercent: number
}

/**
 * Whether a count can be taken in. Up to the tolerance an over-receipt is a check (recorded with a reason), above it stops:
 * the buyer must change the order first.
 */
export function checkReceipt(line: ReceivedLine): Reason[] {
  const place = `lines.${line.position}.quantity`
  if (!isDecimalText(line.quantity) || new Decimal(line.quantity).lte(0)) return [stop('receive.quantity', {}, { place })]
  const total = new Decimal(line.alreadyReceived).plus(line.quantity)
  const over = total.minus(line.ordered)
  if (over.lte(0)) return []
  const allowed = new Decimal(line.ordered).times(line.overTolerancePercent).dividedBy(100)
  const details = { ordered: tidy(line.ordered), received: tidy(total), over: tidy(over), percent: line.overTolerancePercent }
  return over.lte(allowed) ? [check('receive.over', details, { place })] : [stop('receive.overTolerance', details, { place, clearedBy: ['buyer'] })]
}

/** Whether a receipt line can be taken back: never below what has been billed already. */
export function checkReversal(line: { quantity: string; received: string; billed: string }): Reason[] {
  const left = new Decimal(line.received).minus(line.quantity)
  if (left.gte(line.billed)) return []
  return [stop('receive.alreadyBilled', { billed: tidy(line.billed), left: tidy(left) }, { clearedBy: ['invoiceClerk'] })]
}
