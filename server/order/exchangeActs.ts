import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import {
  ExchangeFileJson,
  type LoadExchange,
  type MakeExchange,
  type MapExchange,
  MOST_EXCHANGED,
  MOST_EXCHANGED_LINES,
  type ReadExchange,
} from '#contract/order/exchange.ts'
import { exchangeOfUbl, readUblOrder } from '#core/formats/ublOrder.ts'
import { minor, parseAmount, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { type ChargeItem, chargesTotal } from '#core/order/charges.ts'
import {
  EXCHANGE_FORMAT,
  EXCHANGE_VERSION,
  type ExchangeFile,
  exchangedRows,
  exchangeOrder,
  foreignNames,
  isNeeded,
  type MappedKind,
  mappingKey,
  type SentBeside,
} from '#core/order/orderExchange.ts'
import { importedOrders, type PlacedOrderLine } from '#core/order/orderImport.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { json } from '#server/database/json.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import { ownContent } from '#server/files/fileActs.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { type ExchangeRow, mappedNames, ownExchange } from '#server/order/exchangeStore.ts'
import { type ImportRow, judgeRows, oneAfterTheOther, takeOver } from '#server/order/importOrders.ts'
import { knownOrders } from '#server/order/orderStore.ts'

/** Lays out open orders for another installation; drafts, ended orders and what is no goods are left. */
export async function makeExchange(
  call: Write,
  { orderIds }: BodyOf<typeof MakeExchange>,
): Promise<ResponseOf<typeof MakeExchange>> {
  const known = [...(await knownOrders(call, [...new Set(orderIds)].sort())).values()]
  const open = known.filter(order => isIn(ORDER_GROUPS.live, order.state))
  const beside = await sentBeside(call, open.flatMap(order => order.lines.map(line => line.id))) // prettier-ignore
  const orders = open
    .map(order =>
      exchangeOrder(
        order,
        new Map(order.lines.flatMap(line => (beside.has(line.id) ? [[line.id, beside.get(line.id)!]] : []))),
      ),
    ) // prettier-ignore
    .filter(order => order.lines.length > 0)
  if (orders.length === 0) throw new RuleBroken(stop('exchange.nothing'))
  const id = randomUUID()
  await keep(call, id, 'out', { sender: call.house.name, orders })
  return { id, orders: orders.length, left: orderIds.length - orders.length }
}

const keep = (call: Write, id: string, direction: 'in' | 'out', content: ExchangeFile): Promise<unknown> =>
  call.trx('orderExchanges').insert({
    id,
    direction,
    sender: content.sender,
    content: json(content),
    byId: call.actor.id,
    at: call.now,
    changedAt: call.now,
  })

async function sentBeside(call: Read, lineIds: readonly string[]): Promise<Map<string, SentBeside>> {
  const { rows } = await call.trx.raw<{ rows: (SentBeside & { id: string })[] }>(
    `select l.id, coalesce(i.number, '') as item, coalesce(i.gtin, '') as gtin,
       coalesce((select concat_ws('|', b.cost_centre, b.natural_account, b.project) from line_splits p join budget_accounts b on b.id = p.account_id where p.line_id = l.id order by p.position limit 1), '') as account,
       coalesce((select s.value from supplier_identifiers s where s.supplier_id = o.supplier_id and s.scheme = 'vat' limit 1), '') as vat
     from order_lines l join orders o on o.id = l.order_id left join items i on i.id = l.item_id where l.id = any(?)`,
    [[...lineIds]],
  )
  return new Map(rows.map(({ id, ...row }) => [id, row]))
}

export async function exchangeFile(call: Read, id: string): Promise<FileAnswer> {
  const { content, at } = await ownExchange(call, id, 'out')
  return {
    name: `orders-${at.slice(0, 10)}.json`,
    mediaType: 'application/json',
    bytes: Buffer.from(JSON.stringify({ format: EXCHANGE_FORMAT, version: EXCHANGE_VERSION, ...content }, null, 2)),
  }
}

/** Takes files in: JSON of another installation, or UBL Orders, all of one sender. */
export async function takeExchange(call: Write, fileIds: readonly string[]): Promise<{ id: string }> {
  const files: ExchangeFile[] = []
  for (const fileId of fileIds) files.push(readFile((await ownContent(call, fileId)).toString('utf8')))
  const senders = new Set(files.map(file => file.sender))
  if (senders.size > 1) throw new RuleBroken(stop('exchange.senders', { senders: [...senders].slice(0, 5).join(', ') }))
  const content = { sender: files[0]!.sender, orders: files.flatMap(file => file.orders) }
  const lines = content.orders.reduce((sum, order) => sum + order.lines.length, 0)
  if (content.orders.length > MOST_EXCHANGED || lines > MOST_EXCHANGED_LINES)
    throw new RuleBroken(stop('exchange.tooMany', { most: MOST_EXCHANGED_LINES }))
  const twice = content.orders.find((order, at) => content.orders.findIndex(one => one.number === order.number) < at)
  if (twice) throw new RuleBroken(stop('exchange.twice', { number: twice.number.slice(0, 40) }))
  const id = randomUUID()
  await keep(call, id, 'in', content)
  return { id }
}

function readFile(text: string): ExchangeFile {
  if (text.trimStart().startsWith('<')) return exchangeOfUbl(readUblOrder(text))
  let read: unknown
  try {
    read = JSON.parse(text)
  } catch {
    throw new RuleBroken(stop('exchange.noFile'))
  }
  const parsed = ExchangeFileJson.safeParse(read)
  if (parsed.success) return { sender: parsed.data.sender, orders: parsed.data.orders }
  const [issue] = parsed.error.issues
  throw new RuleBroken(stop('exchange.shape', { place: issue?.path.join('.').slice(0, 80) ?? '' }))
}

interface Judged {
  readonly names: Awaited<ReturnType<typeof mappedNames>>
  readonly placed: readonly PlacedOrderLine[]
  readonly reasons: ReadonlyMap<string, readonly Reason[]>
}

/** What the orders of a file come to as everything stands now: an order is taken over whole, or not at all. */
async function judge(call: Read, row: ExchangeRow): Promise<Judged> {
  const names = await mappedNames(call, row.sender, foreignNames(row.content))
  const mapping = new Map(names.map(name => [mappingKey(name.kind, name.theirs), name.ours]))
  const open = { ...row.content, orders: row.content.orders.filter(order => !(order.number in row.made)) }
  const read = exchangedRows(open, mapping, call.base)
  const fine = read.flatMap(({ line, row: at }): ImportRow[] => (line ? [{ ...line, row: at }] : []))
  const { placed, faults } = await judgeRows(call, fine)
  const orderOf = new Map(read.map(one => [one.row, one.order]))
  const reasons = new Map<string, Reason[]>()
  for (const one of [...read, ...faults]) {
    const order = orderOf.get(one.row)!
    if (one.reasons.length > 0) reasons.set(order, [...(reasons.get(order) ?? []), ...one.reasons])
  }
  for (const order of open.orders) if (order.lines.length === 0) reasons.set(order.number, [stop('exchange.noLines')])
  return { names, placed: placed.filter(line => !reasons.has(line.order)), reasons }
}

export async function readExchange(call: Read, id: string): Promise<ResponseOf<typeof ReadExchange>> {
  const row = await ownExchange(call, id, 'in')
  const { names, reasons } = await judge(call, row)
  return {
    id,
    version: row.version,
    sender: row.sender,
    at: row.at,
    names: names.map(name => ({ ...name, needed: isNeeded(name.kind) })),
    orders: row.content.orders.map(({ number, supplier, lines }) => {
      const made = row.made[number]
      const against = reasons.get(number) ?? []
      return {
        number,
        supplier: supplier.name,
        lines: lines.length,
        state: made ? ('made' as const) : against.length > 0 ? ('refused' as const) : ('ready' as const),
        reasons: reasonsJson(onceEach(against)),
        made: made ? { number: made.number, path: pathOf('order', made.id) } : null,
      }
    }),
  }
}

/** What stands against several lines for the same cause is said once. */
const onceEach = (reasons: readonly Reason[]): Reason[] => [
  ...new Map(reasons.map(reason => [`${reason.code} ${JSON.stringify(reason.details)}`, reason])).values(),
]

async function heldExchange(call: Write, id: string, version: number): Promise<ExchangeRow> {
  await call.trx('orderExchanges').where({ id }).forNoKeyUpdate().first('id')
  const row = await ownExchange(call, id, 'in')
  if (row.version !== version) throw new RuleBroken(stop('workbook.changed'))
  return row
}

export async function mapExchange(
  call: Write,
  id: string,
  { version, names }: BodyOf<typeof MapExchange>,
): Promise<ResponseOf<typeof MapExchange>> {
  const row = await heldExchange(call, id, version)
  for (const { kind, theirs, ours: said } of names) {
    const ours = await numberOf(call, kind, said)
    const key = { sender: row.sender, kind, theirs: theirs.trim().toLowerCase() }
    if (ours === '') await call.trx('orderMappings').where(key).delete()
    else {
      const kept = { ours, byId: call.actor.id, at: call.now }
      await call.trx('orderMappings').insert({ ...key, ...kept }).onConflict(['sender', 'kind', 'theirs']).merge(kept) // prettier-ignore
    }
  }
  await call
    .trx('orderExchanges')
    .where({ id })
    .update({ version: version + 1, changedAt: call.now })
  return { id, version: version + 1 }
}

/** Suppliers and items may be said by their ids, as they are chosen in lists; what is kept is their number. */
async function numberOf(call: Read, kind: MappedKind, said: string): Promise<string> {
  if ((kind !== 'supplier' && kind !== 'item') || !/^[0-9a-f]{8}-[0-9a-f-]{27}$/.test(said)) return said
  const row = await call.trx(kind === 'supplier' ? 'suppliers' : 'items').where({ id: said }).first('number') // prettier-ignore
  return found(row, kind).number
}

/** Takes over what is ready, order by order, with its charges. What is made once is never made again. */
export async function loadExchange(
  call: Write,
  id: string,
  { version }: BodyOf<typeof LoadExchange>,
): Promise<{ made: number }> {
  const row = await heldExchange(call, id, version)
  await oneAfterTheOther(call)
  const { placed } = await judge(call, row)
  if (placed.length === 0) throw new RuleBroken(stop('exchange.nothingReady'))
  const sent = new Map(row.content.orders.map(order => [order.number, order]))
  const made = { ...row.made }
  for (const [number, lines] of groupBy(placed, line => line.order)) {
    const [order] = importedOrders(lines, call.base)
    made[number] = await takeOver(call, withCharges(order!, sent.get(number)!.charges, call.base))
  }
  await call
    .trx('orderExchanges')
    .where({ id })
    .update({ made: json(made), version: version + 1, changedAt: call.now })
  return { made: Object.keys(made).length - Object.keys(row.made).length }
}

type Imported = ReturnType<typeof importedOrders>[number]

function withCharges(order: Imported, charges: ExchangeFile['orders'][number]['charges'], base: string): Imported {
  const chargeItems = charges.map((one): ChargeItem => ({
    kind: one.kind,
    words: one.words,
    percent: null,
    amount: parseAmount(one.amount, order.currency),
    splits: [],
  }))
  const total = chargesTotal(chargeItems)
  return {
    ...order,
    chargeItems,
    charges: total,
    total: sumMinor([order.total, total]),
    baseTotal: minor(order.baseTotal + toBase(total, order.currency, order.rate, base)),
  }
}
