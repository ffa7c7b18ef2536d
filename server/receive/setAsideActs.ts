import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { EndSetAside, LinkSetAside, ReadSetAside, SetAside } from '#contract/receive/setAside.ts'
import {
  endAside,
  linkAside,
  setAside as decideSetAside,
  setAsideDesk,
  type SetAsideFacts,
  type SetAsideState,
} from '#core/receive/setAside.ts'
import { type Done, found, may, type Read, type Write, writing } from '#server/call.ts'
import { keepDesk } from '#server/desk/deskStore.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { say } from '#server/mail/mail.ts'
import { getActor } from '#server/people/sessions.ts'
import { receive } from '#server/receive/receiptActs.ts'

export interface SetAsideRow {
  id: string
  number: string
  state: SetAsideState
  description: string
  quantity: string
  unit: string
  placeId: string
  bin: string
  supplierId: string | null
  marks: string
  note: string
  buyerId: string | null
  receiptId: string | null
  outcome: string
  byId: string
  version: number
  createdAt: string
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    setAsides: SetAsideRow
  }
}
/** So many that are done with are shown beside those that wait. */
const LATEST = 50

async function factsOf(call: Read, row: SetAsideRow): Promise<SetAsideFacts> {
  const place = await call.trx('addresses').where({ id: row.placeId }).first('name')
  const by = await call.trx('people').where({ id: row.byId }).first('name')
  const { description, quantity, unit, supplierId, marks, bin, note, buyerId } = row
  const entry = { description, quantity, unit, supplierId, marks, bin, note, buyerId }
  const { id, number, state, createdAt } = row
  return { id, number, state, entry, place: place?.name ?? '', by: by?.name ?? '', since: createdAt }
}

/** What came and nobody ordered: what waits first, then what became of the others. */
export async function readSetAside(call: Read): Promise<ResponseOf<typeof ReadSetAside>> {
  const { rows } = await call.trx.raw<{
    rows: (SetAsideRow & { place: string; supplier: string; buyer: string; by: string; at: string; orderId: string | null })[] // prettier-ignore
  }>(
    `select s.*, trim_scale(s.quantity)::text as quantity, concat_ws(', ', a.name, nullif(s.bin, '')) as place, coalesce(u.name, '') as supplier, coalesce(b.name, '') as buyer, p.name as by, s.created_at as at, r.order_id
     from set_asides s join addresses a on a.id = s.place_id join people p on p.id = s.by_id left join suppliers u on u.id = s.supplier_id left join people b on b.id = s.buyer_id left join receipts r on r.id = s.receipt_id
     order by s.state <> 'waiting', s.created_at desc limit ?`,
    [LATEST + 500],
  )
  const done = rows.filter(row => row.state !== 'waiting').slice(0, LATEST)
  const names = async (table: 'addresses' | 'suppliers' | 'people', where: object) =>
    (await call.trx(table).where(where).orderBy('name').select('id', 'name')).map(({ id, name }) => ({
      id,
      label: name,
    }))
  return {
    rows: [...rows.filter(row => row.state === 'waiting'), ...done].map(row => ({
      id: row.id,
      version: row.version,
      number: row.number,
      state: row.state,
      description: row.description,
      quantity: row.quantity,
      unit: row.unit,
      place: row.place,
      supplier: row.supplier,
      marks: row.marks,
      note: row.note,
      buyer: row.buyer,
      by: row.by,
      at: row.at,
      outcome: row.outcome,
      path: row.orderId === null ? null : pathOf('delivery', row.orderId),
    })),
    maySetAside: may(call, 'delivery.receive'),
    maySay: may(call, 'order.write') || may(call, 'delivery.receive'),
    places: await names('addresses', { open: true }),
    suppliers: await names('suppliers', { state: 'active' }),
    buyers: await names('people', { realm: 'team', active: true }),
  }
}

export async function setAside(
  call: Write,
  { placeId, ...entry }: BodyOf<typeof SetAside>,
): Promise<ResponseOf<typeof SetAside>> {
  found(await call.trx('addresses').where({ id: placeId }).first('id'), 'address')
  if (entry.supplierId !== null)
    found(await call.trx('suppliers').where({ id: entry.supplierId }).first('id'), 'supplier')
  if (entry.buyerId !== null) found(await call.trx('people').where({ id: entry.buyerId, realm: 'team' }).first('id'), 'person') // prettier-ignore
  const id = randomUUID()
  const number = await nextNumber(call, 'setAside')
  const row: SetAsideRow = { ...entry, id, number, state: 'waiting', placeId, receiptId: null, outcome: '', byId: call.actor.id, version: 1, createdAt: call.now, changedAt: call.now } // prettier-ignore
  const facts = await factsOf(call, row)
  const decided = obey(decideSetAside(entry, call.actor, facts))
  await call.trx('setAsides').insert(row)
  await record(call, { kind: 'setAside', id, ...decided.did })
  await keepDesk(call, { kind: 'setAside', id }, setAsideDesk(facts))
  await say(call, decided.says, { kind: 'setAside', id })
  return { id, version: 1, number }
}

/** Counts it on the line that it belongs to, by whoever counted it when it was put aside; whatever stands in the way of a count stands in its way, too. */
export async function link(
  call: Write,
  id: string,
  { version, orderId, lineId, checkReason }: BodyOf<typeof LinkSetAside>,
): Promise<ResponseOf<typeof LinkSetAside>> {
  const row = await hold(call, 'setAside', id, version)
  const facts = await factsOf(call, row)
  obey(linkAside(facts, '', call.actor))
  const line = { lineId, quantity: row.quantity, unit: row.unit, ...(row.bin ? { bin: row.bin } : {}) }
  const dock = writing(call.trx, { ...call, actor: await getActor(call.trx, row.byId, call.now) })
  const counted = await receive(dock, orderId, { receivedOn: call.today, placeId: row.placeId, note: `${row.number}, linked by ${call.actor.name}: ${row.description}`, checkReason, lines: [line] }) // prettier-ignore
  const decided = obey(linkAside(facts, counted.number, call.actor))
  return { ...(await moved(call, row, { ...decided.next, receiptId: counted.id, outcome: counted.number }, decided.did)), receipt: counted.number } // prettier-ignore
}

export async function end(
  call: Write,
  id: string,
  { version, how, reason }: BodyOf<typeof EndSetAside>,
): Promise<Done> {
  const row = await hold(call, 'setAside', id, version)
  const decided = obey(endAside(await factsOf(call, row), how, reason, call.actor))
  return await moved(call, row, { ...decided.next, outcome: reason }, decided.did)
}

async function moved(
  call: Write,
  row: SetAsideRow,
  change: Partial<SetAsideRow>,
  did: Parameters<typeof move>[4],
): Promise<Done> {
  const done = await move(call, 'setAside', row, change, did)
  await keepDesk(call, { kind: 'setAside', id: row.id }, setAsideDesk(await factsOf(call, { ...row, ...change })))
  return done
}
