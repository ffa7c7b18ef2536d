import { expect } from 'chai'
import { stepBars } from '#web/charts/stepTimes.ts'

const at = (hour: number): string => new Date(Date.UTC(2026, 5, 1, hour)).toISOString()

describe('decisions on the axis of time', () => {
  it('stand from their opening to the decision, or to now', () => {
    const { bars } = stepBars(
      [
        { openedAt: at(0), decidedAt: at(5) },
        { openedAt: at(5), decidedAt: null },
        { openedAt: null, decidedAt: null },
      ],
      at(10),
      100,
    )
    expect(bars).to.deep.equal([{ from: 0, width: 50, open: false }, { from: 50, width: 50, open: true }, null])
  })
  it('are never too short to be seen, and nothing where nothing was opened', () => {
    expect(stepBars([{ openedAt: at(0), decidedAt: at(0) }], at(9), 100).bars[0]).to.deep.include({ width: 3 })
    expect(stepBars([{ openedAt: null, decidedAt: null }], at(9), 100)).to.deep.equal({ bars: [null], ticks: [] })
  })
})
