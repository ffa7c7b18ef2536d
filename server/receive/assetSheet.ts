import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAsset } from '#contract/receive/assets.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { ASSET_STATES, missing } from '#core/receive/asset.ts'
import { fittingDay } from '#core/receive/months.ts'
import { notNow } from '#core/states.ts'
import { found, may, type Read } from '#server/call.ts'
import { pathOf, reasonsJson, sheetParts } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { type AssetRow, assetFacts, entryOf } from '#server/receive/assetStore.ts'

/** A piece: what it is, where it is, and where it came from, down to its bill and when that was paid. */
export async function readAsset(call: Read, id: string): Promise<ResponseOf<typeof ReadAsset>> {
  await needVisible(call, 'asset', id)
  const row = found(await call.trx('assets').where({ id }).first(), 'asset')
  const entry = entryOf(row)
  const places = await call.trx('addresses').where({ open: true }).orderBy('name').select('id', 'name', 'dock')
  const people = await call.trx('people').where({ realm: 'team', active: true }).orderBy('name').select('id', 'name')
  const parts = await call.trx('assets').where({ parentId: id }).orderBy('number').select('id', 'number', 'description')
  const parent = row.parentId ? await call.trx('assets').where({ id: row.parentId }).first('id', 'number', 'description') : undefined // prettier-ignore
  const item = row.itemId ? await call.trx('items').where({ id: row.itemId }).first('id', 'number', 'name') : undefined
  const left = missing(assetFacts(row), entry)
  return {
    kind: 'asset',
    id,
    number: row.number,
    title: row.description,
    state: row.state,
    version: row.version,
    ...(await sheetParts(call, 'asset', id)),
    thread: null,
    budgets: [],
    steps: [],
    sentence: {
      code: `asset.is.${row.state}`,
      details: { number: row.number, tag: row.tag ?? '', missing: left.length },
    },
    tone: row.state === 'unfinished' ? 'attention' : row.state === 'inUse' ? 'settled' : 'plain',
    actions: [],
    entry,
    needsSerial: row.needsSerial,
    tagRange: row.tagRange,
    missing: row.state === 'unfinished' ? reasonsJson(left) : [],
    item: item ? { id: item.id, label: `${item.number}, ${item.name}` } : null,
    cost: formatAmount(minor(row.cost), call.base),
    currency: call.base,
    account: await accountText(call, row.accountId),
    nextService: row.serviceMonths > 0 ? fittingDay(row.receivedOn, row.serviceMonths) : null,
    cameFrom: await cameFrom(call, row),
    parts: parts.map(named),
    parent: parent ? named(parent) : null,
    mayTell: may(call, 'delivery.receive') && notNow(ASSET_STATES, 'asset', row.state, 'change').length === 0,
    places: places.map(place => ({ id: place.id, label: `${place.name}, ${place.dock}` })),
    people: people.map(person => ({ id: person.id, label: person.name })),
  }
}

const named = ({ id, number, description }: { id: string; number: string; description: string }) => ({
  id,
  label: `${number}, ${description}`,
})

async function accountText(call: Read, accountId: string | null): Promise<string> {
  if (accountId === null) return ''
  const account = await call
    .trx('budgetAccounts')
    .where({ id: accountId })
    .first('costCentre', 'naturalAccount', 'project')
  return [account?.costCentre, account?.naturalAccount, account?.project].filter(Boolean).join(' · ')
}

async function cameFrom(call: Read, row: AssetRow): Promise<ResponseOf<typeof ReadAsset>['cameFrom']> {
  const { rows } = await call.trx.raw<{
    rows: { kind: string; id: string; number: string; day: string; state: string }[]
  }>(
    `select 'order' as kind, o.id, o.number, o.issued_at::date::text as day, o.state from order_lines l join orders o on o.id = l.order_id where l.id = :line
     union all select 'receipt', r.order_id, r.number, r.received_on::text, r.state from receipt_lines rl join receipts r on r.id = rl.receipt_id where rl.id = :part
     union all select 'invoice', i.id, i.number, i.issue_date::text, i.state from invoice_lines il join invoices i on i.id = il.invoice_id where il.order_line_id = :line
     union all select 'paymentRun', pr.id, pr.number, p.paid_on::text, p.state from invoice_lines il join payments p on p.invoice_id = il.invoice_id join payment_runs pr on pr.id = p.run_id where il.order_line_id = :line`,
    { line: row.orderLineId, part: row.receiptLineId },
  )
  const may_ = {
    order: 'order.read',
    receipt: 'delivery.read',
    invoice: 'invoice.read',
    paymentRun: 'payment.read',
  } as const
  return rows.map(({ kind, id, number, day, state }) => ({
    kind,
    number,
    state,
    day: day ?? '',
    path: may(call, may_[kind as keyof typeof may_]) ? pathOf(kind as keyof typeof may_, id) : null,
  }))
}
