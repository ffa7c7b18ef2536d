import type { Report } from '#core/bill/en16931.ts'
import { number, signedSum } from '#core/bill/figures.ts'
import type { InvoiceParty, InvoiceText, TaxSubtotal } from '#core/bill/invoiceText.ts'
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
  ['L', 'IG'],
  ['M', 'IP'],
  ['B', 'B'],
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
  /** What it is: by this the rules on its rate, and on what it asks of the parties, are numbered. */
  readonly kind: 'line' | 'allowance' | 'charge'
}
const RATE_RULE = { line: '05', allowance: '06', charge: '07' } as const
const PARTY_RULE = { line: '02', allowance: '03', charge: '04' } as const
const ALONE_RULE = { line: '12', allowance: '13', charge: '14' } as const

/** VAT categories and their breakdown (BR-CO-17, BR-S/Z/E/AE/IC/G/O/IG/IP/B-01 … -14, BR-CL-17, BR-CL-18). */
export function checkTax(invoice: InvoiceText, report: Report): void {
  const parts = taxedParts(invoice)
  for (const part of parts) {
    if (part.category !== '' && !RULES.has(part.category))
      report('BR-CL-18', part.place, part.category, VAT_CATEGORIES.join(', ')) // prettier-ignore
    else checkRate(part, report)
  }
  checkPartyNumbers(invoice, parts, report)
  const groups = new Map<string, Decimal>()
  for (const part of parts) groups.set(groupOf(part), (groups.get(groupOf(part)) ?? number('0')).plus(part.value))
  const told = new Set<string>()
  invoice.taxes.forEach((tax, index) => {
    const place = `TaxSubtotal[${index + 1}]`
    const group = groupOf(tax)
    if (told.has(group)) report(`BR-${ruleOf(tax.category)}-01`, place, 'more than one', 'one breakdown')
    else checkSubtotal(tax, groups.get(group) ?? number('0'), place, report)
    told.add(group)
    groups.delete(group)
  })
  for (const group of groups.keys()) {
    const [category] = group.split(' ')
    if (RULES.has(category!)) report(`BR-${ruleOf(category!)}-01`, 'TaxTotal', '', group.trim())
  }
  checkDelivery(invoice, parts, report)
  checkAlone(invoice, parts, report)
}

const taxedParts = (invoice: InvoiceText): Taxed[] => [
  ...invoice.lines.map((line, i): Taxed => ({
    category: line.category,
    rate: line.rate,
    value: number(line.net),
    place: `InvoiceLine[${i + 1}]`,
    kind: 'line',
  })),
  ...invoice.adjustments.map((part, i): Taxed => ({
    category: part.category,
    rate: part.rate,
    value: signedSum([part]),
    place: `AllowanceCharge[${i + 1}]`,
    kind: part.charge ? 'charge' : 'allowance',
  })),
]

const ruleOf = (category: string): string => RULES.get(category) ?? category

/** Lines of a category without VAT form one group, whatever rate is written beside it; others one for each rate. */
const groupOf = (part: { readonly category: string; readonly rate: string }): string =>
  `${part.category} ${WITHOUT_TAX.has(part.category) ? '' : number(part.rate).toString()}`

function checkRate(part: Taxed, report: Report): void {
  const rule = `BR-${ruleOf(part.category)}-${RATE_RULE[part.kind]}`
  if (part.category === 'S' && number(part.rate).lte(0)) report(rule, part.place, part.rate, 'above 0')
  else if (part.category === 'O' && part.rate !== '' && !number(part.rate).isZero())
    report(rule, part.place, part.rate, 'no rate')
  else if (WITHOUT_TAX.has(part.category) && !number(part.rate).isZero()) report(rule, part.place, part.rate, '0')
  else if (number(part.rate).lt(0)) report(rule, part.place, part.rate, '0 or above')
}

/** Which numbers a category asks for: of the seller's side, of the buyer's, or that there are none. */
function checkPartyNumbers(
  { seller, buyer, representative }: InvoiceText,
  parts: readonly Taxed[],
  report: Report,
): void {
  const sellers = (withTaxId: boolean): boolean =>
    seller.vatId !== '' || (representative?.vatId ?? '') !== '' || (withTaxId && seller.taxId !== '')
  const seen = new Set<string>()
  for (const { category, kind } of parts) {
    const rule = `BR-${ruleOf(category)}-${PARTY_RULE[kind]}`
    if (seen.has(rule) || !RULES.has(category)) continue
    seen.add(rule)
    const missing = whatIsMissing(category, { sellers, buyer })
    for (const side of missing) report(rule, PARTY_PLACES[side], '', side === 'seller' ? 'a VAT number' : category === 'AE' ? 'a VAT number or registration' : 'a VAT number') // prettier-ignore
    if (category === 'O' && (seller.vatId !== '' || buyer.vatId !== '' || (representative?.vatId ?? '') !== ''))
      report(rule, PARTY_PLACES[seller.vatId !== '' ? 'seller' : 'buyer'], seller.vatId || buyer.vatId, 'no VAT number') // prettier-ignore
  }
}
const PARTY_PLACES = {
  seller: 'AccountingSupplierParty/PartyTaxScheme',
  buyer: 'AccountingCustomerParty/PartyTaxScheme',
}

function whatIsMissing(
  category: string,
  { sellers, buyer }: { sellers: (withTaxId: boolean) => boolean; buyer: InvoiceParty },
): ('seller' | 'buyer')[] {
  switch (category) {
    case 'O':
      return []
    case 'AE':
      return [
        ...(sellers(true) ? [] : (['seller'] as const)),
        ...(buyer.vatId !== '' || buyer.registrationId !== '' ? [] : (['buyer'] as const)),
      ]
    case 'K':
      return [...(sellers(false) ? [] : (['seller'] as const)), ...(buyer.vatId !== '' ? [] : (['buyer'] as const))]
    case 'G':
      return sellers(false) ? [] : ['seller']
    default:
      return sellers(true) ? [] : ['seller']
  }
}

/** Goods that cross a border inside the Union say when and whereto (BR-IC-11, BR-IC-12). */
function checkDelivery(invoice: InvoiceText, parts: readonly Taxed[], report: Report): void {
  if (!parts.some(part => part.category === 'K')) return
  if (!invoice.delivery?.date && !invoice.period) report('BR-IC-11', 'Delivery', '', 'a day of delivery or a period')
  if (!invoice.delivery?.address?.country) report('BR-IC-12', 'Delivery/Country', '', 'a country')
}

/** What is outside VAT stands alone (BR-O-11 … BR-O-14); split payment is no standard rate (BR-B-01, BR-B-02). */
function checkAlone(invoice: InvoiceText, parts: readonly Taxed[], report: Report): void {
  if (invoice.taxes.some(tax => tax.category === 'O')) {
    if (invoice.taxes.some(tax => tax.category !== 'O')) report('BR-O-11', 'TaxTotal', '', 'no other category')
    for (const part of parts)
      if (part.category !== 'O') report(`BR-O-${ALONE_RULE[part.kind]}`, part.place, part.category, 'O')
  }
  if (!parts.some(part => part.category === 'B')) return
  if (invoice.seller.country !== 'IT' || invoice.buyer.country !== 'IT')
    report('BR-B-01', 'TaxTotal', `${invoice.seller.country} ${invoice.buyer.country}`, 'within Italy')
  for (const part of parts) if (part.category === 'S') report('BR-B-02', part.place, 'S', 'no standard rate beside B')
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
  if (WITH_REASON.has(tax.category) && tax.exemptionReason === '') report(`BR-${rule}-10`, place, '', 'a reason')
  if (!WITH_REASON.has(tax.category) && tax.exemptionReason !== '')
    report(`BR-${rule}-10`, place, tax.exemptionReason, 'no reason')
}
