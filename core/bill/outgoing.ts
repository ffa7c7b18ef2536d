import type { CreditFacts } from '#core/bill/creditFacts.ts'
import type { InvoiceFacts, InvoiceTax } from '#core/bill/facts.ts'
import { formatAmount, sumMinor } from '#core/money/amount.ts'
import { table } from '#core/text/table.ts'
import type { Address } from '#core/text/address.ts'

/** Invoices that are written here and not read or typed: we have them as documents. */
const WRITTEN_HERE: ReadonlySet<string> = new Set(['supplierPages', 'selfBilled'])
export const isWrittenHere = (source: string): boolean => WRITTEN_HERE.has(source)

/** A company as it stands on a document that we write. */
export interface OutgoingParty extends Address {
  readonly name: string
  readonly vat: string
}

/** A document by EN 16931 as we write it, in either syntax: an invoice or a credit note. Amounts are decimals of its currency. */
export interface OutgoingInvoice {
  /** UNTDID 1001: 380 invoice, 389 self-billed invoice, 381 credit note, 261 self-billed credit note. */
  readonly typeCode: '380' | '389' | '381' | '261'
  readonly number: string
  readonly issueDate: string
  readonly dueDate: string
  readonly currency: string
  readonly orderReference: string
  readonly preceding: { readonly number: string; readonly date: string } | null
  readonly note: string
  readonly paymentTerms: string
  readonly seller: OutgoingParty
  readonly buyer: OutgoingParty
  /** The account that it is paid to; null where nothing is paid to it. */
  readonly account: { readonly iban: string; readonly bic: string; readonly holder: string } | null
  readonly lines: readonly {
    readonly id: string
    readonly name: string
    readonly quantity: string
    readonly unit: string
    readonly price: string
    readonly priceBase: string
    readonly net: string
    readonly category: string
    readonly rate: string
    readonly orderLine: string
  }[]
  /** Freight and other charges of the document, one for each tax. */
  readonly charges: readonly { readonly amount: string; readonly reason: string; readonly code: string; readonly category: string; readonly rate: string }[] // prettier-ignore
  readonly taxes: readonly (InvoiceTax & { readonly exemption: Exemption | null })[]
  readonly totals: { readonly lines: string; readonly charges: string; readonly net: string; readonly tax: string; readonly gross: string; readonly payable: string } // prettier-ignore
}

export interface Exemption {
  readonly code: string
  readonly text: string
}

/** Why no VAT is charged, by category: codes of the list VATEX as EN 16931 takes them (BT-121), with words (BT-120). S and Z want none. */
export const EXEMPTIONS: Readonly<Record<string, Exemption>> = table({
  AE: { code: 'VATEX-EU-AE', text: 'Reverse charge' },
  K: { code: 'VATEX-EU-IC', text: 'Intra-community supply' },
  G: { code: 'VATEX-EU-G', text: 'Export outside the EU' },
  O: { code: 'VATEX-EU-O', text: 'Not subject to VAT' },
  E: { code: '', text: 'Exempt from VAT' },
})

export const isCredit = ({ typeCode }: Pick<OutgoingInvoice, 'typeCode'>): boolean => typeCode === '381' || typeCode === '261' // prettier-ignore

/** What the charges of a document are taxed as: of each tax what is no line's. */
export function chargesByTax(
  taxes: readonly InvoiceTax[],
  lines: readonly { readonly net: bigint; readonly taxCategory: string; readonly taxRate: string }[],
  read: (amount: string) => bigint,
): { readonly tax: InvoiceTax; readonly amount: bigint }[] {
  return taxes
    .map(tax => {
      const own = lines.filter(line => line.taxCategory === tax.category && Number(line.taxRate) === Number(tax.rate))
      return { tax, amount: read(tax.taxable) - sumMinor(own.map(line => line.net)) }
    })
    .filter(one => one.amount !== 0n)
}

/** An invoice that a supplier made on our pages (380), or that we wrote in its name (389), as a document. */
export function invoiceDocument(
  invoice: InvoiceFacts,
  around: Pick<OutgoingInvoice, 'seller' | 'buyer' | 'account'> & { readonly selfBilled: boolean; readonly orderReference: string; readonly orderLines: ReadonlyMap<string, string> }, // prettier-ignore
  read: (amount: string) => bigint,
): OutgoingInvoice {
  const text = (amount: bigint): string => formatAmount(amount, invoice.currency)
  return {
    typeCode: around.selfBilled ? '389' : '380',
    number: invoice.supplierNumber,
    issueDate: invoice.issueDate,
    dueDate: invoice.dueOn ?? '',
    currency: invoice.currency,
    orderReference: around.orderReference,
    preceding: null,
    note: '',
    paymentTerms: '',
    seller: around.seller,
    buyer: around.buyer,
    account: around.account,
    lines: invoice.lines.map(line => ({
      id: String(line.position),
      name: line.description,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      priceBase: line.priceBase,
      net: text(line.net),
      category: line.taxCategory,
      rate: line.taxRate,
      orderLine: around.orderLines.get(line.orderLineId ?? '') ?? '',
    })),
    charges: chargesByTax(invoice.taxes, invoice.lines, read).map(({ tax, amount }) => ({ amount: text(amount), reason: 'Freight and charges', code: 'FC', category: tax.category, rate: tax.rate })), // prettier-ignore
    taxes: invoice.taxes.map(tax => ({ ...tax, exemption: EXEMPTIONS[tax.category] ?? null })),
    totals: { lines: text(sumMinor(invoice.lines.map(line => line.net))), charges: text(invoice.charges), net: text(invoice.net), tax: text(invoice.tax), gross: text(invoice.gross), payable: text(invoice.payable) }, // prettier-ignore
  }
}

/** A credit note of a supplier (381), or our debit note as the self-billed credit note that it is (261), as a document. */
export function creditDocument(
  credit: CreditFacts,
  around: Pick<OutgoingInvoice, 'seller' | 'buyer'> & { readonly orderReference: string; readonly orderLines: ReadonlyMap<string, string> }, // prettier-ignore
  read: (amount: string) => bigint,
): OutgoingInvoice {
  const text = (amount: bigint): string => formatAmount(amount, credit.invoice.currency)
  const net = sumMinor(credit.lines.map(line => line.net))
  return {
    typeCode: credit.issuer === 'house' ? '261' : '381',
    number: credit.supplierNumber,
    issueDate: credit.issueDate,
    dueDate: '',
    currency: credit.invoice.currency,
    orderReference: around.orderReference,
    preceding: { number: credit.invoice.supplierNumber, date: credit.invoice.issueDate },
    note: credit.reason,
    paymentTerms: 'Set off against what is to be paid.',
    seller: around.seller,
    buyer: around.buyer,
    account: null,
    lines: credit.lines.map(line => ({
      id: String(line.position),
      name: line.description,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      priceBase: line.priceBase,
      net: text(line.net),
      category: line.taxCategory,
      rate: line.taxRate,
      orderLine: around.orderLines.get(line.orderLineId ?? '') ?? '',
    })),
    charges: chargesByTax(credit.taxes, credit.lines, read).map(({ tax, amount }) => ({ amount: text(amount), reason: 'Freight and charges', code: 'FC', category: tax.category, rate: tax.rate })), // prettier-ignore
    taxes: credit.taxes.map(tax => ({ ...tax, exemption: EXEMPTIONS[tax.category] ?? null })),
    totals: { lines: text(net), charges: text(credit.charges), net: text(credit.net), tax: text(credit.tax), gross: text(credit.gross), payable: text(credit.gross) }, // prettier-ignore
  }
}
