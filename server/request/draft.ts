import { randomUUID } from 'node:crypto'
import type { LineBody, RequisitionBody } from '#contract/request/endpoints.ts'
import { lineAmount, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Offer, priceQuantity } from '#core/request/offer.ts'
import type { Call } from '#server/call.ts'
import { type Done, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { lockRequisition, type RequisitionRow } from '#server/request/requisitionStore.ts'
import { baseRate } from '#server/request/rates.ts'

export interface OfferRow extends Offer {
  readonly id: string
  readonly itemId: string
  readonly supplierId: string
  readonly unit: string
  readonly supplierItem: string
}

export async function createRequisition(call: Call, body: RequisitionBody): Promise<Done> {
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'R-' || nextval('requisition_numbers') as number`)) as { rows: [{ number: string }] }
  await call.trx('requisitions').insert({ id, number: rows[0].number, title: '', reason: '', state: 'draft', requesterId: call.actor.id, createdAt: call.now, changedAt: call.now })
  await writeDraft(call, { id, number: rows[0].number }, body, 1)
  await record(call, { kind: 'requisition', id, action: 'created' })
  return { id, version: 1 }
}

/** Keeps a draft. Prices of offered items are taken from the offer, never from the page. */
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

async function writeDraft(call: Call, head: { id: string; number: string }, body: RequisitionBody, version: number): Promise<void> {
  const offers = await offersOf(call, body.lines)
  const rates = new Map<string, string>()
  for (const currency of new Set([...body.lines.map(line => line.currency as string), ...[...offers.values()].map(offer => offer.currency)]))
    rates.set(currency, await baseRate(call, currency))
  const lines = body.lines.map((line, index) => toRow(call, head.id, line, index + 1, line.offerId ? offers.get(line.offerId) : undefined, rates))
  await call.trx('requisitionLines').where({ requisitionId: head.id }).delete()
  if (lines.length > 0) await call.trx.batchInsert('requisitionLines', lines as unknown as Record<string, unknown>[], 200)
  const days = body.lines
    .map(line => line.needBy)
    .filter(day => day !== null)
    .sort()
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
      search: `${head.number} ${body.title} ${call.actor.name} ${body.lines.map(line => line.description).join(' ')}`.toLowerCase().slice(0, 4000),
    })
}

async function offersOf(call: Call, lines: readonly LineBody[]): Promise<Map<string, OfferRow>> {
  const ids = lines.map(line => line.offerId).filter(id => id !== null)
  const rows = ids.length > 0 ? ((await call.trx('offers').whereIn('id', ids)) as OfferRow[]) : []
  return new Map(rows.map(row => [row.id, row]))
}

function toRow(call: Call, requisitionId: string, line: LineBody, position: number, offer: OfferRow | undefined, rates: ReadonlyMap<string, string>) {
  if (line.offerId && !offer) throw new RuleBroken(stop('line.offerGone', {}, { place: `lines.${position}.offerId` }))
  const fromOffer = offer
    ? {
        price: priceQuantity(offer, line.quantity, call.today).price,
        priceBase: offer.priceBase,
        unit: offer.unit,
        currency: offer.currency as LineBody['currency'],
        supplierId: offer.supplierId,
        itemId: offer.itemId,
      }
    : {}
  const priced = { ...line, ...fromOffer }
  const amount = lineAmount(priced)
  const rate = rates.get(priced.currency)!
  return {
    id: line.id ?? randomUUID(),
    requisitionId,
    position,
    kind: line.kind,
    itemId: priced.itemId,
    offerId: line.offerId,
    description: line.description,
    quantity: line.quantity,
    unit: priced.unit,
    price: priced.price,
    priceBase: priced.priceBase,
    currency: priced.currency,
    amount,
    baseAmount: toBase(amount, priced.currency, rate, call.base),
    supplierId: priced.supplierId,
    needBy: line.needBy,
    addressId: line.addressId,
    splits: JSON.stringify(line.splits),
    state: 'open',
  }
}
