import { expect } from 'chai'
import { minor } from '#core/money/amount.ts'
import { type LadderStep, priceLadder } from '#core/request/comparison.ts'
import { ladderGeometry } from '#web/charts/ladderGeometry.ts'

const steps: LadderStep[] = priceLadder({
  currency: 'EUR',
  priceBase: '1',
  minimum: '10',
  multiple: '5',
  leadTimeDays: 3,
  validFrom: '2026-01-01',
  validTo: null,
  tiers: [
    { from: '10', price: '10' },
    { from: '100', price: '8' },
    { from: '400', price: '7.9' },
  ],
})
const drawn = (wanted: { quantity: string; total: bigint } | null = null) => ladderGeometry(steps, wanted, 360, 132)

describe('the price ladder as a picture', () => {
  it('draws one straight part a tier, joined in quantity and falling where a tier begins', () => {
    const { parts } = drawn()
    expect(parts).to.have.length(3)
    expect(parts[1]!.x1).to.equal(parts[0]!.x2)
    expect(parts[1]!.y1).to.be.above(parts[0]!.y2)
    for (const part of parts) expect(part.y2).to.be.below(part.y1)
  })

  it('marks where buying up to the next tier costs less, and only there', () => {
    const { cheaper, parts } = drawn()
    expect(cheaper.map(one => [one.from, one.upTo])).to.deep.equal([['85', '100']])
    expect(cheaper[0]!.x2).to.equal(parts[1]!.x1)
  })

  it('stays inside its box, with the wanted quantity even beyond the last tier', () => {
    const { parts, wanted } = drawn({ quantity: '5000', total: minor(3_950_000) })
    for (const { x1, x2, y1, y2 } of parts)
      for (const [value, most] of [
        [x1, 360],
        [x2, 360],
        [y1, 132],
        [y2, 132],
      ])
        expect(value).to.be.within(0, most!)
    expect(wanted!.x).to.be.within(0, 360)
    expect(wanted!.y).to.be.within(0, 132)
  })

  it('of one tier is one line', () => {
    const { parts, cheaper, ticks } = ladderGeometry(steps.slice(0, 1), null, 360, 132)
    expect([parts.length, cheaper.length, ticks.map(tick => tick.label)]).to.deep.equal([1, 0, ['10']])
  })
})
