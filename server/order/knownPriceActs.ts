import { randomUUID } from 'node:crypto'
import type { CompareKnown } from '#contract/order/knownPrices.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import { compareKnown, knownAnswers, type KnownPrice, offerFor } from '#core/order/knownPrices.ts'
import { priceColumns, readPrices, whyNotPriceList } from '#core/order/knownPriceImport.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { askedLines } from '#core/source/event.ts'
import { whyNotCompareKnown } from '#core/source/eventActs.ts'
import { type Done, type Read, type Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { json } from '#server/database/json.ts'
import { byId, groupBy, someIds } from '#server/database/rows.ts'
import { move } from '#server/documents/move.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { ownContent } from '#server/files/fileActs.ts'
import { baseRates } from '#server/house/rates.ts'
import { openOffers } from '#server/request/openOfferStore.ts'
import { KNOWN_CHANNEL, kept } from '#server/source/answerStore.ts'
import { heldEvent, keepEventDesk, type KnownEvent, knownEvent } from '#server/source/eventStore.ts'
import { addInvited } from '#server/source/invitedStore.ts'

/** Rows that a list of prices can have, and those that are named as wrong at once. */
const MOST_ROWS = 20_000
const MOST_FAULTS = 50

/** Takes what is known as answers, and compares it: nobody is asked, and nobody is written to. */
export async function compareWhatIsKnown(
  call: Write,
  id: string,
  body: BodyOf<typeof CompareKnown>,
): Promise<Done & { suppliers: number; left: number }> {
  const event = await heldEvent(call, id, body.version)
  refuse(whyNotCompareKnown(event, call.actor))
  const listed = body.fileId !== null || body.pasted.trim() !== '' ? await pricesListed(call, event, body) : []
  const offered = body.catalogue ? await pricesOffered(call, event) : { prices: [], left: 0 }
  const found = knownAnswers(event, [...listed, ...offered.prices])
  const known = { ...found, left: found.left + offered.left }
  const { next, did } = obey(compareKnown(event, known, call.actor, call.now))
  await addInvited(call, event, [...known.answers.keys()])
  const asked = await knownEvent(call, id)
  for (const one of asked.rows) {
    const content = known.answers.get(one.supplierId)
    if (!content) continue
    await call.trx('eventAnswers').insert({
      id: randomUUID(),
      invitedId: one.id,
      revision: 1,
      state: 'submitted',
      content: json(kept(asked, content)),
      channel: KNOWN_CHANNEL,
      byId: call.actor.id,
      onBehalf: false,
      at: call.now,
    })
    await call.trx('eventSuppliers').where({ id: one.id }).update({ answeredAt: call.now, currency: content.currency })
  }
  const done = await move(call, 'event', asked.row, { ...next }, did)
  await keepEventDesk(call, id)
  return { ...done, suppliers: known.answers.size, left: known.left }
}

/** Offers of the catalogue for the lines that name an item, in the units of the lines. */
async function pricesOffered(call: Read, event: KnownEvent): Promise<{ prices: readonly KnownPrice[]; left: number }> {
  const lines = askedLines(event)
  const offers = groupBy(await openOffers(call, someIds(lines.map(line => line.itemId))), one => one.itemId)
  const prices = lines.flatMap(line => (offers.get(line.itemId ?? '') ?? []).map(offer => offerFor(line, offer)))
  const fit = prices.filter(one => one !== null)
  return { prices: fit, left: prices.length - fit.length }
}

async function pricesListed(
  call: Write,
  event: KnownEvent,
  body: BodyOf<typeof CompareKnown>,
): Promise<readonly KnownPrice[]> {
  const bytes = body.fileId === null ? Buffer.from(body.pasted, 'utf8') : await ownContent(call, body.fileId)
  const { headings, rows } = await compute('cellsOf', { bytes: new Uint8Array(bytes), days: true })
  const columns = priceColumns(headings)
  refuse(whyNotPriceList(columns))
  if (rows.length > MOST_ROWS) throw new RuleBroken(stop('known.tooMany', { most: MOST_ROWS }))
  const items = byId(await call.trx('items').whereIn('id', someIds(event.lines.map(line => line.itemId))).select('id', 'number')) // prettier-ignore
  const suppliers = await call.trx('suppliers').where({ state: 'active' }).whereNull('mergedInto').select('id', 'number', 'name') // prettier-ignore
  const names = {
    suppliers: new Map([
      ...suppliers.map(one => [one.name.toLowerCase(), one.id] as const),
      ...suppliers.map(one => [one.number.toLowerCase(), one.id] as const),
    ]),
    items: new Map([...items.values()].map(item => [item.number.toLowerCase(), item.id])),
    currency: event.currency,
    currencies: await currenciesOf(call, event, rows, columns.get('currency')),
  }
  const { prices, faults } = readPrices(rows, columns, askedLines(event), names)
  if (faults.length > 0) throw new RuleBroken(faults.slice(0, MOST_FAULTS))
  return prices
}

/** Currencies of a list that the house has a rate of today for. */
async function currenciesOf(
  call: Read,
  event: KnownEvent,
  rows: readonly (readonly string[])[],
  column: number | undefined,
): Promise<ReadonlySet<string>> {
  const written = column === undefined ? [] : rows.map(row => (row[column] ?? '').trim().toUpperCase())
  const wanted = [...new Set(written.filter(code => /^[A-Z]{3}$/.test(code)))]
  const rates = await baseRates(call, [event.currency, ...wanted])
  return new Set([...rates].flatMap(([code, rate]) => (rate === null ? [] : [code])))
}
