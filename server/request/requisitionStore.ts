import type { FullLine } from '#contract/request/lines.ts'
import type { LineDetails, LineKind, Proof } from '#core/request/kinds.ts'
import type { Offer } from '#core/request/offer.ts'
import type { Route } from '#core/request/routes.ts'
import type { SplitBy } from '#core/request/splits.ts'
import type { FreightAnswer } from '#core/request/terms.ts'
import type { Answers } from '#core/source/questionnaire.ts'
import type { LineState, RequisitionState } from '#core/request/states.ts'
import { headState } from '#core/request/states.ts'
import { type Call, found, may } from '#server/call.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

export interface RequisitionRow {
  id: string
  number: string
  title: string
  reason: string
  state: RequisitionState
  requesterId: string
  total: bigint
  needBy: string | null
  version: number
  createdAt: string
  submittedAt: string | null
  decidedAt: string | null
  changedAt: string
  round: number
  formId: string | null
  answers: Answers
  remindedAt: string | null
}
export interface RequisitionLineRow {
  id: string
  requisitionId: string
  position: number
  kind: LineKind
  itemId: string | null
  offerId: string | null
  description: string
  quantity: string
  unit: string
  price: string
  priceBase: string
  currency: string
  amount: bigint
  baseAmount: bigint
  supplierId: string | null
  needBy: string | null
  addressId: string | null
  splits: FullLine['splits']
  state: LineState
  category: string
  splitBy: SplitBy
  incoterm: string | null
  incotermPlace: string
  routes: Route[]
  routeReason: string
  proof: Proof
  /** Somebody with the right to has said how it is proven. */
  proofSet: boolean
  details: LineDetails
  freight: FreightAnswer
  /** The offer as it was when the line was made. */
  offerSeen: SeenOffer | null
  buyerId: string | null
  takenAt: string | null
  bundle: string
  markedFor: Route | null
  toBuyAt: string | null
  splitFrom: string | null
  /** A question to the requester is open. */
  asked: boolean
}
export type SeenOffer = Pick<Offer, 'tiers' | 'priceBase' | 'currency' | 'minimum' | 'multiple' | 'validFrom' | 'validTo' | 'leadTimeDays'> & {
  readonly unit: string
  readonly agreement: string
}

export async function lockRequisition(call: Call, id: string): Promise<RequisitionRow> {
  return found((await call.trx('requisitions').where({ id }).forNoKeyUpdate().first()) as RequisitionRow | undefined, 'requisition')
}

/** What the requester asked for on a line, as the form has it, without its place in the request. */
export const askedFor = (line: RequisitionLineRow): FullLine => ({
  kind: line.kind,
  itemId: line.itemId,
  offerId: line.offerId,
  description: line.description,
  quantity: line.quantity,
  unit: line.unit,
  price: line.price,
  priceBase: line.priceBase,
  currency: line.currency as FullLine['currency'],
  supplierId: line.supplierId,
  needBy: line.needBy,
  addressId: line.addressId,
  splits: line.splits,
  category: line.category,
  splitBy: line.splitBy,
  incoterm: line.incoterm,
  incotermPlace: line.incotermPlace,
  routes: line.routes,
  routeReason: line.routeReason,
  proof: line.proofSet ? line.proof : null,
  freight: line.freight,
  details: line.details as FullLine['details'],
})

export const requisitionLines = async (call: Call, requisitionId: string): Promise<RequisitionLineRow[]> =>
  (await call.trx('requisitionLines').where({ requisitionId }).orderBy('position')) as RequisitionLineRow[]

/** A person sees their own requests, those they decide or decided, those of their cost centres, and all with the right to. */
export async function readVisibleRequisition(call: Call, id: string): Promise<RequisitionRow> {
  const row = found((await call.trx('requisitions').where({ id }).first()) as RequisitionRow | undefined, 'requisition')
  if (row.requesterId === call.actor.id || may(call, 'requisition.readAll')) return row
  const { rows } = (await call.trx.raw(
    `select exists (select 1 from approval_steps where requisition_id = :id and approver_id = :actor) or exists (
       select 1 from requisition_lines, jsonb_array_elements(splits) as split join budget_accounts on budget_accounts.id = (split ->> 'accountId')::uuid where requisition_id = :id and cost_centre = any(:centres)) as visible`,
    { id, actor: call.actor.id, centres: [...call.actor.costCentres] },
  )) as { rows: [{ visible: boolean }] }
  if (!rows[0].visible) throw new RuleBroken(stop('document.notFound', { kind: 'requisition' }))
  return row
}

/** Approved lines come into the pool of purchasing. */
export const putIntoPool = (call: Call, requisitionId: string): Promise<number> =>
  call.trx('requisitionLines').where({ requisitionId }).update({ state: 'toBuy', toBuyAt: call.now, buyerId: null, takenAt: null, bundle: '', markedFor: null })

/**
 * Brings line states and the head along after something happened to their orders: a line is bought when nothing is left to order, done
 * when all is proven and billed. Rows are locked in id order.
 */
export async function refreshRequisitions(call: Call, lineIds: readonly string[]): Promise<void> {
  if (lineIds.length === 0) return
  const heads = (await call
    .trx('requisitions')
    .whereIn(
      'id',
      call
        .trx('requisitionLines')
        .whereIn('id', [...lineIds])
        .select('requisitionId'),
    )
    .orderBy('id')
    .forNoKeyUpdate()) as RequisitionRow[]
  await call.trx.raw(
    `with figure as (
       select l.id, l.state,
         coalesce((select quantity from quantity_balances where line_id = l.id and kind = 'requested'), 0) - coalesce((select quantity from quantity_balances where line_id = l.id and kind = 'ordered'), 0) as to_order,
         coalesce((select quantity from quantity_balances where line_id = l.id and kind = 'ordered'), 0) as ordered,
         exists (select 1 from order_lines ol join orders o on o.id = ol.order_id where ol.requisition_line_id = l.id and o.state = 'draft') as drafted,
         coalesce((select bool_and(o.state in ('closed', 'sealed') or (o.state in ('issued', 'acknowledged') and
           coalesce((select quantity from quantity_balances where line_id = ol.id and kind = 'billed'), 0) >= ol.quantity and
           (ol.proof = 'none' or greatest(coalesce((select quantity from quantity_balances where line_id = ol.id and kind = 'received'), 0), coalesce((select quantity from quantity_balances where line_id = ol.id and kind = 'accepted'), 0)) >= ol.quantity)))
           from order_lines ol join orders o on o.id = ol.order_id where ol.requisition_line_id = l.id and o.state not in ('draft', 'cancelled')), false) as settled
       from requisition_lines l where l.id = any(?) and l.state <> 'cancelled')
     update requisition_lines set state = case when drafted then 'onDraftOrder' when to_order > 0 then 'toBuy' when ordered > 0 and settled then 'done' else 'bought' end
     from figure where figure.id = requisition_lines.id`,
    [[...lineIds]],
  )
  for (const head of heads) {
    const states = (await call.trx('requisitionLines').where({ requisitionId: head.id }).pluck('state')) as LineState[]
    const state = headState(states)
    if (state !== head.state)
      await call
        .trx('requisitions')
        .where({ id: head.id })
        .update({ state, version: head.version + 1, changedAt: call.now })
  }
}
