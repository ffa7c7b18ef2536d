import type { ResponseOf } from '#contract/endpoint.ts'
import type { ComputeSignals, ReadSignal } from '#contract/source/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { promisedOf, wantedDeliveries } from '#core/order/revision.ts'
import { type DatedQuantity, runningTotals } from '#core/order/schedule.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { ruleStanding } from '#core/source/certificates.ts'
import {
  cameInTime,
  dearerBy,
  meanOf,
  shareOf,
  SIGNAL_KEYS,
  SIGNAL_RULES,
  type Signal,
  type SignalEntry,
  type SignalKey,
  signalOf,
  thresholdOf,
} from '#core/source/signals.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { categoriesOf, certificateRules } from '#server/source/categoryStore.ts'
import { currentOf, readCertificates } from '#server/source/certificateStore.ts'

const QUARTERS_BACK = 18 * 31
/** Entries that are kept with a figure; the figure itself counts all. */
const KEPT_ENTRIES = 300

interface LineFact {
  orderId: string
  number: string
  quantity: string
  needBy: string | null
  schedule: DatedQuantity[]
  promisedDate: string | null
  promisedParts: DatedQuantity[]
  receipts: { on: string; quantity: string }[]
  issuedOn: string
  itemId: string | null
  description: string
  baseUnitPrice: string
  amount: string
}

/** Everything that is computed about a supplier, from its documents and the ledgers. */
export async function computeSignals(call: Read, supplierId: string): Promise<Signal[]> {
  const supplier = found(
    await call.trx('suppliers').where({ id: supplierId }).first('id', 'categories', 'number', 'name'),
    'supplier',
  )
  const categories = await categoriesOf(call, supplier.categories)
  const since = addDays(call.today, -QUARTERS_BACK)
  const lines = await orderLineFacts(call, supplierId, since)
  const entries: Record<SignalKey, SignalEntry[]> = {
    ...deliveryEntries(lines, call.today),
    priceOnLastYear: priceOnLastYear(lines),
    priceAgainstOthers: await pricesAgainstOthers(call, supplierId),
    ...(await documentEntries(call, supplierId, since)),
    repeatOrders: repeatOrders(lines),
    certificates: await certificateEntries(call, supplierId, categories),
    dependence: await dependence(call, supplierId, supplier.categories),
    soleSource: await soleSource(call, supplierId),
    identityAndBank: await identityAndBank(call, supplierId, supplier.number),
  }
  return SIGNAL_KEYS.map(key =>
    signalOf(
      key,
      entries[key],
      call.today,
      thresholdOf(
        key,
        categories.map(category => category.thresholds),
      ),
    ),
  )
}

async function orderLineFacts(call: Read, supplierId: string, since: string): Promise<LineFact[]> {
  const { rows } = await call.trx.raw<{ rows: LineFact[] }>(
    `select o.id as order_id, o.number, l.quantity::text as quantity, l.need_by, l.schedule, l.promised_date, l.promised_parts, (o.issued_at at time zone 'UTC')::date as issued_on, l.item_id, l.description,
       round(l.price / l.price_base * o.rate, 6)::text as base_unit_price, l.base_amount::text as amount,
       (select coalesce(json_agg(json_build_object('on', r.received_on, 'quantity', rl.quantity::text)), '[]') from receipt_lines rl join receipts r on r.id = rl.receipt_id and r.state = 'posted' where rl.order_line_id = l.id) as receipts
     from orders o join order_lines l on l.order_id = o.id where o.supplier_id = ? and o.state = any(?) and o.issued_at >= ?::date`,
    [supplierId, [...ORDER_GROUPS.counted], since],
  )
  return rows
}

const entry = (line: LineFact, on: string, good: boolean, value: string): SignalEntry => ({
  on,
  good,
  kind: 'order',
  id: line.orderId,
  number: line.number,
  value,
  weight: '1',
})

/** Deliveries that fell due: whether all up to then came by the day that was asked for, or by the day that was promised. */
function deliveryEntries(
  lines: readonly LineFact[],
  today: string,
): { onTimeInFull: SignalEntry[]; promiseKept: SignalEntry[] } {
  const judged = (wanted: (line: LineFact) => readonly DatedQuantity[]): SignalEntry[] =>
    lines.flatMap(line =>
      runningTotals(wanted(line))
        .filter(one => one.date <= today)
        .map(({ date, quantity }) => entry(line, date, cameInTime(date, quantity, line.receipts), line.description)),
    )
  return { onTimeInFull: judged(wantedDeliveries), promiseKept: judged(promisedOf) }
}

/** Each line's price against the mean price of the same item in the year before it, weighed by the line's amount. */
function priceOnLastYear(lines: readonly LineFact[]): SignalEntry[] {
  return lines.flatMap(line => {
    if (line.itemId === null) return []
    const before = lines.filter(
      other =>
        other.itemId === line.itemId &&
        other.issuedOn < addDays(line.issuedOn, -180) &&
        other.issuedOn >= addDays(line.issuedOn, -545),
    )
    if (before.length === 0) return []
    const dearer = dearerBy(line.baseUnitPrice, meanOf(before.map(other => other.baseUnitPrice)))
    return dearer === null ? [] : [{ ...entry(line, line.issuedOn, Number(dearer) <= 0, dearer), weight: line.amount }]
  })
}

/** Offers for items that others offer too: how much dearer than the cheapest other one, at the smallest quantity, in base currency. */
async function pricesAgainstOthers(call: Read, supplierId: string): Promise<SignalEntry[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string; number: string; mine: string; other: string }[] }>(
    `with priced as (select o.id, o.item_id, o.supplier_id, o.unit, (o.tiers -> 0 ->> 'price')::numeric / o.price_base * coalesce((select rate from exchange_rates x where x.currency = o.currency and x.valid_from <= :today order by valid_from desc limit 1), case when o.currency = :base then 1 end) as price
       from offers o where (o.valid_to is null or o.valid_to >= :today) and o.item_id in (select item_id from offers where supplier_id = :id))
     select mine.item_id as id, i.number, round(mine.price, 6)::text as mine, round(min(other.price), 6)::text as other from priced mine join priced other on other.item_id = mine.item_id and other.unit = mine.unit and other.supplier_id <> mine.supplier_id and other.price > 0 join items i on i.id = mine.item_id
     where mine.supplier_id = :id and mine.price > 0 group by mine.item_id, i.number, mine.price`,
    { id: supplierId, today: call.today, base: call.base },
  )
  return rows.flatMap(row => {
    const dearer = dearerBy(row.mine, row.other)
    return dearer === null
      ? []
      : [
          {
            on: call.today,
            good: Number(dearer) <= 0,
            kind: 'item',
            id: row.id,
            number: row.number,
            value: dearer,
            weight: '1',
          },
        ]
  })
}

/** Orders answered within three days, invoices with a difference that stopped them, receipts taken back. */
async function documentEntries(
  call: Read,
  supplierId: string,
  since: string,
): Promise<{ answerRate: SignalEntry[]; disputeRate: SignalEntry[]; returnRate: SignalEntry[] }> {
  const of = async (sql: string): Promise<{ id: string; number: string; on: string; good: boolean; value: string }[]> =>
    (
      await call.trx.raw<{
        rows: { id: string; number: string; on: string; good: boolean; value: string }[]
      }>(sql, { id: supplierId, since, today: call.today, counted: [...ORDER_GROUPS.counted] })
    ).rows
  const orders = await of(
    `select o.id, o.number, (o.issued_at at time zone 'UTC')::date as on, coalesce(first.at <= o.issued_at + interval '3 days', false) as good, coalesce((first.at at time zone 'UTC')::date::text, '') as value
     from orders o left join lateral (select min(at) as at from order_responses where order_id = o.id) first on true where o.supplier_id = :id and o.state = any(:counted) and o.issued_at >= :since::date and (first.at is not null or o.issued_at < :today::date - 3)`,
  )
  const invoices = await of(
    `select i.id, i.number, (i.received_at at time zone 'UTC')::date as on, not (i.state = 'rejected' or exists (select 1 from invoice_holds h where h.invoice_id = i.id and h.kind <> 'proof')) as good, coalesce((select string_agg(distinct kind, ', ') from invoice_holds h where h.invoice_id = i.id and h.kind <> 'proof'), i.supplier_number) as value
     from invoices i where i.supplier_id = :id and i.state <> 'voided' and i.received_at >= :since::date`,
  )
  const receipts = await of(
    `select o.id, r.number, r.received_on as on, r.state = 'posted' as good, o.number as value from receipts r join orders o on o.id = r.order_id where o.supplier_id = :id and r.received_on >= :since::date`,
  )
  const entries = (kind: string, rows: typeof orders): SignalEntry[] => rows.map(row => ({ ...row, kind, weight: '1' }))
  return {
    answerRate: entries('order', orders),
    disputeRate: entries('invoice', invoices),
    returnRate: entries('order', receipts),
  }
}

function repeatOrders(lines: readonly LineFact[]): SignalEntry[] {
  const orders = new Map(lines.map(line => [line.orderId, line]))
  return [...orders.values()].map(line => entry(line, line.issuedOn, true, line.description))
}

async function certificateEntries(
  call: Read,
  supplierId: string,
  categories: Parameters<typeof certificateRules>[0],
): Promise<SignalEntry[]> {
  const rows = currentOf(await readCertificates(call, supplierId))
  return certificateRules(categories).map(rule => {
    const how = ruleStanding(rule, rows, call.today)
    return {
      on: call.today,
      good: how.standing === 'holds' || how.standing === 'soon',
      kind: 'supplier',
      id: supplierId,
      number: rule.kind,
      value: `${rule.category}: ${how.certificate?.validTo ?? how.standing}`,
      weight: '1',
    }
  })
}

/** Its share of what we spend in its categories, counted on issued orders of the last year, per category. */
async function dependence(call: Read, supplierId: string, categories: readonly string[]): Promise<SignalEntry[]> {
  const { rows } = await call.trx.raw<{ rows: { category: string; whole: string; own: string }[] }>(
    `select i.category, sum(l.base_amount)::text as whole, coalesce(sum(l.base_amount) filter (where o.supplier_id = :id), 0)::text as own from order_lines l join orders o on o.id = l.order_id join items i on i.id = l.item_id
     where i.category = any(:categories) and o.state = any(:counted) and o.issued_at >= :today::date - 365 group by i.category having sum(l.base_amount) > 0`,
    { id: supplierId, categories: [...categories], today: call.today, counted: [...ORDER_GROUPS.counted] },
  )
  return rows.map(row => {
    const share = shareOf(row.own, row.whole)
    return {
      on: call.today,
      good: Number(share) <= 60,
      kind: 'supplier',
      id: supplierId,
      number: row.category,
      value: share,
      weight: row.whole,
    }
  })
}

/** Items that nobody else offers. */
async function soleSource(call: Read, supplierId: string): Promise<SignalEntry[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string; number: string; name: string }[] }>(
    `select distinct i.id, i.number, i.name from offers o join items i on i.id = o.item_id where o.supplier_id = :id and (o.valid_to is null or o.valid_to >= :today)
       and not exists (select 1 from offers other join suppliers s on s.id = other.supplier_id and s.state = 'active' where other.item_id = o.item_id and other.supplier_id <> o.supplier_id and (other.valid_to is null or other.valid_to >= :today)) order by i.number`,
    { id: supplierId, today: call.today },
  )
  return rows.map(row => ({
    on: call.today,
    good: false,
    kind: 'item',
    id: row.id,
    number: row.number,
    value: row.name,
    weight: '1',
  }))
}

/** Checks of who they are and where they are paid: a VAT or registration number, a proven account, no two records under one number. */
async function identityAndBank(call: Read, supplierId: string, number: string): Promise<SignalEntry[]> {
  const { rows } = await call.trx.raw<{ rows: [{ named: boolean; account: string | null; shared: boolean }] }>(
    `select exists (select 1 from supplier_identifiers where supplier_id = :id and scheme in ('vat', 'registration')) as named, (select state from supplier_bank_accounts where supplier_id = :id and state <> 'closed') as account,
       exists (select 1 from supplier_identifiers where supplier_id = :id and consent_id is not null) as shared`,
    { id: supplierId },
  )
  const facts = rows[0]
  const one = (good: boolean, value: string): SignalEntry => ({
    on: call.today,
    good,
    kind: 'supplier',
    id: supplierId,
    number,
    value,
    weight: '1',
  })
  return [
    one(facts.named, 'vatOrRegistration'),
    one(facts.account === 'proven', facts.account === null ? 'noAccount' : 'account'),
    one(!facts.shared, 'sharedNumber'),
  ]
}

/** Computes and keeps a supplier's signals. */
export async function refreshSignals(call: Write, supplierId: string): Promise<ResponseOf<typeof ComputeSignals>> {
  const signals = await computeSignals(call, supplierId)
  await call.trx('supplierSignals').where({ supplierId }).delete()
  await call.trx('supplierSignals').insert(
    signals.map(signal => ({
      supplierId,
      key: signal.key,
      figure: signal.figure,
      fromDay: signal.from,
      toDay: signal.to,
      threshold: signal.threshold,
      tone: signal.tone,
      turned: signal.turned,
      trend: json([...signal.trend]),
      entries: json(signal.entries.slice(0, KEPT_ENTRIES)),
      entryCount: signal.entries.length,
      computedAt: call.now,
    })),
  )
  return { signals: await readSignals(call, supplierId) }
}

/** Suppliers that anything happened with, or that take orders: those whose signals are computed each night. */
export async function suppliersToWatch(call: Read): Promise<string[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select s.id from suppliers s where s.merged_into is null and (s.last_order_on >= ?::date - 548 or exists (select 1 from supplier_certificates where supplier_id = s.id and state = 'current') or exists (select 1 from offers where supplier_id = s.id)) order by s.id`,
    [call.today],
  )
  return rows.map(row => row.id)
}

interface SignalRow {
  supplierId: string
  key: SignalKey
  figure: string | null
  fromDay: string
  toDay: string
  threshold: string
  tone: 'good' | 'bad' | 'none'
  turned: boolean
  trend: { until: string; figure: string | null }[]
  entries: SignalEntry[]
  entryCount: number
  computedAt: string
}

declare module 'knex/types/tables.js' {
  interface Tables {
    supplierSignals: SignalRow
  }
}

export async function readSignals(
  call: Read,
  supplierId: string,
): Promise<ResponseOf<typeof ComputeSignals>['signals']> {
  const rows = await call
    .trx('supplierSignals')
    .where({ supplierId })
    .select('key', 'figure', 'fromDay', 'toDay', 'threshold', 'tone', 'trend', 'entryCount', 'computedAt')
  const order = new Map(SIGNAL_KEYS.map((key, index) => [key, index]))
  return rows
    .sort((a, b) => (order.get(a.key) ?? 99) - (order.get(b.key) ?? 99))
    .map(row => ({
      key: row.key,
      figure: row.figure,
      unit: SIGNAL_RULES[row.key].unit,
      direction: SIGNAL_RULES[row.key].direction,
      threshold: row.threshold,
      from: row.fromDay,
      to: row.toDay,
      tone: row.tone,
      trend: row.trend,
      entries: row.entryCount,
      computedAt: row.computedAt,
    }))
}

export async function readSignal(
  call: Read,
  supplierId: string,
  key: SignalKey,
): Promise<ResponseOf<typeof ReadSignal>> {
  const row = found(
    await call.trx('supplierSignals').where({ supplierId, key }).first('entries', 'entryCount'),
    'signal',
  )
  const path = (one: Pick<SignalEntry, 'kind' | 'id'>): string | null =>
    one.kind === 'order'
      ? pathOf('order', one.id)
      : one.kind === 'invoice'
        ? pathOf('invoice', one.id)
        : one.kind === 'item'
          ? `/request/catalogue/${one.id}`
          : null
  return {
    entries: row.entries.map(({ weight: _weight, ...one }) => ({ ...one, path: path(one) })),
    more: row.entryCount - row.entries.length,
  }
}
