import { randomUUID } from 'node:crypto'
import type { FullLine, LineBody, RequisitionBody } from '#contract/request/lines.ts'
import { lineAmount, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { effectiveProof, moneyShape } from '#core/request/kinds.ts'
import { type Offer, tierAt } from '#core/request/offer.ts'
import { type Call, type Done, guardVersion, may } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { baseRates } from '#server/request/rates.ts'
import { lockRequisition, requisitionLines, type RequisitionLineRow, type RequisitionRow, type SeenOffer } from '#server/request/requisitionStore.ts'
import { categoriesOf, type CategoryRow } from '#server/source/categories.ts'

export interface OfferRow extends Offer {
  readonly id: string
  readonly itemId: string
  readonly supplierId: string
  readonly unit: string
  readonly supplierItem: string
  readonly agreement: string
  readonly incoterm: string | null
  readonly incotermPlace: string
  readonly countries: string[]
  readonly freight: string | null
}

/** What was left out of a line, as usual. */
export const fullLine = ({ id: _id, refresh: _refresh, ...line }: LineBody): FullLine => ({
  ...line,
  category: line.category ?? '',
  splitBy: line.splitBy ?? 'share',
  incoterm: line.incoterm ?? null,
  incotermPlace: line.incotermPlace ?? '',
  routes: line.routes ?? ['orderNow'],
  routeReason: line.routeReason ?? '',
  proof: line.proof ?? null,
  freight: line.freight ?? '',
  details: line.details ?? {},
})

export async function createRequisition(call: Call, body: RequisitionBody, form?: { id: string; answers: unknown }): Promise<Done> {
  const empty = form || body.title !== '' || body.reason !== '' || body.lines.length > 0 ? undefined : await untouchedDraft(call)
  if (empty) return empty
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'R-' || nextval('requisition_numbers') as number`)) as { rows: [{ number: string }] }
  await call.trx('requisitions').insert({
    id,
    number: rows[0].number,
    title: '',
    reason: '',
    state: 'draft',
    requesterId: call.actor.id,
    createdAt: call.now,
    changedAt: call.now,
    formId: form?.id ?? null,
    answers: JSON.stringify(form?.answers ?? {}),
  })
  await writeDraft(call, { id, number: rows[0].number }, body, 1)
  await record(call, { kind: 'requisition', id, action: 'created' })
  return { id, version: 1 }
}

/** Whoever begins again without having written anything goes on with the empty draft that is there. */
const untouchedDraft = async (call: Call): Promise<Done | undefined> =>
  (await call
    .trx('requisitions')
    .where({ requesterId: call.actor.id, state: 'draft', title: '', reason: '', lines: 0, formId: null })
    .whereNotExists(inner => inner.from('attachments').whereRaw('document_id = requisitions.id'))
    .orderBy('createdAt', 'desc')
    .first('id', 'version')) as Done | undefined

/** Keeps a draft. Prices of offered items are taken from the offer, never from the page: as it was when the line was made, or as it is now where that is wanted. */
export async function saveRequisition(call: Call, id: string, body: RequisitionBody, version: number): Promise<Done> {
  const row = await lockOwnDraft(call, id)
  await guardVersion(call, row, version)
  await writeDraft(call, row, body, version + 1)
  return { id, version: version + 1 }
}

export async function lockOwnDraft(call: Call, id: string): Promise<RequisitionRow> {
  const row = await lockRequisition(call, id)
  if (row.requesterId !== call.actor.id) throw new RuleBroken(stop('right.notYours'))
  if (row.state !== 'draft' && row.state !== 'returned') throw new RuleBroken(stop('state.notNow', { kind: 'requisition', state: row.state, action: 'edit', possible: 'withdraw' }))
  return row
}

interface Around {
  readonly offers: ReadonlyMap<string, OfferRow>
  readonly before: ReadonlyMap<string, RequisitionLineRow>
  readonly itemCategories: ReadonlyMap<string, string>
  readonly categories: ReadonlyMap<string, CategoryRow>
  readonly billing: ReadonlyMap<string, 'afterAcceptance' | 'direct' | null>
  readonly rates: ReadonlyMap<string, string | null>
}

async function around(call: Call, requisitionId: string, lines: readonly LineBody[]): Promise<Around> {
  const offers = await offersOf(call, lines)
  const itemIds = [...new Set(lines.flatMap(line => [line.itemId, line.offerId ? (offers.get(line.offerId)?.itemId ?? null) : null]).filter(id => id !== null))]
  const items = itemIds.length > 0 ? ((await call.trx('items').whereIn('id', itemIds).select('id', 'category')) as { id: string; category: string }[]) : []
  const names = [...new Set([...items.map(item => item.category), ...lines.map(line => line.category ?? '')])].filter(Boolean)
  const supplierIds = [...new Set([...lines.map(line => line.supplierId), ...[...offers.values()].map(offer => offer.supplierId)].filter(id => id !== null))]
  const suppliers = (await call.trx('suppliers').whereIn('id', supplierIds).select('id', call.trx.raw("defaults ->> 'workBilling' as billing"))) as {
    id: string
    billing: 'afterAcceptance' | 'direct' | null
  }[]
  return {
    offers,
    before: new Map((await requisitionLines(call, requisitionId)).map(line => [line.id, line])),
    itemCategories: new Map(items.map(item => [item.id, item.category])),
    categories: new Map((await categoriesOf(call, names)).map(category => [category.name, category])),
    billing: new Map(suppliers.map(supplier => [supplier.id, supplier.billing])),
    rates: await baseRates(call, [
      ...lines.map(line => line.currency as string),
      ...[...offers.values()].map(offer => offer.currency),
      ...(await seenCurrencies(call, requisitionId)),
    ]),
  }
}

const seenCurrencies = (call: Call, requisitionId: string): Promise<string[]> =>
  call.trx('requisitionLines').where({ requisitionId }).distinct('currency').pluck('currency') as Promise<string[]>

async function writeDraft(call: Call, head: { id: string; number: string }, body: RequisitionBody, version: number): Promise<void> {
  const known = await around(call, head.id, body.lines)
  const lines = body.lines.map((line, index) => toRow(call, head.id, line, index + 1, known))
  await refuseForeign(
    call,
    lines.map(line => line.id).filter(id => !known.before.has(id)),
  )
  const kept = new Set(lines.map(line => line.id))
  await takeOut(
    call,
    [...known.before.keys()].filter(id => !kept.has(id)),
  )
  for (let from = 0; from < lines.length; from += 100)
    await call
      .trx('requisitionLines')
      .insert(lines.slice(from, from + 100) as unknown as Record<string, unknown>[])
      .onConflict('id')
      .merge()
  const days = body.lines
    .map(line => line.needBy)
    .filter(day => day !== null)
    .sort()
  const searched = body.lines.filter(line => line.kind !== 'personalFee').map(line => line.description)
  await call
    .trx('requisitions')
    .where({ id: head.id })
    .update({
      title: body.title,
      reason: body.reason,
      total: sumMinor(lines.map(line => line.baseAmount)),
      needBy: days[0] ?? null,
      lines: lines.length,
      version,
      changedAt: call.now,
      search: `${head.number} ${body.title} ${call.actor.name} ${searched.join(' ')}`.toLowerCase().slice(0, 4000),
    })
}

/** An id that another request's line has is nobody's to write to; the same id twice is no draft. */
async function refuseForeign(call: Call, fresh: readonly string[]): Promise<void> {
  if (fresh.length === 0) return
  const taken = await call
    .trx('requisitionLines')
    .whereIn('id', [...fresh])
    .first('id')
  if (taken || new Set(fresh).size !== fresh.length) throw new RuleBroken(stop('document.notFound', { kind: 'requisitionLine' }))
}

/** Lines that leave a draft: questions about them stay with the request, cancelled orders that had them keep their own copy. */
async function takeOut(call: Call, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return
  await call
    .trx('requestQuestions')
    .whereIn('lineId', [...ids])
    .update({ lineId: null })
  await call
    .trx('requisitionLines')
    .whereIn('splitFrom', [...ids])
    .update({ splitFrom: null })
  await call
    .trx('orderLines')
    .whereIn('requisitionLineId', [...ids])
    .update({ requisitionLineId: null })
  await call
    .trx('requisitionLines')
    .whereIn('id', [...ids])
    .delete()
}

async function offersOf(call: Call, lines: readonly LineBody[]): Promise<Map<string, OfferRow>> {
  const ids = lines.map(line => line.offerId).filter(id => id !== null)
  const rows = ids.length > 0 ? ((await call.trx('offers').whereIn('id', ids)) as OfferRow[]) : []
  return new Map(rows.map(row => [row.id, row]))
}

export const seen = (offer: OfferRow): SeenOffer => ({
  tiers: offer.tiers,
  priceBase: offer.priceBase,
  currency: offer.currency,
  minimum: offer.minimum,
  multiple: offer.multiple,
  validFrom: offer.validFrom,
  validTo: offer.validTo,
  leadTimeDays: offer.leadTimeDays,
  unit: offer.unit,
  agreement: offer.agreement,
})

function toRow(call: Call, requisitionId: string, body: LineBody, position: number, known: Around) {
  const offer = body.offerId ? known.offers.get(body.offerId) : undefined
  if (body.offerId && !offer) throw new RuleBroken(stop('line.offerGone', {}, { place: `lines.${position}.offerId` }))
  const before = body.id ? known.before.get(body.id) : undefined
  const kept = before && before.offerId === body.offerId && !body.refresh ? before.offerSeen : null
  const offerSeen = offer ? (kept ?? seen(offer)) : null
  const line = moneyShape(fullLine(body))
  const fromOffer =
    offer && offerSeen
      ? {
          price: tierAt(offerSeen.tiers, line.quantity).price,
          priceBase: offerSeen.priceBase,
          unit: offerSeen.unit,
          currency: offerSeen.currency as LineBody['currency'],
          supplierId: offer.supplierId,
          itemId: offer.itemId,
        }
      : {}
  const priced = { ...line, ...fromOffer }
  const category = (priced.itemId && known.itemCategories.get(priced.itemId)) || line.category
  const said = saidProof(call, line, before, position)
  const amount = lineAmount(priced)
  const rate = known.rates.get(priced.currency) ?? null
  return {
    ...priced,
    id: body.id ?? randomUUID(),
    requisitionId,
    position,
    category,
    amount,
    baseAmount: rate === null ? 0n : toBase(amount, priced.currency, rate, call.base),
    proof: effectiveProof(line.kind, {
      line: said,
      category: known.categories.get(category)?.proof[line.kind] ?? null,
      supplierBilling: priced.supplierId ? (known.billing.get(priced.supplierId) ?? null) : null,
    }).proof,
    proofSet: said !== null,
    splits: JSON.stringify(line.splits),
    details: JSON.stringify(line.details),
    offerSeen: offerSeen ? JSON.stringify(offerSeen) : null,
    state: 'open',
  }
}

/** How a line is proven is changed by right only; what somebody with the right to has said stays. */
function saidProof(call: Call, line: FullLine, before: RequisitionLineRow | undefined, position: number): FullLine['proof'] {
  const kept = before?.proofSet && before.kind === line.kind ? before.proof : null
  if (line.proof === kept || may(call, 'proof.change')) return line.proof
  throw new RuleBroken(stop('right.missing', { permission: 'proof.change' }, { place: `lines.${position}.proof`, clearedBy: ['buyer'] }))
}
