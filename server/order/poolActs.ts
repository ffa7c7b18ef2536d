import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { ActOnPool, ReturnLines, SplitLine } from '#contract/order/pool.ts'
import type { PoolLine } from '#core/order/draftOrders.ts'
import { whyNotInEvent, whyNotOffer, whyNotRoute, whyNotWaiting } from '#core/order/poolLines.ts'
import { dropLines, returnRequest } from '#core/order/returnLines.ts'
import { splitLine as decideSplit } from '#core/order/splitLine.ts'
import { tierAt } from '#core/request/offer.ts'
import { cutOff } from '#core/request/pool.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { settleConsent } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { groupBy } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { baseRate } from '#server/house/rates.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { insertSplits } from '#server/ledger/splitStore.ts'
import { say } from '#server/mail/mail.ts'
import { heldToBuy } from '#server/order/poolStore.ts'
import { ablePerson } from '#server/people/peopleStore.ts'
import { seenOffer } from '#server/request/offerStore.ts'
import {
  closeQuestions,
  knownRequisition,
  type KnownRequisition,
  type RequisitionLineRow,
  takeFromPool,
} from '#server/request/requisitionStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Lines that wait to be bought, held; a line that does not wait any more is refused. */
async function waitingLines(call: Write, ids: readonly string[]): Promise<PoolLine[]> {
  const lines = await heldToBuy(call, ids)
  refuse(whyNotWaiting(...lines))
  return lines
}

/** Takes lines, hands them on, puts them together under a word, or marks them for a quote request. */
export async function actOnPool(call: Write, body: BodyOf<typeof ActOnPool>): Promise<{ lines: number }> {
  const lines = await waitingLines(call, body.lineIds)
  const { columns, to } = await marks(call, body, lines)
  await call
    .trx('requisitionLines')
    .whereIn(
      'id',
      lines.map(line => line.id),
    )
    .update(columns)
  for (const [requisitionId, own] of groupBy(lines, line => line.requisitionId))
    await record(call, {
      kind: 'requisition',
      id: requisitionId,
      action: `pool.${body.action}`,
      changes: { lines: own.map(line => line.position), to, text: body.text },
    })
  return { lines: lines.length }
}

async function marks(
  call: Write,
  body: BodyOf<typeof ActOnPool>,
  lines: readonly PoolLine[],
): Promise<{ columns: Partial<RequisitionLineRow>; to: string }> {
  switch (body.action) {
    case 'take':
      return { columns: { buyerId: call.actor.id, takenAt: call.now }, to: '' }
    case 'leave':
      return { columns: { buyerId: null, takenAt: null }, to: '' }
    case 'handOn': {
      const person = await ablePerson(call, found(body.personId, 'person'), 'order.write', 'pool.withoutRight')
      return { columns: { buyerId: person.id, takenAt: call.now }, to: person.name }
    }
    case 'bundle':
      return { columns: { bundle: body.text.trim() }, to: '' }
    case 'unmark':
      return { columns: { markedFor: null }, to: '' }
    case 'mark': {
      const route = body.marked ?? 'askForQuotes'
      refuse(whyNotRoute(route, ...lines))
      return { columns: { markedFor: route }, to: '' }
    }
  }
}

/** Sends whole requests back for changes, or lets single lines go; either way what they reserved is free again. */
export async function returnLines(call: Write, body: BodyOf<typeof ReturnLines>): Promise<{ requests: string[] }> {
  const lines = await waitingLines(call, body.lineIds)
  refuse(whyNotInEvent(...lines))
  const numbers: string[] = []
  for (const [requisitionId, own] of [...groupBy(lines, line => line.requisitionId)].sort(([a], [b]) =>
    a < b ? -1 : 1,
  )) {
    await hold(call, 'requisition', requisitionId)
    const request = await knownRequisition(call, requisitionId)
    numbers.push(request.number)
    await returnOne(
      call,
      request,
      own.map(line => line.id),
      body,
    )
  }
  await refreshThread(call, { requisitionIds: [...new Set(lines.map(line => line.requisitionId))] })
  return { requests: numbers }
}

async function returnOne(
  call: Write,
  request: KnownRequisition,
  lineIds: readonly string[],
  body: BodyOf<typeof ReturnLines>,
): Promise<void> {
  const act = body.how === 'returnRequest' ? returnRequest : dropLines
  const decided = obey(act(request, call.actor, body.reason, lineIds))
  await postLedgers(call, { kind: 'requisition', id: request.id }, decided)
  await closeQuestions(call, request.id, decided.next.state === null ? lineIds : undefined)
  if (decided.next.state !== null) await takeFromPool(call, request.id)
  if (decided.next.ends.length > 0)
    await call
      .trx('requisitionLines')
      .whereIn('id', [...decided.next.ends])
      .update({ state: 'cancelled' })
  if (decided.next.consent && request.consent) await settleConsent(call, request.consent, decided.next.consent)
  await move(
    call,
    'requisition',
    request.row,
    decided.next.state === null ? {} : { state: decided.next.state },
    decided.did,
  )
  await say(call, decided.says, { kind: 'requisition', id: request.id })
}

/** Cuts a quantity off a line, for another supplier; by hand only where no event asks about it. */
export async function splitLine(
  call: Write,
  id: string,
  body: BodyOf<typeof SplitLine>,
  byEvent = false,
): Promise<Done> {
  const [pooled] = (await heldToBuy(call, [id])) as [PoolLine]
  if (!byEvent) refuse(whyNotInEvent(pooled))
  await hold(call, 'requisition', pooled.requisitionId)
  const request = await knownRequisition(call, pooled.requisitionId)
  const row = request.rows.find(one => one.id === id)!
  const line = request.lines.find(one => one.id === id)!
  const offer = await offerFor(call, row, body.offerId)
  const { cut, kept } = cutOff(row.quantity, body.quantity, row.position)
  const part = {
    price: offer ? tierAt(offer.tiers, cut).price : (body.price ?? row.price),
    priceBase: offer?.priceBase ?? row.priceBase,
    currency: offer?.currency ?? body.currency ?? row.currency,
  }
  const keptPrice = row.offerSeen ? tierAt(row.offerSeen.tiers, kept).price : row.price
  const newId = randomUUID()
  const accounts = await holdAccounts(call, row.splits.map(split => split.accountId).sort())
  const decided = obey(
    decideSplit(
      line,
      {
        newId,
        quantity: body.quantity,
        kept: {
          price: keptPrice,
          priceBase: row.priceBase,
          currency: row.currency,
          rate: await baseRate(call, row.currency),
        },
        cut: { ...part, rate: await baseRate(call, part.currency) },
      },
      accounts,
      call.actor,
      call.base,
    ),
  )
  const { splits, details, offerSeen: _seen, routes, ...columns } = row
  await call.trx('requisitionLines').insert({
    ...columns,
    ...decided.next.cut,
    priceBase: part.priceBase,
    currency: part.currency,
    routes: [...routes],
    id: newId,
    position: Math.max(...request.rows.map(one => one.position)) + 1,
    offerId: offer?.id ?? null,
    offerSeen: offer ? json(seenOffer(offer)) : null,
    supplierId: offer?.supplierId ?? body.supplierId ?? row.supplierId,
    splitFrom: id,
    splitBy: 'share',
    details: json(details),
    markedFor: null,
  })
  await insertSplits(call, 'requisitionLineId', [{ id: newId, splits }])
  await call
    .trx('requisitionLines')
    .where({ id })
    .update({ ...decided.next.kept, splitBy: 'share' })
  await postLedgers(call, { kind: 'requisition', id: request.id }, decided)
  const total = request.rows
    .filter(one => one.id !== id && one.state !== 'cancelled')
    .reduce((sum, one) => sum + one.baseAmount, decided.next.kept.baseAmount + decided.next.cut.baseAmount)
  const done = await move(call, 'requisition', request.row, { total, lines: request.rows.length + 1 }, decided.did)
  await refreshThread(call, { requisitionIds: [request.id] })
  return { id: newId, version: done.version }
}

/** The offer that the part is bought by: of the same item, in the same unit. */
async function offerFor(call: Write, row: RequisitionLineRow, offerId: string | null) {
  if (offerId === null) return undefined
  const offer = found(
    row.itemId ? await call.trx('offers').where({ id: offerId, itemId: row.itemId }).first() : undefined,
    'offer',
  )
  refuse(whyNotOffer(row, offer))
  return offer
}
