import { randomUUID } from 'node:crypto'
import type { ReadInvoiceFiles, SupplierInvoice } from '#contract/bill/endpoints.ts'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { type BilledByHand, billOrder, type MadeInvoice } from '#core/bill/billOrder.ts'
import { invoiceDesk } from '#core/bill/desk.ts'
import type { InvoiceTax } from '#core/bill/facts.ts'
import { inOrderedUnit } from '#core/bill/inOrderedUnit.ts'
import { normalNumber } from '#core/bill/invoiceNumber.ts'
import { type InvoiceText, partyText, type PartyText } from '#core/bill/invoiceText.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { readCredit } from '#core/bill/readCredit.ts'
import { isCreditNote, takeInvoice, whyNotFromSender, whyNotRead, whyNotTake } from '#core/bill/takeInvoice.ts'
import { parseAmount } from '#core/money/amount.ts'
import { minor } from '#core/money/amount.ts'
import { sumDecimals, tidy } from '#core/money/decimal.ts'
import { workOrder } from '#core/receive/workReport.ts'
import { isWork } from '#core/request/kinds.ts'
import { toBase } from '#core/money/exchange.ts'
import { likeThePlan } from '#core/order/recurring.ts'
import { whyNotBillOwn } from '#core/bill/selfBilling.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { PackConversion } from '#core/units/units.ts'
import { takeCredit } from '#server/bill/creditActs.ts'
import { dropDraft } from '#server/bill/draftStore.ts'
import { dueDay } from '#server/bill/dueDay.ts'
import { creditedInvoice } from '#server/bill/knownCreditStore.ts'
import {
  heldInvoice,
  type InvoiceLineRow,
  type InvoiceRow,
  knownInvoice,
  ordersOfLines,
  writeHolds,
} from '#server/bill/invoiceStore.ts'
import { postSoon } from '#server/bill/postUntouched.ts'
import { billingSettings } from '#server/bill/settingStore.ts'
import { defaultsOf } from '#server/order/conditionStore.ts'
import { findLines, findSeller, sellerCountries } from '#server/bill/sellerStore.ts'
import { type Done, type Write, writing } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { keepDesk } from '#server/desk/deskStore.ts'
import { record } from '#server/documents/history.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { compute } from '#server/compute/compute.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import type { FoundInvoice } from '#server/formats/invoiceFile.ts'
import { ownFile } from '#server/files/fileActs.ts'
import { contentOf, useFile } from '#server/files/fileStore.ts'
import { baseRate } from '#server/house/rates.ts'
import { reportFromInvoice } from '#server/receive/reportStore.ts'
import { heldOrders, heldOwnOrder, type KnownOrder } from '#server/order/orderStore.ts'

interface NewInvoice {
  readonly supplierId: string
  readonly supplierNumber: string
  readonly source: InvoiceRow['source']
  readonly currency: string
  readonly issueDate: string
  readonly printedDueDate: string | null
  readonly orderReference: string
  readonly fileId: string | null
  readonly net: bigint
  readonly charges: bigint
  readonly tax: bigint
  readonly gross: bigint
  readonly prepaid: bigint
  readonly rounding: bigint
  readonly payable: bigint
  readonly taxes: readonly InvoiceTax[]
  readonly buyer: PartyText | null
  readonly sellerCountries: readonly string[]
  readonly iban: string
  readonly lines: readonly Omit<InvoiceLineRow, 'id' | 'invoiceId'>[]
}

type Taken = Done & { number: string; state: string; kind?: 'creditNote' }

/** Reads an uploaded e-invoice, checks it against EN 16931, finds its supplier and order, and matches it. */
export async function readInvoiceFile(call: Write, fileId: string): Promise<Taken> {
  const found = await foundIn(call, fileId)
  if (found.length > 1) throw new RuleBroken(stop('bill.several', { count: found.length }))
  const { kind: _kind, ...taken } = await takeFound(call, found[0]!, fileId)
  return taken
}

/**
 * Reads every e-invoice in uploaded files, each by itself and a moment after the one before: which of two like ones was here first is told by that. One that is
 * refused keeps no other from being taken. `onlyOf`: those of one supplier are taken, no other's.
 */
export async function readInvoiceFiles(
  call: Write,
  fileIds: readonly string[],
  onlyOf?: string,
): Promise<ResponseOf<typeof ReadInvoiceFiles>> {
  const results: ResponseOf<typeof ReadInvoiceFiles>['results'] = []
  for (const fileId of fileIds) {
    for (const found of await foundIn(call, fileId)) {
      const about = {
        file: found.name,
        supplier: found.invoice?.seller.name ?? '',
        theirs: found.invoice?.number ?? '',
      }
      try {
        const now = new Date(Date.parse(call.now) + results.length).toISOString()
        const taken = await call.trx.transaction(trx =>
          takeFound(writing(trx, { ...call, now }), found, fileId, onlyOf),
        )
        results.push({ ...about, number: taken.number, state: taken.state, path: pathOf(taken.kind ?? 'invoice', taken.id), reasons: [] }) // prettier-ignore
      } catch (error) {
        if (!(error instanceof RuleBroken)) throw error
        results.push({ ...about, number: '', state: 'refused', path: '', reasons: reasonsJson(error.reasons) })
      }
    }
  }
  return { results }
}

async function foundIn(call: Write, fileId: string): Promise<FoundInvoice[]> {
  const file = await ownFile(call, fileId)
  return await compute('invoicesOf', { name: file.name, bytes: await contentOf(call, file.id) })
}

async function takeFound(
  call: Write,
  { invoice: text, reasons }: FoundInvoice,
  fileId: string,
  onlyOf?: string,
): Promise<Taken> {
  if (!text) throw new RuleBroken(reasons)
  refuse(whyNotRead(text, call.today, (await billingSettings(call)).ruleSets))
  const supplierId = await findSeller(call, text)
  refuse(whyNotFromSender(supplierId, onlyOf ?? null))
  if (isCreditNote(text)) return await takeCreditText(call, text, supplierId, fileId)
  const invoice = await fromText(call, text, supplierId, fileId)
  return await take(call, invoice, await heldOrders(call, (await ordersOfLines(call, invoice.lines)).sort()))
}

/** A credit note belongs to the invoice that it names, else to the only one of its order. */
async function takeCreditText(call: Write, text: InvoiceText, supplierId: string, fileId: string): Promise<Taken> {
  const standing = call
    .trx('invoices')
    .where({ supplierId })
    .whereIn('state', [...INVOICE_GROUPS.standing])
  const named = text.preceding[0]?.number ?? ''
  const found = named
    ? await standing.where({ normalNumber: normalNumber(named) }).pluck<string[]>('id')
    : text.orderReference
      ? await standing.where({ orderReference: text.orderReference }).pluck<string[]>('id')
      : []
  if (found.length !== 1)
    throw new RuleBroken(stop('credit.whichInvoice', { number: named || '—' }, { clearedBy: ['invoiceClerk'] }))
  const invoice = await heldInvoice(call, found[0]!)
  const figures = obey(readCredit(await creditedInvoice(call, invoice), text)).next
  const reason = text.notes
    .map(note => note.text)
    .join(' ')
    .slice(0, 2000)
  const { gross: _gross, ...taken } = await takeCredit(call, invoice, {
    supplierNumber: text.number,
    issueDate: text.issueDate,
    reason,
    figures,
    fileId,
  })
  return { ...taken, kind: 'creditNote' }
}

async function fromText(call: Write, text: InvoiceText, supplierId: string, fileId: string): Promise<NewInvoice> {
  const amount = (value: string): bigint => parseAmount(value === '' ? '0' : value, text.currency)
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
    gross: amount(text.totals.gross),
    prepaid: amount(text.totals.prepaid),
    rounding: amount(text.totals.rounding),
    payable: amount(text.totals.payable),
    taxes: text.taxes.map(tax => ({
      category: tax.category,
      rate: tax.rate || '0',
      taxable: tax.taxable,
      tax: tax.tax,
    })),
    buyer: partyText(text.buyer),
    sellerCountries: [text.seller.country, vatCountry(text.seller.vatId)].filter(Boolean),
    iban: text.iban,
    lines: await linkedLines(call, text, supplierId),
  }
}

/** VAT numbers of Greece and Northern Ireland begin with other letters than their country's. */
const VAT_COUNTRY: ReadonlyMap<string, string> = new Map([
  ['EL', 'GR'],
  ['XI', 'GB'],
])
const vatCountry = (vatId: string): string => {
  const letters = vatId.trim().slice(0, 2).toUpperCase()
  return VAT_COUNTRY.get(letters) ?? (/^[A-Z]{2}$/.test(letters) ? letters : '')
}

/** Finds the order line of each invoice line: by the line it names, the item's number, or the description; each order line once. */
async function linkedLines(call: Write, text: InvoiceText, supplierId: string): Promise<NewInvoice['lines']> {
  const candidates = await findLines(call, text.orderReference, supplierId)
  const free = new Set(candidates)
  return text.lines.map((line, index) => {
    const fits: ((one: (typeof candidates)[number]) => boolean)[] = [
      one => line.orderLineReference !== '' && String(one.position) === line.orderLineReference,
      one => line.buyerItemId !== '' && one.itemNumber === line.buyerItemId,
      one => line.sellerItemId !== '' && one.supplierItem === line.sellerItemId,
      one => one.description.toLowerCase() === line.name.toLowerCase(),
    ]
    const one = candidates.length === 1 && text.lines.length === 1 ? candidates[0] : undefined
    const only = one && (text.orderReference !== '' || likeThePlan({ unit: line.unit, price: line.price, priceBase: line.priceBase || '1' }, one)) ? one : undefined // prettier-ignore
    const order = fits.map(fit => [...free].find(fit)).find(one => one !== undefined) ?? only
    if (order) free.delete(order)
    const billed = { quantity: tidy(line.quantity), unit: line.unit, priceBase: tidy(line.priceBase || '1') }
    const figures = order ? inOrderedUnit(billed, order.unit, itemOf(order)) : billed
    return {
      position: index + 1,
      orderLineId: order?.id ?? null,
      description: line.name.slice(0, 300),
      ...figures,
      price: tidy(line.price),
      net: parseAmount(line.net, text.currency),
      taxCategory: line.category,
      taxRate: line.rate || '0',
      told: { sellerItem: line.sellerItemId, buyerItem: line.buyerItemId, order: text.orderReference, orderLine: line.orderLineReference }, // prettier-ignore
    }
  })
}

const itemOf = (line: { itemUnit: string | null; packs: PackConversion[] | null }) =>
  line.itemUnit === null ? null : { unit: line.itemUnit, packs: line.packs ?? [] }

/** Makes an invoice from an order, as a supplier does on its own pages. */
export async function billOwnOrder(
  call: Write,
  orderId: string,
  body: BodyOf<typeof SupplierInvoice>,
): Promise<{ id: string; state: string; number: string }> {
  const order = await heldOwnOrder(call, orderId)
  const { supplier } = await defaultsOf(call, order.supplierId, order.locationId)
  refuse(whyNotBillOwn(supplier))
  const wanted = { ...body, freight: parseAmount(body.freight, order.currency) }
  await dropDraft(call, orderId)
  return await takeMade(call, order, wanted, body.number, 'supplierPages')
}

/** Takes in an invoice that is made from an order: by the supplier on its pages, or by us in its name. */
export async function takeMade(
  call: Write,
  order: KnownOrder,
  wanted: BilledByHand,
  supplierNumber: string,
  source: 'supplierPages' | 'selfBilled',
): Promise<{ id: string; state: string; number: string }> {
  const made: MadeInvoice = obey(billOrder(order, wanted, call.today)).next
  const invoice: NewInvoice = {
    ...made,
    lines: made.lines.map(line => ({ ...line, told: { sellerItem: '', buyerItem: '', order: order.number, orderLine: '' } })), // prettier-ignore
    supplierId: order.supplierId,
    supplierNumber,
    source,
    currency: order.currency,
    issueDate: wanted.issueDate,
    printedDueDate: null,
    orderReference: order.number,
    fileId: null,
    prepaid: 0n,
    rounding: 0n,
    payable: made.gross,
    buyer: null,
    sellerCountries: await sellerCountries(call, order.supplierId),
    iban: '',
  }
  const { version: _version, ...taken } = await take(call, invoice, [order])
  return taken
}

/** Takes an invoice in, with its orders held: rows, match and holds, and its place on the Desks. */
export async function take(call: Write, invoice: NewInvoice, orders: readonly KnownOrder[]): Promise<Taken> {
  const id = randomUUID()
  const { lines, ...head } = invoice
  const normal = normalNumber(invoice.supplierNumber)
  const same = await call
    .trx('invoices')
    .where({ supplierId: invoice.supplierId, normalNumber: normal })
    .whereIn('state', [...INVOICE_GROUPS.standing])
    .first('number')
  refuse(whyNotTake(invoice, same ?? null))
  const rate = await baseRate(call, invoice.currency, invoice.issueDate > call.today ? call.today : invoice.issueDate)
  const supplier = await call.trx('suppliers').where({ id: invoice.supplierId }).first('name')
  const number = await nextNumber(call, 'invoice')
  await call.trx('invoices').insert({
    ...head,
    id,
    number,
    normalNumber: normal,
    state: 'read',
    rate,
    dueOn: await dueDay(call, invoice, lines),
    basePayable: toBase(minor(invoice.payable), invoice.currency, rate, call.base),
    taxes: json([...invoice.taxes]),
    buyer: invoice.buyer ? json(invoice.buyer) : null,
    sellerCountries: [...invoice.sellerCountries],
    receivedAt: call.now,
    byId: call.actor.id,
    changedAt: call.now,
    search: `${number} ${invoice.supplierNumber} ${supplier!.name} ${invoice.orderReference}`.toLowerCase(),
  })
  await call
    .trx('invoiceLines')
    .insert(lines.map(line => ({ id: randomUUID(), invoiceId: id, ...line, told: json(line.told) })))
  if (invoice.fileId) await useFile(call, invoice.fileId, { kind: 'invoice', id })
  const known = await knownInvoice(call, id, orders)
  const decided = obey(takeInvoice(known, null, invoice.source))
  const { state, holds } = decided.next
  await writeHolds(call, id, holds!, 'causeGone')
  await call.trx('invoices').where({ id }).update({ state })
  await record(call, { kind: 'invoice', id, ...decided.did })
  await reportBilledWork(call, { id, number: invoice.supplierNumber, day: invoice.issueDate, lines }, orders)
  // nothing but the invoice itself is new, and all of that is known here
  const standing = holds!.open.map(hold => ({
    ...hold,
    id: '',
    ended: false,
    cleared: false,
    escalated: false,
    asked: null,
  }))
  await keepDesk(call, { kind: 'invoice', id }, invoiceDesk({ ...known, state, holds: standing }))
  if (standing.length === 0) await postSoon(call)
  return { id, version: 1, number, state }
}

/** Work that is billed first is reported by its bill, and waits to be accepted. */
async function reportBilledWork(
  call: Write,
  invoice: { id: string; number: string; day: string; lines: NewInvoice['lines'] },
  orders: readonly KnownOrder[],
): Promise<void> {
  for (const order of orders)
    for (const line of order.lines) {
      if (workOrder(line.proof) !== 'invoiceFirst' || !isWork(line.kind)) continue
      const quantity = sumDecimals(invoice.lines.filter(one => one.orderLineId === line.id).map(one => one.quantity))
      if (quantity.lte(0)) continue
      const { id: invoiceId, number, day } = invoice
      await reportFromInvoice(call, order, {
        invoiceId,
        number: number.slice(0, 40),
        day,
        lineId: line.id,
        quantity: tidy(quantity),
      })
    }
}
