import { expect } from 'chai'
import { checkInvoice } from '#core/bill/en16931.ts'
import { readBankAnswer } from '#core/formats/bankAnswers.ts'
import { readUblInvoice } from '#core/formats/ublInvoice.ts'
import { find, parseXml, textAt } from '#core/formats/xml.ts'
import { RuleBroken } from '#core/reasons.ts'
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

  it('refuses nests that are too deep', () => {
    expect(refusal(() => parseXml('<a>'.repeat(100) + '</a>'.repeat(100)))).to.equal('xml.tooLarge')
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

  it('are told from other documents and namespaces', () => {
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
    ['three decimals', '>319.00</cbc:LineExtensionAmount>', '>319.001</cbc:LineExtensionAmount>', 'BR-DEC'],
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
      'BR-CO-18',
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
    })
  })

  it('wants at least one line', () => {
    expect(rules(invoiceXml({ lines: '', totals: '', extra: '' }))).to.include.members(['BR-16', 'BR-12', 'BR-CO-18'])
  })
})

describe('what a bank answers', () => {
  it('is read from pain.002: accepted and refused with the reason', () => {
    const answer = readBankAnswer(
      '<Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.10"><CstmrPmtStsRpt><GrpHdr><MsgId>M1</MsgId><CreDtTm>2026-11-23T10:00:00</CreDtTm></GrpHdr><OrgnlGrpInfAndSts><OrgnlMsgId>P-1</OrgnlMsgId></OrgnlGrpInfAndSts><OrgnlPmtInfAndSts><TxInfAndSts><OrgnlEndToEndId>E1</OrgnlEndToEndId><TxSts>ACCP</TxSts></TxInfAndSts><TxInfAndSts><OrgnlEndToEndId>E2</OrgnlEndToEndId><TxSts>RJCT</TxSts><StsRsnInf><Rsn><Cd>AC04</Cd></Rsn></StsRsnInf></TxInfAndSts></OrgnlPmtInfAndSts></CstmrPmtStsRpt></Document>',
    )
    expect(answer).to.deep.include({ kind: 'pain.002', messageId: 'M1', originalMessageId: 'P-1' })
    expect(answer.payments.map(payment => [payment.endToEndId, payment.outcome, payment.reasonCode])).to.deep.equal([
      ['E1', 'accepted', ''],
      ['E2', 'refused', 'AC04'],
    ])
  })

  it('is read from camt.053: only what is booked, and what came back', () => {
    const entry = (id: string, mark: string, status: string): string =>
      `<Ntry><Amt Ccy="EUR">10.00</Amt><CdtDbtInd>${mark}</CdtDbtInd><Sts><Cd>${status}</Cd></Sts><BookgDt><Dt>2026-11-24</Dt></BookgDt><NtryDtls><TxDtls><Refs><EndToEndId>${id}</EndToEndId></Refs></TxDtls></NtryDtls></Ntry>`
    const answer = readBankAnswer(
      `<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>S1</MsgId></GrpHdr><Stmt>${entry('E1', 'DBIT', 'BOOK')}${entry('E2', 'CRDT', 'BOOK')}${entry('E3', 'DBIT', 'PDNG')}</Stmt></BkToCstmrStmt></Document>`,
    )
    expect(
      answer.payments.map(payment => [payment.endToEndId, payment.outcome, payment.amount, payment.date]),
    ).to.deep.equal([
      ['E1', 'paid', '10.00', '2026-11-24'],
      ['E2', 'refused', '10.00', '2026-11-24'],
    ])
  })

  it('is told from anything else', () => {
    expect(
      refusal(() => readBankAnswer('<Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.001.001.09"/>')),
    ).to.equal('pay.notABankAnswer')
  })
})
