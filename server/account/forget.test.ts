import { expect } from 'chai'
import { ChangePerson, ListPeople } from '#contract/setup/endpoints.ts'
import { RuleBroken } from '#core/reasons.ts'
import { exportPerson, forgetPerson, pseudonym } from '#server/account/forget.ts'
import { writing } from '#server/call.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('somebody who left', () => {
  const world = useWorld()
  const within = async <T>(work: (call: ReturnType<typeof writing>) => Promise<T>): Promise<T> => {
    const setting = await settingOf(world.jobs)
    return await world.db.transaction(trx => work(writing(trx, setting)))
  }
  const refusal = (work: Promise<unknown>): Promise<string> =>
    work.then(
      () => '',
      (error: unknown) => (error instanceof RuleBroken ? error.reasons[0]!.code : String(error)),
    )

  it('reads everything that is kept about them, but no secret', async () => {
    const { id, name } = (await world.db('people').where('name', 'like', 'Dov %').first('id', 'name'))!
    const kept = await within(call => exportPerson(call, id))
    const text = JSON.stringify(kept)
    expect(text).to.include(name)
    expect((kept.history as unknown[]).length).to.be.above(0)
    expect(text).to.not.match(/argon2|passwordHash|"secondFactor"/)
  })

  it('is taken out only when the account is closed, once; what they did stays, under a pseudonym', async () => {
    const { id, name, email } = (await world.db('people').where('name', 'like', 'Dov %').first('id', 'name', 'email'))!
    expect(await refusal(within(call => forgetPerson(call, id, 'asked for it')))).to.equal('person.stillHere')
    const wren = await world.as('Wren')
    const { version, roles } = (await wren.do(ListPeople)).people.find(one => one.id === id)!
    await wren.do(ChangePerson, { params: { id }, body: { version, active: false, roles } })
    const deeds = async () => Number((await world.db('history').where({ actorId: id }).select('hash')).length)
    const before = await deeds()
    expect(await within(call => forgetPerson(call, id, 'asked for it'))).to.equal(pseudonym(id))
    const row = (await world.db('people').where({ id }).first('name', 'email', 'passwordHash', 'active'))!
    expect([row.name, row.passwordHash, row.active]).to.deep.equal([pseudonym(id), null, false])
    expect(JSON.stringify(row)).to.not.include(email).and.not.include(name)
    expect(await deeds(), 'the history is whole').to.equal(before)
    expect(await refusal(within(call => forgetPerson(call, id, 'again')))).to.equal('person.forgotten')
  })
})
