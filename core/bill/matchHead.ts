import type { HouseIdentity, InvoiceFacts } from '#core/bill/facts.ts'
import { type Hold, holdOf } from '#core/bill/holds.ts'
import type { PartyText } from '#core/bill/invoiceText.ts'
import { within } from '#core/bill/tolerance.ts'
import { amountToDecimal, minor, parseAmount, roundAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { normalName } from '#core/source/names.ts'

/** Freight and other charges of the document, less allowances, against what the orders agreed and nobody billed yet; upwards only unless less is held, too. */
export function matchCharges(invoice: InvoiceFacts): Hold[] {
  const agreed = invoice.orders.reduce<bigint>((sum, order) => sum + order.charges, 0n)
  const left = agreed > invoice.chargesBilled ? agreed - invoice.chargesBilled : 0n
  const over = minor(invoice.charges - left)
  const { freight } = invoice.tolerances
  const passes = (by: bigint): boolean =>
    within(amountToDecimal(minor(by), invoice.currency), amountToDecimal(minor(left), invoice.currency), freight)
  if (!passes(over)) return [holdOf('charges', null, over)]
  return freight.both && !passes(-over) ? [holdOf('below', null, -over)] : []
}

/** Categories under which no VAT is charged (EN 16931: Z, E, AE, K, G, O). */
const WITHOUT_TAX: ReadonlySet<string> = new Set(['Z', 'E', 'AE', 'K', 'G', 'O'])

/**
 * VAT, both ways: each breakdown has to be its base × a rate that is charged where the seller or we are, or nothing where the category
 * charges none; all together they are the document's tax. The money of the hold is all tax that is in doubt.
 */
export function matchTax(invoice: InvoiceFacts): Hold[] {
  const places = new Set([...invoice.sellerCountries, invoice.house.country])
  const rates = invoice.taxRates.filter(rate => places.has(rate.country))
  const read = (text: string): bigint => parseAmount(text === '' ? '0' : text, invoice.currency)
  const doubts = invoice.taxes.map(tax => {
    const known = WITHOUT_TAX.has(tax.category)
      ? new Decimal(tax.rate).isZero()
      : rates.some(rate => new Decimal(rate.rate).equals(tax.rate))
    const due = roundAmount(
      amountToDecimal(read(tax.taxable), invoice.currency).times(tax.rate).dividedBy(100),
      invoice.currency,
    )
    return known ? size(read(tax.tax) - due) : size(read(tax.tax)) || size(due)
  })
  const apart = size(invoice.tax - invoice.taxes.reduce<bigint>((sum, tax) => sum + read(tax.tax), 0n))
  const inDoubt = [...doubts, apart].reduce((sum, amount) => sum + amount, 0n)
  return within(amountToDecimal(inDoubt, invoice.currency), '0', { ...invoice.tolerances.tax, percent: null })
    ? []
    : [holdOf('tax', null, inDoubt)]
}

const size = (amount: bigint): bigint => (amount < 0n ? -amount : amount)

/** Rounding of the amount payable (BT-114) stays below one whole unit of the currency. */
const roundingLimit = (currency: string): bigint => parseAmount('1', currency)

/**
 * What is asked beyond net and tax: a total that does not add up, rounding of a whole unit or more, a prepayment below nothing, which would
 * be money on top. Upwards only: to be asked for less never blocks.
 */
export function matchTotals(invoice: InvoiceFacts): Hold[] {
  const beyond = minor(invoice.gross - invoice.net - invoice.tax)
  const unexplained = minor(invoice.payable - (invoice.gross - invoice.prepaid + invoice.rounding))
  const gross = [beyond, unexplained].reduce<bigint>((sum, amount) => sum + (amount > 0n ? amount : 0n), 0n)
  return [
    ...(gross > 0n ? [holdOf('gross', null, gross)] : []),
    ...(invoice.rounding >= roundingLimit(invoice.currency) ? [holdOf('rounding', null, invoice.rounding)] : []),
    ...(invoice.prepaid < 0n ? [holdOf('prepaid', null, -invoice.prepaid)] : []),
  ]
}

/** Whether an invoice is addressed to us: by VAT number where it has one, else by the name without its legal form. */
export function isAddressedTo(buyer: PartyText, house: HouseIdentity): boolean {
  if (buyer.vatId !== '' && house.vat !== '') return normalIdentifier(buyer.vatId) === normalIdentifier(house.vat)
  return house.name === '' || normalName(buyer.name).joined === normalName(house.name).joined
}

/** Addressed to another company, or asking to be paid to an account that is not the supplier's. */
export function matchParties(invoice: InvoiceFacts): Hold[] {
  const known = new Set(invoice.accounts.map(normalIdentifier))
  const foreign = invoice.iban !== '' && !known.has(normalIdentifier(invoice.iban))
  return [
    ...(invoice.buyer !== null && !isAddressedTo(invoice.buyer, invoice.house)
      ? [holdOf('addressee', null, invoice.payable)]
      : []),
    ...(foreign ? [holdOf('account', null, invoice.payable)] : []),
  ]
}

/** Disputed: nothing of it is posted until both sides agree, or we drop it. */
export const matchDispute = (invoice: InvoiceFacts): Hold[] =>
  invoice.dispute === null ? [] : [holdOf('dispute', null, invoice.payable)]

/** Days within which the same amount of the same supplier is looked at twice. */
export const NEAR_DAYS = 14

/** The same supplier and amount within two weeks: somebody says whether it is another one. */
export const matchTwin = (invoice: InvoiceFacts): Hold[] =>
  invoice.twin === null ? [] : [holdOf('nearDuplicate', null, invoice.payable)]
