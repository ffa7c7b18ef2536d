import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadInvoice } from '#contract/bill/endpoints.ts'
import { invoiceActions } from '#core/bill/actions.ts'
import { isAskedAbout } from '#core/bill/askClearing.ts'
import { CREDIT_GROUPS } from '#core/bill/creditStates.ts'
import { debitFor, whyNotDebit } from '#core/bill/debitNote.ts'
import { billingSettings } from '#server/bill/settingStore.ts'
import { clearersOf as clearers, endsByOrder, nextTold } from '#core/bill/holdReminders.ts'
import { whyNotClear } from '#core/bill/clearHold.ts'
import type { KeptHold } from '#core/bill/holds.ts'
import { whyNotLink } from '#core/bill/linkLine.ts'
import { byAccount } from '#core/ledger/budget.ts'
import { spentOn } from '#core/bill/spent.ts'
import { whyNotCode } from '#core/bill/coding.ts'
import { whyNotDispute } from '#core/bill/disputes.ts'
import { againstOf } from '#core/bill/matchInvoice.ts'
import { whyNotDecide, whyNotWithdraw } from '#core/consent/consent.ts'
import { daysBetween } from '#core/calendar/days.ts'
import { formatAmount } from '#core/money/amount.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import type { LineKind } from '#core/request/kinds.ts'
import { lineWords, seesFee } from '#core/request/personalFee.ts'
import { may, type Read } from '#server/call.ts'
import { writtenFor } from '#server/bill/codeStore.ts'
import { disputesOf } from '#server/bill/disputeStore.ts'
import { knownInvoice, type KnownInvoice } from '#server/bill/invoiceStore.ts'
import { type KeptConsent, lastNo, waitsFor } from '#server/consent/consentStore.ts'
import { namedIn, stepsJson } from '#server/consent/stepJson.ts'
import { someIds } from '#server/database/rows.ts'
import { actionsJson, pathOf, sheetParts } from '#server/documents/sheetParts.ts'
import { shownFigures } from '#server/ledger/shownFigures.ts'
import { personNames } from '#server/people/peopleStore.ts'
import { gauge } from '#server/ledger/quantityStore.ts'
import { threadOf } from '#server/thread/thread.ts'

type ShownHold = ResponseOf<typeof ReadInvoice>['holds'][number]

export async function readInvoice(call: Read, id: string): Promise<ResponseOf<typeof ReadInvoice>> {
  const invoice = await knownInvoice(call, id)
  const { row } = invoice
  const parts = await sheetParts(call, 'invoice', id)
  const orderIds = invoice.orders.map(order => order.id)
  const thread = orderIds.length > 0 ? await threadOf(call, { orderIds }) : null
  const account = await call
    .trx('supplierBankAccounts')
    .where({ supplierId: row.supplierId })
    .whereNot({ state: 'closed' })
    .first('iban', 'state')
  const amounts = byAccount(spentOn(invoice))
  const holds = await shownHolds(call, invoice)
  const open = holds.filter(one => one.endedAt === null)
  const asked = invoice.holds.find(isAskedAbout)?.asked ?? null
  const text = (amount: bigint): string => formatAmount(amount, row.currency)
  return {
    kind: 'invoice',
    id,
    number: row.number,
    title: `${invoice.supplier}, ${row.supplierNumber}`,
    state: row.state,
    version: row.version,
    ...parts,
    thread,
    // what it bills was committed with its order, so that posting it takes nothing from what is left
    budgets: await shownFigures(call, amounts, true, may(call, 'invoice.write')),
    steps: stepsJson(asked, call.base, await personNames(call, namedIn(asked))),
    sentence: sentenceOf(call, invoice, open),
    tone:
      row.state === 'onHold'
        ? 'stop'
        : row.state === 'paid'
          ? 'settled'
          : row.state === 'matched'
            ? 'attention'
            : 'plain',
    actions: actionsJson(invoiceActions(invoice, call.actor)),
    supplier: invoice.supplier,
    supplierPath: pathOf('supplier', row.supplierId),
    supplierNumber: row.supplierNumber,
    source: row.source,
    currency: row.currency,
    issueDate: row.issueDate,
    dueOn: row.dueOn,
    net: text(row.net),
    charges: text(row.charges),
    tax: text(row.tax),
    gross: text(row.gross),
    prepaid: text(row.prepaid),
    rounding: text(row.rounding),
    payable: text(row.payable),
    setOff: text(row.setOff),
    open: text(row.payable - row.setOff),
    credits: await creditsBeside(call, invoice),
    disputes: await disputesOf(call, invoice.id, 'house'),
    written: await shownWritten(call, invoice),
    mayCode: whyNotCode(invoice, await writtenFor(call, invoice.id), call.actor).length === 0,
    mayDispute: whyNotDispute(invoice, call.actor).length === 0,
    mayDebit: whyNotDebit(invoice, 'why', call.actor).length === 0,
    addressedTo: row.buyer?.name ?? '',
    askedAccount: row.iban,
    account: account ?? null,
    taxes: row.taxes,
    holds,
    linkable: await linkableLines(call, invoice),
    fileId: row.fileId,
    lines: invoice.lines.map(line => shownLine(call, invoice, line)),
  }
}

function shownLine(
  call: Read,
  invoice: KnownInvoice,
  line: KnownInvoice['lines'][number],
): ResponseOf<typeof ReadInvoice>['lines'][number] {
  const against = againstOf(invoice, line)
  const order = invoice.orders.find(one => one.lines.some(ordered => ordered.id === line.orderLineId))
  const ordered = against?.line
  const differs = ordered && (ordered.price !== line.price || ordered.priceBase !== line.priceBase)
  return {
    id: line.id,
    position: line.position,
    description: ordered
      ? lineWords({ kind: ordered.kind, description: line.description }, seesFee(call.actor, ordered.requesterId))
      : line.description,
    quantity: line.quantity,
    unit: line.unit,
    price: line.price,
    priceBase: line.priceBase,
    net: formatAmount(line.net, invoice.currency),
    tax: `${line.taxCategory} ${line.taxRate} %`,
    orderLineId: line.orderLineId,
    orderNumber: order?.number ?? null,
    orderPath: order && may(call, 'order.read') ? pathOf('order', order.id) : null,
    orderPosition: ordered?.position ?? null,
    orderPrice: differs
      ? ordered.priceBase === '1'
        ? ordered.price
        : `${ordered.price} / ${ordered.priceBase}`
      : null,
    gauge: ordered ? gauge(ordered, ordered.quantity, ordered.sums) : null,
  }
}

/** Order lines of the supplier that a clerk can link to. */
const MOST_LINKABLE = 60

async function linkableLines(call: Read, invoice: KnownInvoice): Promise<{ id: string; label: string }[]> {
  if (whyNotLink(invoice, call.actor).length > 0) return []
  const rows = await call
    .trx('orderLines')
    .join('orders', 'orders.id', 'orderLines.orderId')
    .where({ supplierId: invoice.supplierId })
    .whereIn('orders.state', [...ORDER_GROUPS.billable])
    .orderBy('orders.createdAt', 'desc')
    .limit(MOST_LINKABLE)
    .select<{ id: string; number: string; position: number; description: string; kind: LineKind }[]>(
      'orderLines.id',
      'orderLines.kind',
      'orders.number',
      'orderLines.position',
      'orderLines.description',
    )
  return rows.map(line => ({
    id: line.id,
    label: `${line.number} line ${line.position}, ${lineWords(line, seesFee(call.actor, null))}`,
  }))
}

async function shownHolds(call: Read, invoice: KnownInvoice): Promise<ShownHold[]> {
  const names = await clearersOf(call, invoice)
  const patience = await billingSettings(call)
  return invoice.holds.map((hold, index) => {
    const row = invoice.holdRows[index]!
    return {
      id: hold.id,
      position: hold.position,
      kind: hold.kind,
      quantity: hold.quantity,
      unit: invoice.lines.find(line => line.position === hold.position)?.unit ?? '',
      amount: formatAmount(hold.amount, invoice.currency),
      clearedBy: hold.clearedBy,
      clearers: hold.ended ? [] : names(hold),
      openedAt: row.openedAt,
      next: hold.ended ? null : nextTold(hold, patience),
      order: orderOf(call, invoice, hold),
      debit: debitOf(call, invoice, hold),
      mayClear: may(call, 'hold.clear') && whyNotClear(invoice, hold, call.actor).length === 0,
      asked: hold.asked === null || hold.ended ? null : shownQuestion(call, hold.asked, names.byId),
      endedAt: row.endedAt,
      endedBy: row.endedBy === null ? null : (names.byId.get(row.endedBy) ?? ''),
      endReason: row.endReason,
    }
  })
}

/** The order whose revision ends a difference: that of its line, or the only one. */
function orderOf(call: Read, invoice: KnownInvoice, hold: KeptHold): ShownHold['order'] {
  if (hold.ended || !endsByOrder(hold.kind) || !may(call, 'order.write')) return null
  const line = invoice.lines.find(one => one.position === hold.position)
  const order = invoice.orders.find(one => one.lines.some(ordered => ordered.id === line?.orderLineId)) ?? (invoice.orders.length === 1 ? invoice.orders[0] : undefined) // prettier-ignore
  return order ? { number: order.number, path: pathOf('order', order.id) } : null
}

function debitOf(call: Read, invoice: KnownInvoice, hold: KeptHold): ShownHold['debit'] {
  if (hold.ended || whyNotDebit(invoice, 'why', call.actor).length > 0) return null
  const wanted = debitFor(invoice, hold)
  return wanted === null ? null : { charges: formatAmount(wanted.charges, invoice.currency), lines: [...wanted.lines] }
}

/** The order that was written for it afterwards: its number is read by whoever reads orders. */
async function shownWritten(call: Read, invoice: KnownInvoice): Promise<ResponseOf<typeof ReadInvoice>['written']> {
  const written = await writtenFor(call, invoice.id)
  if (!written || written.state === 'cancelled') return null
  const { id: _id, path, ...rest } = written
  return { ...rest, path: may(call, 'order.read') ? path : null }
}

/** Credit and debit notes of an invoice, but for drafts, which only their writers see. */
async function creditsBeside(call: Read, invoice: KnownInvoice): Promise<ResponseOf<typeof ReadInvoice>['credits']> {
  const rows = await call.trx('creditNotes').where({ invoiceId: invoice.id }).whereNotIn('state', [...CREDIT_GROUPS.draft]).orderBy('receivedAt') // prettier-ignore
  return rows.map(({ id, number, supplierNumber, issuer, state, gross, reason }) => ({ id, number, theirs: supplierNumber, issuer, state, gross: formatAmount(gross, invoice.currency), reason, path: pathOf('creditNote', id) })) // prettier-ignore
}

function shownQuestion(call: Read, asked: KeptConsent, names: ReadonlyMap<string, string>): ShownHold['asked'] {
  const no = lastNo(asked)
  return {
    state: asked.state,
    askedBy: names.get(asked.askedBy) ?? '',
    reason: asked.reason,
    waitsFor: waitsFor(asked),
    refusedBy: asked.state === 'refused' ? no.who : '',
    refusedReason: asked.state === 'refused' ? no.reason : '',
    mayDecide: whyNotDecide(asked, call.actor).length === 0,
    mayWithdraw: whyNotWithdraw(asked, call.actor).length === 0,
  }
}

/** People named for one hold: more would not be read. */
const MOST_NAMES = 3

/** The people who can clear a hold, by name: those with the role, or whoever asked for the work. */
async function clearersOf(
  call: Read,
  invoice: KnownInvoice,
): Promise<((hold: KeptHold) => string[]) & { byId: ReadonlyMap<string, string> }> {
  const roles = [...new Set(invoice.holds.flatMap(clearers))]
  const requesters = someIds(invoice.orders.flatMap(order => order.lines.map(line => line.requesterId)))
  const enders = someIds([
    ...invoice.holdRows.map(row => row.endedBy),
    ...invoice.holds.map(hold => hold.asked?.askedBy ?? null),
  ])
  const { rows } = await call.trx
    .raw<{ rows: { id: string; name: string; roles: string[]; active: boolean }[] }>(
      `select p.id, p.name, p.active, array(select role from person_roles where person_id = p.id) as roles from people p
       where p.id = any(:ids) or (p.active and exists (select 1 from person_roles r where r.person_id = p.id and r.role = any(:roles))) order by p.name`,
      { ids: [...requesters, ...enders], roles },
    )
    .options({ name: 'clearers' })
  const byId = new Map(rows.map(row => [row.id, row.name]))
  const names = (hold: KeptHold): string[] => {
    const line = invoice.lines.find(one => one.position === hold.position)
    const requester = hold.clearedBy === 'requester' && line ? againstOf(invoice, line)?.line.requesterId : null
    const mayClear = clearers(hold)
    return [
      ...(requester ? [byId.get(requester) ?? ''] : []),
      ...rows.filter(row => row.active && row.id !== requester && row.roles.some(role => role !== 'requester' && mayClear.some(one => one === role))).map(row => row.name), // prettier-ignore
    ].slice(0, MOST_NAMES)
  }
  return Object.assign(names, { byId })
}

/** Who can do something about a hold now: those asked about it, else those who clear it. */
const whoClears = (hold: ShownHold): string[] => (hold.asked?.state === 'open' ? hold.asked.waitsFor : hold.clearers)

function sentenceOf(call: Read, invoice: KnownInvoice, open: readonly ShownHold[]): Sentence {
  const first = open[0]
  if (invoice.state === 'onHold' && first)
    return {
      code: open.length === 1 ? `invoice.is.heldBy.${first.kind}` : 'invoice.is.heldByMany',
      details: {
        holds: open.length,
        amount: first.amount,
        currency: invoice.currency,
        who: [...new Set(open.flatMap(whoClears))].join(', '),
      },
    }
  const dueOn = invoice.dueOn ?? ''
  return {
    code: `invoice.is.${invoice.state}`,
    details: { dueOn, at: invoice.changedAt, days: dueOn === '' ? 0 : daysBetween(call.today, dueOn) },
  }
}
