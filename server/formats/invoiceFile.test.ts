import { InvoiceService } from '@e-invoice-eu/core'
import { expect } from 'chai'
import JSZip from 'jszip'
import { zugferd } from 'node-zugferd'
import { EN16931 } from 'node-zugferd/profile/en16931'
import { checkInvoice } from '#core/bill/en16931.ts'
import type { InvoiceText } from '#core/bill/invoiceText.ts'
import { invoicesIn } from '#server/formats/invoiceFile.ts'
import { pdfmake } from '#server/formats/pdf.ts'
import { SILENT } from '#test-helpers/eInvoice.ts'
import { invoiceXml } from '#test-helpers/invoices.ts'

const amount = (field: string, value: string, currency = 'EUR') => ({ [`cbc:${field}`]: value, [`cbc:${field}@currencyID`]: currency }) // prettier-ignore
const vat = (id: string, percent: string) => ({ 'cbc:ID': id, 'cbc:Percent': percent, 'cac:TaxScheme': { 'cbc:ID': 'VAT' } }) // prettier-ignore
const address = (street: string, city: string, post: string, country: string) => ({ 'cbc:StreetName': street, 'cbc:CityName': city, 'cbc:PostalZone': post, 'cac:Country': { 'cbc:IdentificationCode': country } }) // prettier-ignore

/** One invoice with nearly all (but a price before its discount, which this package writes as the net price of CII) that the standard has, as an independent package is told it. */
const WIDE = {
  'ubl:Invoice': {
    'cbc:CustomizationID': 'urn:cen.eu:en16931:2017',
    'cbc:ProfileID': 'urn:fdc:peppol.eu:2017:poacc:billing:01:1.0',
    'cbc:ID': 'NB-77',
    'cbc:IssueDate': '2026-11-20',
    'cbc:DueDate': '2026-12-20',
    'cbc:InvoiceTypeCode': '380',
    'cbc:Note': ['Thank you.'],
    'cbc:DocumentCurrencyCode': 'EUR',
    'cbc:AccountingCost': '4217',
    'cbc:BuyerReference': 'purchasing',
    'cac:InvoicePeriod': { 'cbc:StartDate': '2026-11-01', 'cbc:EndDate': '2026-11-30' },
    'cac:OrderReference': { 'cbc:ID': 'O-4711', 'cbc:SalesOrderID': 'SO-9' },
    'cac:DespatchDocumentReference': { 'cbc:ID': 'LS-701' },
    'cac:ReceiptDocumentReference': { 'cbc:ID': 'G-7001' },
    'cac:ContractDocumentReference': { 'cbc:ID': 'K-1' },
    'cac:AccountingSupplierParty': {
      'cac:Party': {
        'cbc:EndpointID': 'sales@nordhavn.example',
        'cbc:EndpointID@schemeID': 'EM',
        'cac:PartyIdentification': [{ 'cbc:ID': '7080000000005', 'cbc:ID@schemeID': '0088' }],
        'cac:PartyName': { 'cbc:Name': 'Nordhavn' },
        'cac:PostalAddress': address('Kai 4', 'Bergen', '5003', 'NO'),
        'cac:PartyTaxScheme': [{ 'cbc:CompanyID': 'NO999999999MVA', 'cac:TaxScheme': { 'cbc:ID': 'VAT' } }],
        'cac:PartyLegalEntity': { 'cbc:RegistrationName': 'Nordhavn Pumpeverk AS', 'cbc:CompanyID': '999999999', 'cbc:CompanyID@schemeID': '0192' }, // prettier-ignore
        'cac:Contact': { 'cbc:Name': 'Ragna', 'cbc:Telephone': '+47 55 00', 'cbc:ElectronicMail': 'ragna@nordhavn.example' }, // prettier-ignore
      },
    },
    'cac:AccountingCustomerParty': {
      'cac:Party': {
        'cbc:EndpointID': 'purchasing@saltmere.example',
        'cbc:EndpointID@schemeID': 'EM',
        'cac:PostalAddress': address('Quay gate 1', 'Saltmere', '4381', 'NL'),
        'cac:PartyTaxScheme': { 'cbc:CompanyID': 'NL999999999B99', 'cac:TaxScheme': { 'cbc:ID': 'VAT' } },
        'cac:PartyLegalEntity': { 'cbc:RegistrationName': 'Saltmere Aquarium Trust' },
      },
    },
    'cac:Delivery': {
      'cbc:ActualDeliveryDate': '2026-11-18',
      'cac:DeliveryLocation': { 'cac:Address': address('Quay gate 2', 'Saltmere', '4381', 'NL') },
      'cac:DeliveryParty': { 'cac:PartyName': { 'cbc:Name': 'Saltmere, pump hall' } },
    },
    'cac:PaymentMeans': [{ 'cbc:PaymentMeansCode': '30', 'cbc:PaymentID': 'NB-77', 'cac:PayeeFinancialAccount': { 'cbc:ID': 'NO9386011117947', 'cbc:Name': 'Nordhavn', 'cac:FinancialInstitutionBranch': { 'cbc:ID': 'DNBANOKK' } } }], // prettier-ignore
    'cac:PaymentTerms': { 'cbc:Note': '30 days' },
    'cac:AllowanceCharge': [
      { 'cbc:ChargeIndicator': 'false', 'cbc:AllowanceChargeReasonCode': '95', 'cbc:AllowanceChargeReason': 'Discount', 'cbc:MultiplierFactorNumeric': '5', ...amount('Amount', '50.00'), ...amount('BaseAmount', '1000.00'), 'cac:TaxCategory': vat('S', '21') }, // prettier-ignore
      { 'cbc:ChargeIndicator': 'true', 'cbc:AllowanceChargeReasonCode': 'FC', 'cbc:AllowanceChargeReason': 'Freight', ...amount('Amount', '40.00'), 'cac:TaxCategory': vat('S', '21') }, // prettier-ignore
    ],
    'cac:TaxTotal': [
      {
        ...amount('TaxAmount', '205.80'),
        'cac:TaxSubtotal': [
          { ...amount('TaxableAmount', '980.00'), ...amount('TaxAmount', '205.80'), 'cac:TaxCategory': vat('S', '21') },
          { ...amount('TaxableAmount', '100.00'), ...amount('TaxAmount', '0.00'), 'cac:TaxCategory': { ...vat('E', '0'), 'cbc:TaxExemptionReason': 'Training' } }, // prettier-ignore
        ],
      },
    ],
    'cac:LegalMonetaryTotal': { ...amount('LineExtensionAmount', '1090.00'), ...amount('TaxExclusiveAmount', '1080.00'), ...amount('TaxInclusiveAmount', '1285.80'), ...amount('AllowanceTotalAmount', '50.00'), ...amount('ChargeTotalAmount', '40.00'), ...amount('PrepaidAmount', '85.80'), ...amount('PayableAmount', '1200.00') }, // prettier-ignore
    'cac:InvoiceLine': [
      {
        'cbc:ID': '1',
        'cbc:Note': 'With gaskets',
        'cbc:InvoicedQuantity': '10',
        'cbc:InvoicedQuantity@unitCode': 'C62',
        ...amount('LineExtensionAmount', '990.00'),
        'cac:InvoicePeriod': { 'cbc:StartDate': '2026-11-02', 'cbc:EndDate': '2026-11-03' },
        'cac:OrderLineReference': { 'cbc:LineID': '1' },
        'cac:AllowanceCharge': [{ 'cbc:ChargeIndicator': 'false', 'cbc:AllowanceChargeReasonCode': '95', 'cbc:AllowanceChargeReason': 'Discount', ...amount('Amount', '10.00') }], // prettier-ignore
        'cac:Item': {
          'cbc:Description': 'For salt water',
          'cbc:Name': 'Circulation pump',
          'cac:BuyersItemIdentification': { 'cbc:ID': 'CP-1200' },
          'cac:SellersItemIdentification': { 'cbc:ID': 'NP-40' },
          'cac:StandardItemIdentification': { 'cbc:ID': '7080000000012', 'cbc:ID@schemeID': '0160' },
          'cac:OriginCountry': { 'cbc:IdentificationCode': 'NO' },
          'cac:CommodityClassification': [{ 'cbc:ItemClassificationCode': '40151500', 'cbc:ItemClassificationCode@listID': 'MP' }], // prettier-ignore
          'cac:ClassifiedTaxCategory': vat('S', '21'),
          'cac:AdditionalItemProperty': [{ 'cbc:Name': 'Colour', 'cbc:Value': 'blue' }],
        },
        'cac:Price': { ...amount('PriceAmount', '100.00'), 'cbc:BaseQuantity': '1', 'cbc:BaseQuantity@unitCode': 'C62' }, // prettier-ignore
      },
      {
        'cbc:ID': '2',
        'cbc:InvoicedQuantity': '1',
        'cbc:InvoicedQuantity@unitCode': 'HUR',
        ...amount('LineExtensionAmount', '100.00'),
        'cac:Item': { 'cbc:Name': 'Training', 'cac:ClassifiedTaxCategory': vat('E', '0') },
        'cac:Price': amount('PriceAmount', '100.00'),
      },
    ],
  },
}

const blank = async (): Promise<Buffer> => await pdfmake().createPdf({ defaultStyle: { font: 'Roboto' }, content: ['An invoice for people'] }).getBuffer() // prettier-ignore
const written = async (format: string): Promise<Buffer> => {
  const pdf = format.startsWith('Factur-X') ? { pdf: { buffer: await blank(), filename: 'nb-77.pdf', mimetype: 'application/pdf' } } : {} // prettier-ignore
  const made = await new InvoiceService(SILENT as never).generate(structuredClone(WIDE) as never, { format, lang: 'en', ...pdf } as never) // prettier-ignore
  return typeof made === 'string' ? Buffer.from(made) : Buffer.from(made as Uint8Array)
}
const one = async (name: string, bytes: Buffer): Promise<InvoiceText> => {
  const found = await invoicesIn(name, bytes)
  expect(
    found.map(each => each.reasons.map(reason => reason.code)),
    name,
  ).to.deep.equal([[]])
  return found[0]!.invoice!
}
const why = async (name: string, bytes: Buffer): Promise<string[]> => (await invoicesIn(name, bytes)).flatMap(found => found.reasons.map(reason => reason.code)) // prettier-ignore
const zipped = async (files: Record<string, Buffer | string>): Promise<Buffer> => {
  const zip = new JSZip()
  for (const [name, content] of Object.entries(files)) zip.file(name, content)
  return await zip.generateAsync({ type: 'nodebuffer', compression: 'DEFLATE' })
}

describe('files of e-invoices', () => {
  it('written by one package as UBL, CII and Factur-X say the same in every field, and keep every rule', async () => {
    const [ubl, cii, pdf] = [await one('a.xml', await written('UBL')), await one('b.xml', await written('CII')), await one('c.pdf', await written('Factur-X-EN16931'))] // prettier-ignore
    expect(checkInvoice(ubl, '2026-11-26')).to.deep.equal([])
    expect(checkInvoice(cii, '2026-11-26')).to.deep.equal([])
    const same = ({
      syntax: _syntax,
      dates: _dates,
      currencies: _currencies,
      customizationId: _id,
      ...invoice
    }: InvoiceText) => ({
      // prettier-ignore
      ...invoice,
      // the package puts two of these where the standard has none in CII, and leaves the others out: core/formats/ciiInvoice.test.ts reads them
      accounting: '',
      despatchAdvice: '',
      receivingAdvice: '',
      seller: { ...invoice.seller, ids: [] },
      // the base of a price is told of both prices there
      lines: invoice.lines.map(({ priceBaseUnit: _unit, ...line }) => line),
      totals: { ...invoice.totals, rounding: '' },
    })
    expect(same(cii)).to.deep.equal(same(ubl))
    // nor does it say the order of the document in a PDF
    expect(same(pdf)).to.deep.equal({ ...same(ubl), orderReference: '' })
    expect(ubl).to.deep.include({ number: 'NB-77', orderReference: 'O-4711', salesOrder: 'SO-9', contract: 'K-1', despatchAdvice: 'LS-701', receivingAdvice: 'G-7001', accounting: '4217', period: { from: '2026-11-01', to: '2026-11-30' }, paymentTerms: '30 days', iban: 'NO9386011117947' }) // prettier-ignore
    expect(ubl.seller).to.deep.include({ name: 'Nordhavn Pumpeverk AS', tradingName: 'Nordhavn', vatId: 'NO999999999MVA', registrationId: '999999999', registrationScheme: '0192', ids: [{ id: '7080000000005', scheme: '0088' }], contact: { name: 'Ragna', phone: '+47 55 00', email: 'ragna@nordhavn.example' } }) // prettier-ignore
    expect(ubl.lines[0]).to.deep.include({ note: 'With gaskets', buyerItemId: 'CP-1200', sellerItemId: 'NP-40', standardItemId: { id: '7080000000012', scheme: '0160' }, country: 'NO', attributes: [{ name: 'Colour', value: 'blue' }], period: { from: '2026-11-02', to: '2026-11-03' } }) // prettier-ignore
    expect(ubl.delivery).to.deep.include({ name: 'Saltmere, pump hall', date: '2026-11-18' })
  })

  it('written by another package as CII and in a PDF are read right in every field', async () => {
    const tradeTax = { typeCode: 'VAT', categoryCode: 'S', rateApplicablePercent: '21' }
    const postalAddress = { line1: 'Kai 4', city: 'Bergen', postCode: '5003', countryCode: 'NO' }
    const data = {
      number: 'Z-1',
      typeCode: '380',
      issueDate: new Date('2026-11-20'),
      includedNote: [{ content: 'Thank you.', subjectCode: 'AAI' }],
      transaction: {
        line: [
          {
            identifier: '1',
            note: 'With gaskets',
            tradeProduct: { name: 'Pump', sellerAssignedID: 'NP-40', buyerAssignedID: 'CP-1200', globalIdentifier: { value: '7080000000012', schemeIdentifier: '0160' } }, // prettier-ignore
            tradeAgreement: { grossTradePrice: { chargeAmount: '40.00', discounts: { actualAmount: '8.10' } }, netTradePrice: { chargeAmount: '31.90', basisQuantity: { amount: '100', unitMeasureCode: 'C62' } }, buyerOrderReference: { lineID: '1' } }, // prettier-ignore
            tradeDelivery: { billedQuantity: { amount: '1000', unitMeasureCode: 'C62' } },
            tradeSettlement: { tradeTax, monetarySummation: { lineTotalAmount: '319.00' } },
          },
        ],
        tradeAgreement: {
          buyerReference: 'purchasing',
          seller: {
            name: 'Nordhavn Pumpeverk AS',
            postalAddress,
            taxRegistration: { vatIdentifier: 'NO999999999MVA' },
          },
          buyer: { name: 'Saltmere Aquarium Trust', postalAddress: { ...postalAddress, countryCode: 'NL' } },
          associatedOrder: { purchaseOrderReference: 'O-4711' },
        },
        tradeDelivery: { information: { deliveryDate: new Date('2026-11-18') } },
        tradeSettlement: {
          currencyCode: 'EUR',
          remittanceInformation: 'Z-1',
          paymentInstruction: { typeCode: '30', transfers: [{ paymentAccountIdentifier: 'NO9386011117947' }] },
          vatBreakdown: [{ ...tradeTax, calculatedAmount: '66.99', basisAmount: '319.00' }],
          paymentTerms: { dueDate: new Date('2026-12-20') },
          monetarySummation: { lineTotalAmount: '319.00', taxBasisTotalAmount: '319.00', taxTotal: { amount: '66.99', currencyCode: 'EUR' }, grandTotalAmount: '385.99', duePayableAmount: '385.99' }, // prettier-ignore
        },
      },
    }
    const made = zugferd({ profile: EN16931, strict: false, logger: { disabled: true } } as never).create(data as never)
    const read = await one('z.xml', Buffer.from(await made.toXML()))
    expect(checkInvoice(read, '2026-11-26')).to.deep.equal([])
    expect(read).to.deep.include({ syntax: 'cii', number: 'Z-1', issueDate: '2026-11-20', dueDate: '2026-12-20', orderReference: 'O-4711', buyerReference: 'purchasing', iban: 'NO9386011117947', notes: [{ subject: 'AAI', text: 'Thank you.' }] }) // prettier-ignore
    expect(read.lines[0]).to.deep.include({ quantity: '1000', unit: 'C62', price: '31.90', grossPrice: '40.00', priceDiscount: '8.10', priceBase: '100', priceBaseUnit: 'C62', net: '319.00', orderLineReference: '1', sellerItemId: 'NP-40', note: 'With gaskets' }) // prettier-ignore
    expect(read.totals).to.deep.equal({ lines: '319.00', allowances: '', charges: '', net: '319.00', tax: '66.99', gross: '385.99', prepaid: '', rounding: '', payable: '385.99' }) // prettier-ignore
    const inPdf = await made.embedInPdf(await blank(), { metadata: { title: 'Z-1' } } as never)
    expect((await one('z.pdf', Buffer.from(inPdf))).lines).to.deep.equal(read.lines)
  })

  it('are read out of a ZIP, each by itself: what is none says why beside its name', async () => {
    const inner = await zipped({ 'x.xml': invoiceXml() })
    const found = await invoicesIn('all.zip', await zipped({ 'good.xml': invoiceXml(), 'sub/picture.pdf': await blank(), 'inner.zip': inner, 'note.txt': 'hello', 'good.pdf': await written('Factur-X-EN16931') })) // prettier-ignore
    expect(found.map(each => [each.name, each.invoice?.number ?? each.reasons[0]!.code])).to.deep.equal([
      ['good.xml', 'B-0010'],
      ['sub/picture.pdf', 'bill.isPdf'],
      ['inner.zip', 'bill.zipInZip'],
      ['note.txt', 'xml.notWellFormed'],
      ['good.pdf', 'NB-77'],
    ])
    expect(await why('empty.zip', await zipped({ 'folder/': '' }))).to.deep.equal(['bill.zipEmpty'])
  })

  it('cannot do harm: a name that climbs out, a bomb, half a ZIP, a locked or broken PDF', async () => {
    const climbing = Buffer.from((await zipped({ 'aaa/evil.xml': invoiceXml() })).toString('latin1').replaceAll('aaa/evil', '..//evil'), 'latin1') // prettier-ignore
    expect(await why('climbing.zip', climbing)).to.deep.equal(['bill.zipBroken'])
    const bomb = await zipped(Object.fromEntries([1, 2, 3].map(number => [`${number}.xml`, Buffer.alloc(40 * 1024 * 1024)]))) // prettier-ignore
    expect(bomb.length).to.be.below(1024 * 1024)
    expect((await why('bomb.zip', bomb)).at(-1)).to.equal('bill.zipTooLarge')
    const half = await zipped({ 'good.xml': invoiceXml() })
    expect(await why('half.zip', half.subarray(0, half.length / 2))).to.deep.equal(['bill.zipBroken'])
    expect(await why('broken.pdf', Buffer.from('%PDF-1.7\nnothing that is one'))).to.deep.equal(['bill.pdfBroken'])
    const locked = await pdfmake().createPdf({ userPassword: 'secret', defaultStyle: { font: 'Roboto' }, content: ['x'] }).getBuffer() // prettier-ignore
    expect(await why('locked.pdf', locked)).to.deep.equal(['bill.pdfLocked'])
    const xml = Buffer.from(invoiceXml()).toString('base64')
    const two = await pdfmake().createPdf({ defaultStyle: { font: 'Roboto' }, content: ['x'], files: { a: { src: `data:application/xml;base64,${xml}`, name: 'a.xml' }, b: { src: `data:application/xml;base64,${xml}`, name: 'b.xml' } } } as never).getBuffer() // prettier-ignore
    expect(await why('two.pdf', two)).to.deep.equal(['bill.pdfTwo'])
    const alone = await pdfmake().createPdf({ defaultStyle: { font: 'Roboto' }, content: ['x'], files: { a: { src: `data:application/xml;base64,${xml}`, name: 'a.xml' } } } as never).getBuffer() // prettier-ignore
    expect((await one('alone.pdf', alone)).number).to.equal('B-0010')
  })

  it('are read in any encoding that they say, and never by an entity', async () => {
    const bom = Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), Buffer.from(invoiceXml())])
    const wide = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(invoiceXml({ declaration: '<?xml version="1.0" encoding="UTF-16"?>' }), 'utf16le')]) // prettier-ignore
    const latin = Buffer.from(invoiceXml({ declaration: '<?xml version="1.0" encoding="ISO-8859-1"?>' }), 'latin1')
    for (const bytes of [bom, wide, latin]) expect((await one('a.xml', bytes)).seller.name).to.equal('Nordhavn Pumpeverk Ærø') // prettier-ignore
    expect(await why('a.xml', Buffer.from(invoiceXml({ doctype: '<!DOCTYPE Invoice [<!ENTITY x "y">]>' })))).to.deep.equal(['xml.doctype']) // prettier-ignore
    expect(await why('a.xml', Buffer.from([0x3c, 0x61, 0xff, 0xfe, 0x3e]))).to.deep.equal(['xml.encoding'])
  })
})
