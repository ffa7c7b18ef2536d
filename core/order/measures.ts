import { billedQuantity, type Extent, extentOf, provenQuantity } from '#core/ledger/quantity.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { firstOpenDay } from '#core/order/schedule.ts'
import { ORDER_GROUPS, type OrderState } from '#core/order/states.ts'
import { provenBy, provenFirst, waitsForProof } from '#core/request/kinds.ts'
import { isIn } from '#core/states.ts'

/** What is measured on a line, wherever it comes from. */
export type Measured = Pick<OrderLine, 'kind' | 'proof' | 'quantity' | 'sums' | 'inspects' | 'matchLevel'>

/** Received for goods, accepted for work, less what went back. */
export const proven = (line: Pick<Measured, 'kind' | 'sums'>): string => provenQuantity(provenBy(line.kind), line.sums)

/** What proves a bill: of a line that is inspected only what has passed, and has not gone back. */
export const provenForBill = (line: Pick<Measured, 'kind' | 'sums' | 'inspects'>): string =>
  line.inspects ? line.sums.accepted : proven(line)

/** Billed less credited. */
export const billed = (line: Pick<Measured, 'sums'>): string => billedQuantity(line.sums)

const atLeastNothing = (value: Decimal): string => tidy(Decimal.max(0, value))

/** Still to come in or to be accepted; nothing where the line is not proven at all. */
export const toReceive = (line: Measured): string => stillToCome({ ...line, proven: proven(line) })

/** The same where what is proven is known already. stillToCome({ proof: 'count', quantity: '10', proven: '4' }) //=> '6' */
export const stillToCome = (line: Pick<Measured, 'proof' | 'quantity'> & { readonly proven: string }): string =>
  line.proof === 'none' ? '0' : atLeastNothing(new Decimal(line.quantity).minus(line.proven))

/** What the supplier may still bill of what was ordered. */
export const toBill = (line: Measured): string => atLeastNothing(new Decimal(line.quantity).minus(billed(line)))

/** Proven, and the bill is missing. */
export const unbilled = (line: Measured): string => atLeastNothing(new Decimal(proven(line)).minus(billed(line)))

/** Whether anything was received, accepted or billed. */
export const isStarted = (line: Measured): boolean =>
  ![proven(line), billed(line)].every(quantity => new Decimal(quantity).isZero())

/** The least quantity that a line may still be changed to: what has come in or is billed. */
export const doneSoFar = (line: Measured): string => tidy(Decimal.max(0, proven(line), billed(line)))

/** A line of which nothing is ordered any more. */
export const isCancelledLine = (line: Pick<Measured, 'quantity'>): boolean => new Decimal(line.quantity).isZero()

/** Whether the supplier's bill may already be sent: something is proven and not billed, or nothing has to be proven first. */
export const isBillable = (line: Measured): boolean =>
  new Decimal(provenFirst(line.proof) && waitsForProof(line) ? unbilled(line) : toBill(line)).gt(0)

/** A line is settled when its order ended, or when all of it is billed and, where that is wanted, proven. */
export function isSettled(line: Measured, state: OrderState): boolean {
  if (state === 'closed' || state === 'sealed') return true
  if (!isIn(ORDER_GROUPS.live, state)) return false
  const full = (done: string): boolean => new Decimal(done).gte(line.quantity)
  return full(billed(line)) && (line.proof === 'none' || full(proven(line)))
}

/** How far an order has come in; lines that are not proven do not count, and an order of only those is in. */
export function receiveExtent(lines: readonly Measured[]): Extent {
  const counted = lines.filter(line => line.proof !== 'none')
  if (counted.length === 0) return 'full'
  return extentOf(counted.map(line => ({ of: line.quantity, done: proven(line) })))
}

/** How far an order is billed. */
export const billExtent = (lines: readonly Measured[]): Extent =>
  extentOf(lines.map(line => ({ of: line.quantity, done: billed(line) })))

/** Extents at which something is still missing. */
export const INCOMPLETE: readonly Extent[] = ['none', 'part']

type Delivered = Measured & Pick<OrderLine, 'needBy' | 'schedule' | 'promisedDate' | 'promisedParts'>

/** Whether something of a line has not come. */
const isOpen = (line: Measured): boolean => !isCancelledLine(line) && toReceive(line) !== '0'

/** The first day by which something of a line that has not come is wanted; null where nothing is missing, or no day was said. */
export const nextWanted = (line: Delivered): string | null =>
  !isOpen(line) ? null : line.schedule.length > 0 ? firstOpenDay(line.schedule, proven(line)) : line.needBy

/** The first day for which something of it that has not come was promised. */
export const nextPromised = (line: Delivered): string | null =>
  !isOpen(line)
    ? null
    : line.promisedParts.length > 0
      ? firstOpenDay(line.promisedParts, proven(line))
      : line.promisedDate

/** The first day by which something that has not come is needed; once all is in, the first of all. */
export const neededNext = (lines: readonly Delivered[]): string | null =>
  earliest(lines.map(nextWanted)) ?? earliestNeed(lines)

const earliest = (days: readonly (string | null)[]): string | null => days.filter(day => day !== null).sort()[0] ?? null

/** Whether something is still missing after the day it was needed. Only an order that the supplier owes can be late. */
export const isLate = (
  order: { readonly state: string; readonly needBy: string | null; readonly receiveExtent: string },
  today: string,
): boolean =>
  isIn(ORDER_GROUPS.live, order.state) &&
  order.needBy !== null &&
  order.needBy < today &&
  isIn(INCOMPLETE, order.receiveExtent)

/** The last day that was promised for any line, else the need-by date; empty where neither is known. */
export const lastPromise = (
  order: Pick<OrderFacts, 'needBy'>,
  lines: readonly Pick<OrderLine, 'promisedDate'>[],
): string =>
  lines
    .map(line => line.promisedDate ?? '')
    .sort()
    .at(-1) ||
  (order.needBy ?? '')

/** The earliest day on which any line is needed. */
export const earliestNeed = (lines: readonly Pick<OrderLine, 'needBy'>[]): string | null =>
  earliest(lines.map(line => line.needBy))
