import { randomUUID } from 'node:crypto'
import { LookUp, SendActs } from '#contract/receive/handheld.ts'
import { meant, readScan } from '#core/receive/scan.ts'
import { type Figure, figure } from '#bench/figures.ts'
import { PLACE } from '#test-helpers/steps.ts'
import type { World } from '#test-helpers/world.ts'

const DEVICES = 5
const EACH = 200
const ORDERS = 300
const SYNC_LIMIT = 5

interface OpenLine {
  readonly id: string
  readonly orderId: string
}

/** As many open lines as there are acts, spread over so many orders. */
async function openLines(world: World, orders: number): Promise<OpenLine[]> {
  const { rows } = await world.db.raw<{ rows: OpenLine[] }>(
    `select l.id, l.order_id from order_lines l join (select id from orders where number like 'O-9%' and state <> 'closed' and receive_extent = 'none' order by number limit ?) o on o.id = l.order_id order by l.position, l.order_id`,
    [orders],
  )
  return Array.from({ length: DEVICES * EACH }, (_one, at) => rows[at % rows.length]!)
}

/** A thousand acts that five devices kept are sent at once, and each is taken once, also when it is sent again; against the plain inserts that they come to, five connections at once, each act committed by itself. */
export async function syncThousand(world: World, _runs: number, small: boolean): Promise<Figure> {
  const lines = await openLines(world, small ? ORDERS / 10 : ORDERS)
  const yuki = await world.as('Yuki')
  const { id: personId } = (await world.db('people').where('name', 'like', 'Yuki%').first('id')) as { id: string }
  const now = new Date().toISOString()
  const devices = Array.from({ length: DEVICES }, (_device, device) => ({
    deviceId: randomUUID(),
    deviceNow: now,
    acts: lines.filter((_line, at) => at % DEVICES === device).map((line, sequence) => ({ key: randomUUID(), sequence, madeAt: now, personId, orderId: line.orderId, placeId: PLACE, count: { lineId: line.id, quantity: '1' }, pieces: [], note: '', checkReason: '' })), // prettier-ignore
  }))
  const count = async (): Promise<number> =>
    (await world.db.raw<{ rows: [{ n: number }] }>('select count(*)::int as n from receipt_lines')).rows[0].n
  const before = await count()
  const start = performance.now()
  const answers = await Promise.all(devices.map(body => yuki.do(SendActs, { body })))
  const ours = performance.now() - start
  await Promise.all(devices.map(body => yuki.do(SendActs, { body })))
  const taken = answers.flatMap(one => one.answers).filter(one => one.state === 'taken').length
  const kept = (await count()) - before
  const baseline = await plainInserts(world, lines, personId)
  const one = figure('receive.sync-1k', ours, baseline, SYNC_LIMIT)
  return { ...one, ok: one.ok && taken === lines.length && kept === lines.length, note: `${taken} taken, ${kept} counts kept after all was sent twice` } // prettier-ignore
}

/** Receipt, count, ledger entry, history and the act itself, one transaction each. */
async function plainInserts(world: World, lines: readonly OpenLine[], personId: string): Promise<number> {
  await world.db.raw(`
    create table plain_receipts as table receipts with no data; create table plain_lines as table receipt_lines with no data; create table plain_entries as table quantity_entries with no data; create table plain_history (id uuid, document_id uuid, action text, changes jsonb, at timestamptz); create table plain_acts as table handheld_acts with no data; create unique index on plain_receipts (id); create unique index on plain_lines (id); create index on plain_entries (line_id); create index on plain_history (document_id); create unique index on plain_acts (key)`)
  const device = async (number: number): Promise<void> => {
    for (const line of lines.filter((_line, at) => at % DEVICES === number))
      await world.db.transaction(async trx => {
        const [receipt, part] = [randomUUID(), randomUUID()]
        await trx.raw(`insert into plain_receipts (id, number, order_id, state, received_on, place_id, note, source, by_id, at, version, changed_at, check_reason) values (?, ?, ?, 'posted', current_date, ?, '', 'handheld', ?, now(), 1, now(), '')`, [receipt, receipt, line.orderId, PLACE, personId]) // prettier-ignore
        await trx.raw(`insert into plain_lines (id, receipt_id, order_line_id, position, quantity, entered_quantity, entered_unit, bin, batch, condition, serials, note, becomes, inspect, bills_wait, reversed, returned) values (?, ?, ?, 1, 1, 1, 'C62', '', '', 'good', '{}', '', 'counted', false, false, 0, 0)`, [part, receipt, line.id]) // prettier-ignore
        await trx.raw(`insert into plain_entries (id, line_id, kind, quantity, at, actor_id, document_kind, document_id) values (1, ?, 'received', 1, now(), ?, 'receipt', ?)`, [line.id, personId, receipt]) // prettier-ignore
        await trx.raw(`insert into plain_history values (?, ?, 'received', '{}', now())`, [randomUUID(), receipt])
        await trx.raw(`insert into plain_acts (key, device_id, sequence, order_id, state) values (?, ?, 1, ?, 'taken')`, [randomUUID(), randomUUID(), line.orderId]) // prettier-ignore
      })
  }
  const start = performance.now()
  await Promise.all(Array.from({ length: DEVICES }, (_one, number) => device(number)))
  const took = performance.now() - start
  await world.db.raw('drop table plain_receipts, plain_lines, plain_entries, plain_history, plain_acts')
  return took
}

const SCANS = 200
const SERVER_LIMIT = 40
const DEVICE_LIMIT = 100
const LOADED = 2000

/** What a scan means among everything that is open: the 95th of a hundred on the server against 40 ms; on the device, among two thousand lines, beside it. */
export async function lookUp(world: World): Promise<Figure> {
  const yuki = await world.as('Yuki')
  const { rows } = await world.db.raw<{ rows: { number: string }[] }>(
    `select number from orders where number like 'O-9%' and state <> 'closed' and receive_extent = 'none' order by md5(number) limit ?`,
    [SCANS],
  )
  const times: number[] = []
  let found = 0
  for (const { number } of rows) {
    const start = performance.now()
    const answer = await yuki.do(LookUp, { query: { q: number } })
    times.push(performance.now() - start)
    if (answer.found.some(one => one.number === number)) found++
  }
  const p95 = times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)]!
  const device = onDevice()
  const one = figure('receive.lookup', p95, SERVER_LIMIT, 1)
  return { ...one, ok: one.ok && device <= DEVICE_LIMIT && found === rows.length, note: `${found} of ${rows.length} found; on the device ${device.toFixed(2)} ms at most` } // prettier-ignore
}

/** The longest that it takes to find a scan among the lines that a device has loaded. */
function onDevice(): number {
  const gtin = (at: number): string => String(4_000_000_000_000 + at)
  const lines = Array.from({ length: LOADED }, (_one, at) => ({ order: `O-${at}`, supplier: `Supplier ${at % 50}`, description: `Pump ${at}`, item: `P-${at}`, supplierItem: '', makerNumber: `M${at}`, gtins: [gtin(at)], tracking: [], ssccs: [] })) // prettier-ignore
  let longest = 0
  for (let at = 0; at < LOADED; at += 10) {
    const start = performance.now()
    meant(readScan(`P-${at}`), lines)
    longest = Math.max(longest, performance.now() - start)
  }
  return longest
}
