import { expect } from 'chai'
import { arranged, type Line, proposed } from '#web/order/proposals.ts'

const RULES = { byPlace: false, byIncoterm: false, windowDays: null }
const line = (id: string, more: Partial<Line> = {}): Line =>
  ({ id, supplierId: 'S1', supplier: 'Rope', currency: 'EUR', amount: '10.00', routes: ['orderNow'], agreement: '', addressId: 'A', incoterm: 'DAP', incotermPlace: 'Quay', needBy: null, ...more }) as Line // prettier-ignore
const ids = (all: { lines: { id: string }[] }[]): string[] => all.map(one => one.lines.map(own => own.id).join(' '))

describe('proposed orders that somebody has arranged', () => {
  const lines = [line('1'), line('2'), line('3')]
  const [all] = proposed(lines, RULES)
  const apart = [
    { ...all!, lines: [lines[0]!, lines[1]!] },
    { id: 'own 3', key: all!.key, lines: [lines[2]!] },
  ]

  it('begin as the rules propose them', () => {
    expect(ids(arranged([], lines, RULES))).to.deep.equal(['1 2 3'])
  })

  it('keep their lines when the pool is read anew, with what the lines are now', () => {
    const now = arranged(apart, [line('1', { amount: '12.00' }), line('2'), line('3')], RULES)
    expect(ids(now)).to.deep.equal(['1 2', '3'])
    expect(now[0]!.lines[0]!.amount).to.equal('12.00')
  })

  it('lose what is gone, and an order with nothing left', () => {
    expect(ids(arranged(apart, [line('2')], RULES))).to.deep.equal(['2'])
  })

  it('get what is new beside them, and what changed its supplier', () => {
    const now = arranged(apart, [line('1', { supplierId: 'S2' }), line('2'), line('3'), line('4')], RULES)
    expect(ids(now)).to.have.members(['2', '3', '4', '1'])
    expect(ids(now).slice(0, 2)).to.deep.equal(['2', '3'])
  })
})
