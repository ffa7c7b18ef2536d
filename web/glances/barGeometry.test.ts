import { expect } from 'chai'
import { drawBars, shortAmount } from '#web/glances/barGeometry.ts'

describe('the bars of a glance', () => {
  const bar = (key: string, amount: string, part = '0') => ({ key, amount, part })
  it('are as high as their amounts, filled from the ground, and stay in the picture', () => {
    const [half, full, none, tiny] = drawBars(
      [bar('a', '50', '25'), bar('b', '100', '100'), bar('c', '0'), bar('d', '0.01')],
      { width: 400, height: 100 },
    )
    expect([half?.height, half?.top, half?.partHeight, half?.partTop]).to.deep.equal([50, 50, 25, 75])
    expect([full?.height, full?.partHeight, none?.height, tiny?.height]).to.deep.equal([100, 100, 0, 2])
    expect(half!.x).to.be.at.least(0)
    expect(tiny!.x + tiny!.width).to.be.at.most(400)
    expect(half!.x + half!.width).to.be.lessThan(full!.x)
  })

  it('are named in thousands', () => {
    expect(['34912.50', '5180', '12', '0', '1234567.00'].map(shortAmount)).to.deep.equal([
      '34.9',
      '5.2',
      '<0.1',
      '',
      '1\u00a0235',
    ])
  })
})
