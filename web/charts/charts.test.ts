import { expect } from 'chai'
import fc from 'fast-check'
import { budgetGeometry } from '#web/charts/budgetGeometry.ts'
import { gaugeGeometry } from '#web/charts/gaugeGeometry.ts'
import { riverGeometry } from '#web/charts/riverGeometry.ts'
import { threadGeometry } from '#web/charts/threadGeometry.ts'

describe('the Gauge', () => {
  const figures = { ordered: '8', confirmed: '6', received: '4', accepted: '0', billed: '2', paid: '0' }

  it('nests its lengths on the ordered quantity', () => {
    expect(gaugeGeometry(figures, 160)).to.deep.equal({
      frame: 160,
      confirmed: 120,
      proven: 80,
      billed: 40,
      paid: 0,
      over: 0,
    })
  })

  it('lets what goes over stick out of the frame', () => {
    const shape = gaugeGeometry({ ...figures, received: '10' }, 100)
    expect([shape.frame, shape.proven, shape.over]).to.deep.equal([80, 100, 20])
  })
})

describe('the Thread strip', () => {
  it('narrows by what is missing at each step', () => {
    const bands = threadGeometry([100, 100, 75, 75, 0, 0, 0], { width: 700, height: 40, gap: 8, top: 20 })
    expect(bands.map(band => band.height)).to.deep.equal([40, 40, 30, 30, 0, 0, 0])
    expect(bands[2]!.missing).to.equal(10)
    expect(bands.map(band => band.x)).to.deep.equal([0, 100, 200, 300, 400, 500, 600])
  })

  it('never leaves its height, whatever the values', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1e12, noNaN: true }), { minLength: 1, maxLength: 9 }), values => {
        for (const band of threadGeometry(values, { width: 600, height: 34, gap: 8, top: 24 }))
          expect(band.height).to.be.within(0, 34)
      }),
    )
  })
})

describe('the budget bar', () => {
  const budget = {
    allotted: '1000',
    spent: '400',
    committed: '200',
    reserved: '100',
    here: '100',
    available: '300',
    after: '200',
  }

  it('hatches this document after what is used, before it counts', () => {
    expect(budgetGeometry(budget, 100)).to.deep.equal({
      spent: [0, 40],
      committed: [40, 60],
      reserved: [60, 70],
      here: [70, 80],
      end: 80,
      overdrawn: false,
      frame: 100,
    })
  })

  it('hatches it inside what is used, once it counts', () => {
    expect(budgetGeometry({ ...budget, after: '300' }, 100).here).to.deep.equal([60, 70])
  })

  it('goes over its frame when overdrawn', () => {
    const shape = budgetGeometry({ ...budget, here: '1300', after: '-1000' }, 100)
    expect([shape.overdrawn, shape.frame, shape.end]).to.deep.equal([true, 50, 100])
  })
})

describe('the line under the stages', () => {
  it('is thickest where most is open, and never gone', () => {
    const { thickness, path } = riverGeometry([0, 400, 100], { width: 300, height: 18 })
    expect(thickness[1]).to.equal(18)
    expect(thickness[0]).to.equal(1.5)
    expect(thickness[2]).to.be.within(9, 11)
    expect(path)
      .to.match(/^M0,8.25C/)
      .and.match(/Z$/)
    const heights = [...path.matchAll(/,(-?[\d.]+)/g)].map(found => Number(found[1]))
    expect([Math.min(...heights), Math.max(...heights)], 'it stays in its room').to.deep.equal([0, 18])
  })
})
