import { expect } from 'chai'
import { readUblQuotation } from '#core/formats/ublQuotation.ts'
import type { RuleBroken } from '#core/reasons.ts'
import { readAnswerSheet, sheetColumns, sheetKey, sheetRows } from '#core/source/answerSheet.ts'
import { eventColumns, readEventLine } from '#core/source/eventLineImport.ts'
import type { AskedQuestion } from '#core/source/eventKind.ts'
import { readQuotation } from '#core/formats/quotationAnswer.ts'
import { answerOf, eventFacts, eventLine, NOW } from '#test-helpers/events.ts'

const event = eventFacts({
  lines: [
    eventLine('a'),
    eventLine('b', { position: 2, unit: 'MTR' }),
    eventLine('gone', { position: 3, goneAt: NOW }),
  ],
  kind: { components: [{ key: 'f', name: 'Freight', basis: 'perLine', kind: 'freight' }, { key: 'l', name: 'Lump', basis: 'perLot', kind: 'other' }] }, // prettier-ignore
})
const question = (key: string, kind: AskedQuestion['kind'], choices: string[] = []): AskedQuestion => ({ key, label: `${key}?`, kind, choices, must: '', required: false, scoredBy: 'nobody', points: {}, most: '', weight: '0' }) // prettier-ignore
const before = answerOf(event, { a: '10' })
const refusal = (work: () => unknown): string => {
  try {
    work()
    return ''
  } catch (error) {
    return (error as RuleBroken).reasons[0]!.code
  }
}

describe('an answer in a workbook', () => {
  const heads = ['Key', 'What', 'Price', 'Price for', 'Freight', 'Lead days', 'Note', 'Not offered', 'Quantity', 'At least'] // prettier-ignore
  const read = (...rows: string[][]) => readAnswerSheet(event, before, heads, rows)
  const key = sheetKey(event, 'a')

  it('has a column for whatever is asked of a line, and none for lump sums', () => {
    expect(sheetColumns(event).map(one => one.heading)).to.deep.equal(['Price', 'Price for', 'Quantity', 'Freight', 'Lead days', 'At least', 'Note', 'Not offered']) // prettier-ignore
    const facts = eventFacts({ kind: { pricing: 'none', partQuantity: false } })
    expect(sheetColumns(facts).map(one => one.heading)).to.deep.equal(['Lead days', 'At least', 'Note', 'Not offered'])
  })

  it('is read cell by cell; what is empty leaves what is there, and differences are said', () => {
    const { answer, differences, left } = read([key, 'x', '9,50', '', '3', '14', '', '', '', '2'])
    expect(left).to.deep.equal([])
    expect(answer.lines[0]).to.deep.include({ price: '9.50', priceBase: '1', components: { f: '3' }, leadDays: 14, minimum: '2', declined: false }) // prettier-ignore
    expect(differences.map(one => [one.field, one.before, one.after])).to.deep.equal([['Price', '10', '9.50'], ['Freight', '', '3'], ['Lead days', '', '14'], ['At least', '', '2']]) // prettier-ignore
    expect(read([key, '', '10']).differences).to.deep.equal([])
  })

  it('holds what is asked beside the lines: lump sums, questions, days to payment, a word', () => {
    const asked = { ...event, kind: { ...event.kind, sections: [{ title: 'S', weight: '100', questions: [question('q', 'yesNo'), question('n', 'number'), question('c', 'choice', ['Red', 'Blue']), question('t', 'text')] }] } } // prettier-ignore
    const rows = sheetRows(asked)
    expect(rows.map(one => one.what)).to.deep.equal(['Lump', 'q? (yes, no)', 'n?', 'c? (Red, Blue)', 't?', 'Paid so many days after delivery', 'A word to the buyer']) // prettier-ignore
    const fill = (...texts: string[]) => readAnswerSheet(asked, before, ['Key', 'Answer'], rows.map((one, index) => [one.key, texts[index]!])) // prettier-ignore
    const { answer, left, differences } = fill('12,50', 'YES', '7', 'blue', 'so it is', '30', 'Thanks')
    expect(left).to.deep.equal([])
    expect(answer).to.deep.include({ lump: { [event.lots[0]!.id]: { l: '12.50' } }, questions: { q: 'yes', n: '7', c: 'Blue', t: 'so it is' }, paymentDays: 30, note: 'Thanks' }) // prettier-ignore
    expect(differences).to.have.length(7)
    expect(differences[1]).to.deep.equal({ line: 'q? (yes, no)', field: 'Answer', before: '', after: 'yes' })
    expect(rows.map(one => one.read(answer))).to.deep.equal(['12.50', 'yes', '7', 'Blue', 'so it is', '30', 'Thanks'])
    expect(readAnswerSheet(asked, answer, ['Key', 'Answer'], rows.map(one => [one.key, one.read(answer)])).differences).to.deep.equal([]) // prettier-ignore
    const wrong = fill('much', 'perhaps', 'x', 'green', '', '3.5', '')
    expect(wrong.left.map(one => [one.row, one.reason.code])).to.deep.equal([2, 3, 4, 5, 7].map(row => [row, 'sheet.figure'])) // prettier-ignore
    expect(wrong.answer).to.deep.equal({ ...before, lines: wrong.answer.lines })
    expect(readAnswerSheet(asked, before, ['Key'], [[rows[0]!.key]]).differences).to.deep.equal([])
  })

  it('can say that a line is not offered, or is after all', () => {
    expect(read([key, '', '', '', '', '', '', 'x']).answer.lines[0]!.declined).to.equal(true)
    expect(read([sheetKey(event, 'b'), '', '4', '', '', '', '', 'no']).answer.lines[1]!.declined).to.equal(false)
  })

  it('leaves rows of another event, of no line, and what cannot be read, and says so', () => {
    const rows = [['E-2/a', '', '1'], ['E-1/nothing', '', '1'], ['', '', '1'], [key, '', 'ten'], [key, '', '1,234'], [key, '', '', '', '', '1.5'], [key, '', '1000000000000000'], [sheetKey(event, 'gone'), '', '1']] // prettier-ignore
    const { left, answer } = read(...rows)
    expect(left.map(one => `${one.row} ${one.reason.code}`)).to.deep.equal(['2 sheet.otherEvent', '3 sheet.noLine', '4 sheet.noKey', '5 sheet.figure', '6 sheet.figure', '7 sheet.figure', '8 sheet.figure', '9 sheet.noLine']) // prettier-ignore
    expect(answer.lines[0]!.price).to.equal('10')
  })

  it('of other columns has every row left, and nothing is guessed', () => {
    const { left, differences } = readAnswerSheet(event, before, ['Line', 'Price'], [['1', '5']])
    expect(left.map(one => one.reason.code)).to.deep.equal(['sheet.noKey'])
    expect(differences).to.deep.equal([])
  })
})

describe('a UBL quotation', () => {
  const xml = (lines: string, head = '') =>
    `<Quotation xmlns="urn:oasis:names:specification:ubl:schema:xsd:Quotation-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"><cbc:ID>Q9</cbc:ID><cbc:Note>Thanks</cbc:Note><cbc:PricingCurrencyCode>EUR</cbc:PricingCurrencyCode>${head}<cac:ValidityPeriod><cbc:EndDate>2026-05-01</cbc:EndDate></cac:ValidityPeriod>${lines}</Quotation>`
  const line = (id: string, price: string, unit = 'C62', currency = 'EUR', quantity = '10') =>
    `<cac:QuotationLine><cbc:ID>77</cbc:ID><cbc:Note>ok</cbc:Note><cac:LineItem><cbc:ID>1</cbc:ID><cbc:Quantity unitCode="${unit}">${quantity}</cbc:Quantity><cac:Price><cbc:PriceAmount currencyID="${currency}">${price}</cbc:PriceAmount><cbc:BaseQuantity>1</cbc:BaseQuantity></cac:Price></cac:LineItem><cac:RequestLineReference><cbc:LineID>${id}</cbc:LineID></cac:RequestLineReference></cac:QuotationLine>`
  const read = (text: string) => readQuotation(event, before, readUblQuotation(text), 'EUR')

  it('is read by the lines that it answers', () => {
    const { answer, left, differences } = read(xml(line('1', '8.5') + line('2', '4', 'MTR', 'EUR', '6')))
    expect(left).to.deep.equal([])
    expect(answer).to.deep.include({ validUntil: '2026-05-01', note: 'Thanks' })
    expect(answer.lines[0]).to.deep.include({ price: '8.5', priceBase: '1', quantity: '', note: 'ok', declined: false })
    expect(answer.lines[1]).to.deep.include({ price: '4', quantity: '6', declined: false })
    expect(differences.filter(one => one.line === 'Pump a').map(one => one.field)).to.deep.equal(['Price', 'Note'])
  })

  it('leaves lines that are not asked, in another unit, or without a figure that can be kept', () => {
    const { left } = read(xml(line('9', '1') + line('1', '1', 'KGM') + line('2', '1.1234567', 'MTR')))
    expect(left.map(one => `${one.row} ${one.reason.code}`)).to.deep.equal(['1 sheet.noLine', '2 units.noConversion', '3 answer.figure']) // prettier-ignore
  })

  it('is refused whole in another currency, for another request, or where it is another document', () => {
    expect(refusal(() => read(xml(line('1', '1', 'C62', 'NOK'))))).to.equal('answer.currency')
    const other =
      '<cac:RequestForQuotationDocumentReference><cbc:ID>E-9</cbc:ID></cac:RequestForQuotationDocumentReference>'
    expect(refusal(() => read(xml(line('1', '1'), other)))).to.equal('quotation.otherRequest')
    expect(refusal(() => read(xml(line('1', '1'), other.replace('E-9', 'E-1'))))).to.equal('')
    expect(refusal(() => readUblQuotation('<Order/>'))).to.equal('quotation.notOne')
  })
})

describe('a list of lines', () => {
  const columns = eventColumns(['Description', 'QTY', 'Unit', 'Need-by', 'Estimate', 'Category', 'Item number'])
  const row = (...cells: string[]) => readEventLine(cells, columns, 2)
  const faults = (...cells: string[]) => {
    const read = row(...cells)
    return 'reasons' in read ? read.reasons.map(one => one.code) : []
  }

  it('is read by its headings, in whatever case', () => {
    expect([...columns.keys()]).to.deep.equal(['description', 'quantity', 'unit', 'needBy', 'reference', 'category', 'item']) // prettier-ignore
    expect(eventColumns(['Bezeichnung', 'Menge', 'colour'])).to.deep.equal(new Map([['description', 0], ['quantity', 1]])) // prettier-ignore
    expect(row('Valve', '12', 'kg', '2026-05-01', '9,5', 'Valves', 'PS-1')).to.deep.equal({ line: { description: 'Valve', quantity: '12', unit: 'KGM', needBy: '2026-05-01', reference: '9.5', category: 'Valves', item: 'PS-1' } }) // prettier-ignore
    expect(row('Valve', '12')).to.deep.equal({ line: { description: 'Valve', quantity: '12', unit: 'C62', needBy: null, reference: '', category: '', item: '' } }) // prettier-ignore
  })

  it('says row by row what cannot be taken, and never guesses a figure', () => {
    expect(faults('', '12')).to.deep.equal(['lines.noText'])
    expect(faults('Valve', '0')).to.deep.equal(['lines.figure'])
    expect(faults('Valve', 'many')).to.deep.equal(['lines.figure'])
    expect(faults('Valve', '1,234')).to.deep.equal(['lines.twoFigures'])
    expect(faults('Valve', '1', 'bushel of', '1 May', '-2')).to.deep.equal(['lines.figure', 'lines.unit', 'lines.day'])
  })
})
