import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AskFromPool, PlaceAward } from '#contract/order/awarded.ts'
import { needsRight } from '#core/acts/actor.ts'
import { toOrder } from '#core/ledger/quantity.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { awardedOrders, type PlacingFacts, whyNotPlace } from '#core/order/awardedOrders.ts'
import type { PoolLine } from '#core/order/draftOrders.ts'
import { whyNotInEvent, whyNotRoute, whyNotWaiting } from '#core/order/poolLines.ts'
import { repriceLine } from '#core/order/repriceLine.ts'
import { emptyLine, priceAt } from '#core/source/answer.ts'
import type { LineShare } from '#core/source/award.ts'
import { outcomeFor } from '#core/source/outcome.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { byId } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { baseRate, baseRates } from '#server/house/rates.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { companyTopic, documentTopic, tell } from '#server/news/tell.ts'
import { insertDraft } from '#server/order/newOrderStore.ts'
import { splitLine } from '#server/order/poolActs.ts'
import { heldToBuy, poolLines } from '#server/order/poolStore.ts'
import { type AwardedPrice, keepAwardedPrices } from '#server/request/awardedOfferStore.ts'
import { knownRequisition } from '#server/request/requisitionStore.ts'
import { answersTo, comparedCosts } from '#server/source/comparisonStore.ts'
import { log } from '#server/source/eventLogStore.ts'
import { writeTo } from '#server/source/eventMailStore.ts'
import { firstEnd, heldEvent, insertEvent, keepEventDesk, type KnownEvent, liveKind, type NewEventLine } from '#server/source/eventStore.ts' // prettier-ignore
import { refreshThread } from '#server/thread/refresh.ts'

/** Makes an event of approved lines, several requests together: what, how many, where, when and by which account stand in it as they were approved. */
export async function askFromPool(call: Write, body: BodyOf<typeof AskFromPool>): Promise<Done> {
  const kind = await liveKind(call, body.kindId)
  const lines = await heldToBuy(call, body.lineIds)
  refuse([...needsRight(call.actor, 'event.write'), ...whyNotWaiting(...lines), ...whyNotInEvent(...lines), ...whyNotRoute('askForQuotes', ...lines)]) // prettier-ignore
  const asked = [...lines].sort((a, b) => a.requisition.localeCompare(b.requisition) || a.position - b.position)
  const paid = await lastPaid(call, asked)
  const categories = await categoriesOf(call, asked)
  const { id, number } = await insertEvent(call, {
    kind,
    title: body.title,
    currency: call.base,
    category: mostCommon([...categories.values()]),
    lines: asked.map(line => eventLine(line, categories.get(line.id) ?? '', paid.get(line.itemId ?? ''), call.base)),
    copiedFrom: null,
    endsAt: await firstEnd(call, kind),
  })
  const requests = [...new Set(asked.map(line => line.requisition))]
  await record(call, { kind: 'event', id, action: 'drafted', changes: { from: requests } })
  for (const requisitionId of new Set(asked.map(line => line.requisitionId)))
    await record(call, { kind: 'requisition', id: requisitionId, action: 'inEvent', changes: { number } })
  await keepEventDesk(call, id)
  await refreshThread(call, { requisitionIds: [...new Set(asked.map(line => line.requisitionId))] })
  return { id, version: 1 }
}

const eventLine = (line: PoolLine, category: string, paid: string | undefined, base: string): NewEventLine => ({
  itemId: line.itemId,
  category,
  description: line.description,
  quantity: tidy(toOrder(line.sums)),
  unit: line.unit,
  needBy: line.needBy,
  addressId: line.addressId,
  incoterm: line.incoterm,
  incotermPlace: line.incotermPlace,
  reference: paid ?? (line.currency === base ? tidy(new Decimal(line.price).dividedBy(line.priceBase)) : ''),
  referenceFrom: paid ? 'lastPaid' : line.currency === base ? 'estimate' : null,
  requisitionLineId: line.id,
  accountId: null,
  texts: {},
})

async function categoriesOf(call: Read, lines: readonly PoolLine[]): Promise<Map<string, string>> {
  const rows = await call.trx('requisitionLines').whereIn('id', lines.map(line => line.id)).select('id', 'category') // prettier-ignore
  return new Map(rows.map(row => [row.id, row.category]))
}

const mostCommon = (words: readonly string[]): string => {
  const counts = new Map<string, number>()
  for (const word of words) counts.set(word, (counts.get(word) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? ''
}

/** What was paid last for one unit of each item, in the base currency. */
async function lastPaid(call: Read, lines: readonly PoolLine[]): Promise<Map<string, string>> {
  const items = lines.flatMap(line => line.itemId ?? [])
  const { rows } = await call.trx.raw<{ rows: { itemId: string; price: string; priceBase: string; rate: string }[] }>(
    `select distinct on (l.item_id) l.item_id, l.price, l.price_base, o.rate from order_lines l join orders o on o.id = l.order_id
     where l.item_id = any(?) and o.issued_at is not null order by l.item_id, o.issued_at desc`,
    [items],
  )
  return new Map(rows.map(row => [row.itemId, tidy(new Decimal(row.price).dividedBy(row.priceBase).times(row.rate))]))
}

/** What follows an award, in one step: orders, or the lines go back with price and supplier; offers of the catalogue; letters. */
export async function placeAward(
  call: Write,
  id: string,
  body: BodyOf<typeof PlaceAward>,
): Promise<ResponseOf<typeof PlaceAward>> {
  const event = await heldEvent(call, id, body.version)
  const facts = await placingFacts(call, event, body.accounts)
  const orders = body.how === 'orders' ? await makeOrders(call, facts) : await giveBack(call, facts)
  if (body.offers) await keepAwardedPrices(call, pricesOf(event, facts))
  const requests = [...new Set([...facts.pool.values()].map(line => line.requisitionId))]
  await log(call, event, { action: 'placed', details: { how: body.how, orders: orders.map(one => one.number) } })
  const done = await move(call, 'event', event.row, { state: 'settled' }, { action: 'place', changes: { orders: orders.map(one => one.number), how: body.how }, reason: null }) // prettier-ignore
  if (body.letters) await writeLetters(call, event)
  await tell(call, event.invited.map(one => companyTopic(one.supplierId, documentTopic(id)))) // prettier-ignore
  await keepEventDesk(call, id)
  await refreshThread(call, { requisitionIds: requests, orderIds: orders.map(one => one.id) })
  return { ...done, orders }
}

async function placingFacts(
  call: Write,
  event: KnownEvent,
  accounts: Readonly<Record<string, string>>,
): Promise<PlacingFacts> {
  const shares = event.row.award?.shares ?? []
  const awarded = new Set(shares.map(one => one.lineId))
  const answers = await answersTo(call, event)
  const requested = event.lines.flatMap(line => (awarded.has(line.id) ? (line.requisitionLineId ?? []) : []))
  await call.trx('requisitionLines').whereIn('id', requested).orderBy('id').forNoKeyUpdate().select('id')
  const suppliers = await call.trx('suppliers').whereIn('id', shares.map(one => one.supplierId)).select('id', 'name', 'overReceiptPercent') // prettier-ignore
  const given = Object.entries(accounts)
  const known = new Set(await call.trx('budgetAccounts').whereIn('id', given.map(([, account]) => account)).pluck<string[]>('id')) // prettier-ignore
  return {
    event,
    shares,
    answers,
    pool: byId(await poolLines(call, requested)),
    suppliers: byId(suppliers),
    accounts: new Map([
      ...event.lines.flatMap(line => (line.accountId === null ? [] : [[line.id, line.accountId] as const])),
      ...given.filter(([, account]) => known.has(account)),
    ]),
    rates: await baseRates(call, [...answers.values()].map(one => one.currency)), // prettier-ignore
    base: call.base,
    message: [`${event.kindRow.name} ${event.number}.`, ...carriedTexts(event)].join('\n'),
  }
}

/** Texts of the event that go on to the order. */
const carriedTexts = (event: KnownEvent): string[] =>
  event.kind.texts.flatMap(text => {
    const words = event.row.texts[text.key] || text.words.en || ''
    return text.carried && text.place === 'head' && text.writtenBy === 'us' && words !== '' ? [words] : []
  })

async function makeOrders(call: Write, facts: PlacingFacts): Promise<{ id: string; number: string }[]> {
  const { next } = obey(awardedOrders(facts, call.actor))
  const made = []
  for (const order of next.orders) {
    const { id, number } = await insertDraft(call, order)
    made.push({ id, number })
  }
  return made
}

/** The lines wait to be bought again, each with the price and the supplier that it was awarded to; one that is shared is split. */
async function giveBack(call: Write, facts: PlacingFacts): Promise<[]> {
  const requested = facts.shares.filter(share => lineOf(facts, share).requisitionLineId !== null)
  refuse(whyNotPlace({ ...facts, shares: requested }, call.actor))
  for (const lineId of new Set(requested.map(one => one.lineId))) {
    const shares = requested.filter(one => one.lineId === lineId)
    const pooled = facts.pool.get(lineOf(facts, shares[0]!).requisitionLineId!)!
    // all but the last are cut off, unless a part is given to nobody: then that stays as it was
    const whole = shares.reduce((sum, one) => sum.plus(one.quantity), new Decimal(0)).equals(toOrder(pooled.sums))
    for (const share of whole ? shares.slice(0, -1) : shares) await cutFor(call, facts, pooled, share)
    if (whole) await priceFor(call, facts, pooled, shares.at(-1)!)
  }
  return []
}

const lineOf = (facts: PlacingFacts, share: LineShare) => facts.event.lines.find(one => one.id === share.lineId)!
const givenFor = (facts: PlacingFacts, share: LineShare) =>
  facts.answers.get(share.supplierId)!.lines.find(one => one.lineId === share.lineId) ?? emptyLine(share.lineId)

/** The price of a share for as many units as the line's price is for. */
async function cutFor(call: Write, facts: PlacingFacts, pooled: PoolLine, share: LineShare): Promise<void> {
  const given = givenFor(facts, share)
  await splitLine(
    call,
    pooled.id,
    {
      quantity: share.quantity,
      offerId: null,
      supplierId: share.supplierId,
      price: tidy(
        new Decimal(priceAt(given, share.quantity)).dividedBy(given.priceBase || '1').times(pooled.priceBase),
      ),
      currency: facts.answers.get(share.supplierId)!.currency,
    },
    true,
  )
}

async function priceFor(call: Write, facts: PlacingFacts, pooled: PoolLine, share: LineShare): Promise<void> {
  await hold(call, 'requisition', pooled.requisitionId)
  const request = await knownRequisition(call, pooled.requisitionId)
  const line = found(request.lines.find(one => one.id === pooled.id), 'requisitionLine') // prettier-ignore
  const { currency } = facts.answers.get(share.supplierId)!
  const given = givenFor(facts, share)
  const accounts = await holdAccounts(call, line.splits.map(split => split.accountId).sort()) // prettier-ignore
  const decided = obey(repriceLine(line, { price: priceAt(given, share.quantity), priceBase: given.priceBase || '1', currency, rate: await baseRate(call, currency) }, accounts, call.actor, call.base)) // prettier-ignore
  await call
    .trx('requisitionLines')
    .where({ id: pooled.id })
    .update({ ...decided.next, supplierId: share.supplierId, offerId: null, offerSeen: null, markedFor: null })
  await postLedgers(call, { kind: 'requisition', id: request.id }, decided)
  const total = request.rows
    .filter(one => one.id !== pooled.id && one.state !== 'cancelled')
    .reduce((sum, one) => sum + one.baseAmount, BigInt(decided.next.baseAmount))
  await move(call, 'requisition', request.row, { total }, decided.did)
}

const pricesOf = (event: KnownEvent, facts: PlacingFacts): AwardedPrice[] =>
  facts.shares.flatMap(share => {
    const line = lineOf(facts, share)
    const answer = facts.answers.get(share.supplierId)!
    const given = givenFor(facts, share)
    return line.itemId === null || given.price === ''
      ? []
      : [
          {
            itemId: line.itemId,
            supplierId: share.supplierId,
            unit: line.unit,
            currency: answer.currency,
            price: priceAt(given, share.quantity),
            priceBase: given.priceBase || '1',
            minimum: given.minimum,
            leadDays: given.leadDays,
            validUntil: answer.validUntil,
            event: event.number,
          },
        ]
  })

/** Letters to those who get something and to the others; what they learn is a setting of the kind. */
async function writeLetters(call: Write, event: KnownEvent): Promise<void> {
  const award = event.row.award!
  const costs = await comparedCosts(call, event)
  const answered = event.rows.filter(
    one => one.sentAt !== null && (one.answeredAt !== null || costs.has(one.supplierId)),
  )
  for (const one of answered) {
    const outcome = outcomeFor(event.kind.tells, one.supplierId, award.shares, costs, minor(BigInt(award.cost)))
    const lines = new Set(outcome.won.map(won => won.lineId))
    await writeTo(
      call,
      event,
      [one],
      lines.size > 0 ? 'event.won' : 'event.lost',
      `event-outcome:${event.id}:${event.row.version}`,
      () => ({
        // prettier-ignore
        lines: lines.size,
        what: event.lines.filter(line => lines.has(line.id)).map(line => line.description).join(', ').slice(0, 400), // prettier-ignore
        place: outcome.place ?? '',
        price: outcome.winningPrice === null ? '' : `${event.currency} ${formatAmount(outcome.winningPrice, event.currency)}`, // prettier-ignore
      }),
    )
  }
}
