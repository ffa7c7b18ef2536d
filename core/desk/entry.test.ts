import { expect } from 'chai'
import type { ActorFacts } from '#core/acts/actor.ts'
import { audiencesOf, forPerson, forRight, forRole, urgency } from '#core/desk/entry.ts'
import { longJobDesk } from '#core/desk/longJob.ts'
import { stoodFor } from '#test-helpers/orderToPay.ts'

const actor: ActorFacts = {
  id: 'ines',
  name: 'Ines',
  rights: new Set(['order.write', 'budget.write']),
  roles: ['buyer'],
  costCentres: ['LS-210', 'EX-310'],
  supplierId: null,
  standsInFor: [stoodFor('marit')],
}

describe('what waits for whom', () => {
  it('waits for a person, for those they stand in for, for roles, and for rights everywhere or in their cost centres', () => {
    expect(audiencesOf(actor).map(one => one.name)).to.have.members([
      forPerson('ines'),
      forPerson('marit'),
      forRole('buyer'),
      forRight('order.write'),
      forRight('budget.write'),
      forRight('order.write', 'LS-210'),
      forRight('order.write', 'EX-310'),
      forRight('budget.write', 'LS-210'),
      forRight('budget.write', 'EX-310'),
    ])
  })

  it('waits for nobody by a right that they do not have, nor in another cost centre', () => {
    const audiences = audiencesOf(actor).map(one => one.name)
    expect(audiences).to.not.include(forRight('payment.approve'))
    expect(audiences).to.not.include(forRight('order.write', 'RS-710'))
    expect(audiencesOf({ ...actor, rights: new Set(), roles: [], standsInFor: [] })).to.deep.equal([
      { name: 'person:ines', stoodFor: null },
    ])
    expect(audiencesOf(actor).find(one => one.name === 'person:marit')!.stoodFor?.id).to.equal('marit')
  })

  it('stands with what stops first, then what is needed soonest, then the oldest', () => {
    const entry = (tone: 'stop' | 'plain' | 'attention', needBy: string | null, since: string) => ({
      tone,
      needBy,
      since,
    })
    const wanted = [
      entry('stop', '2026-12-01', '2026-11-20'),
      entry('stop', null, '2026-11-01'),
      entry('plain', '2026-11-24', '2026-11-22'),
      entry('attention', '2026-11-25', '2026-11-10'),
      entry('attention', '2026-11-25', '2026-11-11'),
      entry('plain', null, '2026-01-01'),
    ]
    const sorted = [...wanted].reverse().sort((a, b) => (urgency(a) < urgency(b) ? -1 : 1))
    expect(sorted).to.deep.equal(wanted)
  })
})

describe('a long job', () => {
  const job = {
    id: 'j',
    kind: 'supplierImport' as const,
    state: 'running' as const,
    byId: 'ines',
    seen: false,
    createdAt: '2026-11-23T08:00:00Z',
    startedAt: null,
    finishedAt: null,
    failure: null,
    result: null,
    total: 0,
    done: 0,
  }

  it('stands on the Desk of whoever started it while it runs, and until they have seen how it ended', () => {
    const keys = (changed: object): string[] => longJobDesk({ ...job, ...changed }).map(one => one.key)
    expect(keys({})).to.deep.equal(['longJob.supplierImport.runs'])
    expect(keys({ state: 'done', finishedAt: '2026-11-23T09:00:00Z' })).to.deep.equal(['longJob.supplierImport.done'])
    expect(keys({ state: 'failed', finishedAt: '2026-11-23T09:00:00Z' })).to.deep.equal([
      'longJob.supplierImport.failed',
    ])
    expect(keys({ state: 'done', seen: true, finishedAt: '2026-11-23T09:00:00Z' })).to.deep.equal([])
    expect(longJobDesk(job)[0]!.audiences).to.deep.equal(['person:ines'])
  })
})
