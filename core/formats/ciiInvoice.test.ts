import { expect } from 'chai'
import { checkInvoice } from '#core/bill/en16931.ts'
import { readCiiInvoice } from '#core/formats/ciiInvoice.ts'
import { readEInvoice } from '#core/formats/eInvoice.ts'
import { RuleBroken } from '#core/reasons.ts'
import { invoiceXml } from '#test-helpers/invoices.ts'

const date = (name: string, day: string, inside = 'udt:DateTimeString', format = '102'): string =>
  `<ram:${name}><${inside} format="${format}">${day}</${inside}></ram:${name}>`
const of = (name: string, text: string, attributes = ''): string => `<ram:${name}${attributes}>${text}</ram:${name}>`
const address = '<ram:PostalTradeAddress><ram:PostcodeCode>5003</ram:PostcodeCode><ram:LineOne>Kai 4</ram:LineOne><ram:LineTwo>Hall 2</ram:LineTwo><ram:CityName>Bergen</ram:CityName><ram:CountryID>NO</ram:CountryID><ram:CountrySubDivisionName>Vestland</ram:CountrySubDivisionName></ram:PostalTradeAddress>' // prettier-ignore
const party = (name: string, more = ''): string => `<ram:${name}><ram:ID>S-1</ram:ID><ram:GlobalID schemeID="0088">7080000000005</ram:GlobalID><ram:Name>Nordhavn AS</ram:Name>${more}<ram:SpecifiedLegalOrganization><ram:ID schemeID="0192">999999999</ram:ID><ram:TradingBusinessName>Nordhavn</ram:TradingBusinessName></ram:SpecifiedLegalOrganization>${address}<ram:SpecifiedTaxRegistration><ram:ID schemeID="FC">12/345</ram:ID></ram:SpecifiedTaxRegistration><ram:SpecifiedTaxRegistration><ram:ID schemeID="VA">NO999999999MVA</ram:ID></ram:SpecifiedTaxRegistration></ram:${name}>` // prettier-ignore
const tax = (amounts: string, category = 'S', rate = '25'): string => `<ram:ApplicableTradeTax>${amounts}<ram:TypeCode>VAT</ram:TypeCode><ram:CategoryCode>${category}</ram:CategoryCode><ram:RateApplicablePercent>${rate}</ram:RateApplicablePercent></ram:ApplicableTradeTax>` // prettier-ignore
const charge = (isCharge: boolean, amount: string, more = ''): string => `<ram:SpecifiedTradeAllowanceCharge><ram:ChargeIndicator><udt:Indicator>${isCharge}</udt:Indicator></ram:ChargeIndicator>${more}<ram:ActualAmount>${amount}</ram:ActualAmount><ram:ReasonCode>${isCharge ? 'FC' : '95'}</ram:ReasonCode><ram:Reason>why</ram:Reason><ram:CategoryTradeTax><ram:TypeCode>VAT</ram:TypeCode><ram:CategoryCode>S</ram:CategoryCode><ram:RateApplicablePercent>25</ram:RateApplicablePercent></ram:CategoryTradeTax></ram:SpecifiedTradeAllowanceCharge>` // prettier-ignore

const LINE = `<ram:IncludedSupplyChainTradeLineItem><ram:AssociatedDocumentLineDocument><ram:LineID>1</ram:LineID><ram:IncludedNote><ram:Content>With gaskets</ram:Content></ram:IncludedNote></ram:AssociatedDocumentLineDocument>
<ram:SpecifiedTradeProduct><ram:GlobalID schemeID="0160">7080000000012</ram:GlobalID><ram:SellerAssignedID>NP-40</ram:SellerAssignedID><ram:BuyerAssignedID>CP-1200</ram:BuyerAssignedID><ram:Name>Pump</ram:Name><ram:Description>For salt water</ram:Description><ram:ApplicableProductCharacteristic><ram:Description>Colour</ram:Description><ram:Value>blue</ram:Value></ram:ApplicableProductCharacteristic><ram:DesignatedProductClassification><ram:ClassCode listID="MP" listVersionID="26">40151500</ram:ClassCode></ram:DesignatedProductClassification><ram:OriginTradeCountry><ram:ID>NO</ram:ID></ram:OriginTradeCountry></ram:SpecifiedTradeProduct>
<ram:SpecifiedLineTradeAgreement><ram:BuyerOrderReferencedDocument><ram:LineID>7</ram:LineID></ram:BuyerOrderReferencedDocument><ram:GrossPriceProductTradePrice><ram:ChargeAmount>110.00</ram:ChargeAmount><ram:AppliedTradeAllowanceCharge><ram:ActualAmount>10.00</ram:ActualAmount></ram:AppliedTradeAllowanceCharge></ram:GrossPriceProductTradePrice><ram:NetPriceProductTradePrice><ram:ChargeAmount>100.00</ram:ChargeAmount><ram:BasisQuantity unitCode="C62">2</ram:BasisQuantity></ram:NetPriceProductTradePrice></ram:SpecifiedLineTradeAgreement>
<ram:SpecifiedLineTradeDelivery><ram:BilledQuantity unitCode="C62">4</ram:BilledQuantity></ram:SpecifiedLineTradeDelivery>
<ram:SpecifiedLineTradeSettlement>${tax('')}<ram:BillingSpecifiedPeriod>${date('StartDateTime', '20261101')}${date('EndDateTime', '20261130')}</ram:BillingSpecifiedPeriod><ram:SpecifiedTradeSettlementLineMonetarySummation><ram:LineTotalAmount>200.00</ram:LineTotalAmount></ram:SpecifiedTradeSettlementLineMonetarySummation><ram:AdditionalReferencedDocument><ram:IssuerAssignedID>OBJ-1</ram:IssuerAssignedID><ram:TypeCode>130</ram:TypeCode></ram:AdditionalReferencedDocument><ram:ReceivableSpecifiedTradeAccountingAccount><ram:ID>4218</ram:ID></ram:ReceivableSpecifiedTradeAccountingAccount></ram:SpecifiedLineTradeSettlement></ram:IncludedSupplyChainTradeLineItem>` // prettier-ignore

const AGREEMENT = `<ram:ApplicableHeaderTradeAgreement><ram:BuyerReference>purchasing</ram:BuyerReference>${party('SellerTradeParty', '<ram:Description>Bergen court</ram:Description>').replace('<ram:PostalTradeAddress>', '<ram:DefinedTradeContact><ram:PersonName>Ragna</ram:PersonName><ram:TelephoneUniversalCommunication><ram:CompleteNumber>5500</ram:CompleteNumber></ram:TelephoneUniversalCommunication><ram:EmailURIUniversalCommunication><ram:URIID>r@n.example</ram:URIID></ram:EmailURIUniversalCommunication></ram:DefinedTradeContact><ram:PostalTradeAddress>').replace('<ram:SpecifiedTaxRegistration>', '<ram:URIUniversalCommunication><ram:URIID schemeID="EM">s@n.example</ram:URIID></ram:URIUniversalCommunication><ram:SpecifiedTaxRegistration>')}${party('BuyerTradeParty')}${party('SellerTaxRepresentativeTradeParty')}<ram:SellerOrderReferencedDocument><ram:IssuerAssignedID>SO-9</ram:IssuerAssignedID></ram:SellerOrderReferencedDocument><ram:BuyerOrderReferencedDocument><ram:IssuerAssignedID>O-4711</ram:IssuerAssignedID></ram:BuyerOrderReferencedDocument><ram:ContractReferencedDocument><ram:IssuerAssignedID>K-1</ram:IssuerAssignedID></ram:ContractReferencedDocument><ram:AdditionalReferencedDocument><ram:IssuerAssignedID>A-1</ram:IssuerAssignedID><ram:URIID>https://n.example/a</ram:URIID><ram:TypeCode>916</ram:TypeCode><ram:Name>Hours</ram:Name><ram:AttachmentBinaryObject mimeCode="text/csv" filename="hours.csv">QQ==</ram:AttachmentBinaryObject></ram:AdditionalReferencedDocument><ram:AdditionalReferencedDocument><ram:IssuerAssignedID>T-1</ram:IssuerAssignedID><ram:TypeCode>50</ram:TypeCode></ram:AdditionalReferencedDocument><ram:AdditionalReferencedDocument><ram:IssuerAssignedID>OBJ</ram:IssuerAssignedID><ram:TypeCode>130</ram:TypeCode><ram:ReferenceTypeCode>AWV</ram:ReferenceTypeCode></ram:AdditionalReferencedDocument><ram:SpecifiedProcuringProject><ram:ID>P-1</ram:ID><ram:Name>x</ram:Name></ram:SpecifiedProcuringProject></ram:ApplicableHeaderTradeAgreement>` // prettier-ignore
const DELIVERY = `<ram:ApplicableHeaderTradeDelivery>${party('ShipToTradeParty')}<ram:ActualDeliverySupplyChainEvent>${date('OccurrenceDateTime', '20261118')}</ram:ActualDeliverySupplyChainEvent><ram:DespatchAdviceReferencedDocument><ram:IssuerAssignedID>LS-701</ram:IssuerAssignedID></ram:DespatchAdviceReferencedDocument><ram:ReceivingAdviceReferencedDocument><ram:IssuerAssignedID>G-7001</ram:IssuerAssignedID></ram:ReceivingAdviceReferencedDocument></ram:ApplicableHeaderTradeDelivery>` // prettier-ignore
const SETTLEMENT = `<ram:ApplicableHeaderTradeSettlement>${of('CreditorReferenceID', 'CRED-1')}${of('PaymentReference', 'B-1')}${of('TaxCurrencyCode', 'NOK')}${of('InvoiceCurrencyCode', 'EUR')}${party('PayeeTradeParty')}<ram:SpecifiedTradeSettlementPaymentMeans><ram:TypeCode>59</ram:TypeCode><ram:Information>debit</ram:Information><ram:PayerPartyDebtorFinancialAccount><ram:IBANID>NL91ABNA0417164300</ram:IBANID></ram:PayerPartyDebtorFinancialAccount></ram:SpecifiedTradeSettlementPaymentMeans><ram:SpecifiedTradeSettlementPaymentMeans><ram:TypeCode>30</ram:TypeCode><ram:PayeePartyCreditorFinancialAccount><ram:IBANID>NO9386011117947</ram:IBANID><ram:AccountName>Nordhavn</ram:AccountName></ram:PayeePartyCreditorFinancialAccount><ram:PayeeSpecifiedCreditorFinancialInstitution><ram:BICID>DNBANOKK</ram:BICID></ram:PayeeSpecifiedCreditorFinancialInstitution></ram:SpecifiedTradeSettlementPaymentMeans><ram:SpecifiedTradeSettlementPaymentMeans><ram:TypeCode>48</ram:TypeCode><ram:ApplicableTradeSettlementFinancialCard><ram:ID>1234</ram:ID><ram:CardholderName>Dov</ram:CardholderName></ram:ApplicableTradeSettlementFinancialCard></ram:SpecifiedTradeSettlementPaymentMeans>${tax('<ram:CalculatedAmount>57.50</ram:CalculatedAmount><ram:BasisAmount>230.00</ram:BasisAmount>')}<ram:BillingSpecifiedPeriod>${date('StartDateTime', '20261101')}${date('EndDateTime', '20261130')}</ram:BillingSpecifiedPeriod>${charge(false, '10.00', '<ram:CalculationPercent>5</ram:CalculationPercent><ram:BasisAmount>200.00</ram:BasisAmount>')}${charge(true, '40.00')}<ram:SpecifiedTradePaymentTerms><ram:Description>30 days</ram:Description>${date('DueDateDateTime', '20261220')}<ram:DirectDebitMandateID>M-1</ram:DirectDebitMandateID></ram:SpecifiedTradePaymentTerms><ram:SpecifiedTradeSettlementHeaderMonetarySummation><ram:LineTotalAmount>200.00</ram:LineTotalAmount><ram:ChargeTotalAmount>40.00</ram:ChargeTotalAmount><ram:AllowanceTotalAmount>10.00</ram:AllowanceTotalAmount><ram:TaxBasisTotalAmount>230.00</ram:TaxBasisTotalAmount><ram:TaxTotalAmount currencyID="NOK">660.00</ram:TaxTotalAmount><ram:TaxTotalAmount currencyID="EUR">57.50</ram:TaxTotalAmount><ram:RoundingAmount>0.50</ram:RoundingAmount><ram:GrandTotalAmount>287.50</ram:GrandTotalAmount><ram:TotalPrepaidAmount>100.00</ram:TotalPrepaidAmount><ram:DuePayableAmount>188.00</ram:DuePayableAmount></ram:SpecifiedTradeSettlementHeaderMonetarySummation><ram:InvoiceReferencedDocument><ram:IssuerAssignedID>B-0</ram:IssuerAssignedID>${date('FormattedIssueDateTime', '20261001', 'qdt:DateTimeString')}</ram:InvoiceReferencedDocument><ram:ReceivableSpecifiedTradeAccountingAccount><ram:ID>4217</ram:ID></ram:ReceivableSpecifiedTradeAccountingAccount></ram:ApplicableHeaderTradeSettlement>` // prettier-ignore

const STANDARD = 'urn:un:unece:uncefact:data:standard'
const cii = (changed: (xml: string) => string = xml => xml): string =>
  changed(`<rsm:CrossIndustryInvoice xmlns:rsm="${STANDARD}:CrossIndustryInvoice:100" xmlns:ram="${STANDARD}:ReusableAggregateBusinessInformationEntity:100" xmlns:udt="${STANDARD}:UnqualifiedDataType:100" xmlns:qdt="${STANDARD}:QualifiedDataType:100"><rsm:ExchangedDocumentContext><ram:BusinessProcessSpecifiedDocumentContextParameter><ram:ID>P1</ram:ID></ram:BusinessProcessSpecifiedDocumentContextParameter><ram:GuidelineSpecifiedDocumentContextParameter><ram:ID>urn:cen.eu:en16931:2017</ram:ID></ram:GuidelineSpecifiedDocumentContextParameter></rsm:ExchangedDocumentContext><rsm:ExchangedDocument><ram:ID>B-1</ram:ID><ram:TypeCode>380</ram:TypeCode>${date('IssueDateTime', '20261120')}<ram:IncludedNote><ram:Content>Thank you.</ram:Content><ram:SubjectCode>AAI</ram:SubjectCode></ram:IncludedNote></rsm:ExchangedDocument><rsm:SupplyChainTradeTransaction>${LINE}${AGREEMENT}${DELIVERY}${SETTLEMENT}</rsm:SupplyChainTradeTransaction></rsm:CrossIndustryInvoice>`) // prettier-ignore

const rules = (xml: string): string[] => checkInvoice(readCiiInvoice(xml), '2026-11-26').map(one => `${one.rule} ${one.place}`) // prettier-ignore

describe('Cross Industry Invoices', () => {
  it('are read in every business term, and keep the rules', () => {
    const invoice = readCiiInvoice(cii())
    expect(rules(cii())).to.deep.equal([])
    expect(invoice).to.deep.include({
      syntax: 'cii',
      customizationId: 'urn:cen.eu:en16931:2017',
      processId: 'P1',
      number: 'B-1',
      typeCode: '380',
      issueDate: '2026-11-20',
      dueDate: '2026-12-20',
      currency: 'EUR',
      taxCurrency: 'NOK',
      taxAccounting: '660.00',
      buyerReference: 'purchasing',
      project: 'P-1',
      contract: 'K-1',
      orderReference: 'O-4711',
      salesOrder: 'SO-9',
      receivingAdvice: 'G-7001',
      despatchAdvice: 'LS-701',
      tender: 'T-1',
      object: { id: 'OBJ', scheme: 'AWV' },
      accounting: '4217',
      paymentTerms: '30 days',
      notes: [{ subject: 'AAI', text: 'Thank you.' }],
      preceding: [{ number: 'B-0', date: '2026-10-01' }],
      creditorId: 'CRED-1',
      period: { from: '2026-11-01', to: '2026-11-30' },
      iban: 'NO9386011117947',
      documents: [{ id: 'A-1', description: 'Hours', address: 'https://n.example/a', mediaType: 'text/csv', fileName: 'hours.csv' }], // prettier-ignore
      totals: { lines: '200.00', allowances: '10.00', charges: '40.00', net: '230.00', tax: '57.50', gross: '287.50', prepaid: '100.00', rounding: '0.50', payable: '188.00' }, // prettier-ignore
      foreign: [],
      empty: [],
    })
    const place = { lines: ['Kai 4', 'Hall 2'], city: 'Bergen', post: '5003', region: 'Vestland', country: 'NO' }
    expect(invoice.seller).to.deep.equal({
      name: 'Nordhavn AS',
      tradingName: 'Nordhavn',
      country: 'NO',
      vatId: 'NO999999999MVA',
      taxId: '12/345',
      registrationId: '999999999',
      registrationScheme: '0192',
      legal: 'Bergen court',
      endpointId: 's@n.example',
      endpointScheme: 'EM',
      ids: [{ id: '7080000000005', scheme: '0088' }, { id: 'S-1', scheme: '' }], // prettier-ignore
      address: place,
      contact: { name: 'Ragna', phone: '5500', email: 'r@n.example' },
    })
    expect([invoice.buyer.contact, invoice.payee?.name, invoice.representative?.vatId]).to.deep.equal([null, 'Nordhavn AS', 'NO999999999MVA']) // prettier-ignore
    expect(invoice.delivery).to.deep.equal({ name: 'Nordhavn AS', location: { id: '7080000000005', scheme: '0088' }, date: '2026-11-18', address: place }) // prettier-ignore
    expect(invoice.payments.map(one => [one.code, one.text, one.remittance, one.accounts, one.cards, one.mandates])).to.deep.equal([
      ['59', 'debit', 'B-1', [], [], [{ id: 'M-1', account: 'NL91ABNA0417164300' }]],
      ['30', '', 'B-1', [{ id: 'NO9386011117947', name: 'Nordhavn', bic: 'DNBANOKK' }], [], []],
      ['48', '', 'B-1', [], [{ number: '1234', holder: 'Dov' }], []],
    ]) // prettier-ignore
    expect(invoice.adjustments).to.deep.equal([
      { charge: false, amount: '10.00', base: '200.00', percent: '5', reason: 'why', reasonCode: '95', category: 'S', rate: '25' }, // prettier-ignore
      { charge: true, amount: '40.00', base: '', percent: '', reason: 'why', reasonCode: 'FC', category: 'S', rate: '25' }, // prettier-ignore
    ])
    expect(invoice.lines).to.deep.equal([
      {
        id: '1',
        note: 'With gaskets',
        objectId: 'OBJ-1',
        name: 'Pump',
        description: 'For salt water',
        quantity: '4',
        unit: 'C62',
        price: '100.00',
        grossPrice: '110.00',
        priceDiscount: '10.00',
        priceBase: '2',
        priceBaseUnit: 'C62',
        net: '200.00',
        category: 'S',
        rate: '25',
        accounting: '4218',
        period: { from: '2026-11-01', to: '2026-11-30' },
        orderLineReference: '7',
        sellerItemId: 'NP-40',
        buyerItemId: 'CP-1200',
        standardItemId: { id: '7080000000012', scheme: '0160' },
        classifications: [{ code: '40151500', list: 'MP', version: '26' }],
        country: 'NO',
        attributes: [{ name: 'Colour', value: 'blue' }],
        adjustments: [],
      },
    ])
  })

  it('say where a rule is broken in their own words: days that are none, foreign vocabularies, currencies, empty elements', () => {
    expect(rules(cii(xml => xml.replace('>20261220<', '>20260230<')))).to.deep.equal(['CII-DATE SupplyChainTradeTransaction/ApplicableHeaderTradeSettlement/SpecifiedTradePaymentTerms/DueDateDateTime']) // prettier-ignore
    expect(rules(cii(xml => xml.replace('format="102">20261220<', 'format="203">202612200000<')))[0]).to.match(
      /^CII-DATE/,
    )
    expect(rules(cii(xml => xml.replace(':UnqualifiedDataType:100"', ':UnqualifiedDataType:100" xmlns:x="urn:x"').replace('<ram:ID>B-1</ram:ID>', '<x:ID>B-1</x:ID>')))).to.deep.equal(['BR-02 ExchangedDocument/ID', 'CII-NAMESPACE ExchangedDocument/ID']) // prettier-ignore
    expect(rules(cii(xml => xml.replace('<ram:GrandTotalAmount>', '<ram:GrandTotalAmount currencyID="USD">')))[0]).to.match(/^BT-5 .*GrandTotalAmount$/) // prettier-ignore
    expect(readCiiInvoice(cii(xml => xml.replace('>Thank you.<', '><')))).to.deep.include({ empty: ['ExchangedDocument/IncludedNote/Content'] }) // prettier-ignore
    expect(rules(cii(xml => xml.replace('>200.00</ram:LineTotalAmount></ram:SpecifiedTradeSettlementLine', '>200.01</ram:LineTotalAmount></ram:SpecifiedTradeSettlementLine')))[0]).to.equal('BT-131 IncludedSupplyChainTradeLineItem[1]') // prettier-ignore
    expect(rules(cii(xml => xml.replace(/<ram:TaxTotalAmount currencyID="NOK">.*?<\/ram:TaxTotalAmount>/, '')))).to.deep.equal(['BR-53 TaxTotalAmount']) // prettier-ignore
  })

  it('are told from other documents by their root, and the first ZUGFeRD is one of them', () => {
    expect(readEInvoice(cii()).syntax).to.equal('cii')
    expect(readEInvoice(invoiceXml()).syntax).to.equal('ubl')
    expect(() => readCiiInvoice('<CrossIndustryInvoice xmlns="urn:x"/>')).to.throw(RuleBroken, 'bill.notAnInvoice')
    expect(() => readEInvoice('<CrossIndustryInvoice/>')).to.throw(RuleBroken, 'bill.notAnInvoice')
    const first = cii(xml =>
      xml
        .replaceAll(`${STANDARD}:CrossIndustryInvoice:100`, 'urn:ferd:CrossIndustryDocument:invoice:1p0')
        .replaceAll('CrossIndustryInvoice', 'CrossIndustryDocument')
        .replaceAll('rsm:ExchangedDocumentContext', 'rsm:SpecifiedExchangedDocumentContext')
        .replaceAll('rsm:ExchangedDocument>', 'rsm:HeaderExchangedDocument>')
        .replaceAll('rsm:SupplyChainTradeTransaction', 'rsm:SpecifiedSupplyChainTradeTransaction')
        .replaceAll('ApplicableHeaderTrade', 'ApplicableSupplyChainTrade')
        .replaceAll('SpecifiedLineTrade', 'SpecifiedSupplyChainTrade')
        .replaceAll('SettlementHeaderMonetary', 'SettlementMonetary')
        .replaceAll('SettlementLineMonetary', 'SettlementMonetary')
        .replaceAll('RateApplicablePercent', 'ApplicablePercent'),
    )
    expect(rules(first)).to.deep.equal([])
    expect(readCiiInvoice(first).lines).to.deep.equal(readCiiInvoice(cii()).lines)
    expect(readCiiInvoice(first).totals).to.deep.equal(readCiiInvoice(cii()).totals)
  })
})
