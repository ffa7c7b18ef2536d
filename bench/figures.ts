import { Agent, get } from 'node:http'
import type { Knex } from 'knex'
import { SupplierInvoice } from '#contract/bill/endpoints.ts'
import { Receive } from '#contract/receive/endpoints.ts'
import { goodsLine, type Issued, ordered, PLACE, today } from '#test-helpers/steps.ts'
import type { Client, World } from '#test-helpers/world.ts'

export interface Figure {
  readonly name: string
  readonly ours: number
  readonly baseline: number
  readonly ratio: number
  readonly limit: number
  readonly ok: boolean
  readonly unit: string
  /** What else was measured, in words. */
  readonly note?: string
}

export const figure = (name: string, ours: number, baseline: number, limit: number, unit = 'ms'): Figure => ({
  name,
  ours: round(ours),
  baseline: round(baseline),
  ratio: round(ours / baseline),
  limit,
  ok: ours / baseline <= limit,
  unit,
})
const round = (value: number): number => Math.round(value * 100) / 100

/** Runs before what is measured, where it is over in a few milliseconds and the first hundred runs are still being compiled. */
export const WARM = 100

/** The middle time of several runs, in milliseconds, after some that warm up: the first list would else pay for compiling what all share. */
export async function median(runs: number, work: (run: number) => Promise<unknown>, warmUps = 1): Promise<number> {
  for (let run = 0; run < warmUps; run++) await work(-1)
  const times: number[] = []
  for (let run = 0; run < runs; run++) {
    const start = performance.now()
    await work(run)
    times.push(performance.now() - start)
  }
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)]!
}

const agent = new Agent({ keepAlive: true, maxSockets: 4 })

/** Fetches an address as a browser with an open connection does, and reads the answer to its end. */
export const fetchPage = (world: World, client: Client, path: string): Promise<number> =>
  new Promise((resolve, reject) => {
    get(`${world.address}/api${path}`, { agent, headers: { cookie: client.cookie } }, response => {
      let bytes = 0
      response.on('data', (part: Buffer) => {
        bytes += part.length
      })
      response.on('end', () =>
        response.statusCode === 200 ? resolve(bytes) : reject(new Error(`${path} answered ${response.statusCode}`)),
      )
    }).on('error', reject)
  })

export const select = async (db: Knex, sql: string, bindings: readonly unknown[] = []): Promise<unknown> =>
  await db.raw<unknown>(sql, bindings as never)

/** The first page of each list against the plain SQL that fetches the same rows; the worst of the lists counts. */
export async function listFirstPage(world: World, runs: number): Promise<Figure> {
  const pilar = await world.as('Pilar')
  const lists: [string, string][] = [
    [
      '/orders?view=all&limit=80',
      `select orders.*, suppliers.name as supplier, people.name as buyer, exists (select 1 from order_responses where order_id = orders.id and state = 'waiting') as waiting from orders join suppliers on suppliers.id = supplier_id join people on people.id = buyer_id order by orders.created_at desc, orders.id desc limit 81`,
    ],
    [
      '/orders?view=open&sort=needBy&limit=80',
      `select orders.*, suppliers.name as supplier, people.name as buyer from orders join suppliers on suppliers.id = supplier_id join people on people.id = buyer_id where orders.state in ('draft', 'issued', 'acknowledged') order by coalesce(orders.need_by, '9999-12-31'::date), orders.id limit 81`,
    ],
    [
      '/requisitions?view=all&limit=80',
      `select requisitions.*, people.name as requester, (select string_agg(a.name, ', ') from consents c join consent_steps s on s.consent_id = c.id join people a on a.id = any(s.approver_ids) where c.document_id = requisitions.id and s.state = 'open') from requisitions join people on people.id = requester_id order by requisitions.created_at desc, requisitions.id desc limit 81`,
    ],
    [
      '/suppliers?view=all&limit=80',
      `select suppliers.*, (select city from supplier_locations where supplier_id = suppliers.id order by position limit 1), (select country from supplier_locations where supplier_id = suppliers.id order by position limit 1), (select state from supplier_bank_accounts where supplier_id = suppliers.id and state <> 'closed'), (select count(*) from supplier_signals where supplier_id = suppliers.id and tone = 'bad') from suppliers where merged_into is null order by name, id limit 81`,
    ],
  ]
  const figures: Figure[] = []
  for (const [path, sql] of lists)
    figures.push({
      ...figure(
        'list.first-page',
        await median(runs, () => fetchPage(world, pilar, path), WARM),
        await median(runs, () => select(world.db, sql), WARM),
        3,
      ),
      note: path.split('&limit')[0]!,
    })
  const [worst, ...others] = figures.sort((a, b) => b.ratio - a.ratio)
  return { ...worst!, note: `${worst!.note}; ${others.map(one => `${one.note} ${one.ratio}`).join('; ')}` }
}

/** Opening a Sheet against the plain SQL that fetches the same rows. */
export async function sheetOpen(world: World, runs: number): Promise<Figure> {
  const pilar = await world.as('Pilar')
  const orders = (await world
    .db('orders')
    .where('number', 'like', 'O-9%')
    .limit(runs + 1)
    .select('id')) as { id: string }[]
  const requests = (await world
    .db('requisitions')
    .where('number', 'like', 'R-9%')
    .limit(runs + 1)
    .select('id')) as { id: string }[]
  const orderSql = [
    'select orders.*, s.name, p.name from orders join suppliers s on s.id = supplier_id join people p on p.id = buyer_id where orders.id = ?',
    'select line.*, items.number, a.name, r.number from order_lines line left join items on items.id = line.item_id left join addresses a on a.id = line.address_id left join requisition_lines rl on rl.id = line.requisition_line_id left join requisitions r on r.id = rl.requisition_id where line.order_id = ? order by line.position',
    'select * from history join people on people.id = actor_id where document_id = ? order by sequence desc limit 40',
    'select * from attachments join files on files.id = file_id where document_id = ?',
    'select * from notes where document_id = ?',
    'select * from order_responses where order_id = ?',
    'select * from order_revisions where order_id = ?',
    'select * from outbox where document_id = ? limit 10',
    'select b.* from quantity_balances b join order_lines l on l.id = b.line_id where l.order_id = ?',
    'select * from receipts where order_id = ?',
    'select i.* from invoices i join invoice_lines il on il.invoice_id = i.id join order_lines l on l.id = il.order_line_id where l.order_id = ?',
    'select r.* from requisitions r join requisition_lines l on l.requisition_id = r.id join order_lines ol on ol.requisition_line_id = l.id where ol.order_id = ?',
  ]
  const requestSql = [
    'select * from requisitions where id = ?',
    'select line.*, s.name, a.name, i.number from requisition_lines line left join suppliers s on s.id = line.supplier_id left join addresses a on a.id = line.address_id left join items i on i.id = line.item_id where requisition_id = ? order by position',
    'select * from consents join consent_steps on consent_steps.consent_id = consents.id join people on people.id = any(approver_ids) where document_id = ?',
    'select * from history join people on people.id = actor_id where document_id = ? order by sequence desc limit 40',
    'select * from attachments join files on files.id = file_id where document_id = ?',
    'select * from notes where document_id = ?',
    'select b.* from quantity_balances b join requisition_lines l on l.id = b.line_id where l.requisition_id = ?',
    'select o.* from orders o join order_lines ol on ol.order_id = o.id join requisition_lines l on l.id = ol.requisition_line_id where l.requisition_id = ?',
    'select distinct a.* from requisition_lines l join line_splits s on s.requisition_line_id = l.id join budget_accounts a on a.id = s.account_id where l.requisition_id = ?',
    'select distinct b.* from requisition_lines l join line_splits s on s.requisition_line_id = l.id join budget_balances b on b.account_id = s.account_id where l.requisition_id = ?',
  ]
  const all = async (list: readonly string[], id: string): Promise<void> => {
    for (const sql of list) await select(world.db, sql, [id])
  }
  const order = figure(
    'sheet.open',
    await median(runs, run => fetchPage(world, pilar, `/orders/${orders[Math.max(0, run)]!.id}`)),
    await median(runs, run => all(orderSql, orders[Math.max(0, run)]!.id)),
    2.5,
  )
  const request = figure(
    'sheet.open',
    await median(runs, run => fetchPage(world, pilar, `/requisitions/${requests[Math.max(0, run)]!.id}`)),
    await median(runs, run => all(requestSql, requests[Math.max(0, run)]!.id)),
    2.5,
  )
  return order.ratio > request.ratio ? order : request
}

/** Receiving, billing and matching a ten-line order through the API against inserting the same rows. */
export async function postTenLines(world: World, runs: number): Promise<Figure> {
  const lines = await Promise.all(Array.from({ length: 10 }, () => goodsLine(world, 'PT-1200', '20')))
  const orders: Issued[] = []
  for (let run = 0; run <= runs; run++) orders.push(await ordered(world, lines, { title: `Bench ${run}` }))
  const [yuki, supplier] = [await world.as('Yuki'), await world.as(`at ${orders[0]!.company}`)]
  const ours = await median(runs, run => oneThread(yuki, supplier, orders[run + 1]!, `BENCH-${run + 1}`))
  const written = await Promise.all(orders.map(order => writtenRows(world.db, order)))
  await plainTables(world.db, written[0]!)
  return figure('thread.post-ten-lines', ours, await median(runs, run => plainInserts(world.db, written[run + 1]!)), 5)
}

async function oneThread(yuki: Client, supplier: Client, order: Issued, number: string): Promise<void> {
  await yuki.do(Receive, {
    params: { id: order.id },
    body: {
      receivedOn: today(),
      placeId: PLACE,
      note: '',
      lines: order.lines.map(line => ({ lineId: line.id, quantity: line.quantity })),
    },
  })
  await supplier.do(SupplierInvoice, {
    params: { id: order.id },
    body: {
      revision: 0,
      number,
      issueDate: today(),
      freight: '0.00',
      taxCategory: 'AE',
      taxRate: '0',
      lines: order.lines.map(line => ({ lineId: line.id, quantity: line.quantity, price: line.price })),
    },
  })
}

type Row = Readonly<Record<string, unknown>>
type Written = readonly (readonly [table: string, rows: readonly Row[]])[]

/** The rows that receiving and billing an order have written, table by table. */
async function writtenRows(db: Knex, order: Issued): Promise<Written> {
  const of = async (
    table: string,
    where: string,
    bindings: readonly unknown[],
  ): Promise<readonly [string, readonly Row[]]> => {
    const { rows } = (await select(db, `select * from ${table} where ${where}`, bindings)) as { rows: Row[] }
    return [
      table,
      rows.map(row =>
        Object.fromEntries(Object.entries(row).filter(([column]) => !(column === 'id' && /entries$/.test(table)))),
      ),
    ]
  }
  const lines = order.lines.map(line => line.id)
  const invoices = `select invoice_id from invoice_lines where order_line_id = any(?)`
  return [
    await of('receipts', 'order_id = ?', [order.id]),
    await of('receipt_lines', 'order_line_id = any(?)', [lines]),
    await of('quantity_entries', "line_id = any(?) and kind = 'received'", [lines]),
    await of('quantity_balances', "line_id = any(?) and kind = 'received'", [lines]),
    await of('budget_entries', "line_id = any(?) and kind = 'accrued'", [lines]),
    await of('invoices', `id in (${invoices})`, [lines]),
    await of('invoice_lines', 'order_line_id = any(?)', [lines]),
    await of('history', `document_id in (${invoices}) or (document_id = ? and action = 'received')`, [lines, order.id]),
  ]
}

/** Inserts the same rows into tables of the same shape with the same indexes, one statement a row, in two transactions. */
async function plainInserts(db: Knex, written: Written): Promise<void> {
  for (const half of [written.slice(0, 5), written.slice(5)])
    await db.transaction(async trx => {
      for (const [table, rows] of half)
        for (const row of rows)
          await trx(`plain.${table}`).insert(
            Object.fromEntries(
              Object.entries(row).map(([column, value]) => [
                column,
                typeof value === 'bigint'
                  ? value.toString()
                  : typeof value === 'object' && value !== null && !isTextArray(value)
                    ? JSON.stringify(value)
                    : value,
              ]),
            ),
          )
    })
}

const isTextArray = (value: unknown): boolean => Array.isArray(value) && value.every(one => typeof one === 'string')

/** Empty tables of the same shape in a schema of their own. */
async function plainTables(db: Knex, written: Written): Promise<void> {
  await db.raw('create schema plain')
  for (const [table] of written) await db.raw(`create table plain.${table} (like ${table} including all)`)
}
