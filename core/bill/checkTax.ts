import type { Report } from '#core/bill/en16931.ts'
import { number, signedSum } from '#core/bill/figures.ts'
import type { InvoiceText, TaxSubtotal } from '#core/bill/invoiceText.ts'
import { type Decimal } from '#core/money/decimal.ts'

/** VAT category codes of EN 16931 (UNCL 5305 subset), with the letters that their rules are numbered by. */
const RULES: ReadonlyMap<string, string> = new Map([
  ['S', 'S'],
  ['Z', 'Z'],
  ['E', 'E'],
  ['AE', 'AE'],
  ['K', 'IC'],
  ['G', 'G'],
  ['O', 'O'],
  ['L', 'AF'],
  ['M', 'AG'],
])
export const VAT_CATEGORIES: readonly string[] = [...RULES.keys()]

/** Categories under which no VAT is charged: their rate is nothing, and so is their tax. */
const WITHOUT_TAX: ReadonlySet<string> = new Set(['Z', 'E', 'AE', 'K', 'G', 'O'])
/** Categories that say why no VAT is charged. */
const WITH_REASON: ReadonlySet<string> = new Set(['E', 'AE', 'K', 'G', 'O'])

interface Taxed {
  readonly category: string
  readonly rate: string
  readonly value: Decimal
  readonly place: string
  /** Number of the rule on the rate: 05 for lines, 06 for allowances, 07 for charges. */
  readonly rateRule: '05' | '06' | '07'
}

/** VAT categories and their breakdown (BR-CO-17, BR-S/Z/E/AE/IC/G/O/AF/AG-01, -02, -05 … -10, BR-CL-17). */
export function checkTax(invoice: InvoiceText, report: Report): void {
  const parts = taxedParts(invoice)
  for (const part of parts) checkRate(part, report)
  checkParties(invoice, report)
  const groups = new Map<string, Decimal>()
  for (const part of parts) groups.set(groupOf(part), (groups.get(groupOf(part)) ?? number('0')).plus(part.value))
  invoice.taxes.forEach((tax, index) => {
    const place = `TaxSubtotal[${index + 1}]`
    checkSubtotal(tax, groups.get(groupOf(tax)) ?? number('0'), place, report)
    groups.delete(groupOf(tax))
  })
  for (const group of groups.keys()) report(`BR-${ruleOf(group.split(' ')[0]!)}-01`, 'TaxTotal', '', group.trim())
}

const taxedParts = (invoice: InvoiceText): Taxed[] => [
  ...invoice.lines.map((line, i): Taxed => ({
    ...line,
    value: number(line.net),
    place: `InvoiceLine[${i + 1}]`,
    rateRule: '05',
  })),
  ...invoice.adjustments.map((part, i): Taxed => ({
    ...part,
    value: signedSum([part]),
    place: `AllowanceCharge[${i + 1}]`,
    rateRule: part.charge ? '07' : '06',
  })),
]

const ruleOf = (category: string): string => RULES.get(category) ?? category

/** Lines of a category without VAT form one group, whatever rate is written beside it; others one for each rate. */
const groupOf = (part: { readonly category: string; readonly rate: string }): string =>
  `${part.category} ${WITHOUT_TAX.has(part.category) ? '' : number(part.rate).toString()}`

function checkRate(part: Taxed, report: Report): void {
  const rule = `BR-${ruleOf(part.category)}-${part.rateRule}`
  if (part.category === 'S' && number(part.rate).lte(0)) report(rule, part.place, part.rate, 'above 0')
  else if (part.category === 'O' && part.rate !== '' && !number(part.rate).isZero())
    report(rule, part.place, part.rate, 'no rate')
  else if (WITHOUT_TAX.has(part.category) && !number(part.rate).isZero()) report(rule, part.place, part.rate, '0')
  else if (number(part.rate).lt(0)) report(rule, part.place, part.rate, '0 or above')
}

/** An intra-community supply names both companies by their VAT numbers (BR-IC-02, BR-IC-03, BR-IC-04). */
function checkParties(invoice: InvoiceText, report: Report): void {
  if (!taxedParts(invoice).some(part => part.category === 'K')) return
  if (invoice.seller.vatId === '') report('BR-IC-02', 'AccountingSupplierParty/PartyTaxScheme', '', 'a VAT number')
  if (invoice.buyer.vatId === '') report('BR-IC-02', 'AccountingCustomerParty/PartyTaxScheme', '', 'a VAT number')
}

function checkSubtotal(tax: TaxSubtotal, taxable: Decimal, place: string, report: Report): void {
  const rule = ruleOf(tax.category)
  if (!RULES.has(tax.category)) return report('BR-CL-17', place, tax.category, VAT_CATEGORIES.join(', '))
  if (!number(tax.taxable).equals(taxable)) report(`BR-${rule}-08`, place, tax.taxable, taxable.toFixed(2))
  if (WITHOUT_TAX.has(tax.category)) {
    if (!number(tax.tax).isZero()) report(`BR-${rule}-09`, place, tax.tax, '0.00')
    if (!number(tax.rate).isZero()) report(`BR-${rule}-05`, place, tax.rate, '0')
  } else {
    const due = number(tax.taxable).times(number(tax.rate)).dividedBy(100).toDecimalPlaces(2)
    if (!number(tax.tax).equals(due)) report('BR-CO-17', place, tax.tax, due.toFixed(2))
    if (tax.category === 'S' && number(tax.rate).lte(0)) report('BR-S-05', place, tax.rate, 'above 0')
  }
  if (WITH_REASON.has(tax.category) && tax.exemptionReason === '') report(`BR-${rule}-10`, place)
  if (!WITH_REASON.has(tax.category) && tax.exemptionReason !== '')
    report(`BR-${rule}-10`, place, tax.exemptionReason, 'no reason')
}
