import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type {
  ChangePrices,
  PreviewPrices,
  PriceDifferences,
  PricesChanged,
  TakePriceList,
} from '#contract/request/keeping.ts'
import type { z } from 'zod'
import { addDays } from '#core/calendar/days.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { whyNotPricesFrom } from '#core/request/itemEntry.ts'
import { hasEnded } from '#core/request/offer.ts'
import {
  changeOffers,
  comparePriceList,
  type Difference,
  isTaken,
  type ListedOffer,
  PRICE_COLUMNS,
  type PriceRow,
  readPriceRow,
} from '#core/request/priceList.ts'
import { whyNotChange } from '#core/request/prices.ts'
import type { Read, Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { record, sha256 } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { refuse } from '#server/documents/obey.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { MOST_ROWS_AT_ONCE } from '#server/formats/cells.ts'
import { importResult, type RowFaults, slices } from '#server/formats/importResult.ts'
import type { OfferRow } from '#server/request/offerStore.ts'
import { keepPrices } from '#server/request/priceStore.ts'

type Changed = z.output<typeof PricesChanged>
/** Differences that are sent to be looked at; the rest is counted. */
const SHOWN = 2000
const ORDER = ['dearer', 'cheaper', 'tiers', 'missing', 'unknown', 'agreed', 'same'] as const

/** The supplier's offers that have not ended. */
async function offersOf(call: Read, supplierId: string, category = ''): Promise<ListedOffer[]> {
  const offers = await call
    .trx('offers')
    .join('items', 'items.id', 'offers.itemId')
    .where({ supplierId })
    .modify(query => void (category !== '' && query.where('items.category', category)))
    .orderBy(['items.number', 'offers.supplierItem'])
    .select<(ListedOffer & Pick<OfferRow, 'validTo'>)[]>('offers.id', 'items.number', 'items.name', 'offers.supplierItem', 'items.gtin', 'offers.currency', 'offers.unit', 'offers.minimum', 'offers.priceBase', 'offers.tiers', 'offers.agreement', 'offers.agreementLineId', 'offers.validTo') // prettier-ignore
  return offers.filter(offer => !hasEnded(offer, call.today))
}

interface Seen {
  readonly differences: readonly Difference[]
  readonly faults: readonly RowFaults[]
  readonly stamp: string
}

const seen = (differences: readonly Difference[], faults: readonly RowFaults[]): Seen => ({
  differences,
  faults,
  stamp: sha256(JSON.stringify([differences, faults])),
})

function shown({ differences, faults, stamp }: Seen): PriceDifferences {
  const counts = Object.fromEntries(ORDER.map(kind => [kind, differences.filter(one => one.kind === kind).length]))
  const result = importResult({ rows: [], delimiter: '', encoding: '' }, faults, false)
  const inOrder = [...differences].sort((a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind))
  return {
    differences: inOrder.slice(0, SHOWN).map(one => ({
      ...one,
      before: one.before && { ...one.before, tiers: [...one.before.tiers] },
      after: one.after && { ...one.after, tiers: one.after.tiers.map(tier => ({ ...tier, from: tier.from || '1' })) },
    })),
    counts,
    faults: result.faults,
    faultCount: result.faultCount,
    stamp,
  }
}

/** What a change of all prices of a supplier would do. */
export const previewPrices = async (
  call: Read,
  body: BodyOf<typeof PreviewPrices>,
): Promise<ResponseOf<typeof PreviewPrices>> => shown(await wouldChange(call, body))

async function wouldChange(call: Read, body: BodyOf<typeof PreviewPrices>): Promise<Seen> {
  refuse(whyNotChange(body))
  return seen(changeOffers(await offersOf(call, body.supplierId, body.category), body), [])
}

/** Changes all prices of a supplier, as they were seen before. */
export async function changePrices(call: Write, body: BodyOf<typeof ChangePrices>): Promise<Changed> {
  await hold(call, 'supplier', body.supplierId)
  const { percent, places, category } = body
  return await take(
    call,
    await wouldChange(call, body),
    { ...body, endMissing: false, origin: 'change' },
    { percent, places, category },
  )
}

/** What a supplier's price list says about their offers. */
export const readPriceList = async (call: Read, supplierId: string, fileId: string): Promise<PriceDifferences> =>
  shown(await wouldTake(call, supplierId, fileId))

async function wouldTake(call: Read, supplierId: string, fileId: string): Promise<Seen> {
  const bytes = await ownContent(call, fileId)
  const table = await compute('tableOf', { bytes, known: PRICE_COLUMNS, needed: ['price'], most: MOST_ROWS_AT_ONCE })
  const rows: PriceRow[] = []
  const faults: RowFaults[] = []
  for await (const { row: texts, index } of slices(table.rows)) {
    const { row, reasons } = readPriceRow(texts, index + 2)
    if (row) rows.push(row)
    else faults.push({ row: index + 2, reasons })
  }
  const compared = comparePriceList(await offersOf(call, supplierId), rows)
  return seen(compared.differences, [...faults, ...compared.faults])
}

/** Lets a price list count from a day on, as its differences were seen before. */
export async function takePriceList(call: Write, body: BodyOf<typeof TakePriceList>): Promise<Changed> {
  await hold(call, 'supplier', body.supplierId)
  const seenNow = await wouldTake(call, body.supplierId, body.fileId)
  if (seenNow.faults.length > 0) throw new RuleBroken(stop('priceList.faults', { count: seenNow.faults.length }))
  return await take(call, seenNow, { ...body, origin: 'list' }, {})
}

interface Taking {
  readonly supplierId: string
  readonly from: string
  readonly reason: string
  readonly stamp: string
  readonly endMissing: boolean
  readonly origin: 'change' | 'list'
}

async function take(call: Write, now: Seen, asked: Taking, facts: Readonly<Record<string, unknown>>): Promise<Changed> {
  refuse(whyNotPricesFrom(asked.from, call.today))
  if (now.stamp !== asked.stamp) throw new RuleBroken(stop('price.changedMeanwhile'))
  const changed = now.differences.filter(isTaken)
  const missing = asked.endMissing ? now.differences.filter(one => one.kind === 'missing').map(one => one.offerId!) : []
  await keepPrices(
    call,
    changed.map(one => ({ offerId: one.offerId!, fromDay: asked.from, ...one.after! })),
    { origin: asked.origin, reason: asked.reason },
  )
  const ended = await endOffers(call, missing, addDays(asked.from, -1))
  await record(call, {
    kind: 'supplier',
    id: asked.supplierId,
    action: 'pricesChanged',
    changes: { ...facts, from: asked.from, offers: changed.length, ended },
    reason: asked.reason,
  })
  return { offers: changed.length, ended }
}

/** Ends offers on a day, and says how many: those that begin later were not meant, those that end before already do. */
async function endOffers(call: Write, ids: readonly string[], lastDay: string): Promise<number> {
  const offers = await call
    .trx('offers')
    .whereIn('id', [...ids])
    .orderBy('id')
    .forNoKeyUpdate()
  const ending = offers.filter(offer => offer.validFrom <= lastDay && !hasEnded(offer, lastDay))
  await call
    .trx('offers')
    .whereIn(
      'id',
      ending.map(offer => offer.id),
    )
    .update({ validTo: lastDay, version: call.trx.raw('version + 1') as never, changedAt: call.now } as never)
  return ending.length
}
