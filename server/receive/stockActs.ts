import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { AnswerCount, CountStock, IssueStock, MoveStock, ReserveStock } from '#contract/receive/stock.ts'
import type { Done as Decided } from '#core/acts/decision.ts'
import { NOT_YOURS } from '#core/acts/decision.ts'
import { isHeldDecimal, Decimal } from '#core/money/decimal.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import {
  answerCount,
  countStock,
  type FoundLot,
  issueStock,
  type Lot,
  lotKey,
  moveStock,
  type StockEntry,
  type StockNext,
} from '#core/receive/stock.ts'
import { type Done, found, may, type Read, type Write } from '#server/call.ts'
import { ask, consentsById, settleConsent } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey } from '#server/documents/obey.ts'
import { holdStock, postStock, stockFacts, type StockMoveLine, type StockMoveRow } from '#server/receive/stockStore.ts'

/** The stock that an act touches, held until it is done. */
async function heldStock(call: Write, lots: readonly Lot[]) {
  const itemIds = lots.map(lot => lot.itemId)
  await holdStock(call, itemIds)
  return await stockFacts(call, itemIds)
}

async function keepMove(
  call: Write,
  kind: StockMoveRow['kind'],
  decided: Decided<StockNext>,
  {
    purpose = '',
    note,
    lines,
    state = 'posted',
  }: { purpose?: string; note: string; lines: StockMoveLine[]; state?: StockMoveRow['state'] },
): Promise<Done & { number: string }> {
  const id = randomUUID()
  const number = await nextNumber(call, 'stockMove')
  await call.trx('stockMoves').insert({ id, number, kind, state, placeId: lines[0]!.placeId, purpose, reason: note, lines: json(lines), byId: call.actor.id, at: call.now, changedAt: call.now }) // prettier-ignore
  await postStock(call, { kind: 'stockMove', id }, decided.next.entries)
  await record(call, { kind: 'stockMove', id, ...decided.did })
  return { id, version: 1, number }
}

/** Hands goods out of stock; what is set apart for whoever takes them is used up first. */
export async function issue(
  call: Write,
  { to, note, lines }: BodyOf<typeof IssueStock>,
): Promise<Done & { number: string }> {
  const facts = await heldStock(call, lines)
  const decided = obey(issueStock(facts, lines, to, call.actor))
  const done = await keepMove(call, 'issue', decided, { purpose: to, note, lines })
  await useReservations(call, lines, to)
  return done
}

/** What somebody set apart for this purpose is taken from what they set apart. */
async function useReservations(
  call: Write,
  lines: readonly (Lot & { quantity: string })[],
  purpose: string,
): Promise<void> {
  for (const { itemId, placeId, quantity } of lines) {
    let left = new Decimal(quantity)
    const apart = await call.trx('stockReservations').where({ itemId, placeId, purpose, byId: call.actor.id }).whereNull('endedAt').orderBy('at').forUpdate() // prettier-ignore
    for (const one of apart) {
      const used = Decimal.min(left, one.quantity)
      left = left.minus(used)
      const rest = new Decimal(one.quantity).minus(used)
      await call.trx('stockReservations').where({ id: one.id }).update(rest.isZero() ? { endedAt: call.now } : { quantity: rest.toString() }) // prettier-ignore
      if (left.isZero()) break
    }
  }
}

/** What is moved keeps its best-before date: each entry of a move follows the one that took it out. */
async function withDates(
  call: Read,
  entries: readonly StockEntry[],
): Promise<(StockEntry & { bestBefore: string | null })[]> {
  const lots = await call.trx('stockLots').whereIn('itemId', [...new Set(entries.map(entry => entry.itemId))])
  const dates = new Map(lots.map(lot => [lotKey(lot), lot.bestBefore]))
  return entries.map((entry, index) => ({ ...entry, bestBefore: dates.get(lotKey(index % 2 === 0 ? entry : entries[index - 1]!)) ?? null })) // prettier-ignore
}

export async function moveTo(
  call: Write,
  { note, lines }: BodyOf<typeof MoveStock>,
): Promise<Done & { number: string }> {
  for (const id of new Set(lines.map(line => line.toPlaceId)))
    found(await call.trx('addresses').where({ id }).first('id'), 'address')
  const decided = obey(moveStock(await heldStock(call, lines), lines, call.actor))
  const entries = await withDates(call, decided.next.entries)
  return await keepMove(call, 'move', { ...decided, next: { entries } }, { note, lines })
}

/** Counts lots: differences wait for somebody else's yes. */
export async function count(
  call: Write,
  { note, lines }: BodyOf<typeof CountStock>,
): Promise<Done & { number: string; state: string }> {
  const decided = obey(countStock(await heldStock(call, lines), lines, call.actor))
  const state = decided.next.asks ? 'asked' : 'posted'
  const done = await keepMove(call, 'count', decided, { note, state, lines: lines.map(({ found: quantity, ...lot }) => ({ ...lot, quantity })) }) // prettier-ignore
  if (decided.next.asks) {
    // what lies where nothing was known to lie has a page, too, on which somebody can answer
    const { itemId, placeId } = lines[0]!
    await call.trx('stockHoldings').insert({ itemId, placeId, quantity: '0', value: 0n, changedAt: call.now } as never).onConflict(['itemId', 'placeId']).ignore() // prettier-ignore
    const holding = found(await call.trx('stockHoldings').where({ itemId, placeId }).first('id'), 'stock')
    const item = await call.trx('items').where({ id: lines[0]!.itemId }).first('name')
    const about = { number: done.number, title: item?.name ?? '', who: call.actor.name, extra: note, amount: null, currency: null, needBy: null, path: `/receive/stock/${holding.id}` } // prettier-ignore
    const consent = await ask(call, { ...decided.next.asks, documentId: done.id }, about)
    await call.trx('stockMoves').where({ id: done.id }).update({ consentId: consent.id })
  }
  return { ...done, state }
}

/** Somebody else answers for the differences of a count. */
export async function answer(call: Write, id: string, body: BodyOf<typeof AnswerCount>): Promise<Done> {
  const row = await hold(call, 'stockMove', id)
  if (row.kind !== 'count') throw new RuleBroken(stop('document.notFound', { kind: 'stockMove' }))
  const lots = row.lines.map(({ quantity, ...lot }): FoundLot => ({ ...lot, found: quantity }))
  const facts = await heldStock(call, lots)
  const consent =
    row.consentId === null ? null : ((await consentsById(call, [row.consentId])).get(row.consentId) ?? null)
  const decided = obey(answerCount(facts, lots, consent, call.actor, body.answer, body.reason))
  await settleConsent(call, consent!, decided.next.consent)
  await postStock(call, { kind: 'stockMove', id }, decided.next.entries)
  return await move(call, 'stockMove', row, { state: decided.next.state }, decided.did)
}

/** Sets some of an item at a site apart for a purpose. */
export async function reserve(call: Write, body: BodyOf<typeof ReserveStock>): Promise<{ id: string }> {
  await holdStock(call, [body.itemId])
  const facts = await stockFacts(call, [body.itemId])
  const mine = await call.trx('stockReservations').where({ itemId: body.itemId, placeId: body.placeId, byId: call.actor.id }).whereNull('endedAt').select('quantity') // prettier-ignore
  const key = `${body.itemId} ${body.placeId}`
  const apart = mine.reduce((sum, one) => sum.plus(one.quantity), new Decimal(facts.reserved.get(key) ?? '0'))
  const free = new Decimal(facts.holdings.get(key)?.quantity ?? '0').minus(apart)
  if (!isHeldDecimal(body.quantity) || new Decimal(body.quantity).lte(0))
    throw new RuleBroken(stop('stock.quantity', {}, { place: 'quantity' }))
  if (free.lt(body.quantity))
    throw new RuleBroken(stop('stock.notFree', { free: Decimal.max(0, free).toString() }, { place: 'quantity' }))
  const id = randomUUID()
  await call.trx('stockReservations').insert({ ...body, id, byId: call.actor.id, at: call.now })
  return { id }
}

/** Ends what was set apart: whoever did it, or a receiver. */
export async function endReservation(call: Write, id: string): Promise<{ id: string }> {
  const row = found(
    await call.trx('stockReservations').where({ id }).whereNull('endedAt').forUpdate().first(),
    'reservation',
  )
  if (row.byId !== call.actor.id && !may(call, 'delivery.receive')) throw new RuleBroken(NOT_YOURS)
  await call.trx('stockReservations').where({ id }).update({ endedAt: call.now })
  return { id }
}
