import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ActOnPool, PoolLine, ReturnLines, SplitLine } from '#contract/order/pool.ts'
import { releaseAll, spread } from '#core/ledger/commitments.ts'
import { openFigures } from '#core/ledger/quantity.ts'
import { formatAmount, lineAmount, minor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { Decimal } from '#core/money/decimal.ts'
import { note, refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { cutOff } from '#core/request/pool.ts'
import { earliestDelivery, tierAt } from '#core/request/offer.ts'
import { type Call, type Done, found } from '#server/call.ts'
import { tellRequester } from '#server/decide/notices.ts'
import { checkBudgets, outstanding, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/ledger/history.ts'
import { postQuantities, quantitySums } from '#server/ledger/quantityStore.ts'
import { type OfferRow, seen } from '#server/request/draft.ts'
import { OVER_APPROVED_PERCENT } from '#server/order/againstRequest.ts'
import { lockToBuy } from '#server/order/toBuy.ts'
import { ablePerson } from '#server/people/able.ts'
import { closeQuestions } from '#server/request/questions.ts'
import { factsOf, lineContext } from '#server/request/lineContext.ts'
import { baseRate } from '#server/request/rates.ts'
import { lockRequisition, refreshRequisitions, type RequisitionLineRow, requisitionLines } from '#server/request/requisitionStore.ts'
import { releaseRequisition } from '#server/request/submit.ts'
import { reasonsJson } from '#server/sheets/parts.ts'
import { teamCalendar } from '#server/setup/calendar.ts'

/** Takes lines, hands them on, puts them together under a word, or marks them for a quote request. */
export async function actOnPool(call: Call, body: BodyOf<typeof ActOnPool>): Promise<{ lines: number }> {
  const lines = await lockToBuy(call, body.lineIds)
  const ids = lines.map(line => line.id)
  const change = async (values: Record<string, unknown>): Promise<void> => void (await call.trx('requisitionLines').whereIn('id', ids).update(values))
  let to = ''
  if (body.action === 'take') await change({ buyerId: call.actor.id, takenAt: call.now })
  else if (body.action === 'leave') await change({ buyerId: null, takenAt: null })
  else if (body.action === 'handOn') {
    const person = await ablePerson(call, body.personId, 'order.write', 'pool.withoutRight')
    to = person.name
    await change({ buyerId: person.id, takenAt: call.now })
  } else if (body.action === 'bundle') await change({ bundle: body.text.trim() })
  else if (body.action === 'unmark') await change({ markedFor: null })
  else await mark(lines, body.marked ?? 'askForQuotes', change)
  for (const requisitionId of new Set(lines.map(line => line.requisitionId)))
    await record(call, {
      kind: 'requisition',
      id: requisitionId,
      action: `pool.${body.action}`,
      changes: { lines: lines.filter(line => line.requisitionId === requisitionId).map(line => line.position), to, text: body.text },
    })
  return { lines: lines.length }
}

async function mark(lines: readonly RequisitionLineRow[], route: 'askForQuotes' | 'setUpAgreement', change: (values: Record<string, unknown>) => Promise<void>): Promise<void> {
  const against = lines.filter(line => !line.routes.includes(route))
  if (against.length > 0)
    throw new RuleBroken(against.map(line => stop('pool.routeForbids', { line: line.description, route, routes: line.routes.join(', ') }, { clearedBy: ['requester'] })))
  await change({ markedFor: route })
}

/** Sends whole requests back for changes, or lets single lines go; either way what they reserved is free again. */
export async function returnLines(call: Call, body: BodyOf<typeof ReturnLines>): Promise<{ requests: string[] }> {
  const lines = await lockToBuy(call, body.lineIds)
  const numbers: string[] = []
  for (const requisitionId of [...new Set(lines.map(line => line.requisitionId))].sort()) {
    const own = lines.filter(line => line.requisitionId === requisitionId)
    const requisition = await lockRequisition(call, requisitionId)
    numbers.push(requisition.number)
    if (body.how === 'returnRequest') {
      const all = await requisitionLines(call, requisitionId)
      const bought = all.filter(line => !['toBuy', 'cancelled'].includes(line.state))
      if (bought.length > 0) throw new RuleBroken(stop('pool.partBought', { number: requisition.number, lines: bought.map(line => line.position).join(', ') }))
      const live = all.filter(line => line.state === 'toBuy').map(line => line.id)
      await releaseRequisition(call, requisitionId, live)
      await call.trx('requisitionLines').whereIn('id', live).update({ state: 'open', buyerId: null, markedFor: null, bundle: '' })
      await closeQuestions(call, requisitionId)
      await call
        .trx('requisitions')
        .where({ id: requisitionId })
        .update({ state: 'returned', version: requisition.version + 1, changedAt: call.now })
    } else await dropLines(call, requisitionId, requisition.version, own)
    await record(call, {
      kind: 'requisition',
      id: requisitionId,
      action: body.how === 'returnRequest' ? 'return' : 'linesDropped',
      changes: { lines: own.map(line => line.position) },
      reason: body.reason,
    })
    await tellRequester(call, requisition, 'returned', body.reason)
  }
  return { requests: numbers }
}

async function dropLines(call: Call, requisitionId: string, version: number, lines: readonly RequisitionLineRow[]): Promise<void> {
  const ids = lines.map(line => line.id)
  const sums = await quantitySums(call, ids)
  const started = lines.filter(line => !new Decimal(sums(line.id).ordered).isZero())
  if (started.length > 0) throw new RuleBroken(started.map(line => stop('pool.partOrdered', { line: line.description, ordered: sums(line.id).ordered })))
  await postBudget(call, { kind: 'requisition', id: requisitionId }, releaseAll(await outstanding(call, ids), ['reserved']))
  await postQuantities(
    call,
    { kind: 'requisition', id: requisitionId },
    lines.map(line => ({ lineId: line.id, kind: 'requested' as const, quantity: `-${sums(line.id).requested}` })).filter(entry => entry.quantity !== '-0'),
  )
  await closeQuestions(call, requisitionId, ids)
  await call.trx('requisitionLines').whereIn('id', ids).update({ state: 'cancelled' })
  await call
    .trx('requisitions')
    .where({ id: requisitionId })
    .update({ version: version + 1, changedAt: call.now })
  await refreshRequisitions(call, ids)
}

/**
 * Cuts a quantity off a line, for another supplier. What is requested and reserved stays the same in sum when the price does; a dearer part has
 * to find its budget.
 */
export async function splitLine(call: Call, id: string, body: BodyOf<typeof SplitLine>): Promise<Done> {
  const [line] = (await lockToBuy(call, [id])) as [RequisitionLineRow]
  const requisition = await lockRequisition(call, line.requisitionId)
  const sums = await quantitySums(call, [id])
  if (!new Decimal(sums(id).ordered).isZero()) throw new RuleBroken(stop('pool.partOrdered', { line: line.description, ordered: sums(id).ordered }))
  const cut = cutOff(line.quantity, body.quantity, line.position)
  refuseStops(cut.reasons)
  const offer = body.offerId ? found((await call.trx('offers').where({ id: body.offerId, itemId: line.itemId }).first()) as OfferRow | undefined, 'offer') : undefined
  if (offer && offer.unit !== line.unit) throw new RuleBroken(stop('units.noConversion', { from: line.unit, to: offer.unit }))
  const supplierId = offer?.supplierId ?? body.supplierId ?? line.supplierId
  const part = {
    quantity: cut.cut,
    price: offer ? tierAt(offer.tiers, cut.cut).price : (body.price ?? line.price),
    priceBase: offer?.priceBase ?? line.priceBase,
    currency: offer?.currency ?? body.currency ?? line.currency,
  }
  const keptPrice = line.offerSeen ? tierAt(line.offerSeen.tiers, cut.kept).price : line.price
  const value = async (figures: { quantity: string; price: string; priceBase: string; currency: string }) => {
    const amount = lineAmount(figures)
    return { amount, baseAmount: toBase(amount, figures.currency, await baseRate(call, figures.currency), call.base) }
  }
  const [kept, other] = [await value({ quantity: cut.kept, price: keptPrice, priceBase: line.priceBase, currency: line.currency }), await value(part)]
  const most = new Decimal(line.baseAmount.toString()).times(100 + OVER_APPROVED_PERCENT).dividedBy(100)
  if (new Decimal((kept.baseAmount + other.baseAmount).toString()).gt(most))
    throw new RuleBroken(
      stop(
        'pool.overApproved',
        {
          line: line.description,
          approved: formatAmount(line.baseAmount, call.base),
          wanted: formatAmount(kept.baseAmount + other.baseAmount, call.base),
          percent: OVER_APPROVED_PERCENT,
        },
        { clearedBy: ['requester'] },
      ),
    )
  const newId = randomUUID()
  const [{ last }] = (await call.trx('requisitionLines').where({ requisitionId: line.requisitionId }).max('position as last')) as unknown as [{ last: number }]
  await call.trx('requisitionLines').insert({
    ...line,
    ...part,
    ...other,
    id: newId,
    position: last + 1,
    offerId: offer?.id ?? null,
    offerSeen: offer ? JSON.stringify(seen(offer)) : null,
    supplierId,
    splitFrom: id,
    splitBy: 'share',
    splits: JSON.stringify(line.splits),
    details: JSON.stringify(line.details),
    markedFor: null,
  })
  await call
    .trx('requisitionLines')
    .where({ id })
    .update({ quantity: cut.kept, price: keptPrice, splitBy: 'share', ...kept })
  const source = { kind: 'requisition', id: line.requisitionId }
  const entries = [
    ...releaseAll(await outstanding(call, [id]), ['reserved']),
    ...spread('reserved', id, minor(kept.baseAmount), line.splits),
    ...spread('reserved', newId, minor(other.baseAmount), line.splits),
  ]
  const net = new Map<string, bigint>()
  for (const entry of entries) net.set(entry.accountId, (net.get(entry.accountId) ?? 0n) + entry.amount)
  const taking = new Map([...net].filter(([, amount]) => amount > 0n).map(([account, amount]) => [account, minor(amount)]))
  if (taking.size > 0) refuseStops(await checkBudgets(call, taking, true))
  await postBudget(call, source, entries)
  await postQuantities(call, source, [
    { lineId: id, kind: 'requested', quantity: `-${cut.cut}` },
    { lineId: newId, kind: 'requested', quantity: cut.cut },
  ])
  const lines = await requisitionLines(call, line.requisitionId)
  await call
    .trx('requisitions')
    .where({ id: line.requisitionId })
    .update({
      total: lines.filter(one => one.state !== 'cancelled').reduce((sum, one) => sum + one.baseAmount, 0n),
      lines: lines.length,
      version: requisition.version + 1,
      changedAt: call.now,
    })
  await record(call, {
    kind: 'requisition',
    id: line.requisitionId,
    action: 'lineSplit',
    changes: { position: line.position, cut: cut.cut, price: part.price, currency: part.currency },
  })
  return { id: newId, version: requisition.version + 1 }
}

/** One line of the pool with what a buyer needs to decide about it. */
export async function readPoolLine(call: Call, id: string): Promise<ResponseOf<typeof PoolLine>> {
  const line = found((await call.trx('requisitionLines').where({ id }).first()) as RequisitionLineRow | undefined, 'requisitionLine')
  const requisition = (await call.trx('requisitions').where({ id: line.requisitionId }).first('version', 'reason')) as { version: number; reason: string }
  const question = (await call.trx('requestQuestions').where({ lineId: id }).orderBy('askedAt', 'desc').first('question', 'answer')) as
    { question: string; answer: string | null } | undefined
  const offers = line.itemId
    ? ((await call
        .trx('offers')
        .join('suppliers', 'suppliers.id', 'offers.supplierId')
        .where({ itemId: line.itemId, unit: line.unit })
        .where('suppliers.state', 'active')
        .whereRaw('(valid_to is null or valid_to >= ?)', [call.today])
        .orderByRaw("(agreement = ''), (tiers -> 0 ->> 'price')::numeric")
        .select('offers.*', 'suppliers.name as supplier')) as (OfferRow & { supplier: string })[])
    : []
  const calendar = await teamCalendar(call)
  const sums = await quantitySums(call, [id])
  const facts = factsOf(await lineContext(call, [line]), line)
  return {
    id,
    version: requisition.version,
    description: line.description,
    open: openFigures(sums(id)).toOrder,
    unit: line.unit,
    routes: facts.routes,
    routeReason: line.routeReason,
    reason: requisition.reason,
    question: question?.question ?? null,
    answer: question?.answer ?? null,
    offers: offers.map(offer => ({
      id: offer.id,
      supplier: offer.supplier,
      agreement: offer.agreement,
      price: tierAt(offer.tiers, line.quantity).price,
      currency: offer.currency,
      unit: offer.unit,
      earliest: earliestDelivery(call.today, offer.leadTimeDays, calendar),
    })),
    reasons: reasonsJson(
      facts.offerNow?.now ? [note('pool.offerChanged', { kept: facts.offerNow.kept, now: facts.offerNow.now, amount: formatAmount(line.amount, line.currency) })] : [],
    ),
  }
}
