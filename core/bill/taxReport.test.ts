import { expect } from 'chai'
import fc from 'fast-check'
import { type TaxedDocument, taxReport } from '#core/bill/taxReport.ts'
import { minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'

const RATES = [{ country: 'NL', rate: '9' }, { country: 'NL', rate: '21' }] // prettier-ignore
const tax = (category: string, rate: string, taxable: string, amount: string) => ({ category, rate, taxable, tax: amount }) // prettier-ignore
const paper = (changed: Partial<TaxedDocument> = {}): TaxedDocument => ({ id: 'a', sign: 1, currency: 'EUR', rate: '1', tax: minor(2_100), taxes: [tax('S', '21', '100.00', '21.00')], country: 'NL', ...changed }) // prettier-ignore
const report = (...documents: TaxedDocument[]) => taxReport(documents, RATES, 'EUR').map(({ country, category, rate, taxable, tax, owed, documents }) => [country, category, rate, taxable, tax, owed, documents.map(one => one.id).join()]) // prettier-ignore

describe('VAT of a period', () => {
  it('is summed by country, category and rate, less what gave back, open to its documents', () => {
    const two = paper({ id: 'b', tax: minor(3_000), taxes: [tax('S', '21.00', '100.00', '21.00'), tax('S', '9', '100.00', '9.00')] }) // prettier-ignore
    expect(report(paper(), two, paper({ id: 'c', sign: -1 }), paper({ id: 'd', country: 'DE', taxes: [tax('S', '19', '10.00', '1.90')], tax: minor(190) }))).to.deep.equal([
      ['DE', 'S', '19', 1_000n, 190n, 0n, 'd'],
      ['NL', 'S', '21', 10_000n, 2_100n, 0n, 'a,b,c'],
      ['NL', 'S', '9', 10_000n, 900n, 0n, 'b'],
    ]) // prettier-ignore
  })

  it('says what we owe ourselves where the seller charges none because we do, at our highest rate', () => {
    const none = (id: string, category: string) => paper({ id, country: 'DE', tax: minor(0), taxes: [tax(category, '0', '10.03', '0.00')] }) // prettier-ignore
    expect(report(none('a', 'AE'), none('b', 'K'), none('c', 'Z'), { ...none('d', 'E'), sign: -1 })).to.deep.equal([
      ['DE', 'AE', '0', 1_003n, 0n, 211n, 'a'],
      ['DE', 'E', '0', -1_003n, 0n, 0n, 'd'],
      ['DE', 'K', '0', 1_003n, 0n, 211n, 'b'],
      ['DE', 'Z', '0', 1_003n, 0n, 0n, 'c'],
    ]) // prettier-ignore
    expect(taxReport([none('a', 'AE')], [], 'EUR')[0]!.owed).to.equal(0n)
  })

  it('is converted at each document’s own rate and re-adds to the whole tax of each', () => {
    const amount = fc.integer({ min: 1, max: 99_999 })
    fc.assert(
      fc.property(fc.array(fc.record({ net: fc.array(amount, { minLength: 1, maxLength: 4 }), rate: fc.integer({ min: 1, max: 3_000 }), back: fc.boolean() }), { maxLength: 6 }), made => {
        const documents = made.map(({ net, rate, back }, at) => {
          const taxes = net.map((one, index) => tax('S', String(5 + index), (one / 100).toFixed(2), (Math.round((one * (5 + index)) / 100) / 100).toFixed(2))) // prettier-ignore
          return paper({ id: String(at), currency: 'USD', rate: (rate / 1000).toFixed(3), sign: back ? -1 : 1, taxes, tax: minor(taxes.reduce((sum, one) => sum + Math.round(Number(one.tax) * 100), 0)) }) // prettier-ignore
        })
        const rows = taxReport(documents, RATES, 'EUR')
        const whole = documents.reduce<bigint>((sum, one) => sum + BigInt(one.sign) * toBase(one.tax, 'USD', one.rate, 'EUR'), 0n) // prettier-ignore
        expect(sumMinor(rows.map(row => row.tax))).to.equal(whole)
        for (const row of rows) expect(sumMinor(row.documents.map(one => one.taxable))).to.equal(row.taxable)
      }),
    ) // prettier-ignore
  })

  it('puts a cent that is apart with the largest tax', () => {
    const apart = paper({ tax: minor(3_001), taxes: [tax('S', '9', '100.00', '9.00'), tax('S', '21', '100.00', '21.00')] }) // prettier-ignore
    expect(report(apart).map(row => row[4])).to.deep.equal([2_101n, 900n])
    expect(report(paper({ taxes: [] }))).to.deep.equal([])
  })
})
