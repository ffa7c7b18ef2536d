import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadHolding } from '#contract/receive/stock.ts'
import { whyNotDecide } from '#core/consent/consent.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { minorDigits } from '#core/money/currency.ts'
import { differencesOf, type FoundLot } from '#core/receive/stock.ts'
import { found, may, type Read } from '#server/call.ts'
import { consentsById } from '#server/consent/consentStore.ts'
import { someIds } from '#server/database/rows.ts'
import { stockFacts, type StockMoveRow } from '#server/receive/stockStore.ts'

interface Reserved {
  id: string
  quantity: string
  purpose: string
  until: string | null
  byId: string
  by: string
}
const MOVEMENTS = 200

/** What is in stock of an item at a site: its lots, what moved, what is set apart, what waits to be said yes to. */
export async function readHolding(call: Read, id: string): Promise<ResponseOf<typeof ReadHolding>> {
  const holding = found(await call.trx('stockHoldings').where({ id }).first(), 'stock')
  const { itemId, placeId } = holding
  const item = found(await call.trx('items').where({ id: itemId }).first('number', 'name', 'unit'), 'item')
  const places = await call.trx('addresses').orderBy('name').select('id', 'name', 'dock', 'open')
  const lots = await call
    .trx('stockLots')
    .where({ itemId, placeId })
    .where('quantity', '>', 0)
    .orderBy(['bin', 'batch'])
  const { rows: reserved } = await call.trx.raw<{ rows: Reserved[] }>(
    `select r.id, trim_scale(r.quantity)::text as quantity, r.purpose, r.until, r.by_id, p.name as by from stock_reservations r join people p on p.id = r.by_id
     where r.item_id = ? and r.place_id = ? and r.ended_at is null order by r.at`,
    [itemId, placeId],
  )
  const cents = new Decimal(holding.value.toString()).dividedBy(10 ** minorDigits(call.base))
  return {
    id,
    itemId,
    item: item.name,
    itemNumber: item.number,
    unit: item.unit,
    placeId,
    place: places.find(one => one.id === placeId)?.name ?? '',
    quantity: holding.quantity,
    value: formatAmount(minor(holding.value), call.base),
    averageCost: new Decimal(holding.quantity).isZero()
      ? ''
      : tidy(cents.dividedBy(holding.quantity).toDecimalPlaces(4)),
    currency: call.base,
    reserved: tidy(reserved.reduce((sum, one) => sum.plus(one.quantity), new Decimal(0))),
    lots: lots.map(({ bin, batch, quantity, bestBefore }) => ({ bin, batch, quantity, bestBefore })),
    movements: await movements(call, itemId, placeId),
    reservations: reserved.map(one => ({ id: one.id, quantity: one.quantity, purpose: one.purpose, until: one.until, by: one.by, mine: one.byId === call.actor.id })), // prettier-ignore
    counts: await waitingCounts(call, itemId, placeId),
    mayMove: may(call, 'delivery.receive'),
    places: places.filter(one => one.open).map(one => ({ id: one.id, label: `${one.name}, ${one.dock}` })),
    purposes: await purposes(call),
  }
}

async function movements(call: Read, itemId: string, placeId: string) {
  const { rows } = await call.trx.raw<{
    rows: (ResponseOf<typeof ReadHolding>['movements'][number] & { value: string })[]
  }>(
    `select e.id::text as id, e.kind, e.quantity, e.value::text as value, e.bin, e.batch, e.at, p.name as by, coalesce(m.number, r.number, '') as number, coalesce(m.purpose, '') as purpose
     from stock_entries e join people p on p.id = e.actor_id left join stock_moves m on m.id = e.document_id left join receipts r on r.id = e.document_id
     where e.item_id = ? and e.place_id = ? order by e.id desc limit ?`,
    [itemId, placeId, MOVEMENTS],
  )
  return rows.map(row => ({ ...row, value: formatAmount(minor(BigInt(row.value)), call.base) }))
}

async function waitingCounts(call: Read, itemId: string, placeId: string) {
  const { rows } = await call.trx.raw<{ rows: (StockMoveRow & { by: string })[] }>(
    `select m.*, p.name as by from stock_moves m join people p on p.id = m.by_id where m.kind = 'count' and m.state = 'asked' and m.lines @> ?::jsonb order by m.at`,
    [JSON.stringify([{ itemId, placeId }])],
  )
  const consents = await consentsById(call, someIds(rows.map(row => row.consentId)))
  const facts = await stockFacts(call, [itemId])
  return rows.map(row => ({
    id: row.id,
    number: row.number,
    by: row.by,
    at: row.at,
    mayAnswer: whyNotDecide(consents.get(row.consentId ?? '') ?? null, call.actor).length === 0,
    differences: differencesOf(facts, row.lines.filter(one => one.itemId === itemId).map(({ quantity, ...lot }): FoundLot => ({ ...lot, found: quantity }))).map(({ bin, batch, found: seen, known }) => ({ bin, batch, found: seen, known })), // prettier-ignore
  }))
}

async function purposes(call: Read): Promise<string[]> {
  const centres = await call.trx('costCentres').orderBy('code').select('code', 'name')
  const projects = await call.trx('projects').where({ open: true }).orderBy('code').select('code', 'name')
  return [...centres, ...projects].map(({ code, name }) => `${code}, ${name}`)
}
