import { expect } from 'chai'
import { groupWords, termWords } from '#contract/messages/invoiceTerms.ts'
import { termGroups } from '#core/bill/invoiceTerms.ts'
import { readEInvoice } from '#core/formats/eInvoice.ts'
import { invoiceXml } from '#test-helpers/invoices.ts'
import type { InvoiceText } from '#core/bill/invoiceText.ts'

/** Every text of an invoice is another one, so that it is seen where each comes out. */
function filled(): InvoiceText {
  const plain = readEInvoice(invoiceXml())
  let count = 0
  const say = (): string => `t${++count}`
  const address = () => ({ lines: [say(), say(), say()], city: say(), post: say(), region: say(), country: say() })
  const party = () => ({ name: say(), country: say(), vatId: say(), registrationId: say(), endpointId: say(), tradingName: say(), ids: [{ id: say(), scheme: say() }], registrationScheme: say(), taxId: say(), legal: say(), endpointScheme: say(), address: address(), contact: { name: say(), phone: say(), email: say() } }) // prettier-ignore
  const part = (charge: boolean) => ({ charge, amount: say(), base: say(), percent: say(), reason: say(), reasonCode: say(), category: say(), rate: say() }) // prettier-ignore
  const line = { ...plain.lines[0]!, id: say(), note: say(), objectId: say(), name: say(), description: say(), quantity: say(), unit: say(), price: say(), grossPrice: say(), priceDiscount: say(), priceBase: say(), priceBaseUnit: say(), net: say(), category: say(), rate: say(), accounting: say(), period: { from: say(), to: say() }, orderLineReference: say(), sellerItemId: say(), buyerItemId: say(), standardItemId: { id: say(), scheme: say() }, classifications: [{ code: say(), list: say(), version: say() }], country: say(), attributes: [{ name: say(), value: say() }], adjustments: [part(false), part(true)] } // prettier-ignore
  const totals = { lines: say(), allowances: say(), charges: say(), net: say(), tax: say(), gross: say(), prepaid: say(), rounding: say(), payable: say() } // prettier-ignore
  return { ...plain, customizationId: say(), processId: say(), number: say(), typeCode: say(), issueDate: say(), dueDate: say(), taxPointDate: say(), taxPointCode: say(), currency: say(), taxCurrency: say(), buyerReference: say(), project: say(), contract: say(), orderReference: say(), salesOrder: say(), receivingAdvice: say(), despatchAdvice: say(), tender: say(), object: { id: say(), scheme: '' }, accounting: say(), paymentTerms: say(), notes: [{ subject: say(), text: say() }], preceding: [{ number: say(), date: say() }], seller: party(), buyer: party(), payee: party(), representative: party(), creditorId: say(), delivery: { name: say(), location: { id: say(), scheme: say() }, date: say(), address: address() }, period: { from: say(), to: say() }, payments: [{ code: say(), text: say(), remittance: say(), accounts: [{ id: say(), name: say(), bic: say() }], cards: [{ number: say(), holder: say() }], mandates: [{ id: say(), account: say() }] }], lines: [line], adjustments: [part(false), part(true)], taxes: [{ taxable: say(), tax: say(), category: say(), rate: say(), exemptionReason: say(), exemptionCode: say() }], documents: [{ id: say(), description: say(), address: say(), mediaType: say(), fileName: say() }], totals, taxAccounting: say() } // prettier-ignore
}

describe('all that an invoice says', () => {
  const text = filled()
  const groups = termGroups(text)
  const told = groups.flatMap(one => one.terms)
  const value = (term: string): string | undefined => told.find(one => one.term === term)?.value

  it('comes out by the terms of the standard, each once and each with words', () => {
    const terms = told.map(one => one.term)
    expect(new Set(terms).size).to.equal(terms.length)
    const wanted = Array.from({ length: 165 }, (_, at) => `BT-${at + 1}`).filter(term => !['BT-4'].includes(term))
    expect(wanted.filter(term => !terms.includes(term as (typeof terms)[number]))).to.deep.equal([])
    expect(told.filter(one => termWords(one.term) === one.term)).to.deep.equal([])
    expect(groups.filter(one => groupWords(one.group) === one.group)).to.deep.equal([])
  })

  it('stands at its number', () => {
    const { seller, buyer, lines, totals, adjustments, payments, taxes, delivery } = text
    const [line] = lines
    expect([value('BT-1'), value('BT-9'), value('BT-20'), value('BT-18')]).to.deep.equal([text.number, text.dueDate, text.paymentTerms, text.object.id]) // prettier-ignore
    expect([value('BT-27'), value('BT-31'), value('BT-40'), value('BT-162')]).to.deep.equal([seller.name, seller.vatId, seller.address!.country, seller.address!.lines[2]]) // prettier-ignore
    expect([value('BT-44'), value('BT-48'), value('BT-58')]).to.deep.equal([buyer.name, buyer.vatId, buyer.contact!.email]) // prettier-ignore
    expect([value('BT-49'), value('BT-29')]).to.deep.equal([`${buyer.endpointId} (${buyer.endpointScheme})`, `${seller.ids[0]!.id} (${seller.ids[0]!.scheme})`]) // prettier-ignore
    expect([value('BT-61'), value('BT-63'), value('BT-72')]).to.deep.equal([`${text.payee!.registrationId} (${text.payee!.registrationScheme})`, text.representative!.vatId, delivery!.date]) // prettier-ignore
    expect([value('BT-84'), value('BT-90'), value('BT-91'), value('BT-92'), value('BT-99')]).to.deep.equal([payments[0]!.accounts[0]!.id, text.creditorId, payments[0]!.mandates[0]!.account, adjustments[0]!.amount, adjustments[1]!.amount]) // prettier-ignore
    expect([value('BT-106'), value('BT-115'), value('BT-111'), value('BT-117'), value('BT-121')]).to.deep.equal([totals.lines, totals.payable, text.taxAccounting, taxes[0]!.tax, taxes[0]!.exemptionCode]) // prettier-ignore
    expect([value('BT-131'), value('BT-136'), value('BT-145'), value('BT-146'), value('BT-148'), value('BT-153'), value('BT-161')]).to.deep.equal([line!.net, line!.adjustments[0]!.amount, line!.adjustments[1]!.reasonCode, line!.price, line!.grossPrice, line!.name, line!.attributes[0]!.value]) // prettier-ignore
  })

  it('stands in its group', () => {
    const of = new Map(groups.flatMap(one => one.terms.map(({ term }) => [term, one.group] as const)))
    const wanted: [string, number[]][] = [['BG-0', [1, 20]], ['BG-1', [21, 22]], ['BG-2', [23, 24]], ['BG-3', [25, 26]], ['BG-4', [27, 34]], ['BG-5', [35, 40]], ['BG-6', [41, 43]], ['BG-7', [44, 49]], ['BG-8', [50, 55]], ['BG-9', [56, 58]], ['BG-10', [59, 61]], ['BG-11', [62, 63]], ['BG-12', [64, 69]], ['BG-13', [70, 72]], ['BG-14', [73, 74]], ['BG-15', [75, 80]], ['BG-16', [81, 83]], ['BG-17', [84, 86]], ['BG-18', [87, 88]], ['BG-19', [89, 91]], ['BG-20', [92, 98]], ['BG-21', [99, 105]], ['BG-22', [106, 115]], ['BG-23', [116, 121]], ['BG-24', [122, 125]], ['BG-25', [126, 133]], ['BG-26', [134, 135]], ['BG-27', [136, 140]], ['BG-28', [141, 145]], ['BG-29', [146, 150]], ['BG-30', [151, 152]], ['BG-31', [153, 159]], ['BG-32', [160, 161]]] // prettier-ignore
    for (const [group, [from, to]] of wanted)
      for (let term = from!; term <= (to ?? from!); term++) if (term !== 4) expect(of.get(`BT-${term}`), `BT-${term}`).to.equal(group) // prettier-ignore
    const two = termGroups({ ...text, notes: [{ subject: 'a', text: 'b' }, { subject: '', text: 'c' }], lines: [text.lines[0]!, text.lines[0]!] }) // prettier-ignore
    expect(two.filter(one => one.group === 'BG-1').map(one => [one.number, one.terms.length])).to.deep.equal([[1, 2], [2, 1]]) // prettier-ignore
    expect(two.filter(one => ['BG-25', 'BG-29', 'BG-32'].includes(one.group)).map(one => one.number)).to.deep.equal([1, 1, 1, 2, 2, 2]) // prettier-ignore
  })

  it('numbers what there is one of by 1', () => {
    expect(groups.filter(one => one.number !== 1)).to.deep.equal([])
  })

  it('leaves out what is not said', () => {
    const plain = termGroups(readEInvoice(invoiceXml()))
    expect(plain.every(one => one.terms.length > 0 && one.terms.every(term => term.value !== ''))).to.equal(true)
    expect(plain.map(one => one.group)).not.to.include('BG-11')
  })
})
