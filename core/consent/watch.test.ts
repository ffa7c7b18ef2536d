import { expect } from 'chai'
import { clockSays, type TimedStep } from '#core/consent/watch.ts'

const at = (time: string): string => `2026-06-02T${time}:00.000Z`

describe('the clock of a decision', () => {
  const step: TimedStep = {
    dueAt: at('12:00'),
    remindAt: at('10:00'),
    paused: false,
    remindedAt: null,
    lateToldAt: null,
  }
  const says = (time: string, changed: Partial<TimedStep> = {}) => clockSays({ ...step, ...changed }, at(time))

  it('reminds once when its part is over, and says once that all of it is', () => {
    expect(says('09:59')).to.equal(null)
    expect(says('10:00')).to.equal('remind')
    expect(says('11:00', { remindedAt: at('10:00') })).to.equal(null)
    expect(says('12:00', { remindedAt: at('10:00') })).to.equal('late')
    expect(says('12:00')).to.equal('late')
    expect(says('13:00', { lateToldAt: at('12:00') })).to.equal(null)
  })

  it('stands while an answer is waited for, and reminds nobody where the house wants none', () => {
    expect(says('13:00', { paused: true })).to.equal(null)
    expect(says('11:59', { remindAt: null })).to.equal(null)
    expect(says('12:00', { remindAt: null })).to.equal('late')
  })
})
