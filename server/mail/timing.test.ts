import { expect } from 'chai'
import { KeepPreference } from '#contract/people/preferences.ts'
import type { MailWish } from '#core/people/mailTiming.ts'
import { inTransaction } from '#server/jobs/parts.ts'
import { sendDigests } from '#server/mail/digest.ts'
import { approved, goodsLine } from '#test-helpers/steps.ts'
import { send, useWorld } from '#test-helpers/world.ts'

const HOUR = 3_600_000
const later = (hours: number): string => new Date(Date.now() + hours * HOUR).toISOString()

describe('mails about the work', () => {
  const world = useWorld()
  const wishes = async (value: MailWish): Promise<void> => {
    await (await world.as('Joren')).do(KeepPreference, { body: { key: 'mails', subject: '', value } })
  }
  /** Joren’s request is approved; what she is told of it. */
  const told = async (title: string) => {
    await approved(world, [await goodsLine(world, 'PS-1200', '1')], title)
    return await world
      .db('outbox')
      .whereRaw(`payload ->> 'subject' like ?`, [`%was approved: ${title}`])
      .select('id', 'state', 'notBefore')
  }

  it('come at once, where nobody says otherwise', async () => {
    const [one] = await told('At once')
    expect(Date.parse(one!.notBefore!)).to.be.at.most(Date.now())
  })

  it('are not written, where somebody wants none', async () => {
    await wishes({ when: 'never', quietFrom: '', quietTo: '' })
    expect(await told('Never')).to.deep.equal([])
  })

  it('wait for the end of the quiet hours, whoever tries to send them before', async () => {
    await wishes({ when: 'atOnce', quietFrom: '00:15', quietTo: '00:00' })
    const [one] = await told('Quiet')
    expect(one!.notBefore! > later(0)).to.equal(true)
    await send(world, one!.id)
    expect((await world.db('outbox').where({ id: one!.id }).first('state', 'attempts'))!).to.deep.equal({
      state: 'waiting',
      attempts: 0,
    })
    await send({ ...world, jobs: { ...world.jobs, clock: () => later(30) } }, one!.id)
    expect((await world.db('outbox').where({ id: one!.id }).first('state'))!.state).to.equal('sent')
  })

  it('come together in the morning, once, and lead to each', async () => {
    await wishes({ when: 'daily', quietFrom: '', quietTo: '' })
    expect([await told('First of two'), await told('Second of two')]).to.deep.equal([[], []])
    await inTransaction(world.jobs, sendDigests)
    const digests = () =>
      world
        .db('outbox')
        .whereRaw(`payload ->> 'subject' = '2 things since yesterday'`)
        .select<{ payload: { to: string; text: string } }[]>('payload')
    expect(await digests()).to.deep.equal([])
    for (let twice = 0; twice < 2; twice++) await inTransaction({ ...world.jobs, clock: () => later(30) }, sendDigests)
    const [digest, ...more] = await digests()
    expect(more).to.deep.equal([])
    expect(digest!.payload.text).to.match(
      /was approved: First of two\n {2}\/request\/.+\n· .+ Second of two\n {2}\/request\//,
    )
    expect(await world.db('mailDigest').select('id')).to.deep.equal([])
  })

  it('are wished for in times that there are', async () => {
    const answer = await (
      await world.as('Joren')
    ).call(KeepPreference, { body: { key: 'mails', subject: '', value: { when: 'daily', quietFrom: '25:00', quietTo: '' } } }) // prettier-ignore
    expect(answer.status).to.equal(400)
  })
})
