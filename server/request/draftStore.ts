import { randomUUID } from 'node:crypto'
import type { FullLine, LineBody, RequisitionBody } from '#contract/request/lines.ts'
import { lineAmount, minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { effectiveProof, moneyShape } from '#core/request/kinds.ts'
import { tierAt } from '#core/request/offer.ts'
import type { Answers } from '#core/source/questionnaire.ts'
import { may, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { someIds } from '#server/database/rows.ts'
import { nextNumber } from '#server/documents/number.ts'
import { baseRates } from '#server/house/rates.ts'
import { type AgreedLine, agreedLines } from '#server/ledger/agreedTermsStore.ts'
import { replaceSplits } from '#server/ledger/splitStore.ts'
import { type OfferRow, offersById, seenOffer } from '#server/request/offerStore.ts'
import { liveLines, type RequisitionLine, requisitionLines } from '#server/request/requisitionStore.ts'
import { categoriesOf, type CategoryRow } from '#server/source/categoryStore.ts'

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
  agreementLineId: line.agreementLineId ?? null,
})

interface Around {
  readonly offers: ReadonlyMap<string, OfferRow>
  readonly agreed: ReadonlyMap<string, AgreedLine>
  readonly before: ReadonlyMap<string, RequisitionLine>
  /** Lines that were refused or let go. */
  readonly gone: readonly RequisitionLine[]
  readonly itemCategories: ReadonlyMap<string, string>
  readonly categories: ReadonlyMap<string, CategoryRow>
  readonly billing: ReadonlyMap<string, 'afterAcceptance' | 'direct' | null>
  readonly rates: ReadonlyMap<string, string | null>
}

async function around(call: Read, requisitionId: string, lines: readonly LineBody[]): Promise<Around> {
  const offers = await offersById(call, someIds(lines.map(line => line.offerId)))
  const all = await requisitionLines(call, requisitionId)
  const before = liveLines(all)
  const itemIds = someIds([...lines.map(line => line.itemId), ...[...offers.values()].map(offer => offer.itemId)])
  const items = await call.trx('items').whereIn('id', itemIds).select('id', 'category')
  const names = someIds([...items.map(item => item.category), ...lines.map(line => line.category)])
  const agreed = await agreedLines(call, someIds(lines.map(line => line.agreementLineId ?? null)))
  return {
    offers,
    agreed,
    before: new Map(before.map(line => [line.id, line])),
    gone: all.filter(line => line.state === 'cancelled'),
    itemCategories: new Map(items.map(item => [item.id, item.category])),
    categories: new Map((await categoriesOf(call, names)).map(category => [category.name, category])),
    billing: await workBilling(call, [
      ...lines.map(line => line.supplierId),
      ...[...offers.values()].map(offer => offer.supplierId),
    ]),
    rates: await baseRates(call, [
      ...lines.map(line => line.currency),
      ...[...offers.values()].map(offer => offer.currency),
      ...before.map(line => line.currency),
      ...[...agreed.values()].map(line => line.currency),
    ]),
  }
}

async function workBilling(call: Read, supplierIds: readonly (string | null)[]): Promise<Around['billing']> {
  const suppliers = await call.trx('suppliers').whereIn('id', someIds(supplierIds)).select('id', 'defaults')
  return new Map(suppliers.map(supplier => [supplier.id, supplier.defaults.workBilling ?? null]))
}

/** A new draft of this person with its number and lines. Its record and its thread are the caller's. */
export async function insertDraft(
  call: Write,
  { id, ...body }: RequisitionBody & { readonly id: string },
  form?: { readonly id: string; readonly answers: Answers },
): Promise<{ id: string; number: string }> {
  const number = await nextNumber(call, 'requisition')
  await call.trx('requisitions').insert({
    id,
    number,
    title: '',
    reason: '',
    state: 'draft',
    requesterId: call.actor.id,
    createdAt: call.now,
    changedAt: call.now,
    formId: form?.id ?? null,
    answers: json(form?.answers ?? {}),
  })
  await writeLines(call, { id, number, requester: call.actor.name }, body, 1)
  return { id, number }
}

/** Writes what is asked for. Lines that were refused or let go stay as they are, at their places. */
export async function writeLines(
  call: Write,
  head: { readonly id: string; readonly number: string; readonly requester: string },
  body: RequisitionBody,
  version: number,
): Promise<void> {
  const known = await around(call, head.id, body.lines)
  const positions = freePositions(body.lines.length, known.gone)
  const lines = body.lines.map((line, index) => toRow(call, head.id, line, positions[index]!, known))
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
      .insert(lines.slice(from, from + 100).map(({ splits: _splits, ...line }) => line))
      .onConflict('id')
      .merge()
  await replaceSplits(call, 'requisitionLineId', lines)
  const days = someIds(body.lines.map(line => line.needBy)).sort()
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
      search: `${head.number} ${body.title} ${head.requester} ${searched.join(' ')}`.toLowerCase().slice(0, 4000),
    })
}

/** So many places from 1 on, past those that are taken. */
function freePositions(count: number, gone: readonly RequisitionLine[]): number[] {
  const taken = new Set(gone.map(line => line.position))
  const free: number[] = []
  for (let place = 1; free.length < count; place++) if (!taken.has(place)) free.push(place)
  return free
}

/** An id that another request's line has is nobody's to write to; the same id twice is no draft. */
async function refuseForeign(call: Read, fresh: readonly string[]): Promise<void> {
  if (fresh.length === 0) return
  const taken = await call
    .trx('requisitionLines')
    .whereIn('id', [...fresh])
    .first('id')
  if (taken || new Set(fresh).size !== fresh.length)
    throw new RuleBroken(stop('document.notFound', { kind: 'requisitionLine' }))
}

/** Lines that leave a draft: questions about them stay with the request, cancelled orders that had them keep their own copy. */
async function takeOut(call: Write, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return
  const gone = [...ids]
  await call.trx('requestQuestions').whereIn('lineId', gone).update({ lineId: null })
  await call.trx('requisitionLines').whereIn('splitFrom', gone).update({ splitFrom: null })
  await call.trx('orderLines').whereIn('requisitionLineId', gone).update({ requisitionLineId: null })
  await call.trx('requisitionLines').whereIn('id', gone).delete()
}

function toRow(call: Read, requisitionId: string, body: LineBody, position: number, known: Around) {
  const offer = body.offerId ? known.offers.get(body.offerId) : undefined
  if (body.offerId && !offer) throw new RuleBroken(stop('line.offerGone', {}, { place: `lines.${position}.offerId` }))
  const before = body.id ? known.before.get(body.id) : undefined
  const kept = before && before.offerId === body.offerId && !body.refresh ? before.offerSeen : null
  const offerSeen = offer ? (kept ?? seenOffer(offer)) : null
  const line = moneyShape(fullLine(body))
  const fromOffer =
    offer && offerSeen
      ? {
          price: tierAt(offerSeen.tiers, line.quantity).price,
          priceBase: offerSeen.priceBase,
          unit: offerSeen.unit,
          currency: offerSeen.currency,
          supplierId: offer.supplierId,
          itemId: offer.itemId,
        }
      : fromAgreement(line, known)
  const { splits, ...priced } = { ...line, ...fromOffer }
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
    agreementLineId: offer ? offer.agreementLineId : line.itemId === null ? line.agreementLineId : null,
    amount,
    baseAmount: rate === null ? minor(0) : toBase(amount, priced.currency, rate, call.base),
    proof: effectiveProof(line.kind, {
      line: said,
      category: known.categories.get(category)?.proof[line.kind] ?? null,
      supplierBilling: priced.supplierId ? (known.billing.get(priced.supplierId) ?? null) : null,
    }).proof,
    proofSet: said !== null,
    splits,
    details: json(line.details),
    offerSeen: offerSeen ? json(offerSeen) : null,
    state: 'open' as const,
  }
}

/** What a line takes over from the agreement that it calls off without an offer: the supplier, and of work by rate what it costs today. */
function fromAgreement(line: FullLine, known: Around): Partial<FullLine> {
  const agreed =
    line.agreementLineId === null || line.itemId !== null ? undefined : known.agreed.get(line.agreementLineId)
  if (!agreed) return {}
  const { supplierId, currency, unit, priceBase, tiers } = agreed
  if (line.kind !== 'workByRate') return { supplierId, currency }
  return { supplierId, currency, unit, priceBase, price: tierAt(tiers, line.quantity).price }
}

/** How a line is proven is changed by right only; what somebody with the right to has said stays. */
function saidProof(
  call: Read,
  line: FullLine,
  before: RequisitionLine | undefined,
  position: number,
): FullLine['proof'] {
  const kept = before?.proofSet && before.kind === line.kind ? before.proof : null
  if (line.proof === kept || may(call, 'proof.change')) return line.proof
  throw new RuleBroken(
    stop('right.missing', { permission: 'proof.change' }, { place: `lines.${position}.proof`, clearedBy: ['buyer'] }),
  )
}
