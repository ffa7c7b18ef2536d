import { randomUUID } from 'node:crypto'
import { checkInvoice, type InvoiceText } from '#core/bill/en16931.ts'
import { normalNumber } from '#core/bill/match.ts'
import { INVOICE_STATES } from '#core/bill/states.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { releaseShare, spread } from '#core/ledger/commitments.ts'
import { allocate } from '#core/money/allocate.ts'
import { formatAmount, minor, parseAmount } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import type { EffectiveValue } from '#core/source/defaults.ts'
import { termsOf } from '#server/order/conditions.ts'
import { agreedDueDate, dueDate, type PaymentTerms } from '#core/pay/terms.ts'
import { readUblInvoice } from '#core/formats/ublInvoice.ts'
import { provenBy } from '#core/request/kinds.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { convertQuantity } from '#core/units/units.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { type InvoiceLineRow, invoiceLines, type InvoiceRow, lockInvoice, match } from '#server/bill/matchService.ts'
import { ownFile } from '#server/files/fileService.ts'
import { decodeXml } from '#server/formats/text.ts'
import { outstanding, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/ledger/history.ts'
import { postQuantities, quantitySums } from '#server/ledger/quantityStore.ts'
import { type OrderLineRow, refreshExtents } from '#server/order/orderStore.ts'
import { refreshRequisitions } from '#server/request/requisitionStore.ts'
import { baseRate } from '#server/request/rates.ts'

export interface NewInvoice {
  readonly supplierId: string
  readonly supplierNumber: string
  readonly source: 'file' | 'supplierPages'
  readonly currency: string
  readonly issueDate: string
  readonly printedDueDate: string | null
  readonly orderReference: string
  readonly fileId: string | null
  readonly net: bigint
  readonly charges: bigint
  readonly tax: bigint
  readonly gross: bigint
  readonly taxes: readonly { category: string; rate: string; taxable: string; tax: string }[]
  readonly lines: readonly Omit<InvoiceLineRow, 'id' | 'invoiceId'>[]
}

/** Reads an uploaded UBL invoice, checks it against EN 16931, finds its supplier and order, and matches it. */
export async function readInvoiceFile(call: Call, fileId: string): Promise<Done & { number: string; state: string }> {
  const file = await ownFile(call, fileId)
  const text = readUblInvoice(decodeXml(file.content).text)
  const violations = checkInvoice(text)
  if (violations.length > 0) throw new RuleBroken(violations.map(violation => stop('bill.rule', { ...violation }, { place: violation.place })))
  if (!['380', '383', '384', '386', '389', '393', '82', '326'].includes(text.typeCode)) throw new RuleBroken(stop('bill.typeNotHandled', { type: text.typeCode }))
  const supplierId = await findSupplier(call, text)
  return await createInvoice(call, await fromText(call, text, supplierId, fileId))
}

/** The supplier by VAT number, registration number, endpoint or account, in that order; never by name alone. */
async function findSupplier(call: Call, text: InvoiceText): Promise<string> {
  const values = [text.seller.vatId, text.seller.registrationId, text.seller.endpointId].filter(Boolean).map(normalIdentifier)
  const known = (await call.trx('supplierIdentifiers').whereRaw('value = any(?)', [values]).orderByRaw('array_position(?::text[], value)', [values]).first('supplierId')) as
    { supplierId: string } | undefined
  const byAccount =
    known ??
    ((await call
      .trx('supplierBankAccounts')
      .where({ iban: normalIdentifier(text.iban || 'none') })
      .whereNot({ state: 'closed' })
      .first('supplierId')) as { supplierId: string } | undefined)
  if (!byAccount) throw new RuleBroken(stop('bill.unknownSupplier', { name: text.seller.name, vat: text.seller.vatId || '—' }, { clearedBy: ['buyer'] }))
  return byAccount.supplierId
}

async function fromText(call: Call, text: InvoiceText, supplierId: string, fileId: string): Promise<NewInvoice> {
  const amount = (value: string): bigint => parseAmount(value === '' ? '0' : value, text.currency)
  const lines = await linkLines(call, text, supplierId)
  const net = amount(text.totals.net)
  return {
    supplierId,
    supplierNumber: text.number,
    source: 'file',
    currency: text.currency,
    issueDate: text.issueDate,
    printedDueDate: text.dueDate || null,
    orderReference: text.orderReference,
    fileId,
    net,
    charges: net - amount(text.totals.lines),
    tax: amount(text.totals.tax),
    gross: amount(text.totals.payable),
    taxes: text.taxes.map(tax => ({ category: tax.category, rate: tax.rate || '0', taxable: tax.taxable, tax: tax.tax })),
    lines,
  }
}

interface Candidate {
  id: string
  position: number
  description: string
  unit: string
  price: string
  priceBase: string
  itemNumber: string | null
  supplierItem: string | null
}

/** Finds the order line of each invoice line: by the line it names, the item's number, or the description. */
async function linkLines(call: Call, text: InvoiceText, supplierId: string): Promise<NewInvoice['lines']> {
  const candidates = (await call
    .trx('orderLines')
    .join('orders', 'orders.id', 'orderLines.orderId')
    .leftJoin('items', 'items.id', 'orderLines.itemId')
    .joinRaw(`left join lateral (select supplier_item from offers where offers.item_id = order_lines.item_id and offers.supplier_id = orders.supplier_id limit 1) as offer on true`)
    .where({ supplierId })
    .whereNotIn('orders.state', ['draft', 'cancelled', 'sealed'])
    .whereRaw('upper(orders.number) = ?', [text.orderReference.trim().toUpperCase()])
    .orderBy('orderLines.position')
    .select(
      'orderLines.id',
      'orderLines.position',
      'orderLines.description',
      'orderLines.unit',
      'orderLines.price',
      'orderLines.priceBase',
      'items.number as itemNumber',
      'offer.supplier_item',
    )) as Candidate[]
  const free = new Set(candidates)
  return text.lines.map((line, index) => {
    const fits: ((candidate: Candidate) => boolean)[] = [
      one => line.orderLineReference !== '' && String(one.position) === line.orderLineReference,
      one => line.buyerItemId !== '' && one.itemNumber === line.buyerItemId,
      one => line.sellerItemId !== '' && one.supplierItem === line.sellerItemId,
      one => one.description.toLowerCase() === line.name.toLowerCase(),
    ]
    const order = fits.map(fit => [...free].find(fit)).find(one => one !== undefined) ?? (candidates.length === 1 && text.lines.length === 1 ? candidates[0] : undefined)
    if (order) free.delete(order)
    const quantity = order ? inUnit(line.quantity, line.unit, order.unit) : { quantity: tidy(line.quantity), unit: line.unit }
    const net = parseAmount(line.net, text.currency)
    return {
      position: index + 1,
      orderLineId: order?.id ?? null,
      description: line.name.slice(0, 300),
      quantity: quantity.quantity,
      unit: quantity.unit,
      price: tidy(line.price),
      priceBase: tidy(line.priceBase || '1'),
      net,
      taxCategory: line.category,
      taxRate: line.rate || '0',
    }
  })
}

function inUnit(quantity: string, from: string, to: string): { quantity: string; unit: string } {
  try {
    return { quantity: convertQuantity(tidy(quantity), from, to), unit: to }
  } catch {
    return { quantity: tidy(quantity), unit: from }
  }
}

export async function createInvoice(call: Call, invoice: NewInvoice): Promise<Done & { number: string; state: string }> {
  if (invoice.gross <= 0n) throw new RuleBroken(stop('bill.notAboveZero'))
  const rate = await baseRate(call, invoice.currency, invoice.issueDate > call.today ? call.today : invoice.issueDate)
  const supplier = (await call.trx('suppliers').where({ id: invoice.supplierId }).first('name', 'terms')) as { name: string; terms: PaymentTerms }
  const normal = normalNumber(invoice.supplierNumber)
  const twin = (await call.trx('invoices').where({ supplierId: invoice.supplierId, normalNumber: normal }).whereNotIn('state', ['rejected', 'voided']).first('number')) as
    { number: string } | undefined
  if (twin) throw new RuleBroken(stop('bill.duplicate', { number: twin.number, supplierNumber: invoice.supplierNumber }))
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'I-' || nextval('invoice_numbers') as number`)) as { rows: [{ number: string }] }
  const row = {
    id,
    number: rows[0].number,
    supplierId: invoice.supplierId,
    supplierNumber: invoice.supplierNumber,
    normalNumber: normal,
    state: 'read',
    source: invoice.source,
    currency: invoice.currency,
    rate,
    issueDate: invoice.issueDate,
    printedDueDate: invoice.printedDueDate,
    dueOn: await dueOn(call, invoice, supplier.terms),
    net: invoice.net,
    charges: invoice.charges,
    tax: invoice.tax,
    gross: invoice.gross,
    baseGross: toBase(minor(invoice.gross), invoice.currency, rate, call.base),
    taxes: JSON.stringify(invoice.taxes),
    orderReference: invoice.orderReference,
    fileId: invoice.fileId,
    receivedAt: call.now,
    byId: call.actor.id,
    changedAt: call.now,
    search: `${rows[0].number} ${invoice.supplierNumber} ${supplier.name} ${invoice.orderReference}`.toLowerCase(),
  }
  await call.trx('invoices').insert(row)
  await call.trx('invoiceLines').insert(invoice.lines.map(line => ({ id: randomUUID(), invoiceId: id, ...line })))
  await record(call, {
    kind: 'invoice',
    id,
    action: 'read',
    changes: { supplierNumber: invoice.supplierNumber, gross: formatAmount(invoice.gross, invoice.currency), source: invoice.source },
  })
  const state = await match(call, { ...row, state: 'read', taxes: [...invoice.taxes], postedAt: null, version: 1 })
  return { id, version: 1, number: rows[0].number, state }
}

/** The day by the terms that the order was issued with, else by the supplier's. */
async function dueOn(call: Call, invoice: Pick<NewInvoice, 'issueDate' | 'printedDueDate' | 'lines'>, usual: PaymentTerms): Promise<string> {
  const ids = invoice.lines.map(line => line.orderLineId).filter(id => id !== null)
  const order = (await call
    .trx('orders')
    .join('orderLines', 'orderLines.orderId', 'orders.id')
    .whereIn('orderLines.id', ids)
    .whereNotNull('agreed')
    .orderBy('orders.number')
    .first('agreed')) as { agreed: EffectiveValue[] } | undefined
  const terms = order ? termsOf(order.agreed) : usual
  const last =
    terms.from === 'receipt'
      ? ((await call
          .trx('receipts')
          .join('receiptLines', 'receiptLines.receiptId', 'receipts.id')
          .whereIn('orderLineId', ids)
          .where({ state: 'posted' })
          .max('receivedOn as day')
          .first()) as { day: string | null } | undefined)
      : undefined
  return agreedDueDate(dueDate(terms, invoice.issueDate, last?.day ?? null), invoice.printedDueDate ?? '')
}

/** Links a line that found no order line by itself, and matches again. */
export async function linkLine(call: Call, id: string, lineId: string, orderLineId: string, version: number): Promise<Done> {
  const invoice = await lockInvoice(call, id)
  await guardVersion(call, invoice, version)
  if (!['onHold', 'matched'].includes(invoice.state)) throw new RuleBroken(stop('state.notNow', { kind: 'invoice', state: invoice.state, action: 'link', possible: '' }))
  const line = found((await call.trx('invoiceLines').where({ id: lineId, invoiceId: id }).first()) as InvoiceLineRow | undefined, 'invoiceLine')
  const order = found(
    (await call
      .trx('orderLines')
      .join('orders', 'orders.id', 'orderLines.orderId')
      .where({ supplierId: invoice.supplierId, 'orderLines.id': orderLineId })
      .whereNotIn('orders.state', ['draft', 'cancelled', 'sealed'])
      .first('orderLines.unit')) as { unit: string } | undefined,
    'orderLine',
  )
  const quantity = inUnit(line.quantity, line.unit, order.unit)
  await call
    .trx('invoiceLines')
    .where({ id: lineId })
    .update({ orderLineId, ...quantity })
  await call
    .trx('invoices')
    .where({ id })
    .update({ version: version + 1, changedAt: call.now })
  await record(call, { kind: 'invoice', id, action: 'linked', changes: { line: line.position } })
  await match(call, { ...invoice, version: version + 1 })
  return await currentVersion(call, id)
}

const currentVersion = async (call: Call, id: string): Promise<Done> => (await call.trx('invoices').where({ id }).first('id', 'version')) as Done

/** A hold whose cause a reason cannot mend has to be mended or the invoice rejected. */
const BY_REASON = new Set(['price', 'quantity', 'charges', 'nearDuplicate'])

export async function clearHold(call: Call, id: string, holdId: string, version: number, reason: string): Promise<Done> {
  const invoice = await lockInvoice(call, id)
  await guardVersion(call, invoice, version)
  const hold = found(
    (await call.trx('invoiceHolds').where({ id: holdId, invoiceId: id }).first()) as
      { kind: string; clearedBy: string; endedAt: string | null; position: number | null } | undefined,
    'hold',
  )
  if (hold.endedAt) throw new RuleBroken(stop('bill.holdEnded'))
  if (!BY_REASON.has(hold.kind)) throw new RuleBroken(stop(`bill.clearOtherwise.${hold.kind}`, {}, { clearedBy: [hold.clearedBy] }))
  if (!call.actor.roles.includes(hold.clearedBy)) throw new RuleBroken(stop('bill.holdNotYours', { role: hold.clearedBy }, { clearedBy: [hold.clearedBy] }))
  await call.trx('invoiceHolds').where({ id: holdId }).update({ endedAt: call.now, endedBy: call.actor.id, endReason: reason, cleared: true })
  await call
    .trx('invoices')
    .where({ id })
    .update({ version: version + 1, changedAt: call.now })
  await record(call, { kind: 'invoice', id, action: 'holdCleared', changes: { kind: hold.kind, line: hold.position }, reason })
  await match(call, { ...invoice, version: version + 1 })
  return await currentVersion(call, id)
}

/** Posts: bills the order lines, releases their commitment at the ordered price and spends at the billed price. */
export async function postInvoice(call: Call, id: string, version: number): Promise<Done> {
  const lines = await invoiceLines(call, id)
  const orderLines = await lockOrderLines(call, lines)
  const invoice = await lockInvoice(call, id)
  await guardVersion(call, invoice, version)
  const next = transition(INVOICE_STATES, 'invoice', invoice.state, 'post')
  if (!next.ok) throw new RuleBroken(next.reasons)
  if ((await match(call, invoice)) !== 'matched') throw new RuleBroken(stop('bill.heldUpNow'))
  const orders = new Map(orderLines.map(line => [line.id, line]))
  const ids = orderLines.map(line => line.id)
  const [left, sums] = [await outstanding(call, ids), await quantitySums(call, ids)]
  const spent = spentValues(invoice, lines, call.base)
  const billed = new Map<string, Decimal>()
  const entries = lines.flatMap((line, index) => {
    const order = orders.get(line.orderLineId!)!
    const before = new Decimal(sums(order.id).billed).minus(sums(order.id).credited).plus(billed.get(order.id) ?? 0)
    billed.set(order.id, (billed.get(order.id) ?? new Decimal(0)).plus(line.quantity))
    const own = left.filter(part => part.lineId === order.id)
    const proven = sums(order.id)[provenBy(order.kind)]
    return [
      ...releaseShare(own, 'committed', line.quantity, new Decimal(order.quantity).minus(before).toString()),
      ...(new Decimal(proven).gt(before) ? releaseShare(own, 'accrued', line.quantity, new Decimal(proven).minus(before).toString()) : []),
      ...spread('spent', order.id, spent[index]!, order.splits),
    ]
  })
  await postBudget(call, { kind: 'invoice', id }, entries)
  await postQuantities(
    call,
    { kind: 'invoice', id },
    lines.map(line => ({ lineId: line.orderLineId!, kind: 'billed', quantity: line.quantity })),
  )
  const supplier = (await call.trx('suppliers').where({ id: invoice.supplierId }).first('terms')) as { terms: PaymentTerms }
  await call
    .trx('invoices')
    .where({ id })
    .update({ state: 'cleared', postedAt: call.now, dueOn: await dueOn(call, { ...invoice, lines }, supplier.terms), version: version + 1, changedAt: call.now })
  await record(call, { kind: 'invoice', id, action: 'posted', changes: { gross: formatAmount(invoice.gross, invoice.currency) } })
  await afterBilling(call, orderLines)
  return { id, version: version + 1 }
}

async function lockOrderLines(call: Call, lines: readonly InvoiceLineRow[]): Promise<OrderLineRow[]> {
  const ids = lines.map(line => line.orderLineId).filter(id => id !== null)
  await call.trx('orders').whereIn('id', call.trx('orderLines').whereIn('id', ids).select('orderId')).orderBy('id').forNoKeyUpdate().select('id')
  return (await call.trx('orderLines').whereIn('id', ids).orderBy('id').forNoKeyUpdate()) as OrderLineRow[]
}

/** Net value of each line with its share of charges and allowances of the document, in the base currency. */
function spentValues(invoice: InvoiceRow, lines: readonly InvoiceLineRow[], base: string) {
  const total = toBase(minor(invoice.net), invoice.currency, invoice.rate, base)
  const weights = lines.map(line => line.net.toString())
  return allocate(total, weights.every(weight => weight === '0') ? lines.map(() => '1') : weights)
}

async function afterBilling(call: Call, lines: readonly OrderLineRow[]): Promise<void> {
  for (const orderId of new Set(lines.map(line => line.orderId))) await refreshExtents(call, orderId)
  await refreshRequisitions(
    call,
    lines.map(line => line.requisitionLineId).filter(id => id !== null),
  )
}

/** Rejects an invoice that is not posted, or voids one that is posted and not in a payment run, by counter-entries. */
export async function actOnInvoice(call: Call, id: string, action: 'reject' | 'void', version: number, reason: string): Promise<Done> {
  const orderLines = await lockOrderLines(call, await invoiceLines(call, id))
  const invoice = await lockInvoice(call, id)
  await guardVersion(call, invoice, version)
  const next = transition(INVOICE_STATES, 'invoice', invoice.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  if (action === 'void') await reverseEntries(call, id)
  await call.trx('invoiceHolds').where({ invoiceId: id }).whereNull('endedAt').update({ endedAt: call.now, endReason: next.state })
  await call
    .trx('invoices')
    .where({ id })
    .update({ state: next.state, version: version + 1, changedAt: call.now })
  await record(call, { kind: 'invoice', id, action, reason })
  await afterBilling(call, orderLines)
  return { id, version: version + 1 }
}

async function reverseEntries(call: Call, id: string): Promise<void> {
  const quantities = (await call.trx('quantityEntries').where({ documentId: id })) as { id: bigint; lineId: string; kind: 'billed'; quantity: string }[]
  const budget = (await call.trx('budgetEntries').where({ documentId: id })) as { accountId: string; kind: 'spent'; amount: bigint; lineId: string }[]
  await postQuantities(
    call,
    { kind: 'invoice', id },
    quantities.map(entry => ({ lineId: entry.lineId, kind: entry.kind, quantity: new Decimal(0).minus(entry.quantity).toString(), reversesId: entry.id.toString() })),
  )
  await postBudget(
    call,
    { kind: 'invoice', id },
    budget.map(entry => ({ ...entry, amount: minor(-entry.amount) })),
  )
}
