import { expect } from 'chai'
import { clausesFor, clauseText, type ClauseFacts, type ClauseVersion, inForce, whyNotClause } from '#core/order/clauses.ts' // prettier-ignore

const clause = (more: Partial<ClauseVersion> = {}): ClauseVersion => ({ clauseId: 'a', version: 1, name: 'Packing', from: '2026-01-01', ended: false, scope: 'all', categories: [], countries: [], text: { en: 'Returnable crates only.' }, ...more }) // prettier-ignore
const facts = (more: Partial<ClauseFacts> = {}): ClauseFacts => ({ day: '2026-06-01', country: 'NO', lines: [{ kind: 'goods', category: 'Seals' }], above: new Map([['Seals', 'Pumps'], ['Pumps', null], ['Food', null]]), ...more }) // prettier-ignore
const names = (versions: ClauseVersion[], more: Partial<ClauseFacts> = {}) => clausesFor(versions, facts(more)).map(one => one.name) // prettier-ignore

describe('clauses of orders', () => {
  it('are in force in the version that began last', () => {
    const versions = [clause({ version: 2, from: '2026-06-01', name: 'Packing, new' }), clause(), clause({ version: 3, from: '2026-07-01', ended: true })] // prettier-ignore
    const on = (day: string) => inForce(versions, day).map(one => one.name)
    expect([on('2025-12-31'), on('2026-01-01'), on('2026-05-31'), on('2026-06-01'), on('2026-07-01')]).to.deep.equal([[], ['Packing'], ['Packing'], ['Packing, new'], []]) // prettier-ignore
    const two = [clause({ clauseId: 'b', name: 'Zinc' }), clause({ clauseId: 'c', name: 'Anodes' }), clause()]
    expect(inForce(two, '2026-06-01').map(one => one.name)).to.deep.equal(['Anodes', 'Packing', 'Zinc'])
  })

  it('stand for a category and all below it, where one line is enough', () => {
    const pumps = clause({ categories: ['Pumps', 'Food'] })
    expect(clausesFor([pumps], facts())[0]!.because).to.deep.equal(['Pumps'])
    expect(names([pumps], { lines: [{ kind: 'goods', category: 'Other' }] })).to.deep.equal([])
    expect(names([pumps], { lines: [{ kind: 'goods', category: 'Other' }, { kind: 'goods', category: 'Food' }] })).to.deep.equal(['Packing']) // prettier-ignore
    expect(names([pumps], { lines: [{ kind: 'goods', category: '' }] })).to.deep.equal([])
    expect(clausesFor([clause()], facts())[0]!.because).to.deep.equal([])
  })

  it('stand for countries of suppliers', () => {
    const north = clause({ countries: ['NO', 'SE'] })
    expect(clausesFor([north], facts())[0]!.because).to.deep.equal(['NO'])
    expect(names([north], { country: 'DE' })).to.deep.equal([])
  })

  it('stand for goods or for work, and a category of them has to be of those', () => {
    const [goods, work] = [clause({ scope: 'goods' }), clause({ clauseId: 'b', scope: 'work', name: 'Safety' })]
    expect(names([goods, work])).to.deep.equal(['Packing'])
    expect(names([goods, work], { lines: [{ kind: 'workByRate', category: 'Seals' }] })).to.deep.equal(['Safety'])
    expect(names([goods], { lines: [{ kind: 'goodsByAmount', category: '' }] })).to.deep.equal(['Packing'])
    const workOnPumps = clause({ scope: 'work', categories: ['Pumps'] })
    expect(names([workOnPumps], { lines: [{ kind: 'goods', category: 'Pumps' }, { kind: 'fixedPriceWork', category: 'Food' }] })).to.deep.equal([]) // prettier-ignore
    expect(names([clause()], { lines: [] })).to.deep.equal([])
  })

  it('are said in the language of the document, else in the house’s first', () => {
    const text = { en: 'Crates.', de: 'Kisten.' }
    expect([clauseText(text, 'de', 'en'), clauseText(text, 'nl', 'en'), clauseText({}, 'nl', 'en')]).to.deep.equal(['Kisten.', 'Crates.', '']) // prettier-ignore
  })

  it('follow each other by versions that begin today or later', () => {
    const known = { today: '2026-06-01', first: 'en', categories: new Set(['Pumps']) }
    const codes = (more: Partial<ClauseVersion>, before: ClauseVersion | null = null) =>
      whyNotClause(clause({ from: '2026-06-01', ...more }), before, known).map(one => `${one.code} ${one.place}`)
    expect(codes({ categories: ['Pumps'], countries: ['NO'] })).to.deep.equal([])
    expect(codes({ from: '2026-05-31' })).to.deep.equal(['clause.from from'])
    expect(codes({ from: '2026-06-31' })).to.deep.equal(['clause.from from'])
    expect([codes({}, clause({ from: '2026-06-02' })), codes({}, clause({ from: '2026-06-01' }))]).to.deep.equal([['clause.before from'], []]) // prettier-ignore
    expect(codes({ name: ' ' })).to.deep.equal(['clause.name name'])
    expect([codes({ text: { en: ' ', de: 'Kisten.' } }), codes({ text: {}, ended: true })]).to.deep.equal([['clause.text text'], []]) // prettier-ignore
    expect(codes({ categories: ['Zinc'] })).to.deep.equal(['clause.category categories'])
    expect(codes({ countries: ['no'] })).to.deep.equal(['clause.country countries'])
  })
})
