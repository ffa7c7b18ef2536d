import { expect } from 'chai'
import { paperValues, type PaperRun } from '#core/bill/paperValues.ts'

const run = (text: string, x = 10, y = 20, page = 1): PaperRun => ({ page, text, x, y, width: text.length * 5, height: 10 }) // prettier-ignore
const read = (...texts: string[]): string[] => paperValues(texts.map((text, row) => run(text, 10, row * 30))).map(({ kind, values }) => `${kind} ${values.join(' or ')}`) // prettier-ignore

describe('what a paper likely says', () => {
  it('finds days in every common writing, with both readings where there are two, and none that does not exist', () => {
    expect(read('Dated 2026-11-03')).to.deep.equal(['day 2026-11-03'])
    expect(read('Datum: 03.11.2026', 'fällig 3. 12. 26')).to.deep.equal(['day 2026-11-03', 'day 2026-12-03'])
    expect(read('Due 03/11/2026')).to.deep.equal(['day 2026-11-03 or 2026-03-11'])
    expect(read('Due 13/11/2026')).to.deep.equal(['day 2026-11-13'])
    expect(read('5/5/2026')).to.deep.equal(['day 2026-05-05'])
    expect(read('3 November 2026', 'March 12, 2026', '12. März 2026', '7 août 2026', '2nd of nothing 2026')).to.deep.equal(['day 2026-11-03', 'day 2026-03-12', 'day 2026-03-12', 'day 2026-08-07']) // prettier-ignore
    expect(read('31.02.2026', '2026-13-01', '12 Monkeys 2026')).to.deep.equal([])
  })

  it('finds amounts with either mark, and takes no percentage, quantity or long number for one', () => {
    expect(read('Total 1.234,56', 'EUR 12345,67')).to.deep.equal(['amount 1234.56', 'amount 12345.67'])
    expect(read('Total EUR 1,234.56', '99.00', '-12,50', "1'234'567.80", '12 345,67')).to.deep.equal(['amount 1234.56', 'amount 99.00', 'amount -12.50', 'amount 1234567.80', 'amount 12345.67']) // prettier-ignore
    expect(read('VAT 21.00 %', '19,00%', '12 pieces', '1.234', '3.1415', '192.168.10.20')).to.deep.equal([])
  })

  it('takes accounts and VAT numbers only where their check digits agree', () => {
    expect(read('IBAN DE89 3704 0044 0532 0130 00')).to.deep.equal(['iban DE89370400440532013000'])
    expect(read('NL91ABNA0417164300 BIC ABNANL2A')).to.deep.equal(['iban NL91ABNA0417164300'])
    expect(read('IBAN FR76 3000 6000 0112 3456 7890 189 TVA FR40303265045')).to.deep.equal(['iban FR7630006000011234567890189', 'vat FR40303265045']) // prettier-ignore
    expect(read('IBAN DE89 3704 0044 0532 0130 01')).to.deep.equal([])
    expect(read('VAT DE136695976', 'VAT DE136695977')).to.deep.equal(['vat DE136695976'])
  })

  it('takes a number of an invoice beside its word only, and the numbers of our orders', () => {
    expect(read('Invoice no. GS-2026/17', 'Rechnungs-Nr.: 4711', 'Facture n° F26-9')).to.deep.equal(['invoiceNumber GS-2026/17', 'invoiceNumber 4711', 'invoiceNumber F26-9']) // prettier-ignore
    expect(read('Invoice number: none', 'GS-2026/17', 'Customer no. 4711')).to.deep.equal([])
    expect(read('Your order O-4063 of 2026-11-01')).to.deep.equal(['order O-4063', 'day 2026-11-01'])
  })

  it('reads what stands in several runs of one line, and says where it is', () => {
    const values = paperValues([run('Total', 10), run('1.2', 100), run('34,56', 115), run('77,00', 10, 90), run('88,00', 10, 20, 2)]) // prettier-ignore
    expect(values.map(({ page, values, x, y, width }) => [page, values[0], x, y, width])).to.deep.equal([
      [1, '1234.56', 100, 20, 40],
      [1, '77.00', 10, 90, 25],
      [2, '88.00', 10, 20, 25],
    ])
    const [part] = paperValues([run('Total 99,00 EUR', 10)])
    expect([part!.x, part!.width]).to.deep.equal([40, 25])
    expect(paperValues([run('1 234,5', 10), run('6', 200)])).to.deep.equal([])
  })
})
