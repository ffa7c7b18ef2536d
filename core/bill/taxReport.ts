import type { InvoiceTax, TaxRate } from '#core/bill/facts.ts'
import { minor, type Minor, parseAmount, roundAmount, sumMinor, formatAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'

/** A document of a period with its VAT as it says it; `sign`: −1 where it gives back, as a credit note does, or what was taken out of the books again. */
export interface TaxedDocument {
  readonly id: string
  readonly sign: 1 | -1
  readonly currency: string
  readonly rate: string
  readonly tax: Minor
  readonly taxes: readonly InvoiceTax[]
  /** Where the seller is. */
  readonly country: string
}

/** What a document adds to one line of the report, in the base currency. */
export interface TaxShare {
  readonly id: string
  readonly taxable: Minor
  readonly tax: Minor
  /** What we owe ourselves where the seller charges none, and may take off again. */
  readonly owed: Minor
}
export interface TaxRow {
  readonly country: string
  readonly category: string
  readonly rate: string
  readonly taxable: Minor
  readonly tax: Minor
  readonly owed: Minor
  readonly documents: readonly TaxShare[]
}

/** Categories of which the buyer owes the VAT (Directive 2006/112/EC, articles 194 … 200). */
const OWED_BY_BUYER: ReadonlySet<string> = new Set(['AE', 'K'])

/**
 * VAT of a period by country of the seller, category and rate, in the base currency. Each document is converted at its own rate and rounded once for each of its
 * taxes; a cent that these are apart from its whole tax stands with the largest, so that the report re-adds to the journal.
 *
 * @param ours rates of our own country; the highest is what we owe where the seller charges none
 */
export function taxReport(documents: readonly TaxedDocument[], ours: readonly TaxRate[], base: string): TaxRow[] {
  const highest = ours.reduce((most, one) => Decimal.max(most, one.rate), new Decimal(0))
  const rows = new Map<string, { country: string; category: string; rate: string; documents: TaxShare[] }>()
  for (const document of documents)
    for (const { tax, ...share } of sharesOf(document, highest, base)) {
      const rate = new Decimal(tax.rate || '0').toString()
      const key = `${document.country} ${tax.category} ${rate}`
      const row = rows.get(key) ?? { country: document.country, category: tax.category, rate, documents: [] }
      row.documents.push({ id: document.id, tax: share.amount, taxable: share.taxable, owed: share.owed })
      rows.set(key, row)
    }
  const sum = (row: { documents: readonly TaxShare[] }, key: 'taxable' | 'tax' | 'owed'): Minor => sumMinor(row.documents.map(one => one[key])) // prettier-ignore
  return [...rows]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([, row]) => ({ ...row, taxable: sum(row, 'taxable'), tax: sum(row, 'tax'), owed: sum(row, 'owed') }))
}

function sharesOf(document: TaxedDocument, highest: Decimal, base: string) {
  const { currency, rate, sign } = document
  const based = (amount: bigint): bigint => BigInt(sign) * toBase(minor(amount), currency, rate, base)
  const read = (text: string): bigint => parseAmount(text === '' ? '0' : text, currency)
  const shares = document.taxes.map(tax => {
    const taxable = minor(based(read(tax.taxable)))
    const owed = OWED_BY_BUYER.has(tax.category) ? roundAmount(new Decimal(formatAmount(taxable, base)).times(highest).dividedBy(100), base) : minor(0) // prettier-ignore
    return { tax, taxable, owed, amount: minor(based(read(tax.tax))) }
  })
  const apart = based(document.tax) - shares.reduce<bigint>((sum, one) => sum + one.amount, 0n)
  if (apart === 0n || shares.length === 0) return shares
  const size = (amount: bigint): bigint => (amount < 0n ? -amount : amount)
  const largest = shares.reduce((a, b) => (size(b.amount) > size(a.amount) ? b : a))
  return shares.map(one => (one === largest ? { ...one, amount: minor(one.amount + apart) } : one))
}
