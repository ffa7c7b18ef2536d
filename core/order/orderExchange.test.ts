import { expect } from 'chai'
import { sumQuantities } from '#core/ledger/quantity.ts'
import { exchangeOfUbl, readUblOrder } from '#core/formats/ublOrder.ts'
import { chargeOfCode, exchangedRows, type ExchangeFile, type ExchangeLine, exchangeOrder, foreignNames, isNeeded, mappingKey } from '#core/order/orderExchange.ts' // prettier-ignore
import { OrderToPay } from '#test-helpers/orderToPay.ts'

const line = (more: Partial<ExchangeLine> = {}): ExchangeLine => ({ position: 1, description: 'Impeller', item: 'IM-1', gtin: '', quantity: '4', unit: 'C62', price: '10', priceBase: '1', needBy: '2026-07-01', place: 'North hall', account: 'K1', received: '1', billed: '', promised: '', ...more }) // prettier-ignore
const file = (...lines: ExchangeLine[]): ExchangeFile => ({ sender: 'North', orders: [{ number: 'P-1', title: 'Pumps', currency: 'EUR', supplier: { name: 'Nordhavn', vat: 'NO1' }, charges: [], lines }] }) // prettier-ignore
const mapping = (more: Record<string, string> = {}) => new Map(Object.entries({ 'supplier nordhavn': 'S-7', 'account k1': 'LS-210|6210|', 'item im-1': 'PS-1200', ...more })) // prettier-ignore

describe('orders between installations', () => {
  it('go out with what is open of them: goods, how far they have come, and their charges', () => {
    const world = new OrderToPay({ charges: 500n, lines: [{}, { kind: 'fixedPriceWork', proof: 'acceptWork' }, {}] })
    world.issue()
    world.receive([{ line: 1, quantity: '4' }])
    world.revise([{ line: 3, quantity: '0' }])
    const sent = exchangeOrder(world.order(), new Map([['line1', { item: 'PS-1200', gtin: '4006381333931', account: 'LS-210|6210', vat: 'NO1' }]])) // prettier-ignore
    expect(sent.lines.map(one => [one.position, one.item, one.account, one.quantity, one.received, one.billed])).to.deep.equal([[1, 'PS-1200', 'LS-210|6210', '10', '4', '0']]) // prettier-ignore
    // an order of a line that no item or account is known of
    const bare = exchangeOrder(world.order(), new Map())
    expect([bare.supplier.vat, bare.lines[0]!.item, bare.lines[0]!.gtin, bare.lines[0]!.account, bare.lines[0]!.promised]).to.deep.equal(['', '', '', '', '']) // prettier-ignore
    expect([sent.lines[0]!.gtin, sent.lines[0]!.needBy]).to.deep.equal(['4006381333931', '2026-07-01'])
    expect([sent.supplier, sent.charges]).to.deep.equal([{ name: 'Nordhavn', vat: 'NO1' }, [{ kind: 'freight', words: '', amount: '5.00' }]]) // prettier-ignore
    // freight that has a line of its own leaves as freight, unless it is billed or cancelled
    const [first] = world.order().lines
    const own = { ...first!, id: 'own', kind: 'fixedPriceWork' as const, charge: 'freight' as const, description: 'By lorry', quantity: '1', sums: sumQuantities([]) } // prettier-ignore
    const charges = (line: typeof own) => exchangeOrder({ ...world.order(), lines: [first!, line] }, new Map()).charges.map(one => one.words) // prettier-ignore
    expect(charges(own)).to.deep.equal(['', 'By lorry'])
    expect(charges({ ...own, quantity: '0' })).to.deep.equal([''])
    expect(charges({ ...own, sums: sumQuantities([{ kind: 'billed', quantity: '1' }]) })).to.deep.equal([''])
  })

  it('name suppliers, items, accounts and places of there, each once', () => {
    const names = foreignNames(file(line(), line({ item: 'im-1', gtin: '401', account: '', place: '' })))
    expect(names.map(one => [one.kind, one.theirs, one.code, one.words, one.used])).to.deep.equal([['supplier', 'Nordhavn', 'NO1', '', 1], ['item', 'IM-1', '401', 'Impeller', 2], ['account', 'K1', '', '', 1], ['account', '', '', '', 1], ['place', 'North hall', '', '', 1]]) // prettier-ignore
    expect((['supplier', 'account', 'item', 'place'] as const).map(isNeeded)).to.deep.equal([true, true, false, false])
    expect(mappingKey('item', ' IM-1 ')).to.equal('item im-1')
  })

  it('become rows of an import by what those names mean here', () => {
    const [row] = exchangedRows(file(line()), mapping({ 'place north hall': 'Saltmere Quay' }), 'EUR')
    expect(row!.line).to.deep.include({ order: 'P-1', supplier: 'S-7', item: 'PS-1200', costCentre: 'LS-210', account: '6210', project: null, place: 'Saltmere Quay', quantity: '4', received: '1', billed: '0', promised: null }) // prettier-ignore
    expect(exchangedRows(file(line()), mapping({ 'item im-1': '' }), 'EUR')[0]!.line).to.deep.include({ item: '', place: '' }) // prettier-ignore
    expect(exchangedRows(file(line()), mapping({ 'account k1': 'LS-210|6210|FILTER' }), 'EUR')[0]!.line!.project).to.equal('FILTER') // prettier-ignore
  })

  it('are refused where nobody said who or what pays, and where a figure is none', () => {
    const codes = (one: ExchangeLine, more = {}) => exchangedRows(file(one), mapping(more), 'EUR')[0]!.reasons.map(reason => reason.code) // prettier-ignore
    expect(codes(line(), { 'supplier nordhavn': '' })).to.deep.equal(['exchange.noSupplier'])
    expect(codes(line({ account: 'K9' }))).to.deep.equal(['exchange.noAccount'])
    expect(codes(line({ account: '' }), { 'supplier nordhavn': '' })).to.deep.equal(['exchange.noSupplier', 'exchange.noAccount']) // prettier-ignore
    expect([codes(line({ quantity: '0' })), codes(line({ billed: '5' })), codes(line({ needBy: 'soon' }))]).to.deep.equal([['import.number'], ['import.billedMore'], ['import.day']]) // prettier-ignore
    const rows = exchangedRows({ sender: 'N', orders: [...file(line()).orders, ...file(line(), line()).orders] }, mapping(), 'EUR') // prettier-ignore
    expect(rows.map(one => one.row)).to.deep.equal([1, 2, 3])
  })

  it('know charges by their codes, what is not known adds or takes off', () => {
    expect([chargeOfCode('FC', true), chargeOfCode('95', false), chargeOfCode('FC', false), chargeOfCode('ZZZ', true)]).to.deep.equal(['freight', 'discount', 'discount', 'other']) // prettier-ignore
  })
})

describe('a UBL order that is taken over', () => {
  const NS = 'xmlns="urn:oasis:names:specification:ubl:schema:xsd:Order-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"' // prettier-ignore
  const party = (role: string, name: string) => `<cac:${role}><cac:Party><cac:PartyName><cbc:Name>${name}</cbc:Name></cac:PartyName><cac:PartyTaxScheme><cbc:CompanyID>NO1</cbc:CompanyID></cac:PartyTaxScheme></cac:Party></cac:${role}>` // prettier-ignore
  const delivery = (day: string) => `<cac:Delivery><cac:DeliveryLocation><cbc:Description>North hall</cbc:Description></cac:DeliveryLocation><cac:RequestedDeliveryPeriod><cbc:EndDate>${day}</cbc:EndDate></cac:RequestedDeliveryPeriod></cac:Delivery>` // prettier-ignore
  const order = (line: string) => `<Order ${NS}><cbc:ID> P-1 </cbc:ID><cbc:Note>For the skid</cbc:Note><cbc:DocumentCurrencyCode>eur</cbc:DocumentCurrencyCode><cbc:AccountingCost>K1</cbc:AccountingCost>${party('BuyerCustomerParty', 'North')}${party('SellerSupplierParty', 'Nordhavn')}<cac:AllowanceCharge><cbc:ChargeIndicator>false</cbc:ChargeIndicator><cbc:AllowanceChargeReasonCode>95</cbc:AllowanceChargeReasonCode><cbc:Amount>5.00</cbc:Amount></cac:AllowanceCharge><cac:OrderLine><cac:LineItem><cbc:ID>10</cbc:ID>${line}</cac:LineItem></cac:OrderLine></Order>` // prettier-ignore
  const full = `<cbc:Quantity unitCode="C62">4</cbc:Quantity>${delivery('2026-08-01')}${delivery('2026-07-01')}<cac:Price><cbc:PriceAmount>10</cbc:PriceAmount><cbc:BaseQuantity>100</cbc:BaseQuantity></cac:Price><cac:Item><cbc:Name>Impeller</cbc:Name><cac:BuyersItemIdentification><cbc:ID>IM-1</cbc:ID></cac:BuyersItemIdentification><cac:StandardItemIdentification><cbc:ID>4006381333931</cbc:ID></cac:StandardItemIdentification></cac:Item>` // prettier-ignore

  it('says who buys, what, by when and what pays; of several days the first', () => {
    const taken = exchangeOfUbl(readUblOrder(order(full)))
    expect([taken.sender, taken.orders[0]!.number, taken.orders[0]!.currency]).to.deep.equal(['North', 'P-1', 'EUR'])
    expect(taken.orders[0]!.supplier).to.deep.equal({ name: 'Nordhavn', vat: 'NO1' })
    expect(taken.orders[0]!.charges).to.deep.equal([{ kind: 'discount', words: '', amount: '5.00' }])
    expect(taken.orders[0]!.lines[0]).to.deep.equal({
      ...line({ received: '', gtin: '4006381333931', priceBase: '100' }),
    })
  })

  it('takes the account of a line before that of the order', () => {
    const own = exchangeOfUbl(readUblOrder(order(`<cbc:AccountingCost>K2</cbc:AccountingCost>${full}`)))
    expect(own.orders[0]!.lines[0]!.account).to.equal('K2')
  })

  it('is refused where it is another document', () => {
    expect(() => readUblOrder('<Invoice/>')).to.throw('exchange.notOne')
    expect(() => readUblOrder('<Order/>')).to.throw('exchange.notOne')
    expect(() => readUblOrder('<!DOCTYPE a [<!ENTITY b "c">]><Order>&b;</Order>')).to.throw('xml.')
  })
})
