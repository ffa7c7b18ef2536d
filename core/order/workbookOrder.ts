import type { ActorFacts } from '#core/acts/actor.ts'
import type { Decision } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { cancelOrder } from '#core/order/cancelOrder.ts'
import type { WantedOrder } from '#core/order/changeLines.ts'
import { closeOrder } from '#core/order/closeOrder.ts'
import { editDraft } from '#core/order/editDraft.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import type { OrderNext } from '#core/order/next.ts'
import { promiseDays, type Promised } from '#core/order/promiseDays.ts'
import { reviseOrder } from '#core/order/reviseOrder.ts'
import { placeCode, type WorkbookField } from '#core/order/workbook.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** What rows of a workbook want of one line. */
export interface WantedRow {
  readonly lineId: string
  readonly values: Readonly<Partial<Record<WorkbookField, string>>>
}

/** What rows of a workbook come to for one order. */
export interface OrderPlan {
  /** How it would read; nothing where nothing that is written changes. */
  readonly wanted: WantedOrder | null
  readonly promises: readonly Promised[]
  /** Name of who takes it over. */
  readonly buyer: string | null
  readonly ends: 'close' | 'cancel' | null
  /** What the rows of an order contradict each other in. */
  readonly reasons: readonly Reason[]
}

const WRITTEN = ['quantity', 'price', 'needBy', 'place'] as const

/** A place of the address book. */
export interface KnownPlace {
  readonly id: string
  readonly name: string
}

/** Brings the rows of one order together: one change of all its lines, its promises, its buyer, its end. `places`: by code. */
export function planOrder(
  order: OrderFacts,
  rows: readonly WantedRow[],
  places: ReadonlyMap<string, KnownPlace>,
): OrderPlan {
  const own = new Map(rows.map(row => [row.lineId, row.values]))
  const cancelled = (lineId: string): boolean => own.get(lineId)?.act === 'cancelLine'
  const written = rows.some(row => cancelled(row.lineId) || WRITTEN.some(field => row.values[field] !== undefined))
  const buyers = [...new Set(rows.flatMap(row => row.values.buyer ?? []))]
  const ends = new Set(rows.flatMap(row => (row.values.act === 'closeOrder' ? ['close' as const] : row.values.act === 'cancelOrder' ? ['cancel' as const] : []))) // prettier-ignore
  const lines = order.lines.map(line => {
    const values = own.get(line.id) ?? {}
    return {
      id: line.id,
      description: line.description,
      quantity: cancelled(line.id) ? '0' : (values.quantity ?? line.quantity),
      price: values.price ?? line.price,
      needBy: values.needBy === undefined ? line.needBy : values.needBy || null,
      ...(values.place === undefined ? {} : placed(places.get(placeCode(values.place)))),
    }
  })
  return {
    wanted: written ? { title: order.title, message: order.message, charges: order.chargeItems, lines } : null,
    promises: rows.flatMap(row => (row.values.promised ? [{ lineId: row.lineId, date: row.values.promised }] : [])),
    buyer: buyers[0] ?? null,
    ends: [...ends][0] ?? null,
    reasons: [
      ...(buyers.length > 1 ? [stop('workbook.twoBuyers', { number: order.number })] : []),
      ...(ends.size > 1 || (ends.size > 0 && written)
        ? [stop('workbook.endsAndChanges', { number: order.number })]
        : []),
      ...(rows.some(row => row.values.promised === '')
        ? [stop('workbook.promiseTaken', { number: order.number })]
        : []),
    ],
  }
}

const placed = (place: KnownPlace | undefined) => ({ addressId: place?.id ?? null, place: place?.name ?? '' })

/** How many acts a plan consists of. */
export const actsIn = ({ wanted, promises, ends }: OrderPlan): number =>
  [wanted !== null, promises.length > 0, ends !== null].filter(Boolean).length

/** The acts that a plan consists of, each judged on the order as it stands; `reason` stands on the revision. */
export function planActs(
  order: OrderFacts,
  plan: OrderPlan,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  reason: string,
): readonly Decision<OrderNext>[] {
  return [
    ...(plan.wanted === null
      ? []
      : [
          order.state === 'draft'
            ? editDraft(order, plan.wanted, actor)
            : reviseOrder(order, plan.wanted, accounts, actor, reason),
        ]),
    ...(plan.promises.length === 0 ? [] : [promiseDays(order, plan.promises, actor, reason)]),
    ...(plan.ends === 'close' ? [closeOrder(order, actor, reason)] : []),
    ...(plan.ends === 'cancel' ? [cancelOrder(order, accounts, actor, reason, true)] : []),
  ]
}

/** Everything that stands against a plan. */
export const againstPlan = (
  order: OrderFacts,
  plan: OrderPlan,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  reason: string,
): Reason[] => [
  ...plan.reasons,
  ...planActs(order, plan, accounts, actor, reason).flatMap(decision => (decision.ok ? [] : decision.reasons)),
]
