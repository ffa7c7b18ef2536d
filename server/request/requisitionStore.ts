import type { FullLine } from '#contract/request/lines.ts'
import type { Outstanding } from '#core/ledger/commitments.ts'
import type { QuantitySums } from '#core/ledger/quantity.ts'
import type { LineSplit } from '#core/ledger/commitments.ts'
import { minor } from '#core/money/amount.ts'
import type { RequisitionWaits } from '#core/request/desk.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import type { LineDetails, LineKind, Proof } from '#core/request/kinds.ts'
import type { Offer } from '#core/request/offer.ts'
import type { Route } from '#core/request/routes.ts'
import type { SplitBy } from '#core/request/splits.ts'
import type { LineState, RequisitionState } from '#core/request/states.ts'
import type { FreightAnswer } from '#core/request/terms.ts'
import type { Answers } from '#core/source/questionnaire.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { type KeptConsent, latestConsents } from '#server/consent/consentStore.ts'
import { groupBy } from '#server/database/rows.ts'
import { hold } from '#server/documents/hold.ts'
import { needVisible } from '#server/documents/visible.ts'
import { standingOn } from '#server/ledger/budgetStore.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import { payingFor, splitsOf } from '#server/ledger/splitStore.ts'

export interface RequisitionRow {
  id: string
  number: string
  title: string
  reason: string
  state: RequisitionState
  requesterId: string
  total: bigint
  needBy: string | null
  lines: number
  version: number
  createdAt: string
  submittedAt: string | null
  decidedAt: string | null
  changedAt: string
  round: number
  formId: string | null
  answers: Answers
  remindedAt: string | null
  search: string
  /** The first round whose decisions may still stand. */
  standsFrom: number
  /** Whom the requester chose for a rule, and whom they added by hand. */
  chosen: Partial<Record<string, string>>
  added: string[]
}
export interface RequisitionLineRow {
  id: string
  requisitionId: string
  position: number
  kind: LineKind
  itemId: string | null
  offerId: string | null
  /** The line of an agreement that it may call off. */
  agreementLineId: string | null
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
interface QuestionRow {
  id: string
  requisitionId: string
  lineId: string | null
  /** The decision before which it was asked. */
  stepId: string | null
  question: string
  askedBy: string
  askedAt: string
  answer: string | null
  answeredBy: string | null
  answeredAt: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    requisitions: RequisitionRow
    requisitionLines: RequisitionLineRow
    requestQuestions: QuestionRow
  }
}
export type SeenOffer = Pick<
  Offer,
  'tiers' | 'priceBase' | 'currency' | 'minimum' | 'multiple' | 'validFrom' | 'validTo' | 'leadTimeDays'
> & {
  readonly unit: string
  readonly agreement: string
}
/** A line with who pays for it. */
export type RequisitionLine = RequisitionLineRow & { readonly splits: LineSplit[] }

/** What the requester asked for on a line, as the form has it, without its place in the request. */
export const askedFor = (line: RequisitionLine): FullLine => ({
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
  agreementLineId: line.agreementLineId,
})

/** Lines that are still wanted: none of them was refused or let go. */
export const liveLines = <L extends { readonly state: LineState }>(lines: readonly L[]): L[] =>
  lines.filter(line => line.state !== 'cancelled')

/** Rows of lines with who pays for them. */
export async function withSplits<L extends { readonly id: string }>(
  call: Read,
  rows: readonly L[],
): Promise<(L & { splits: LineSplit[] })[]> {
  const splits = await splitsOf(
    call,
    rows.map(row => row.id),
  )
  return payingFor(rows, splits)
}

export const requisitionLines = async (call: Read, requisitionId: string): Promise<RequisitionLine[]> =>
  await withSplits(call, await call.trx('requisitionLines').where({ requisitionId }).orderBy('position'))

/** The lines of several requests, request by request. */
export const linesOfRequests = async (call: Read, ids: readonly string[]): Promise<RequisitionLine[]> =>
  await withSplits(
    call,
    await call
      .trx('requisitionLines')
      .whereIn('requisitionId', [...ids])
      .orderBy(['requisitionId', 'position']),
  )

/** A person sees their own requests, those they decide or decided, those of their cost centres, and all with the right to. */
export async function readVisibleRequisition(call: Read, id: string): Promise<RequisitionRow> {
  await needVisible(call, 'requisition', id)
  return found(await call.trx('requisitions').where({ id }).first(), 'requisition')
}

/** Everything that the core needs of some requests, and what waits because of them. */
export type KnownRequisition = RequisitionFacts &
  RequisitionWaits & {
    readonly row: RequisitionRow
    readonly rows: readonly RequisitionLine[]
    readonly consent: KeptConsent | null
  }

export async function knownRequisitions(call: Read, ids: readonly string[]): Promise<Map<string, KnownRequisition>> {
  if (ids.length === 0) return new Map()
  const heads = await call
    .trx('requisitions')
    .join('people', 'people.id', 'requisitions.requesterId')
    .whereIn('requisitions.id', [...ids])
    .select<(RequisitionRow & { requester: string })[]>('requisitions.*', 'people.name as requester')
  const rows = await linesOfRequests(call, ids)
  const lineIds = rows.map(row => row.id)
  const sums = await quantitySums(call, lineIds)
  const standing = await standingOn(call, lineIds)
  const consents = await latestConsents(call, ids, 'approval')
  const questions = await openQuestions(call, ids)
  const ofHead = groupBy(rows, row => row.requisitionId)
  return new Map(
    heads.map(head => {
      const own = ofHead.get(head.id) ?? []
      const consent = consents.get(head.id) ?? null
      return [
        head.id,
        {
          id: head.id,
          number: head.number,
          title: head.title,
          state: head.state,
          requesterId: head.requesterId,
          requester: head.requester,
          total: minor(head.total),
          base: call.base,
          needBy: head.needBy,
          round: head.round,
          remindedAt: head.remindedAt,
          changedAt: head.changedAt,
          decidedAt: head.decidedAt,
          returnedWith: consent?.kept.find(step => step.state === 'returned')?.reason ?? '',
          question: questions.get(head.id) ?? null,
          lines: own.map(line => requestedFacts(line, sums(line.id), standing.get(line.id) ?? [])),
          consent: consent?.round === head.round ? consent : null,
          row: head,
          rows: own,
        },
      ]
    }),
  )
}

export const knownRequisition = async (call: Read, id: string): Promise<KnownRequisition> =>
  found((await knownRequisitions(call, [id])).get(id), 'requisition')

/** Holds a request, and says what is known of it. */
export async function heldRequisition(call: Write, id: string, version?: number): Promise<KnownRequisition> {
  await hold(call, 'requisition', id, version)
  return await knownRequisition(call, id)
}

/** A requested line as the core knows it. */
export const requestedFacts = (
  line: RequisitionLine,
  sums: QuantitySums,
  standing: readonly Outstanding[],
): RequisitionFacts['lines'][number] => ({
  id: line.id,
  requisitionId: line.requisitionId,
  position: line.position,
  kind: line.kind,
  description: line.description,
  state: line.state,
  quantity: line.quantity,
  baseAmount: minor(line.baseAmount),
  splits: line.splits,
  sums,
  standing: standing.filter(part => part.kind === 'reserved'),
})

async function openQuestions(
  call: Read,
  requisitionIds: readonly string[],
): Promise<Map<string, { who: string; text: string; at: string }>> {
  const rows = await call
    .trx('requestQuestions')
    .join('people', 'people.id', 'requestQuestions.askedBy')
    .whereIn('requisitionId', [...requisitionIds])
    .whereNull('answeredAt')
    .orderBy('askedAt', 'desc')
    .select<{ requisitionId: string; who: string; text: string; at: string }[]>(
      'requisitionId',
      'people.name as who',
      'question as text',
      'askedAt as at',
    )
  return new Map(rows.map(({ requisitionId, ...question }) => [requisitionId, question]))
}

/** Approved lines come into the pool of purchasing. */
export const putIntoPool = (call: Write, requisitionId: string): Promise<number> =>
  call
    .trx('requisitionLines')
    .where({ requisitionId })
    .whereNot({ state: 'cancelled' })
    .update({ state: 'toBuy', toBuyAt: call.now, buyerId: null, takenAt: null, bundle: '', markedFor: null })

/** Lines that are a draft's again. */
export const takeFromPool = (call: Write, requisitionId: string): Promise<number> =>
  call
    .trx('requisitionLines')
    .where({ requisitionId })
    .whereNot({ state: 'cancelled' })
    .update({ state: 'open', buyerId: null, takenAt: null, bundle: '', markedFor: null })

/** Questions that nobody has to answer any more: the request came back, or its lines will not be bought. */
export const closeQuestionsOfSteps = (call: Write, stepIds: readonly string[]): Promise<number> =>
  call
    .trx('requestQuestions')
    .whereIn('stepId', [...stepIds])
    .whereNull('answeredAt')
    .update({ answer: '', answeredBy: call.actor.id, answeredAt: call.now })

export async function closeQuestions(call: Write, requisitionId: string, lineIds?: readonly string[]): Promise<void> {
  const open = call.trx('requestQuestions').where({ requisitionId }).whereNull('answeredAt')
  if (lineIds) void open.whereIn('lineId', [...lineIds])
  await open.update({ answer: '', answeredBy: call.actor.id, answeredAt: call.now })
  const lines = call.trx('requisitionLines').where({ requisitionId })
  if (lineIds) void lines.whereIn('id', [...lineIds])
  await lines.update({ asked: false })
}
