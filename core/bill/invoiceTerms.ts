import type {
  Adjustment,
  AddressText,
  InvoiceLineText,
  InvoiceParty,
  InvoiceText,
  PaymentText,
  PeriodText,
  SchemedText,
} from '#core/bill/invoiceText.ts'

/** A business term with its value as it is written. */
export interface InvoiceTerm {
  readonly term: `BT-${number}`
  readonly value: string
}
/** A group of terms; `number`: which one, where there are several of its kind. */
export interface TermGroup {
  readonly group: `BG-${number}`
  readonly number: number
  readonly terms: readonly InvoiceTerm[]
}

type Told = readonly [number, string]
const schemed = ({ id, scheme }: SchemedText): string => (id === '' ? '' : scheme === '' ? id : `${id} (${scheme})`)
const group = (of: number, told: readonly Told[], number = 1): TermGroup => ({ group: `BG-${of}`, number, terms: told.filter(([, value]) => value !== '').map(([term, value]) => ({ term: `BT-${term}`, value })) }) // prettier-ignore

/** Numbers of the terms of a party: name, trading name, identifiers, registration, VAT, tax, legal form, electronic address, contact. */
interface PartyTerms {
  readonly of: number
  readonly name: number
  readonly trading?: number
  readonly id?: number
  readonly registration?: number
  readonly vat?: number
  readonly tax?: number
  readonly legal?: number
  readonly endpoint?: number
  readonly address?: AddressTerms
  readonly contact?: { readonly of: number; readonly name: number; readonly phone: number; readonly email: number }
}
interface AddressTerms {
  readonly of: number
  readonly lines: readonly [number, number, number]
  readonly city: number
  readonly post: number
  readonly region: number
  readonly country: number
}
const SELLER: PartyTerms = { of: 4, name: 27, trading: 28, id: 29, registration: 30, vat: 31, tax: 32, legal: 33, endpoint: 34, address: { of: 5, lines: [35, 36, 162], city: 37, post: 38, region: 39, country: 40 }, contact: { of: 6, name: 41, phone: 42, email: 43 } } // prettier-ignore
const BUYER: PartyTerms = { of: 7, name: 44, trading: 45, id: 46, registration: 47, vat: 48, endpoint: 49, address: { of: 8, lines: [50, 51, 163], city: 52, post: 53, region: 54, country: 55 }, contact: { of: 9, name: 56, phone: 57, email: 58 } } // prettier-ignore
const PAYEE: PartyTerms = { of: 10, name: 59, id: 60, registration: 61 }
const REPRESENTATIVE: PartyTerms = { of: 11, name: 62, vat: 63, address: { of: 12, lines: [64, 65, 164], city: 66, post: 67, region: 68, country: 69 } } // prettier-ignore
const DELIVERED: AddressTerms = { of: 15, lines: [75, 76, 165], city: 77, post: 78, region: 79, country: 80 }

/**
 * All that an invoice says, by the business terms and groups of EN 16931-1 (section 6.3), in their order, each as it is written. What it does not say is left out.
 *
 * termGroups(text)[0] //=> { group: 'BG-0', number: 1, terms: [{ term: 'BT-1', value: 'GS-17' }, …] }
 */
export function termGroups(text: InvoiceText): TermGroup[] {
  const { totals, delivery } = text
  return [
    group(0, documentTerms(text)),
    ...text.notes.map((note, at) =>
      group(
        1,
        [
          [21, note.subject],
          [22, note.text],
        ],
        at + 1,
      ),
    ),
    group(2, [
      [23, text.processId],
      [24, text.customizationId],
    ]),
    ...text.preceding.map((one, at) =>
      group(
        3,
        [
          [25, one.number],
          [26, one.date],
        ],
        at + 1,
      ),
    ),
    ...partyGroups(text.seller, SELLER),
    ...partyGroups(text.buyer, BUYER),
    ...(text.payee ? partyGroups(text.payee, PAYEE) : []),
    ...(text.representative ? partyGroups(text.representative, REPRESENTATIVE) : []),
    ...(delivery ? [group(13, [[70, delivery.name], [71, schemed(delivery.location)], [72, delivery.date]]), ...addressGroups(delivery.address, DELIVERED)] : []), // prettier-ignore
    ...periodGroups(text.period, 14, 73, 74),
    ...text.payments.flatMap(paymentGroups),
    group(19, [[90, text.creditorId]]),
    ...[false, true].flatMap(charge => text.adjustments.filter(one => one.charge === charge).map((one, at) => adjustmentGroup(one, at + 1))), // prettier-ignore
    group(22, [[106, totals.lines], [107, totals.allowances], [108, totals.charges], [109, totals.net], [110, totals.tax], [111, text.taxAccounting], [112, totals.gross], [113, totals.prepaid], [114, totals.rounding], [115, totals.payable]]), // prettier-ignore
    ...text.taxes.map((tax, at) => group(23, [[116, tax.taxable], [117, tax.tax], [118, tax.category], [119, tax.rate], [120, tax.exemptionReason], [121, tax.exemptionCode]], at + 1)), // prettier-ignore
    ...text.documents.map((one, at) => group(24, [[122, one.id], [123, one.description], [124, one.address], [125, [one.fileName, one.mediaType].filter(Boolean).join(', ')]], at + 1)), // prettier-ignore
    ...text.lines.flatMap((line, at) => lineGroups(line, at + 1)),
  ].filter(one => one.terms.length > 0)
}

const documentTerms = (text: InvoiceText): Told[] => [
  [1, text.number],
  [2, text.issueDate],
  [3, text.typeCode],
  [5, text.currency],
  [6, text.taxCurrency],
  [7, text.taxPointDate],
  [8, text.taxPointCode],
  [9, text.dueDate],
  [10, text.buyerReference],
  [11, text.project],
  [12, text.contract],
  [13, text.orderReference],
  [14, text.salesOrder],
  [15, text.receivingAdvice],
  [16, text.despatchAdvice],
  [17, text.tender],
  [18, schemed(text.object)],
  [19, text.accounting],
  [20, text.paymentTerms],
]

function partyGroups(party: InvoiceParty, by: PartyTerms): TermGroup[] {
  const told = (term: number | undefined, value: string): Told[] => (term === undefined ? [] : [[term, value]])
  const { contact } = party
  return [
    group(by.of, [
      ...told(by.name, party.name),
      ...told(by.trading, party.tradingName),
      ...party.ids.flatMap(id => told(by.id, schemed(id))),
      ...told(by.registration, schemed({ id: party.registrationId, scheme: party.registrationScheme })),
      ...told(by.vat, party.vatId),
      ...told(by.tax, party.taxId),
      ...told(by.legal, party.legal),
      ...told(by.endpoint, schemed({ id: party.endpointId, scheme: party.endpointScheme })),
    ]),
    ...(by.address ? addressGroups(party.address, by.address) : []),
    ...(by.contact && contact ? [group(by.contact.of, [[by.contact.name, contact.name], [by.contact.phone, contact.phone], [by.contact.email, contact.email]])] : []), // prettier-ignore
  ]
}
const addressGroups = (address: AddressText | null, by: AddressTerms): TermGroup[] =>
  address === null ? [] : [group(by.of, [...by.lines.map((term, at): Told => [term, address.lines[at] ?? '']), [by.city, address.city], [by.post, address.post], [by.region, address.region], [by.country, address.country]])] // prettier-ignore
const periodGroups = (period: PeriodText | null, of: number, from: number, to: number, number = 1): TermGroup[] =>
  period === null
    ? []
    : [
        group(
          of,
          [
            [from, period.from],
            [to, period.to],
          ],
          number,
        ),
      ]

const paymentGroups = (payment: PaymentText, at: number): TermGroup[] => [
  group(
    16,
    [
      [81, payment.code],
      [82, payment.text],
      [83, payment.remittance],
    ],
    at + 1,
  ),
  ...payment.accounts.map((one, index) =>
    group(
      17,
      [
        [84, one.id],
        [85, one.name],
        [86, one.bic],
      ],
      index + 1,
    ),
  ),
  ...payment.cards.map((one, index) =>
    group(
      18,
      [
        [87, one.number],
        [88, one.holder],
      ],
      index + 1,
    ),
  ),
  ...payment.mandates.map((one, index) =>
    group(
      19,
      [
        [89, one.id],
        [91, one.account],
      ],
      index + 1,
    ),
  ),
]

/** Terms of an allowance of the document, then those of a charge: amount, base, per cent, category, rate, reason, code. */
const DOCUMENT_PARTS = [
  [92, 93, 94, 95, 96, 97, 98],
  [99, 100, 101, 102, 103, 104, 105],
] as const
/** The same of a line, which has no tax of its own. */
const LINE_PARTS = [
  [136, 137, 138, 139, 140],
  [141, 142, 143, 144, 145],
] as const

function adjustmentGroup(one: Adjustment, number: number): TermGroup {
  const [amount, base, percent, category, rate, reason, code] = DOCUMENT_PARTS[one.charge ? 1 : 0]
  return group(one.charge ? 21 : 20, [[amount, one.amount], [base, one.base], [percent, one.percent], [category, one.category], [rate, one.rate], [reason, one.reason], [code, one.reasonCode]], number) // prettier-ignore
}

function lineGroups(line: InvoiceLineText, number: number): TermGroup[] {
  return [
    group(25, [[126, line.id], [127, line.note], [128, line.objectId], [129, line.quantity], [130, line.unit], [131, line.net], [132, line.orderLineReference], [133, line.accounting]], number), // prettier-ignore
    ...periodGroups(line.period, 26, 134, 135, number),
    ...line.adjustments.map(one => {
      const [amount, base, percent, reason, code] = LINE_PARTS[one.charge ? 1 : 0]
      return group(one.charge ? 28 : 27, [[amount, one.amount], [base, one.base], [percent, one.percent], [reason, one.reason], [code, one.reasonCode]], number) // prettier-ignore
    }),
    group(29, [[146, line.price], [147, line.priceDiscount], [148, line.grossPrice], [149, line.priceBase], [150, line.priceBaseUnit]], number), // prettier-ignore
    group(
      30,
      [
        [151, line.category],
        [152, line.rate],
      ],
      number,
    ),
    group(31, [[153, line.name], [154, line.description], [155, line.sellerItemId], [156, line.buyerItemId], [157, schemed(line.standardItemId)], ...line.classifications.map((one): Told => [158, [one.code, [one.list, one.version].filter(Boolean).join(' ')].filter(Boolean).join(', ')]), [159, line.country]], number), // prettier-ignore
    ...line.attributes.map(one =>
      group(
        32,
        [
          [160, one.name],
          [161, one.value],
        ],
        number,
      ),
    ),
  ]
}
