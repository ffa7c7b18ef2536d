import { expect } from 'chai'
import { ruleWords } from '#contract/messages/invoiceRules.ts'
import { checkInvoice, type RuleSet } from '#core/bill/en16931.ts'
import type { Adjustment, InvoiceLineText, InvoiceParty, InvoiceText, PaymentText, TaxSubtotal } from '#core/bill/invoiceText.ts' // prettier-ignore
import { placeIn } from '#core/bill/invoicePlaces.ts'

const address = { lines: ['Kai 4'], city: 'Bergen', post: '5003', region: '', country: 'NO' }
const party = (changed: Partial<InvoiceParty> = {}): InvoiceParty => ({
  name: 'Nordhavn Pumpeverk',
  tradingName: '',
  country: 'NO',
  vatId: 'NO999999999MVA',
  taxId: '',
  registrationId: '999999999',
  registrationScheme: '0192',
  legal: '',
  endpointId: '999999999',
  endpointScheme: '0192',
  ids: [{ id: '7080000000005', scheme: '0088' }],
  address,
  contact: { name: 'Ragna', phone: '+47 55 00 00 00', email: 'ragna@nordhavn.example' },
  ...changed,
})
const line = (changed: Partial<InvoiceLineText> = {}): InvoiceLineText => ({
  id: '1',
  note: '',
  objectId: '',
  name: 'Pump',
  description: '',
  quantity: '2',
  unit: 'C62',
  price: '100',
  grossPrice: '110',
  priceDiscount: '10',
  priceBase: '1',
  priceBaseUnit: 'C62',
  net: '200.00',
  category: 'S',
  rate: '25',
  accounting: '',
  period: null,
  orderLineReference: '1',
  sellerItemId: '',
  buyerItemId: '',
  standardItemId: { id: '7080000000012', scheme: '0160' },
  classifications: [{ code: '40151500', list: 'MP', version: '' }],
  country: 'NO',
  attributes: [{ name: 'Colour', value: 'blue' }],
  adjustments: [],
  ...changed,
})
const part = (changed: Partial<Adjustment> = {}): Adjustment => ({ charge: true, amount: '40.00', base: '200.00', percent: '20', reason: 'Freight', reasonCode: 'FC', category: 'S', rate: '25', ...changed }) // prettier-ignore
const tax = (changed: Partial<TaxSubtotal> = {}): TaxSubtotal => ({ taxable: '240.00', tax: '60.00', category: 'S', rate: '25', exemptionReason: '', exemptionCode: '', ...changed }) // prettier-ignore
const payment = (changed: Partial<PaymentText> = {}): PaymentText => ({ code: '30', text: '', remittance: 'B-1', accounts: [{ id: 'NO9386011117947', name: '', bic: '' }], cards: [], mandates: [], ...changed }) // prettier-ignore

/** Right in every rule, also of the national sets. */
const whole: InvoiceText = {
  syntax: 'ubl',
  customizationId: 'urn:cen.eu:en16931:2017#compliant#urn:fdc:peppol.eu:2017:poacc:billing:3.0',
  processId: 'urn:fdc:peppol.eu:2017:poacc:billing:01:1.0',
  number: 'B-1',
  typeCode: '380',
  issueDate: '2026-11-20',
  dueDate: '2026-12-20',
  taxPointDate: '',
  taxPointCode: '',
  currency: 'NOK',
  taxCurrency: '',
  buyerReference: 'purchasing',
  project: '',
  contract: '',
  orderReference: 'O-1',
  salesOrder: '',
  receivingAdvice: '',
  despatchAdvice: '',
  tender: '',
  object: { id: '', scheme: '' },
  accounting: '',
  paymentTerms: '',
  notes: [],
  preceding: [],
  seller: party(),
  buyer: party({ name: 'Saltmere Aquarium Trust', vatId: 'NL999999999B99' }),
  payee: null,
  representative: null,
  creditorId: '',
  delivery: { name: '', location: { id: '', scheme: '' }, date: '2026-11-18', address },
  period: { from: '2026-11-01', to: '2026-11-30' },
  payments: [payment()],
  iban: 'NO9386011117947',
  lines: [line()],
  adjustments: [part()],
  taxes: [tax()],
  documents: [],
  totals: { lines: '200.00', allowances: '', charges: '40.00', net: '240.00', tax: '60.00', gross: '300.00', prepaid: '', rounding: '', payable: '300.00' }, // prettier-ignore
  taxAccounting: '',
  dates: [],
  currencies: [],
  foreign: [],
  empty: [],
}
const SETS: RuleSet[] = ['german', 'peppol']
const rules = (invoice: InvoiceText, sets: readonly RuleSet[] = []): string[] =>
  checkInvoice(invoice, '2026-11-26', sets).map(one => one.rule)

type Change = Partial<InvoiceText>
const seller = (changed: Partial<InvoiceParty>): Change => ({ seller: party(changed) })
const buyer = (changed: Partial<InvoiceParty>): Change => ({ buyer: party(changed) })
const lines = (changed: Partial<InvoiceLineText>): Change => ({ lines: [line(changed)] })
const inLine = (changed: Partial<Adjustment>): Change => lines({ adjustments: [part({ amount: '0.00', base: '', percent: '', ...changed })] }) // prettier-ignore
const adjusted = (changed: Partial<Adjustment>): Change => ({ adjustments: [part(changed)] })
const taxes = (changed: Partial<TaxSubtotal>): Change => ({ taxes: [tax(changed)] })
const totals = (changed: Partial<InvoiceText['totals']>): Change => ({ totals: { ...whole.totals, ...changed } })
const pays = (...payments: Partial<PaymentText>[]): Change => ({ payments: payments.map(payment) })
/** All of it under one category. */
const under = (category: string, rate: string, exemptionReason = 'because'): Change => ({
  lines: [line({ category, rate })],
  adjustments: [part({ category, rate }), part({ charge: false, amount: '0.00', base: '', percent: '', reasonCode: '', category, rate })], // prettier-ignore
  taxes: [tax({ category, rate, tax: '0.00', exemptionReason })],
  totals: { ...whole.totals, tax: '0.00', gross: '240.00', payable: '240.00' },
})

describe('the rules of e-invoices', () => {
  it('find nothing in an invoice that keeps them, in either syntax and by every set', () => {
    expect(checkInvoice(whole, '2026-11-26')).to.deep.equal([])
    expect(rules(whole, ['peppol'])).to.deep.equal([])
    expect(checkInvoice(whole, '2026-11-26', SETS).map(one => [one.rule, one.severity, one.set])).to.deep.equal([['BR-DE-21', 'check', 'german']]) // prettier-ignore
    expect(rules({ ...whole, syntax: 'cii' })).to.deep.equal([])
  })

  const cases: [string, Change][] = [
    ['BR-01', { customizationId: '' }],
    ['BR-02', { number: '' }],
    ['BR-03', { issueDate: '' }],
    ['BR-04', { typeCode: '' }],
    ['BR-05', { currency: '' }],
    ['BR-06', seller({ name: '' })],
    ['BR-07', buyer({ name: '' })],
    ['BR-08', seller({ address: null })],
    ['BR-09', seller({ country: '' })],
    ['BR-10', buyer({ address: null })],
    ['BR-11', buyer({ country: '' })],
    ['BR-12', totals({ lines: '' })],
    ['BR-13', totals({ net: '' })],
    ['BR-14', totals({ gross: '' })],
    ['BR-15', totals({ payable: '' })],
    ['BR-16', { lines: [] }],
    ['BR-17', { payee: party({ name: '' }) }],
    ['BR-18', { representative: party({ name: '' }) }],
    ['BR-19', { representative: party({ address: null }) }],
    ['BR-20', { representative: party({ country: '' }) }],
    ['BR-21', lines({ id: '' })],
    ['BR-22', lines({ quantity: '' })],
    ['BR-23', lines({ unit: '' })],
    ['BR-24', lines({ net: '' })],
    ['BR-25', lines({ name: '' })],
    ['BR-26', lines({ price: '' })],
    ['BR-27', lines({ price: '-100', quantity: '-2' })],
    ['BR-28', lines({ grossPrice: '-1' })],
    ['BR-29', { period: { from: '2026-11-30', to: '2026-11-29' } }],
    ['BR-30', lines({ period: { from: '2026-11-30', to: '2026-11-29' } })],
    ['BR-31', adjusted({ charge: false, amount: '' })],
    ['BR-32', adjusted({ charge: false, category: '' })],
    ['BR-33', adjusted({ charge: false, reason: '', reasonCode: '' })],
    ['BR-36', adjusted({ amount: '' })],
    ['BR-37', adjusted({ category: '' })],
    ['BR-38', adjusted({ reason: '', reasonCode: '' })],
    ['BR-41', inLine({ charge: false, amount: '' })],
    ['BR-42', inLine({ charge: false, reason: '', reasonCode: '' })],
    ['BR-43', inLine({ amount: '' })],
    ['BR-44', inLine({ reason: '', reasonCode: '' })],
    ['BR-45', taxes({ taxable: '' })],
    ['BR-46', taxes({ tax: '' })],
    ['BR-47', taxes({ category: '' })],
    ['BR-48', taxes({ rate: '' })],
    ['BR-49', pays({ code: '' })],
    ['BR-50', pays({ accounts: [{ id: '', name: '', bic: '' }] })],
    ['BR-51', pays({ code: '48', cards: [{ number: '12345678901', holder: '' }] })],
    ['BR-52', { documents: [{ id: '', description: '', address: '', mediaType: '', fileName: '' }] }],
    ['BR-53', { taxCurrency: 'EUR' }],
    ['BR-54', lines({ attributes: [{ name: 'Colour', value: '' }] })],
    ['BR-55', { preceding: [{ number: '', date: '' }] }],
    ['BR-56', { representative: party({ vatId: '' }) }],
    ['BR-57', { delivery: { ...whole.delivery!, address: { ...address, country: '' } } }],
    ['BR-61', pays({ accounts: [] })],
    ['BR-61', pays({ code: '58', accounts: [] })],
    ['BR-62', seller({ endpointScheme: '' })],
    ['BR-63', buyer({ endpointScheme: '' })],
    ['BR-64', lines({ standardItemId: { id: '7080000000012', scheme: '' } })],
    ['BR-65', lines({ classifications: [{ code: '1', list: '', version: '' }] })],
    ['BR-66', pays({ code: '48', cards: [{ number: '1234', holder: '' }] }, { code: '48', cards: [{ number: '5678', holder: '' }] })], // prettier-ignore
    ['BR-67', pays({ code: '59', mandates: [{ id: 'M1', account: '' }, { id: 'M2', account: '' }] })], // prettier-ignore
    ['BR-CO-03', { taxPointDate: '2026-11-20', taxPointCode: '35' }],
    ['BR-CO-04', lines({ category: '' })],
    ['BR-CO-09', seller({ vatId: '999999999' })],
    ['BR-CO-09', buyer({ vatId: 'QQ1' })],
    ['BR-CO-10', totals({ lines: '200.01' })],
    ['BR-CO-11', totals({ allowances: '0.01' })],
    ['BR-CO-12', totals({ charges: '40.01' })],
    ['BR-CO-13', totals({ net: '240.01' })],
    ['BR-CO-14', totals({ tax: '60.01' })],
    ['BR-CO-15', totals({ gross: '300.01' })],
    ['BR-CO-16', totals({ payable: '300.01' })],
    ['BR-CO-16', totals({ prepaid: '0.01' })],
    ['BR-CO-16', totals({ rounding: '0.01' })],
    ['BR-CO-17', taxes({ tax: '60.01' })],
    ['BR-CO-18', { taxes: [] }],
    ['BR-CO-19', { period: { from: '', to: '' } }],
    ['BR-CO-20', lines({ period: { from: '', to: '' } })],
    ['BR-CO-25', { dueDate: '' }],
    ['BR-CO-26', seller({ ids: [], registrationId: '', vatId: '' })],
    ['BR-DEC-01', adjusted({ charge: false, amount: '1.001' })],
    ['BR-DEC-02', adjusted({ charge: false, base: '1.001' })],
    ['BR-DEC-05', adjusted({ amount: '1.001' })],
    ['BR-DEC-06', adjusted({ base: '1.001' })],
    ['BR-DEC-09', totals({ lines: '200.001' })],
    ['BR-DEC-10', totals({ allowances: '0.001' })],
    ['BR-DEC-11', totals({ charges: '40.001' })],
    ['BR-DEC-12', totals({ net: '240.001' })],
    ['BR-DEC-13', totals({ tax: '60.001' })],
    ['BR-DEC-14', totals({ gross: '300.001' })],
    ['BR-DEC-15', { taxCurrency: 'EUR', taxAccounting: '5.001' }],
    ['BR-DEC-16', totals({ prepaid: '0.001' })],
    ['BR-DEC-17', totals({ rounding: '0.001' })],
    ['BR-DEC-18', totals({ payable: '300.001' })],
    ['BR-DEC-19', taxes({ taxable: '240.001' })],
    ['BR-DEC-20', taxes({ tax: '60.001' })],
    ['BR-DEC-23', lines({ net: '200.001' })],
    ['BR-DEC-24', inLine({ charge: false, amount: '0.001' })],
    ['BR-DEC-25', inLine({ charge: false, base: '0.001' })],
    ['BR-DEC-27', inLine({ amount: '0.001' })],
    ['BR-DEC-28', inLine({ base: '0.001' })],
    ['BR-CL-01', { typeCode: '999' }],
    ['BR-CL-04', { currency: 'XYZ' }],
    ['BR-CL-05', { taxCurrency: 'XYZ', taxAccounting: '1' }],
    ['BR-CL-06', { taxPointCode: '29' }],
    ['BR-CL-07', { object: { id: '1', scheme: '1' } }],
    ['BR-CL-08', { notes: [{ subject: 'nobody', text: 'x' }] }],
    ['BR-CL-10', seller({ ids: [{ id: '1', scheme: '9999' }] })],
    ['BR-CL-11', buyer({ registrationScheme: '0001' })],
    ['BR-CL-13', lines({ classifications: [{ code: '1', list: 'unspsc', version: '' }] })],
    ['BR-CL-14', { payee: party({ country: 'XX' }) }],
    ['BR-CL-14', { delivery: { ...whole.delivery!, address: { ...address, country: 'NOR' } } }],
    ['BR-CL-15', lines({ country: 'no' })],
    ['BR-CL-16', pays({ code: '71' })],
    ['BR-CL-17', { ...taxes({ category: 'X' }), ...lines({ category: 'X' }), ...adjusted({ category: 'X' }) }],
    ['BR-CL-18', lines({ category: 'X' })],
    ['BR-CL-19', adjusted({ charge: false, reasonCode: '99' })],
    ['BR-CL-20', adjusted({ reasonCode: 'fc' })],
    ['BR-CL-20', inLine({ reasonCode: 'fc' })],
    ['BR-CL-21', lines({ standardItemId: { id: '1', scheme: 'GTIN' } })],
    ['BR-CL-22', taxes({ exemptionCode: 'because' })],
    ['BR-CL-23', lines({ unit: 'piece' })],
    ['BR-CL-24', { documents: [{ id: '1', description: '', address: '', mediaType: 'text/html', fileName: 'a' }] }],
    ['BR-CL-25', buyer({ endpointScheme: 'GLN' })],
    ['BR-CL-26', { delivery: { ...whole.delivery!, location: { id: '1', scheme: 'here' } } }],
    ['BT-5', { currencies: [{ place: 'PayableAmount', text: 'EUR' }] }],
    ['BT-24', { customizationId: 'urn:factur-x.eu:1p0:minimum' }],
    ['BT-24', { customizationId: 'urn:factur-x.eu:1p0:basicwl' }],
    ['BT-84', pays({ accounts: [{ id: 'NO9386011117948', name: '', bic: '' }] })],
    ['BT-84', pays({}, { accounts: [{ id: 'NO9386011117948', name: '', bic: '' }] })],
    ['BT-131', lines({ net: '200.01' })],
    ['BT-149', lines({ priceBase: '0' })],
    ['UBL-NUMBER', lines({ net: '2E2' })],
    ['UBL-NUMBER', totals({ payable: '1,300.00' })],
    ['UBL-NUMBER', lines({ quantity: '2 ' })],
    ['UBL-NUMBER', lines({ grossPrice: '1E2' })],
    ['UBL-NUMBER', adjusted({ percent: 'ten' })],
    ['UBL-DATE', { dates: [{ place: 'DueDate', text: '2026-02-30' }] }],
    ['UBL-DATE', { dates: [{ place: 'DueDate', text: '2126-02-28' }] }],
    ['UBL-NAMESPACE', { foreign: ['ID'] }],
    ['BR-S-01', { taxes: [tax({ rate: '15', taxable: '0.00', tax: '0.00' })] }],
    ['BR-S-01', { taxes: [tax(), tax()] }],
    ['BR-S-02', seller({ vatId: '' })],
    ['BR-S-05', under('S', '0', '')],
    ['BR-S-08', taxes({ taxable: '239.00' })],
    ['BR-S-10', taxes({ exemptionReason: 'because' })],
    ['BR-Z-01', { ...under('Z', '0', ''), taxes: [tax()] }],
    ['BR-Z-05', under('Z', '5', '')],
    ['BR-Z-10', under('Z', '0')],
    ['BR-E-02', { ...under('E', '0'), ...seller({ vatId: '' }) }],
    ['BR-E-10', under('E', '0', '')],
    ['BR-E-09', { ...under('E', '0'), taxes: [tax({ category: 'E', rate: '0', tax: '1.00', exemptionReason: 'x' })] }],
    ['BR-AE-02', { ...under('AE', '0'), ...buyer({ vatId: '', registrationId: '' }) }],
    ['BR-AE-03', { ...under('AE', '0'), ...seller({ vatId: '' }) }],
    ['BR-AE-06', under('AE', '5')],
    ['BR-AE-07', under('AE', '5')],
    ['BR-AE-08', { ...under('AE', '0'), taxes: [tax({ category: 'AE', rate: '0', tax: '0.00', taxable: '1.00', exemptionReason: 'x' })] }], // prettier-ignore
    ['BR-IC-02', { ...under('K', '0'), ...buyer({ vatId: '' }) }],
    ['BR-IC-04', { ...under('K', '0'), ...seller({ vatId: '', taxId: '1' }) }],
    ['BR-IC-11', { ...under('K', '0'), period: null, delivery: { ...whole.delivery!, date: '' } }],
    ['BR-IC-12', { ...under('K', '0'), delivery: null }],
    ['BR-G-02', { ...under('G', '0'), ...seller({ vatId: '', taxId: '1' }) }],
    ['BR-G-10', under('G', '0', '')],
    ['BR-O-02', under('O', '')],
    ['BR-O-05', under('O', '5')],
    ['BR-O-11', { ...under('O', ''), taxes: [tax({ category: 'O', rate: '', tax: '0.00', exemptionReason: 'x' }), tax({ category: 'Z', rate: '0', taxable: '0.00', tax: '0.00' })] }], // prettier-ignore
    ['BR-O-12', { ...under('O', ''), lines: [line()] }],
    ['BR-O-13', { ...under('O', ''), adjustments: [part({ charge: false })] }],
    ['BR-O-14', { ...under('O', ''), adjustments: [part()] }],
    ['BR-IG-05', under('L', '-1', '')],
    ['BR-IP-10', under('M', '0')],
    ['BR-B-01', under('B', '0', '')],
    ['BR-B-02', { ...under('B', '0', ''), lines: [line()] }],
  ]
  for (const [rule, change] of cases)
    it(`${rule} is found where it is broken, and said in words`, () => {
      expect(rules({ ...whole, ...change })).to.include(rule)
      expect(ruleWords(rule), rule).to.not.equal('')
    })

  const german: [string, Change][] = [
    ['BR-DE-1', { payments: [] }],
    ['BR-DE-2', seller({ contact: null })],
    ['BR-DE-3', seller({ address: { ...address, city: '' } })],
    ['BR-DE-4', seller({ address: { ...address, post: '' } })],
    ['BR-DE-5', seller({ contact: { ...party().contact!, name: '' } })],
    ['BR-DE-6', seller({ contact: { ...party().contact!, phone: '' } })],
    ['BR-DE-7', seller({ contact: { ...party().contact!, email: '' } })],
    ['BR-DE-8', buyer({ address: { ...address, city: '' } })],
    ['BR-DE-9', buyer({ address: { ...address, post: '' } })],
    ['BR-DE-10', { delivery: { ...whole.delivery!, address: { ...address, city: '' } } }],
    ['BR-DE-11', { delivery: { ...whole.delivery!, address: { ...address, post: '' } } }],
    ['BR-DE-14', taxes({ rate: '' })],
    ['BR-DE-15', { buyerReference: '' }],
    ['BR-DE-16', seller({ vatId: '' })],
    ['BR-DE-17', { typeCode: '130' }],
    ['BR-DE-18', { paymentTerms: '#SKONTO#TAGE=14#PROZENT=2#' }],
    ['BR-DE-19', pays({ code: '58', accounts: [{ id: '123', name: '', bic: '' }] })],
    ['BR-DE-20', pays({ code: '59', accounts: [], mandates: [{ id: 'M', account: '123' }] })],
    ['BR-DE-22', { documents: ['a.pdf', 'A.pdf'].map(fileName => ({ id: '1', description: '', address: '', mediaType: '', fileName })) }], // prettier-ignore
    ['BR-DE-23-a', pays({ accounts: [] })],
    ['BR-DE-23-b', pays({ cards: [{ number: '1', holder: '' }] })],
    ['BR-DE-24-a', pays({ code: '48', accounts: [] })],
    ['BR-DE-24-b', pays({ code: '54', cards: [{ number: '1', holder: '' }] })],
    ['BR-DE-25-a', pays({ code: '59', accounts: [] })],
    ['BR-DE-25-b', pays({ code: '59', mandates: [{ id: 'M', account: '' }] })],
    ['BR-DE-26', { typeCode: '384' }],
    ['BR-DE-27', seller({ contact: { ...party().contact!, phone: '12' } })],
    ['BR-DE-28', seller({ contact: { ...party().contact!, email: 'ragna' } })],
    ['BR-DE-30', pays({ code: '59', mandates: [{ id: 'M', account: '1' }] })],
    ['BR-DE-31', pays({ code: '59', mandates: [{ id: 'M', account: '' }] })],
  ]
  const peppol: [string, Change][] = [
    ['R001', { processId: '' }],
    ['R002', { notes: [{ subject: '', text: 'a' }, { subject: '', text: 'b' }] }], // prettier-ignore
    ['R003', { buyerReference: '', orderReference: '' }],
    ['R004', { customizationId: 'urn:cen.eu:en16931:2017' }],
    ['R005', { taxCurrency: 'NOK', taxAccounting: '60.00' }],
    ['R007', { processId: 'billing' }],
    ['R008', { empty: ['Note'] }],
    ['R010', buyer({ endpointId: '' })],
    ['R020', seller({ endpointId: '' })],
    ['R040', adjusted({ percent: '19.9' })],
    ['R041', adjusted({ base: '' })],
    ['R042', adjusted({ percent: '' })],
    ['R042', inLine({ base: '1.00' })],
    ['R046', lines({ priceDiscount: '9' })],
    ['R061', pays({ code: '59', mandates: [{ id: '', account: '1' }] })],
    ['R110', lines({ period: { from: '2026-10-31', to: '2026-11-02' } })],
    ['R111', lines({ period: { from: '2026-11-02', to: '2026-12-01' } })],
    ['R120', lines({ net: '200.03' })],
    ['R130', lines({ priceBaseUnit: 'KGM' })],
    ['P0100', { typeCode: '130' }],
  ]
  for (const [set, rule, change] of [
    ...german.map(([one, change]) => ['german', one, change] as const),
    ...peppol.map(([one, change]) => ['peppol', `PEPPOL-EN16931-${one}`, change] as const),
  ])
    // prettier-ignore
    it(`${rule} is found where its set is asked for, and nowhere else`, () => {
      expect(rules({ ...whole, ...change }, [set])).to.include(rule)
      expect(rules({ ...whole, ...change })).to.not.include(rule)
      expect(ruleWords(rule)).to.not.equal('')
    })

  it('leave what may be: discounts in the right words, an exact slack, credit notes, numbers without a point', () => {
    const right: Change[] = [
      { paymentTerms: 'Thank you.\n#SKONTO#TAGE=14#PROZENT=2.00#\n#SKONTO#TAGE=7#PROZENT=3.00#BASISBETRAG=200.00#' },
      { typeCode: '381' },
      { period: { from: '2026-11-01', to: '2026-11-01' } },
      { period: { from: '', to: '2026-11-01' } },
      { taxCurrency: 'EUR', taxAccounting: '5.20' },
      { payee: party(), representative: party() },
      { notes: [{ subject: 'AAI', text: 'x' }], preceding: [{ number: 'B-0', date: '' }], object: { id: '1', scheme: 'AWV' } },
      seller({ vatId: 'EL1' }),
      seller({ vatId: '', taxId: '12/345' }),
      lines({ quantity: '0.5', price: '400', grossPrice: '', priceDiscount: '' }),
      adjusted({ percent: '20.01' }),
      { dueDate: '', paymentTerms: '30 days' },
      totals({ rounding: '0.40', payable: '300.40' }),
      pays({ accounts: [{ id: 'NO93 8601 1117 947', name: '', bic: '' }] }),
    ] // prettier-ignore
    for (const change of right) expect(rules({ ...whole, ...change }, ['peppol']), JSON.stringify(change).slice(0, 120)).to.deep.equal([]) // prettier-ignore
    expect(rules({ ...whole, ...right[0] }, ['german'])).to.deep.equal(['BR-DE-21'])
    expect(rules({ ...whole, ...under('O', ''), ...seller({ vatId: '' }), ...buyer({ vatId: '' }) })).to.deep.equal([])
    const italian = { ...under('B', '22', ''), ...seller({ country: 'IT' }), ...buyer({ country: 'IT' }), taxes: [tax({ category: 'B', rate: '22', tax: '52.80' })], totals: { ...whole.totals, tax: '52.80', gross: '292.80', payable: '292.80' } } // prettier-ignore
    expect(rules({ ...whole, ...italian })).to.deep.equal([])
    expect(rules({ ...whole, ...under('K', '0') })).to.deep.equal([])
  })

  it('say where, in the words of the document’s syntax, what was found and what was expected', () => {
    const broken = { ...whole, lines: [line(), line({ id: '2', net: '200.01' })], totals: { ...whole.totals, lines: '400.01', net: '440.01', gross: '500.01', payable: '500.01' }, taxes: [tax({ taxable: '440.01', tax: '110.00' })] } // prettier-ignore
    const [first] = checkInvoice(broken)
    expect(first).to.deep.equal({ rule: 'BT-131', place: 'InvoiceLine[2]', found: '200.01', expected: '200.00', severity: 'stop', set: 'en16931' }) // prettier-ignore
    expect(checkInvoice({ ...broken, syntax: 'cii' })[0]!.place).to.equal('IncludedSupplyChainTradeLineItem[2]')
    expect(checkInvoice({ ...whole, syntax: 'cii', foreign: ['ID'] })[0]!.rule).to.equal('CII-NAMESPACE')
    expect(placeIn('cii', 'InvoiceLine[3]/PriceAmount')).to.equal('IncludedSupplyChainTradeLineItem[3]/NetPriceProductTradePrice/ChargeAmount') // prettier-ignore
    expect(placeIn('ubl', 'InvoiceLine[3]/PriceAmount')).to.equal('InvoiceLine[3]/PriceAmount')
    expect(placeIn('cii', 'Somewhere/Else[1]')).to.equal('Somewhere/Else[1]')
  })

  it('do not add up what cannot be read, and stop at a profile without lines', () => {
    expect(rules({ ...whole, ...lines({ net: '2E2' }), ...totals({ payable: '1.00' }) })).to.deep.equal(['UBL-NUMBER'])
    expect(checkInvoice({ ...whole, customizationId: 'urn:factur-x.eu:1p0:minimum', lines: [] }).map(one => [one.rule, one.found])).to.deep.equal([['BT-24', 'MINIMUM']]) // prettier-ignore
    expect(rules({ ...whole, customizationId: 'urn:factur-x.eu:1p0:basic' })).to.deep.equal([])
  })
})
