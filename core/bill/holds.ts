import type { Consent } from '#core/consent/consent.ts'
import type { Minor } from '#core/money/amount.ts'
import { minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'

/** Who can clear a difference, as a role. */
export type Clearer = 'buyer' | 'receiver' | 'requester' | 'invoiceClerk' | 'financeController' | 'treasurer'

interface HoldKindFacts {
  /** The role that clears it; a proof is cleared by who proves the line. */
  readonly clearedBy: Clearer
  /** Whether a reason clears it. The others end when their cause does, or with the invoice. */
  readonly byReason: boolean
}

/** Kinds of differences that stop an invoice. Each stands for itself: clearing one never takes another away. */
export const HOLD_KINDS = {
  noOrderLine: { clearedBy: 'invoiceClerk', byReason: false },
  orderEnded: { clearedBy: 'invoiceClerk', byReason: false },
  unit: { clearedBy: 'invoiceClerk', byReason: false },
  currency: { clearedBy: 'invoiceClerk', byReason: false },
  price: { clearedBy: 'buyer', byReason: true },
  below: { clearedBy: 'buyer', byReason: true },
  amount: { clearedBy: 'buyer', byReason: true },
  early: { clearedBy: 'buyer', byReason: true },
  quantity: { clearedBy: 'buyer', byReason: true },
  proof: { clearedBy: 'receiver', byReason: false },
  charges: { clearedBy: 'buyer', byReason: true },
  tax: { clearedBy: 'financeController', byReason: true },
  gross: { clearedBy: 'invoiceClerk', byReason: false },
  rounding: { clearedBy: 'financeController', byReason: true },
  prepaid: { clearedBy: 'financeController', byReason: true },
  addressee: { clearedBy: 'invoiceClerk', byReason: true },
  account: { clearedBy: 'treasurer', byReason: true },
  dispute: { clearedBy: 'buyer', byReason: false },
  nearDuplicate: { clearedBy: 'invoiceClerk', byReason: true },
} as const satisfies Readonly<Record<string, HoldKindFacts>>
export type HoldKind = keyof typeof HOLD_KINDS
export const HOLD_KIND_CODES = Object.keys(HOLD_KINDS) as HoldKind[]

/** One difference that stops an invoice, in quantity and in money (smallest unit of the invoice's currency). */
export interface Hold {
  /** The line, or null for the document. */
  readonly position: number | null
  readonly kind: HoldKind
  readonly quantity: string
  readonly amount: Minor
  readonly clearedBy: Clearer
}

/** A hold as it is kept. */
export interface KeptHold extends Hold {
  readonly id: string
  readonly ended: boolean
  /** A person has cleared it with a reason. */
  readonly cleared: boolean
  /** It waited so long that those above may clear it, too. */
  readonly escalated: boolean
  /** The last question to others whether it may be accepted. */
  readonly asked: Consent | null
}

export const holdOf = (
  kind: HoldKind,
  position: number | null,
  amount: bigint,
  quantity = '0',
  clearedBy: Clearer = HOLD_KINDS[kind].clearedBy,
): Hold => ({ position, kind, quantity, amount: minor(amount), clearedBy })

export interface HoldChange {
  readonly open: readonly Hold[]
  /** Holds whose cause is gone. */
  readonly end: readonly string[]
}

const sameCause = (a: Hold, b: Hold): boolean => a.kind === b.kind && a.position === b.position

/** What a person has cleared stays so as long as the difference is no larger than it was then, in quantity and in money. */
const isCleared = (known: readonly KeptHold[], hold: Hold): boolean =>
  known.some(
    kept =>
      kept.cleared &&
      sameCause(kept, hold) &&
      new Decimal(kept.quantity).gte(hold.quantity) &&
      kept.amount >= hold.amount,
  )

/** Differences that are there now and that nobody has cleared. */
export const standingHolds = (known: readonly KeptHold[], now: readonly Hold[]): Hold[] =>
  now.filter(hold => !isCleared(known, hold))

/**
 * What changes in the holds that are kept, given the differences that are there now: new ones open, those whose cause is gone or other
 * than it was end, the rest stays as it stands.
 */
export function reconcileHolds(known: readonly KeptHold[], now: readonly Hold[]): HoldChange {
  const wanted = standingHolds(known, now)
  const same = (kept: KeptHold, hold: Hold): boolean =>
    !kept.ended &&
    sameCause(kept, hold) &&
    new Decimal(kept.quantity).equals(hold.quantity) &&
    kept.amount === hold.amount &&
    kept.clearedBy === hold.clearedBy
  return {
    open: wanted.filter(hold => !known.some(kept => same(kept, hold))),
    end: known.filter(kept => !kept.ended && !wanted.some(hold => same(kept, hold))).map(kept => kept.id),
  }
}
