import type { ActorFacts } from '#core/acts/actor.ts'
import type { AccountFacts, BudgetEntry } from '#core/ledger/budget.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { outcomeOverdrafts } from '#core/order/after.ts'
import { changeLines, type WantedOrder } from '#core/order/changeLines.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { planRevision } from '#core/order/reviseOrder.ts'
import { compareOrders, type LineDifference, orderTotal, plainDifferences } from '#core/order/revision.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** What a change of an issued order would do, before it is made. */
export interface RevisionLook {
  readonly differences: readonly LineDifference[]
  /** What the order comes to, in its currency. */
  readonly before: Minor
  readonly after: Minor
  /** How budgets would move, in the base currency; accounts on which nothing moves are left out. */
  readonly moves: readonly { readonly accountId: string; readonly reserved: Minor; readonly committed: Minor }[]
  /** What stands against it; why it is made is asked when it is. */
  readonly reasons: readonly Reason[]
  /** Nothing differs from the order in force. */
  readonly same: boolean
}

/** Stands in for the reason that is asked for last. */
const TO_BE_SAID = 'To be said.'

/** Shows what a change would do line by line, to money, budgets and what was approved; nothing is changed by looking. */
export function lookAtRevision(
  order: OrderFacts,
  wanted: WantedOrder,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
): RevisionLook {
  const changed = changeLines(order, wanted)
  const planned = planRevision(order, wanted, actor, TO_BE_SAID)
  const before = orderTotal(order)
  const possible = 'outcome' in planned
  return {
    differences: changed.reasons.length > 0 ? [] : plainDifferences(compareOrders(order, changed.order), order.lines), // prettier-ignore
    before,
    after: changed.reasons.length > 0 ? before : orderTotal(changed.order),
    moves: possible ? movesOf(planned.outcome.budget) : [],
    reasons: possible ? outcomeOverdrafts(planned.outcome, accounts, order.base) : planned.reasons.filter(one => one.code !== NOTHING), // prettier-ignore
    same: !possible && planned.reasons.some(one => one.code === NOTHING),
  }
}

const NOTHING = stop('order.nothingChanged').code

function movesOf(entries: readonly BudgetEntry[]): RevisionLook['moves'] {
  const sums = new Map<string, { reserved: bigint; committed: bigint }>()
  for (const { accountId, kind, amount } of entries) {
    if (kind !== 'reserved' && kind !== 'committed') continue
    const own = sums.get(accountId) ?? { reserved: 0n, committed: 0n }
    sums.set(accountId, { ...own, [kind]: own[kind] + amount })
  }
  return [...sums]
    .filter(([, { reserved, committed }]) => reserved !== 0n || committed !== 0n)
    .map(([accountId, { reserved, committed }]) => ({
      accountId,
      reserved: minor(reserved),
      committed: minor(committed),
    }))
}
