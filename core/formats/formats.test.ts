import { expect } from 'chai'
import fc from 'fast-check'
import { checkInvoice } from '#core/bill/en16931.ts'
import { whyNotRead } from '#core/bill/takeInvoice.ts'
import { readUblInvoice } from '#core/formats/ublInvoice.ts'
import { readBankMessage } from '#core/formats/bankAnswers.ts'
import { bankText } from '#core/formats/bankText.ts'
import { find, parseXml, textAt } from '#core/formats/xml.ts'
import { type Reason, RuleBroken } from '#core/reasons.ts'
import { invoiceXml } from '#test-helpers/invoices.ts'

const rules = (xml: string): string[] => checkInvoice(readUblInvoice(xml)).map(violation => violation.rule)
const refusal = (work: () => unknown): string => {
  try {
    work()
    return 'nothing was refused'
  } catch (error) {
    expect(error).to.be.instanceOf(RuleBroken)
    return (error as RuleBroken).reasons[0]!.code
  }
}

const reasonOf = (work: () => unknown): Reason => {
  try {
    work()
  } catch (error) {
    return (error as RuleBroken).reasons[0]!
  }
  throw new Error('nothing was refused')
}

describe('XML', () => {
  it('keeps text as it stands: leading zeros and exponents are no numbers', () => {
    const root = parseXml('<a><b>0010</b><c>1E5</c><d><![CDATA[<x>]]></d></a>')
    expect([textAt(root, 'b'), textAt(root, 'c'), textAt(root, 'd')]).to.deep.equal(['0010', '1E5', '<x>'])
    expect(find(root, 'nothing')).to.equal(undefined)
  })

  it('refuses what is not well-formed, with the line', () => {
    for (const text of [
      '<a><b></a>',
      '<a>',
      '',
      'no xml',
      '<a></a><b></b>',
      '<a b=c/>',
      '<a>&nbsp;</a>',
      '<a x:y="1"/>',
      '<a>\u0001</a>',
    ])
      expect(
        refusal(() => parseXml(text)),
        text,
      ).to.equal('xml.notWellFormed')
  })

  it('refuses document types whole, so entities never expand or reach out', () => {
    const bomb = `<!DOCTYPE a [<!ENTITY x "ha"><!ENTITY y "${'&x;'.repeat(50)}">]><a>&y;</a>`
    const outside = '<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/passwd">]><a>&x;</a>'
    for (const text of [bomb, outside, '<!DOCTYPE a SYSTEM "http://127.0.0.1:9/x.dtd"><a/>'])
      expect(refusal(() => parseXml(text))).to.equal('xml.doctype')
  })

  it('refuses nests that are too deep, sixty and no more', () => {
    const nest = (depth: number): string => '<a>'.repeat(depth) + '</a>'.repeat(depth)
    expect(refusal(() => parseXml(nest(100)))).to.equal('xml.tooLarge')
    expect(refusal(() => parseXml(nest(61)))).to.equal('xml.tooLarge')
    expect(parseXml(nest(60)).name).to.equal('a')
  })

  it('refuses more than four hundred thousand elements', () => {
    const many = (count: number): string => `<a>${'<b/>'.repeat(count - 1)}</a>`
    expect(parseXml(many(400_000)).children).to.have.length(399_999)
    expect(refusal(() => parseXml(many(400_001)))).to.equal('xml.tooLarge')
  })

  it('says in which line a fault is, and what it is, in the first letters', () => {
    const reason = reasonOf(() => parseXml('<a>\n<b>\n</a>'))
    expect(reason.details.line).to.equal(3)
    expect(reason.details.fault)
      .to.match(/^[a-z]/)
      .and.not.match(/^\d+:\d+/)
    const long = reasonOf(() => parseXml(`<a ${'x'.repeat(400)}/>`))
    expect(String(long.details.fault).length).to.be.at.most(120)
  })

  it('knows a name by its namespace, whatever its prefix', () => {
    const root = parseXml('<p:a xmlns:p="urn:one" b="1"><p:c/></p:a>')
    expect([root.name, root.namespace, root.attributes.b, root.children[0]!.namespace]).to.deep.equal([
      'a',
      'urn:one',
      '1',
      'urn:one',
    ])
  })
})

describe('UBL invoices', () => {
  it('are read with freight, allowances, tax categories and price base quantities', () => {
    const invoice = readUblInvoice(invoiceXml())
    expect(invoice.adjustments.map(part => [part.charge, part.amount])).to.deep.equal([
      [true, '40.00'],
      [false, '4.50'],
    ])
    expect(
      invoice.lines.map(line => [line.quantity, line.price, line.priceBase, line.orderLineReference]),
    ).to.deep.equal([
      ['1000', '31.90', '100', '1'],
      ['1', '100.00', '1', '2'],
    ])
    expect(invoice.taxes.map(tax => tax.category)).to.deep.equal(['S', 'E'])
    expect(invoice.seller.name).to.equal('Nordhavn Pumpeverk Ærø')
    expect(checkInvoice(invoice)).to.deep.equal([])
  })

  it('are told from other documents and namespaces, which are named', () => {
    const name = 'N'.repeat(60)
    const other = reasonOf(() => readUblInvoice(`<${name} xmlns="urn:${'x'.repeat(200)}"/>`))
    expect(other.details).to.deep.include({ root: name.slice(0, 40), namespace: `urn:${'x'.repeat(76)}` })
    expect(reasonOf(() => readUblInvoice('<Invoice/>')).details.namespace).to.equal('none')
    const bank = reasonOf(() => readBankMessage(`<${name} xmlns="urn:${'x'.repeat(200)}"/>`))
    expect(bank.details).to.deep.include({ root: name.slice(0, 40), namespace: `urn:${'x'.repeat(76)}` })
    expect(reasonOf(() => readBankMessage('<Document/>')).details.namespace).to.equal('none')
    expect(refusal(() => readUblInvoice(invoiceXml({ root: 'urn:example:invoice' })))).to.equal('bill.notAnInvoice')
    expect(
      refusal(() => readUblInvoice('<Order xmlns="urn:oasis:names:specification:ubl:schema:xsd:Order-2"/>')),
    ).to.equal('bill.notAnInvoice')
  })
})

describe('EN 16931', () => {
  const broken: [string, string, string, string][] = [
    [
      'the sum of lines',
      '<cbc:LineExtensionAmount currencyID="EUR">419.00<',
      '<cbc:LineExtensionAmount currencyID="EUR">419.01<',
      'BR-CO-10',
    ],
    ['the sum of allowances', '>4.50</cbc:AllowanceTotalAmount>', '>4.60</cbc:AllowanceTotalAmount>', 'BR-CO-11'],
    ['the sum of charges', '>40.00</cbc:ChargeTotalAmount>', '>41.00</cbc:ChargeTotalAmount>', 'BR-CO-12'],
    ['the total without VAT', '>454.50</cbc:TaxExclusiveAmount>', '>454.00</cbc:TaxExclusiveAmount>', 'BR-CO-13'],
    [
      'the total VAT',
      '<cac:TaxTotal><cbc:TaxAmount currencyID="EUR">74.45<',
      '<cac:TaxTotal><cbc:TaxAmount currencyID="EUR">74.40<',
      'BR-CO-14',
    ],
    ['the total with VAT', '>528.95</cbc:TaxInclusiveAmount>', '>529.00</cbc:TaxInclusiveAmount>', 'BR-CO-15'],
    ['the amount due', '>528.95</cbc:PayableAmount>', '>500.00</cbc:PayableAmount>', 'BR-CO-16'],
    [
      'the VAT of a category',
      '>354.50</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">74.45',
      '>354.50</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">74.00',
      'BR-CO-17',
    ],
    ['the base of a category', '>354.50</cbc:TaxableAmount>', '>350.00</cbc:TaxableAmount>', 'BR-S-08'],
    ['the net of a line', '>319.00</cbc:LineExtensionAmount>', '>318.00</cbc:LineExtensionAmount>', 'BT-131'],
    ['an exemption without a reason', '<cbc:TaxExemptionReason>exempt</cbc:TaxExemptionReason>', '', 'BR-E-10'],
    ['a rate on exempt supplies', '<cbc:ID>E</cbc:ID><cbc:Percent>0<', '<cbc:ID>E</cbc:ID><cbc:Percent>6<', 'BR-E-05'],
    [
      'a negative price',
      '<cbc:PriceAmount currencyID="EUR">31.90',
      '<cbc:PriceAmount currencyID="EUR">-31.90',
      'BR-27',
    ],
    ['three decimals', '>319.00</cbc:LineExtensionAmount>', '>319.001</cbc:LineExtensionAmount>', 'BR-DEC-23'],
    ['a number with exponent', '>1000</cbc:InvoicedQuantity>', '>1E3</cbc:InvoicedQuantity>', 'UBL-NUMBER'],
    ['no number', '<cbc:ID>B-0010</cbc:ID>', '<cbc:ID></cbc:ID>', 'BR-02'],
    ['no issue date', '<cbc:IssueDate>2026-11-20</cbc:IssueDate>', '', 'BR-03'],
    ['a date of another kind', '>2026-11-20</cbc:IssueDate>', '>20.11.2026</cbc:IssueDate>', 'UBL-DATE'],
    ['no seller', '<cbc:RegistrationName>Nordhavn Pumpeverk Ærø</cbc:RegistrationName>', '', 'BR-06'],
    ['no due date nor terms', '<cbc:DueDate>2027-01-20</cbc:DueDate>', '', 'BR-CO-25'],
    [
      'a category that is not there',
      '<cac:ClassifiedTaxCategory><cbc:ID>E</cbc:ID>',
      '<cac:ClassifiedTaxCategory><cbc:ID>Z</cbc:ID>',
      'BR-Z-01',
    ],
  ]
  for (const [what, from, to, rule] of broken)
    it(`finds ${what} broken: ${rule}`, () => {
      const xml = invoiceXml()
      expect(xml, 'the fixture holds what is broken').to.include(from)
      expect(rules(xml.replace(from, to))).to.include(rule)
    })

  it('reports every broken rule, with what was found and expected', () => {
    const xml = invoiceXml()
      .replace('>528.95</cbc:PayableAmount>', '>1.00</cbc:PayableAmount>')
      .replace('>454.50</cbc:TaxExclusiveAmount>', '>1.00</cbc:TaxExclusiveAmount>')
    const found = checkInvoice(readUblInvoice(xml))
    expect(found.map(one => one.rule)).to.include.members(['BR-CO-13', 'BR-CO-15', 'BR-CO-16'])
    expect(found.find(one => one.rule === 'BR-CO-13')).to.deep.equal({
      rule: 'BR-CO-13',
      place: 'TaxExclusiveAmount',
      found: '1.00',
      expected: '454.50',
      severity: 'stop',
      set: 'en16931',
    })
  })

  it('is asked before anything is taken in: every rule with its place, else whether it is an invoice at all', () => {
    const why = (xml: string): [string, string | undefined][] =>
      whyNotRead(readUblInvoice(xml), '2026-11-27').map(reason => [reason.code, reason.place])
    expect(why(invoiceXml())).to.deep.equal([])
    const typed = (type: string): string =>
      invoiceXml().replace(/(<cbc:InvoiceTypeCode[^>]*>)380/, (_, tag: string) => `${tag}${type}`)
    for (const type of ['380', '383', '384', '386', '389', '393', '82', '326'])
      expect(why(typed(type)), type).to.deep.equal([])
    expect(why(typed('381'))).to.deep.equal([])
    expect(why(typed('130'))).to.deep.equal([['bill.typeNotHandled', undefined]])
    const broken = why(typed('381').replace(/<cbc:ID>[^<]*<\/cbc:ID>/, '<cbc:ID/>'))
    expect(broken.length).to.be.above(0)
    expect(broken.every(([code, place]) => code === 'bill.rule' && place !== undefined)).to.equal(true)
  })

  it('wants at least one line', () => {
    expect(rules(invoiceXml({ lines: '', totals: '', extra: '' }))).to.include.members(['BR-16', 'BR-12', 'BR-CO-18'])
  })

  const placesIn = (xml: string): string[] => checkInvoice(readUblInvoice(xml)).map(one => `${one.rule} ${one.place}`)
  const found = (from: string, to: string, today?: string): string[] => {
    const xml = invoiceXml()
    expect(xml, 'the fixture holds what is changed').to.include(from)
    return checkInvoice(readUblInvoice(xml.replace(from, to)), today).map(one => `${one.rule} ${one.place}`)
  }

  it('refuses wrong days in every date field, with their place, and days a century away', () => {
    expect(found('>2027-01-20</cbc:DueDate>', '>2027-02-30</cbc:DueDate>')).to.deep.equal(['UBL-DATE DueDate'])
    const period = (day: string): string =>
      `<cac:InvoicePeriod><cbc:StartDate>${day}</cbc:StartDate></cac:InvoicePeriod><cac:Delivery><cbc:ActualDeliveryDate>${day}</cbc:ActualDeliveryDate></cac:Delivery></Invoice>`
    expect(found('</Invoice>', period('2026-13-01'))).to.deep.equal([
      'UBL-DATE InvoicePeriod/StartDate',
      'UBL-DATE Delivery/ActualDeliveryDate',
    ])
    expect(found('</Invoice>', period('2026-11-01'))).to.deep.equal([])
    expect(found('>2026-11-20</cbc:IssueDate>', '>2126-11-20</cbc:IssueDate>', '2026-11-26')).to.deep.equal([
      'UBL-DATE IssueDate',
    ])
    expect(found('>2026-11-20</cbc:IssueDate>', '>1926-11-20</cbc:IssueDate>', '2026-11-26')).to.deep.equal([
      'UBL-DATE IssueDate',
    ])
    expect(found('>2026-11-20</cbc:IssueDate>', '>2016-11-28</cbc:IssueDate>', '2026-11-26')).to.deep.equal([])
    expect(found('>2026-11-20</cbc:IssueDate>', '>2126-11-20</cbc:IssueDate>')).to.deep.equal([])
    const inLine = '<cac:InvoiceLine><cac:InvoicePeriod><cbc:EndDate>soon</cbc:EndDate></cac:InvoicePeriod>'
    expect(found('<cac:InvoiceLine>', inLine)).to.deep.equal(['UBL-DATE InvoiceLine[1]/InvoicePeriod/EndDate'])
  })

  it('takes no prefix that is bound to another vocabulary, but anything within an extension', () => {
    const bound = 'xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"'
    const all = found(bound, 'xmlns:cbc="urn:example:other"')
    expect(all.some(one => one.startsWith('UBL-NAMESPACE'))).to.equal(true)
    expect(all).to.include('BR-02 ID')
    const one = '<cbc:ID xmlns:cbc="urn:example:other">B-0010</cbc:ID>'
    expect(found('<cbc:ID>B-0010</cbc:ID>', one)).to.deep.equal(['BR-02 ID', 'UBL-NAMESPACE ID'])
    const extension =
      '<e:UBLExtensions xmlns:e="urn:oasis:names:specification:ubl:schema:xsd:CommonExtensionComponents-2"><x:any xmlns:x="urn:any"/></e:UBLExtensions></Invoice>'
    expect(found('</Invoice>', extension)).to.deep.equal([])
  })

  it('takes no amount in another currency than the document’s, but the tax total of the accounting currency', () => {
    const line = '<cbc:LineExtensionAmount currencyID="EUR">319.00<'
    expect(found(line, line.replace('EUR', 'NOK'))).to.deep.equal(['BT-5 InvoiceLine[1]/LineExtensionAmount'])
    const second = (currency: string): string =>
      `<cac:TaxTotal><cbc:TaxAmount currencyID="${currency}">870.00</cbc:TaxAmount></cac:TaxTotal></Invoice>`
    expect(found('</Invoice>', second('NOK'))).to.deep.equal(['BT-5 TaxTotal[2]/TaxAmount'])
    const xml = invoiceXml()
      .replace('</Invoice>', second('NOK'))
      .replace(
        '</cbc:DocumentCurrencyCode>',
        '</cbc:DocumentCurrencyCode><cbc:TaxCurrencyCode>NOK</cbc:TaxCurrencyCode>',
      )
    expect(rules(xml)).to.deep.equal([])
    expect(readUblInvoice(xml).totals.tax).to.equal('74.45')
    const sameTwice = xml.replace('<cbc:TaxCurrencyCode>NOK', '<cbc:TaxCurrencyCode>EUR')
    expect(placesIn(sameTwice)).to.deep.equal(['BR-53 TaxTotal', 'BT-5 TaxTotal[2]/TaxAmount'])
    const elsewhere = xml.replace(line, line.replace('EUR', 'NOK'))
    expect(placesIn(elsewhere)).to.deep.equal(['BT-5 InvoiceLine[1]/LineExtensionAmount'])
    const onlyForeign = invoiceXml().replaceAll('<cbc:TaxAmount currencyID="EUR">', '<cbc:TaxAmount currencyID="NOK">')
    expect(readUblInvoice(onlyForeign).totals.tax).to.equal('74.45')
  })

  it('takes no IBAN with wrong check digits, and anything that is none', () => {
    const account = (id: string): string =>
      `<cac:PaymentMeans><cbc:PaymentMeansCode>30</cbc:PaymentMeansCode><cac:PayeeFinancialAccount><cbc:ID>${id}</cbc:ID></cac:PayeeFinancialAccount></cac:PaymentMeans></Invoice>`
    expect(found('</Invoice>', account('NL91 ABNA 0417 1643 00'))).to.deep.equal([])
    expect(found('</Invoice>', account('NL92ABNA0417164300'))).to.deep.equal(['BT-84 PayeeFinancialAccount'])
    expect(found('</Invoice>', account('0417164300'))).to.deep.equal([])
  })

  /** The whole document under one category, at one rate. */
  const under = (category: string, rate: string, changed: (xml: string) => string = xml => xml): string[] => {
    const xml = invoiceXml()
      .replaceAll(/<cbc:ID>[SE]<\/cbc:ID><cbc:Percent>\d+</g, `<cbc:ID>${category}</cbc:ID><cbc:Percent>${rate}<`)
      .replace(/<cac:TaxTotal>.*<\/cac:TaxTotal>/s, () => {
        const reason =
          category === 'S' || category === 'Z' ? '' : '<cbc:TaxExemptionReason>because</cbc:TaxExemptionReason>'
        return `<cac:TaxTotal><cbc:TaxAmount currencyID="EUR">0.00</cbc:TaxAmount><cac:TaxSubtotal><cbc:TaxableAmount currencyID="EUR">454.50</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">0.00</cbc:TaxAmount><cac:TaxCategory><cbc:ID>${category}</cbc:ID><cbc:Percent>${rate}</cbc:Percent>${reason}</cac:TaxCategory></cac:TaxSubtotal></cac:TaxTotal>`
      })
      .replaceAll('528.95', '454.50')
    return checkInvoice(readUblInvoice(changed(xml))).map(one => one.rule)
  }
  const BUYER = '</cac:PostalAddress><cac:PartyLegalEntity><cbc:RegistrationName>Saltmere'
  const withBuyerVat = (xml: string): string =>
    xml.replace(
      BUYER,
      BUYER.replace(
        '</cac:PostalAddress>',
        '</cac:PostalAddress><cac:PartyTaxScheme><cbc:CompanyID>NL1</cbc:CompanyID><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:PartyTaxScheme>',
      ),
    )

  it('holds each category to its own rules: reverse charge with a rate is BR-AE-05, -06 and -07', () => {
    for (const category of ['Z', 'E', 'AE', 'G']) expect(under(category, '0'), category).to.deep.equal([])
    expect(new Set(under('O', '0'))).to.deep.equal(new Set(['BR-O-02', 'BR-O-03', 'BR-O-04']))
    expect(under('O', '0', xml => xml.replace(/<cac:PartyTaxScheme>.*?<\/cac:PartyTaxScheme>/, '<cac:PartyIdentification><cbc:ID>7</cbc:ID></cac:PartyIdentification>'))).to.deep.equal([]) // prettier-ignore
    expect([...new Set(under('AE', '21'))]).to.deep.equal(['BR-AE-05', 'BR-AE-07', 'BR-AE-06'])
    expect(new Set(under('O', '21'))).to.include('BR-O-05')
    expect(new Set(under('S', '0'))).to.include('BR-S-05')
    expect(
      under('AE', '0', xml => xml.replace('<cbc:TaxExemptionReason>because</cbc:TaxExemptionReason>', '')),
    ).to.deep.equal(['BR-AE-10'])
    expect(
      under('Z', '0', xml =>
        xml.replace(
          '<cbc:Percent>0</cbc:Percent></cac:TaxCategory></cac:TaxSubtotal>',
          '<cbc:Percent>0</cbc:Percent><cbc:TaxExemptionReason>why</cbc:TaxExemptionReason></cac:TaxCategory></cac:TaxSubtotal>',
        ),
      ),
    ).to.deep.equal(['BR-Z-10'])
    const charged = under('G', '0', xml =>
      xml.replace(
        '454.50</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">0.00',
        '454.50</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">5.00',
      ),
    )
    expect(charged).to.include('BR-G-09')
    expect(under('X', '0')).to.include('BR-CL-17')
    expect(under('L', '-1')).to.include('BR-IG-05')
    expect(under('L', '0')).to.deep.equal(['BR-IG-10'])
  })

  it('wants both VAT numbers on a supply within the EU', () => {
    const there = (xml: string): string => xml.replace('</cac:AccountingCustomerParty>', '</cac:AccountingCustomerParty><cac:Delivery><cbc:ActualDeliveryDate>2026-11-18</cbc:ActualDeliveryDate><cac:DeliveryLocation><cac:Address><cac:Country><cbc:IdentificationCode>NL</cbc:IdentificationCode></cac:Country></cac:Address></cac:DeliveryLocation></cac:Delivery>') // prettier-ignore
    expect(under('K', '0')).to.deep.equal(['BR-IC-02', 'BR-IC-04', 'BR-IC-03', 'BR-IC-11', 'BR-IC-12'])
    expect(under('K', '0', xml => there(withBuyerVat(xml)))).to.deep.equal([])
    expect(
      under('K', '0', xml =>
        there(withBuyerVat(xml)).replace(/<cac:PartyTaxScheme><cbc:CompanyID>NO.*?<\/cac:PartyTaxScheme>/, ''),
      ),
    ).to.deep.equal(['BR-CO-26', 'BR-IC-02', 'BR-IC-04', 'BR-IC-03'])
  })

  it('names each thing that is missing by its own rule', () => {
    const gone: [string | RegExp, string][] = [
      [/<cbc:CustomizationID>.*?<\/cbc:CustomizationID>/, 'BR-01'],
      [/<cbc:InvoiceTypeCode>.*?<\/cbc:InvoiceTypeCode>/, 'BR-04'],
      ['<cbc:RegistrationName>Saltmere Aquarium Trust</cbc:RegistrationName>', 'BR-07'],
      ['<cbc:IdentificationCode>NO</cbc:IdentificationCode>', 'BR-09'],
      ['<cbc:IdentificationCode>NL</cbc:IdentificationCode>', 'BR-11'],
      [/<cbc:TaxExclusiveAmount.*?<\/cbc:TaxExclusiveAmount>/, 'BR-13'],
      [/<cbc:TaxInclusiveAmount.*?<\/cbc:TaxInclusiveAmount>/, 'BR-14'],
      [/<cbc:PayableAmount.*?<\/cbc:PayableAmount>/, 'BR-15'],
      ['<cac:InvoiceLine><cbc:ID>1</cbc:ID>', 'BR-21'],
      [/<cbc:InvoicedQuantity.*?<\/cbc:InvoicedQuantity>/, 'BR-22'],
      [' unitCode="C62">1000', 'BR-23'],
      ['<cbc:Name>Hex bolt</cbc:Name>', 'BR-25'],
      [/<cbc:PriceAmount.*?<\/cbc:PriceAmount>/, 'BR-26'],
    ]
    for (const [what, rule] of gone) {
      const kept =
        what === '<cac:InvoiceLine><cbc:ID>1</cbc:ID>'
          ? '<cac:InvoiceLine>'
          : what === ' unitCode="C62">1000'
            ? '>1000'
            : ''
      expect(rules(invoiceXml().replace(what, kept)), rule).to.include(rule)
    }
    expect(rules(invoiceXml({ currency: '' }))).to.include('BR-05')
    expect(found('<cbc:BaseQuantity unitCode="C62">100<', '<cbc:BaseQuantity unitCode="C62">0<')).to.deep.equal([
      'BT-149 InvoiceLine[1]/BaseQuantity',
    ])
    expect(
      found(
        '</cbc:AllowanceChargeReason><cbc:Amount currencyID="EUR">40.00<',
        '</cbc:AllowanceChargeReason><cbc:Amount currencyID="EUR">40.001<',
      ),
    ).to.deep.equal(['BR-DEC-05 AllowanceCharge[1]/Amount'])
  })
})

describe('text for a bank', () => {
  it('is never blank and loses no letter that has a Latin one', () => {
    for (const [text, wanted] of [
      ['Straßenbau Größe', 'Strassenbau Grosse'],
      ['Nordhavn Pumpeverk Ærø', 'Nordhavn Pumpeverk Aero'],
      ['Łódź Æther', 'Lodz Aether'],
      ['Δελφοί Αντλίες', 'Delfoi Antlies'],
      ['Насос и Ко', 'Nasos i Ko'],
      ['北京泵业', 'BeiJingBengYe'],
      ['Smith & Sons; "Ltd"', 'Smith + Sons Ltd'],
      ['☃☃', 'NOTPROVIDED'],
      ['', 'NOTPROVIDED'],
      ['...', 'NOTPROVIDED'],
    ] as const)
      expect(bankText(text, 70), text).to.equal(wanted)
  })

  it('fits, in the characters that every bank takes, whatever is written', () => {
    expect(bankText('abcd efgh', 5)).to.equal('abcd')
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 90 }), fc.integer({ min: 11, max: 70 }), (text, most) => {
        const plain = bankText(text, most)
        expect(plain.length).to.be.within(1, most)
        expect(plain).to.match(/^[A-Za-z0-9/\-?:().,'+ ]+$/)
        expect(plain).to.equal(plain.trim())
      }),
    )
  })
})
