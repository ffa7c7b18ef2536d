import { randomUUID } from 'node:crypto'
import { addDays } from '#core/calendar/days.ts'
import {
  ARRIVAL_LINK_DAYS,
  ARRIVAL_STATES,
  arrivalDesk,
  type ArrivalFacts,
  arrivalMail,
  arrivalsOf,
  type ArrivalState,
  type ArrivedLine,
} from '#core/receive/arrival.ts'
import { Decimal } from '#core/money/decimal.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { keepDesk } from '#server/desk/deskStore.ts'
import { recordFirst } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { say } from '#server/mail/mail.ts'
import { hashOf, newToken } from '#server/people/tokens.ts'
import type { Becomes } from '#server/receive/becoming.ts'
import { receivingSettings } from '#server/receive/receivingStore.ts'

export interface ArrivalRow {
  id: string
  state: ArrivalState
  title: string
  orderId: string
  receiptId: string
  requesterId: string
  lines: readonly ArrivedLine[]
  note: string
  askedOn: string
  remindedOn: string | null
  toldOn: string | null
  answeredAt: string | null
  tokenHash: string | null
  linkEndsOn: string
  version: number
  createdAt: string
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    arrivals: ArrivalRow
  }
}

/** What is known of goods that came for somebody. */
export async function arrivalFacts(call: Read, row: ArrivalRow): Promise<ArrivalFacts> {
  const { rows } = await call.trx.raw<{
    rows: Pick<ArrivalFacts, 'receipt' | 'order' | 'title' | 'place' | 'requester' | 'buyerId'>[]
  }>(
    `select r.number as receipt, o.number as order, o.title, concat_ws(', ', a.name, nullif(a.dock, '')) as place, p.name as requester, o.buyer_id
     from receipts r join orders o on o.id = r.order_id join addresses a on a.id = r.place_id join people p on p.id = ? where r.id = ?`,
    [row.requesterId, row.receiptId],
  )
  return { ...row, ...found(rows[0], 'receipt') }
}

export async function keepArrivalDesk(call: Write, facts: ArrivalFacts): Promise<void> {
  await keepDesk(call, { kind: 'arrival', id: facts.id }, arrivalDesk(facts))
}

/** Tells whoever asked for the goods that they are in, with a fresh link that takes the place of an older one. */
export async function tellArrival(call: Write, facts: ArrivalFacts, again: boolean): Promise<void> {
  const token = newToken(24)
  await call
    .trx('arrivals')
    .where({ id: facts.id })
    .update({ tokenHash: hashOf(token) })
  await say(call, [arrivalMail(facts, `/arrived/${token}`, again)], { kind: 'order', id: facts.orderId })
}

/** The arrival of a mail's link. @throws RuleBroken link.unknown */
export async function arrivalOfToken(call: Read, token: string): Promise<ArrivalRow> {
  const row = await call.trx('arrivals').where({ tokenHash: hashOf(token) }).first() // prettier-ignore
  if (!row) throw new RuleBroken(stop('link.unknown'))
  return row
}

/** Where the house asks for it: whoever asked for something that was counted is told that it is in, and asked whether they have it. */
export const arrivalsOfCounts: Becomes = {
  taken: async (call, order, receipt, parts) => {
    if (!(await receivingSettings(call)).asksRequesters) return
    const counts = parts.map(part => ({ id: part.id, lineId: part.orderLineId, quantity: part.quantity }))
    const { byId } = found(await call.trx('receipts').where({ id: receipt.id }).first('byId'), 'receipt')
    for (const [requesterId, lines] of arrivalsOf(order, counts, byId)) {
      const row: ArrivalRow = {
        id: randomUUID(),
        state: 'asked',
        title: order.title,
        orderId: order.id,
        receiptId: receipt.id,
        requesterId,
        lines,
        note: '',
        askedOn: call.today,
        remindedOn: null,
        toldOn: null,
        answeredAt: null,
        tokenHash: null,
        linkEndsOn: addDays(call.today, ARRIVAL_LINK_DAYS),
        version: 1,
        createdAt: call.now,
        changedAt: call.now,
      }
      await call.trx('arrivals').insert({ ...row, lines: json(lines) })
      await recordFirst(call, 'arrival', [row.id], 'came')
      const facts = await arrivalFacts(call, row)
      await keepArrivalDesk(call, facts)
      await tellArrival(call, facts, false)
    }
  },
  back: async (call, _order, receipt, parts) => {
    const gone = new Set(
      parts.filter(part => new Decimal(part.reversed).plus(part.returned).gte(part.quantity)).map(part => part.id),
    )
    const rows = await call.trx('arrivals').where({ receiptId: receipt.id }).orderBy('id')
    for (const { id, lines, state } of rows)
      if (lines.every(line => gone.has(line.partId)) && notNow(ARRIVAL_STATES, 'arrival', state, 'end').length === 0)
        await endArrival(call, id)
  },
}

async function endArrival(call: Write, id: string): Promise<void> {
  const row = await hold(call, 'arrival', id)
  await move(call, 'arrival', row, { state: 'ended', tokenHash: null }, { action: 'takenOut', changes: {}, reason: null }) // prettier-ignore
  await keepArrivalDesk(call, await arrivalFacts(call, { ...row, state: 'ended' }))
}
