import type { Clearer, HoldKind, KeptHold } from '#core/bill/holds.ts'

/** How long a difference may wait, in working hours of the house; 0: nobody is reminded, or told above. */
export interface HoldPatience {
  readonly remindHours: number
  readonly escalateHours: number
}

/** What is known of an open hold when it is looked at whether it waits too long. */
export interface WaitingHold extends Pick<KeptHold, 'kind' | 'ended' | 'clearedBy' | 'asked' | 'escalated'> {
  /** Working hours since it was opened, and since somebody was reminded of it last, or it was opened. */
  readonly hoursOpen: number
  readonly hoursQuiet: number
}

/** Who is told, and may clear it as well, where those whose it is let the time go by. Above the finance controller nobody is. */
const ABOVE: Readonly<Record<Clearer, Clearer | null>> = { requester: 'buyer', receiver: 'buyer', buyer: 'financeController', invoiceClerk: 'financeController', treasurer: 'financeController', financeController: null } // prettier-ignore

/** Who hears of a hold next if nobody clears it, and after how many working hours in all; null where nobody does. */
export function nextTold(
  hold: Pick<KeptHold, 'kind' | 'clearedBy' | 'escalated'>,
  { escalateHours }: HoldPatience,
): { readonly role: Clearer; readonly hours: number } | null {
  const role = ABOVE[hold.clearedBy]
  return hold.kind === 'dispute' || hold.escalated || escalateHours === 0 || role === null ? null : { role, hours: escalateHours } // prettier-ignore
}

/** Kinds of which the other way out is a revision of the order. */
const BY_ORDER: readonly HoldKind[] = ['price', 'below', 'amount', 'quantity', 'early', 'charges', 'currency', 'unit']
export const endsByOrder = (kind: HoldKind): boolean => BY_ORDER.includes(kind)

/** Everybody who may clear a hold, as roles: whose it is, and those above where it waited too long. */
export function clearersOf({ clearedBy, escalated }: Pick<KeptHold, 'clearedBy' | 'escalated'>): Clearer[] {
  const above = ABOVE[clearedBy]
  return escalated && above !== null ? [clearedBy, above] : [clearedBy]
}

/**
 * What time says about a hold: those above hear of it once, those whose it is hear again and again. A dispute waits for the other side, and what is
 * asked of somebody has a clock of its own.
 */
export function reminderOf(
  hold: WaitingHold,
  { remindHours, escalateHours }: HoldPatience,
): 'escalate' | 'remind' | null {
  if (hold.ended || hold.kind === 'dispute' || hold.asked?.state === 'open') return null
  if (escalateHours > 0 && !hold.escalated && ABOVE[hold.clearedBy] !== null && hold.hoursOpen >= escalateHours) return 'escalate' // prettier-ignore
  return remindHours > 0 && hold.hoursQuiet >= remindHours ? 'remind' : null
}
