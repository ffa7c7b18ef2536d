import type { OrderLine } from '#core/order/facts.ts'
import { billed, isCancelledLine, type Measured, provenForBill, toBill, unbilled } from '#core/order/measures.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { isWork, provenFirst, waitsForProof } from '#core/request/kinds.ts'

/** What of a line its supplier can bill, and why not all of it. */
export interface WhatBills {
  /** What is ordered and not billed. */
  readonly open: string
  /** How much of that needs to wait for nothing. */
  readonly ready: string
  readonly why: { readonly code: string; readonly details: Readonly<Record<string, string>> } | null
}

/**
 * What a supplier can bill of a line without its bill waiting: what has come in or was accepted and is not billed, or all that is open where nothing has to be
 * proven first. More may be billed; it waits, and `why` says for what.
 *
 * @param waiting what bills that are here and not posted have of it
 */
export function whatBills(line: Measured & Pick<OrderLine, 'unit' | 'place'>, waiting = '0'): WhatBills {
  const less = (quantity: string): string => tidy(Decimal.max(0, new Decimal(quantity).minus(waiting)))
  const open = less(toBill(line))
  const say = (code: string, ready: string, details: Record<string, string> = {}): WhatBills => ({ open, ready, why: { code: `billing.${code}`, details } }) // prettier-ignore
  if (isCancelledLine(line)) return say('cancelled', '0')
  if (new Decimal(open).isZero()) return say('all', '0')
  if (!provenFirst(line.proof) || !waitsForProof(line)) return { open, ready: open, why: null }
  const passed = less(tidy(Decimal.max(0, new Decimal(provenForBill(line)).minus(billed(line)))))
  const ready = tidy(Decimal.min(open, passed))
  const left = tidy(new Decimal(open).minus(ready))
  if (new Decimal(left).isZero()) return { open, ready, why: null }
  const details = { left, ready, unit: line.unit, place: line.place.split('\n')[0] ?? '' }
  if (isWork(line.kind)) return say('accept', ready, details)
  if (new Decimal(less(unbilled(line))).gt(passed)) return say('inspect', ready, details)
  return say(new Decimal(ready).isZero() ? 'receive' : 'receiveRest', ready, details)
}
