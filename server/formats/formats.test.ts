import { expect } from 'chai'
import exceljs from 'exceljs'
import { XMLParser } from 'fast-xml-parser'
import iconv from 'iconv-lite'
import { readParts } from '#core/build/readParts.ts'
import { readUblInvoice } from '#core/formats/ublInvoice.ts'
import { parseXml, textAt, find, childrenOf } from '#core/formats/xml.ts'
import { RuleBroken } from '#core/reasons.ts'
import { readCells, readGrid } from '#server/formats/cells.ts'
import { readTable } from '#server/formats/delimited.ts'
import { writeOrderPdf } from '#server/formats/orderPdf.ts'
import { writePain001 } from '#server/formats/pain001.ts'
import { decodeXml } from '#server/formats/text.ts'
import { type OrderDocument, writeUblOrder } from '#server/formats/ublOrder.ts'
import { writeUblOrderCancellation, writeUblRevision } from '#server/formats/ublOrderChange.ts'
import { invoiceXml } from '#test-helpers/invoices.ts'

const party = {
  name: 'Salines & Fils <SA>',
  street: 'Chemin 7',
  postalCode: '17999',
  city: 'Pré-Vert',
  country: 'FR',
  vat: 'FRXX999999901',
}
const order: OrderDocument = {
  number: 'O-4107',
  revision: 1,
  issuedOn: '2026-11-06',
  language: 'en',
  currency: 'EUR',
  note: 'Ring the bell',
  buyer: { ...party, name: 'Saltmere Aquarium Trust' },
  logo: null,
  seller: party,
  contact: 'Pilar Quenneville',
  charges: [
    { kind: 'freight', words: '', percent: null, amount: '50.00' },
    { kind: 'discount', words: 'As agreed', percent: '0.06', amount: '10.00' },
  ],
  total: '17560.00',
  linesTotal: '17520.00',
  paymentTerms: 'Payment 30 days.',
  clauses: [{ name: 'Packing', version: 2, text: 'Returnable crates only.' }],
  lines: [
    {
      position: 1,
      description: 'Circulation pump 12 m³/h',
      quantity: '8',
      unit: 'C62',
      price: '2190',
      priceBase: '1',
      amount: '17520.00',
      needBy: '2026-12-04',
      address: 'Saltmere Quay',
      buyerItem: 'CP-1200',
      sellerItem: 'NO1',
      change: 'changed',
    },
  ],
  reason: 'Two more',
  gone: [],
}
const codeOf = (work: () => unknown): string => {
  try {
    work()
    return 'taken'
  } catch (error) {
    return error instanceof RuleBroken ? error.reasons[0]!.code : String(error)
  }
}

describe('encodings of XML', () => {
  for (const encoding of ['utf-8', 'utf-16le', 'utf-16be', 'iso-8859-1', 'windows-1252'])
    it(`reads ${encoding} as it says it is`, () => {
      const declared = encoding.startsWith('utf-16') ? 'UTF-16' : encoding
      const bytes = iconv.encode(
        invoiceXml({ declaration: `<?xml version="1.0" encoding="${declared}"?>` }),
        encoding,
        { addBOM: encoding.startsWith('utf-16') },
      )
      expect(readUblInvoice(decodeXml(bytes).text).seller.name).to.equal('Nordhavn Pumpeverk Ærø')
    })

  it('reads UTF-8 with a byte order mark and UTF-16 without', () => {
    expect(
      readUblInvoice(decodeXml(Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), Buffer.from(invoiceXml())])).text)
        .number,
    ).to.equal('B-0010')
    expect(
      readUblInvoice(
        decodeXml(
          iconv.encode(invoiceXml({ declaration: '<?xml version="1.0" encoding="UTF-16"?>' }), 'utf-16le', {
            addBOM: false,
          }),
        ).text,
      ).number,
    ).to.equal('B-0010')
  })

  it('refuses bytes that are not what the file says', () => {
    expect(codeOf(() => decodeXml(iconv.encode(invoiceXml(), 'iso-8859-1')))).to.equal('xml.encoding')
    expect(codeOf(() => decodeXml(Buffer.from('<?xml version="1.0" encoding="EBCDIC-9"?><a/>')))).to.equal(
      'xml.encoding',
    )
  })
})

describe('delimited files', () => {
  const table = (text: string | Buffer) =>
    readTable(Buffer.isBuffer(text) ? text : Buffer.from(text), ['name', 'country', 'note'], ['name'])

  it('are read with commas, semicolons and tabs, any line ending, and a byte order mark', () => {
    expect(table('\ufeffName;Country\r\nÆrø;NO\r\n').rows).to.deep.equal([{ name: 'Ærø', country: 'NO' }])
    expect(table('name,country\n"a, b",NL').rows[0]).to.deep.equal({ name: 'a, b', country: 'NL' })
    expect(table('name\tcountry\nx\tNL').delimiter).to.equal('\t')
  })

  it('keep quoted line breaks and doubled quotes', () => {
    expect(table('name;note\n"one\ntwo";"he said ""no"""').rows[0]).to.deep.equal({
      name: 'one\ntwo',
      note: 'he said "no"',
    })
  })

  it('are read as Windows-1252 where they are not UTF-8', () => {
    const read = table(iconv.encode('name;country\nPré-Vert;FR', 'windows-1252'))
    expect([read.rows[0]!.name, read.encoding]).to.deep.equal(['Pré-Vert', 'windows-1252'])
  })

  it('name unknown and missing columns, broken quotes and rows of another length', () => {
    expect(codeOf(() => table('nom;pays\nx;y'))).to.equal('import.columns')
    expect(codeOf(() => table('country\nNL'))).to.equal('import.columns')
    expect(codeOf(() => table('name;country\n"open;NL'))).to.equal('import.notATable')
    expect(codeOf(() => table('name;country\na;b;c'))).to.equal('import.notATable')
    expect(codeOf(() => table(''))).to.equal('import.notATable')
  })
})

describe('documents that leave', () => {
  it('an order is UBL 2.1 that another parser reads', () => {
    const read = new XMLParser({ ignoreAttributes: false, removeNSPrefix: true, parseTagValue: false }).parse(
      writeUblOrder(order),
    ) as {
      Order: Record<string, never> & {
        ID: string
        OrderLine: { LineItem: { Quantity: { '#text': string; '@_unitCode': string }; Item: { Name: string } } }
      }
    }
    expect(read.Order.ID).to.equal('O-4107')
    expect(read.Order.OrderLine.LineItem.Quantity).to.deep.equal({ '#text': '8', '@_unitCode': 'C62' })
    expect(read.Order.OrderLine.LineItem.Item.Name).to.equal('Circulation pump 12 m³/h')
  })

  it('a later revision is an OrderChange that says what became of each line; text is escaped', () => {
    const [pump] = order.lines
    const gone = [{ ...pump!, position: 2, change: 'none' as const }]
    const lines = [pump!, { ...pump!, position: 3, change: 'added' as const }, { ...pump!, position: 4, change: 'none' as const }] // prettier-ignore
    const root = parseXml(writeUblRevision({ ...order, lines, gone }))
    expect([root.name, root.namespace]).to.deep.equal(['OrderChange', 'urn:oasis:names:specification:ubl:schema:xsd:OrderChange-2']) // prettier-ignore
    expect([textAt(root, 'ID'), textAt(root, 'SequenceNumberID'), textAt(root, 'OrderReference', 'ID')]).to.deep.equal(['O-4107/1', '1', 'O-4107']) // prettier-ignore
    expect([textAt(root, 'Note'), textAt(root, 'LineCountNumeric')]).to.deep.equal(['Two more\nRing the bell', '4'])
    const items = childrenOf(root, 'OrderLine').map(line => find(line, 'LineItem')!)
    expect(items.map(item => [textAt(item, 'ID'), textAt(item, 'LineStatusCode'), textAt(item, 'Quantity')])).to.deep.equal([['1', '3', '8'], ['3', '1', '8'], ['4', '4', '8'], ['2', '2', '0']]) // prettier-ignore
    expect(items[0]!.children.map(one => one.name)).to.deep.equal(['ID', 'LineStatusCode', 'Quantity', 'LineExtensionAmount', 'Delivery', 'Price', 'Item']) // prettier-ignore
    expect(textAt(root, 'SellerSupplierParty', 'Party', 'PartyName', 'Name')).to.equal('Salines & Fils <SA>')
    expect(textAt(root, 'AnticipatedMonetaryTotal', 'PayableAmount')).to.equal('17560.00')
    expect(parseXml(writeUblRevision({ ...order, revision: 0 })).name).to.equal('Order')
  })

  it('that an order is cancelled is an OrderCancellation with its reason', () => {
    const root = parseXml(writeUblOrderCancellation(order, 'The tank <4> stays', '2026-11-09'))
    expect([root.name, root.children.map(one => one.name)]).to.deep.equal(['OrderCancellation', ['UBLVersionID', 'ID', 'IssueDate', 'CancellationNote', 'OrderReference', 'BuyerCustomerParty', 'SellerSupplierParty']]) // prettier-ignore
    expect([textAt(root, 'CancellationNote'), textAt(root, 'OrderReference', 'ID')]).to.deep.equal(['The tank <4> stays', 'O-4107']) // prettier-ignore
  })

  it('an order is a PDF with its revision', async () => {
    const bytes = await writeOrderPdf(order)
    expect(bytes.subarray(0, 5).toString()).to.equal('%PDF-')
    expect(bytes.length).to.be.greaterThan(5000)
  })

  it('a payment file adds up exactly and keeps to the letters that banks take', () => {
    const payment = (amount: string, currency: string, holder: string) => ({
      endToEndId: `P-1-${amount}`,
      amount,
      currency,
      holder,
      iban: 'NL02ABNA0123456789',
      bic: '',
      remittance: 'Invoice Ærø/1 & more',
    })
    const root = parseXml(
      writePain001({
        messageId: 'P-1',
        createdAt: '2026-11-23T10:00:00.000Z',
        executeOn: '2026-11-24',
        debtor: () => ({ name: 'Saltmere', iban: 'NL02ABNA0123456789', bic: 'IVORNL2A' }),
        batchId: currency => `P-1-${currency}`,
        payments: [payment('0.10', 'EUR', 'Pré-Vert'), payment('0.20', 'EUR', 'x'), payment('612000', 'JPY', 'y')],
      }),
    )
    const header = find(root, 'CstmrCdtTrfInitn', 'GrpHdr')
    expect([textAt(header, 'NbOfTxs'), textAt(header, 'CtrlSum')]).to.deep.equal(['3', '612000.30'])
    const groups = childrenOf(find(root, 'CstmrCdtTrfInitn'), 'PmtInf')
    expect(groups.map(group => textAt(group, 'CtrlSum'))).to.deep.equal(['0.30', '612000.00'])
    const first = childrenOf(groups[0], 'CdtTrfTxInf')[0]
    expect([textAt(first, 'Cdtr', 'Nm'), textAt(first, 'RmtInf', 'Ustrd')]).to.deep.equal([
      'Pre-Vert',
      'Invoice Aero/1 + more',
    ])
  })
})

describe('cells of a parts list', () => {
  const listOf = async (bytes: Buffer) => readParts(await readGrid(bytes))

  it('are read from a workbook with titles, merged cells, figures as text, days and a total', async () => {
    const book = new exceljs.Workbook()
    const sheet = book.addWorksheet('Parts')
    sheet.addRow(['Skid 27'])
    sheet.mergeCells('A1:D1')
    sheet.addRow([])
    sheet.addRow(['Part number', 'Description', 'Qty', 'Ref des'])
    sheet.addRow(['A-1', 'Valve', 2, 'V1'])
    sheet.addRow([null, null, '3', 'V2'])
    sheet.addRow(['A-2', 'Pump', new Date('2026-03-01T00:00:00Z'), 'P1'])
    sheet.addRow(['A-3', 'Pipe', { formula: '2*1.25', result: 2.5 }, ''])
    sheet.addRow(['Total', null, 7.5, null])
    const { lines, skipped, reasons } = await listOf(Buffer.from(await book.xlsx.writeBuffer()))
    expect(lines.map(line => [line.number, line.quantity])).to.deep.equal([
      ['A-1', '2'],
      ['A-1', '3'],
      ['A-2', null],
      ['A-3', '2.5'],
    ])
    expect(skipped.map(one => one.why)).to.deep.equal(['total'])
    expect(reasons.map(one => one.code).sort()).to.deep.equal(['parts.date', 'parts.sameAsAbove'])
  })

  it('say days of a workbook as days, not as the figures that it keeps them as', async () => {
    const book = new exceljs.Workbook()
    const sheet = book.addWorksheet('Lines')
    sheet.addRow(['Description', 'Needed by'])
    sheet.addRow(['Pump', new Date('2027-03-01T00:00:00Z')])
    const bytes = Buffer.from(await book.xlsx.writeBuffer())
    expect((await readCells(bytes, true)).rows).to.deep.equal([['Pump', '2027-03-01']])
    expect((await readCells(bytes)).rows).to.deep.equal([['Pump', '2027-03-01']])
  })

  it('are read from rows of different length, whatever parts them, and refused where they are no table', async () => {
    for (const mark of [';', '\t', ','])
      expect(
        (
          await listOf(
            Buffer.from(['A title', `Part no.${mark}Qty${mark}Unit`, `A-1${mark}2`, `A-2${mark}3${mark}m`].join('\n')),
          )
        ).lines.map(line => [line.number, line.quantity, line.unit]),
      ).to.deep.equal([
        ['A-1', '2', 'C62'],
        ['A-2', '3', 'MTR'],
      ])
    expect((await listOf(Buffer.from(''))).reasons.map(one => one.code)).to.include('parts.noQuantity')
    const broken = await readGrid(Buffer.from([0x50, 0x4b, 3, 4, 9, 9])).catch((error: unknown) => error)
    expect(broken).to.be.instanceOf(RuleBroken)
  })
})
