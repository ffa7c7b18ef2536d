import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadOrder } from '#contract/order/endpoints.ts'
import { approvedFor } from '#core/order/againstRequest.ts'
import { isStillWanted } from '#core/order/excess.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { orderActions } from '#core/order/actions.ts'
import type { OrderLine } from '#core/order/facts.ts'
import { doneSoFar, isLate, lastPromise, proven, receiveExtent } from '#core/order/measures.ts'
import {
  compareHeads,
  compareRevisions,
  type LineDifference,
  promisedOf,
  type RevisionLine,
} from '#core/order/revision.ts'
import { followed } from '#core/order/schedule.ts'
import { lineValues, payersByLine } from '#core/order/standing.ts'
import { isUntold } from '#core/order/tellSupplier.ts'
import { placeText } from '#core/order/supplierPlace.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { amountsByAccount } from '#core/request/lines.ts'
import { lineWords, PERSONAL_FEE, seesFee } from '#core/request/personalFee.ts'
import { isIn } from '#core/states.ts'
import { may, type Read } from '#server/call.ts'
import { lastNo, waitsFor } from '#server/consent/consentStore.ts'
import { namedIn, stepsJson } from '#server/consent/stepJson.ts'
import { personNames } from '#server/people/peopleStore.ts'
import { actionsJson, pathOf, reasonsJson, sheetParts } from '#server/documents/sheetParts.ts'
import { accountLabels } from '#server/ledger/budgetStore.ts'
import { shownFigures } from '#server/ledger/shownFigures.ts'
import { agreementsOfLines } from '#server/ledger/consumptionStore.ts'
import { someIds } from '#server/database/rows.ts'
import { gauge } from '#server/ledger/quantityStore.ts'
import { withObstacles } from '#server/order/callOffStore.ts'
import { keptChange, wantedCharges } from '#server/order/changeActs.ts'
import { orderClauses } from '#server/order/clauseStore.ts'
import { supplierPlaces } from '#server/order/placeStore.ts'
import { aheadJson, orderConditions, termsOf } from '#server/order/conditionStore.ts'
import { termsText } from '#server/order/orderDocument.ts'
import { excessSubject, type KnownOrder, knownOrder, linesBeside, type ResponseRow } from '#server/order/orderStore.ts'
import { lineTerms, type RevisionRow } from '#server/order/revisionStore.ts'
import { threadOf } from '#server/thread/thread.ts'

/** Answers that a Sheet shows, newest first. */
const MOST_ANSWERS = 20
const MOST_MAILS = 10

export async function readOrder(call: Read, id: string): Promise<ResponseOf<typeof ReadOrder>> {
  const known = await knownOrder(call, id)
  const order = known.state === 'draft' ? await withObstacles(call, known) : known
  const { row } = known
  const parts = await sheetParts(call, 'order', id)
  const thread = await threadOf(call, { orderIds: [id] })
  const beside = await linesBeside(call, id)
  const { answers, revisions, delivery, buyer } = await correspondence(call, row)
  const values = lineValues(order)
  const payers = payersByLine(known)
  const amounts = amountsByAccount(
    known.rows.map(line => ({ amount: values.get(line.id)!, splits: payers.get(line.id)! })),
  )
  const conditions = await orderConditions(call, row)
  const fees = new Set(
    known.rows
      .filter(line => line.kind === 'personalFee' && !seesFee(call.actor, line.requesterId))
      .map(line => line.id),
  )
  const shown = (lines: readonly RevisionLine[]): RevisionLine[] =>
    lines.map(line => (fees.has(line.lineId) ? { ...line, description: PERSONAL_FEE } : line))
  return {
    kind: 'order',
    id,
    number: row.number,
    title: row.title,
    state: row.state,
    version: row.version,
    ...parts,
    thread,
    budgets: await shownFigures(call, amounts, row.state !== 'draft', may(call, 'order.write')),
    steps: stepsJson(
      known.excess?.consent ?? null,
      call.base,
      await personNames(call, namedIn(known.excess?.consent ?? null)),
    ),
    excess: await shownExcess(call, known),
    keptChange: await keptChange(call, known),
    sentence: sentenceOf(call, known),
    tone: toneOf(call, known),
    actions: actionsJson(orderActions(order, call.actor, call)),
    supplierId: row.supplierId,
    supplier: known.supplier,
    supplierPath: pathOf('supplier', row.supplierId),
    buyer,
    agreement: row.agreement,
    agreementPath: await agreementPath(call, known),
    currency: row.currency,
    revision: row.revision,
    total: formatAmount(row.total, row.currency),
    charges: wantedCharges(order),
    chargeAccounts: await accountLabels(
      call,
      order.chargeItems.flatMap(item => item.splits.map(split => split.accountId)),
    ),
    message: row.message,
    location: order.location,
    locationId: order.locationId,
    locations: (await supplierPlaces(call, row.supplierId)).map(one => ({ id: one.id, label: placeText(one) })),
    clauses: (await orderClauses(call, row)).map(one => ({ ...one, because: [...one.because] })),
    ahead: aheadJson(order, conditions),
    terms: termsText(termsOf(conditions)),
    conditions: row.conditions,
    effective: conditions,
    supplierReasons: reasonsJson([...order.supplierReasons, ...order.agreementReasons]),
    address: known.place || null,
    issuedAt: row.issuedAt,
    lines: known.rows.map((line, index) => ({
      id: line.id,
      position: line.position,
      kind: line.kind,
      description: lineWords(line, seesFee(call.actor, line.requesterId)),
      itemNumber: beside.get(line.id)?.itemNumber ?? null,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      priceBase: line.priceBase,
      amount: formatAmount(line.amount, row.currency),
      needBy: line.needBy,
      address: beside.get(line.id)?.address ?? null,
      requisitionNumber: line.requisitionNumber,
      requisitionPath: line.requisitionId ? pathOf('requisition', line.requisitionId) : null,
      addressId: line.addressId,
      schedule: scheduleOf(known.lines[index]!),
      promisedDate: line.promisedDate,
      done: doneSoFar(known.lines[index]!),
      terms: lineTerms(line, row.currency),
      proof: line.proof,
      gauge: gauge(line, line.quantity, known.lines[index]!.sums),
    })),
    revisions: revisions.map(({ content, ...revision }, index) => ({
      ...revision,
      total: content.total,
      differences:
        index === 0
          ? []
          : [
              ...compareHeads(revisions[index - 1]!.content, content),
              ...compareRevisions(shown(revisions[index - 1]!.content.lines), shown(content.lines)),
            ].map(writable),
    })),
    responses: answers.map(answer => ({ ...answer, differences: answer.differences.map(writable) })),
    delivery,
  }
}

async function agreementPath(call: Read, order: KnownOrder): Promise<string | null> {
  if (!may(call, 'agreement.read')) return null
  const [id] = (await agreementsOfLines(call, someIds(order.rows.map(line => line.agreementLineId)))).values()
  return id === undefined ? null : pathOf('agreement', id)
}

async function shownExcess(call: Read, order: KnownOrder): Promise<ResponseOf<typeof ReadOrder>['excess']> {
  if (!order.excess) return null
  const { consent, upTo } = order.excess
  const { wanted } = excessSubject(consent)
  const no = lastNo(consent)
  return {
    state: consent.state,
    askedBy: (await personNames(call, [consent.askedBy])).get(consent.askedBy) ?? '',
    askedAt: consent.askedAt,
    reason: consent.reason,
    amount: formatAmount(consent.amount ?? minor(0), call.base),
    currency: call.base,
    lines: order.lines
      .filter(line => upTo.has(line.id))
      .map(line => ({
        id: line.id,
        position: line.position,
        approved: formatAmount(approvedFor(order, line) ?? minor(0), call.base),
        upTo: formatAmount(upTo.get(line.id)!, call.base),
      })),
    wanted: isStillWanted(order) ? wanted : null,
    answer: consent.state === 'refused' ? no : null,
  }
}

/** The deliveries of a line as they are followed, with where each goes. */
const scheduleOf = (line: OrderLine) =>
  followed(line.schedule, promisedOf(line), proven(line)).map((one, at) => ({
    ...one,
    addressId: line.schedule[at]!.addressId,
  }))

interface Correspondence {
  answers: (Pick<ResponseRow, 'id' | 'revision' | 'state' | 'at' | 'told' | 'note' | 'lines' | 'differences'> & {
    by: string
  })[]
  revisions: (Pick<RevisionRow, 'revision' | 'issuedAt' | 'reason' | 'content'> & { by: string })[]
  delivery: { kind: string; state: string; attempts: number; lastError: string | null; at: string }[]
  buyer: string
}

const CORRESPONDENCE = `
  select
    (select coalesce(json_agg(a order by a.at desc), '[]') from (
      select r.id, r.revision, r.state, r.at, p.name as by, r.told, r.note, r.lines, r.differences
      from order_responses r join people p on p.id = r.by_id where r.order_id = :id order by r.at desc limit ${MOST_ANSWERS}) a) as answers,
    (select coalesce(json_agg(v order by v.revision), '[]') from (
      select r.revision, r.issued_at as "issuedAt", p.name as by, r.reason, r.content
      from order_revisions r join people p on p.id = r.issued_by where r.order_id = :id) v) as revisions,
    (select coalesce(json_agg(m order by m.at desc), '[]') from (
      select kind, state, attempts, last_error as "lastError", created_at as at from outbox where document_id = :id
        and not exists (select 1 from people where realm = 'team' and email = outbox.payload ->> 'to') order by created_at desc limit ${MOST_MAILS}) m) as delivery,
    (select name from people where id = :buyer) as buyer`

/** What was said between the house and the supplier about an order, and how its mails fared; the newest first, revisions in their order. */
async function correspondence(call: Read, order: { id: string; buyerId: string }): Promise<Correspondence> {
  const { rows } = await call.trx
    .raw<{ rows: [Correspondence] }>(CORRESPONDENCE, { id: order.id, buyer: order.buyerId })
    .options({ name: 'order-correspondence' })
  return rows[0]
}

export const writable = (difference: LineDifference) => ({ ...difference, fields: [...difference.fields] })

/** An order as it stands now, for what depends on the day. */
const standing = (order: KnownOrder) => ({ ...order, receiveExtent: receiveExtent(order.lines) })

function toneOf(call: Read, order: KnownOrder): 'plain' | 'settled' | 'attention' | 'stop' {
  if (order.answer || order.excess?.consent.state === 'open') return 'attention'
  if (order.state === 'sealed' || order.state === 'closed') return 'settled'
  if (isLate(standing(order), call.today)) return 'stop'
  return isUntold(order) ? 'attention' : 'plain'
}

function sentenceOf(call: Read, order: KnownOrder): Sentence {
  const extent = receiveExtent(order.lines)
  const details = {
    supplier: order.supplier,
    needBy: order.needBy ?? '',
    at: order.issuedAt ?? order.row.changedAt,
    billed: order.row.billExtent,
  }
  if (order.answer)
    return { code: 'order.is.answeredDifferently', details: { ...details, lines: order.answer.lines.length } }
  if (order.excess?.consent.state === 'open')
    return { code: 'order.is.excessAsked', details: { ...details, who: waitsFor(order.excess.consent).join(', ') } }
  if (isLate(standing(order), call.today)) return { code: 'order.is.late', details }
  if (!isIn(ORDER_GROUPS.live, order.state)) return { code: `order.is.${order.state}`, details }
  if (extent !== 'none') return { code: `order.is.received.${extent}`, details }
  if (isUntold(order)) return { code: `order.is.untold.${order.channel}`, details }
  return order.state === 'acknowledged'
    ? { code: 'order.is.confirmed', details: { ...details, promised: lastPromise(order, order.lines) } }
    : { code: 'order.is.issued', details }
}
