import { expect } from 'chai'
import { ReadDesk } from '#contract/desk/endpoints.ts'
import { ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { ChangePerson, ListPeople } from '#contract/setup/endpoints.ts'
import {
  ImportSetup,
  NewHouse,
  ReadFirst,
  ReadOrganisation,
  SaveCostCentre,
  SaveRate,
  SaveSignIn,
  SetUpHouse,
} from '#contract/setup/house.ts'
import { AnswerPowerChange, CreatePerson, ListPowerChanges, ResetSecondFactor } from '#contract/setup/people.ts'
import { writing } from '#server/call.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { firstLink } from '#server/setup/houseActs.ts'
import { goOnWithout } from '#server/setup/powerActs.ts'
import { draft, goodsLine } from '#test-helpers/steps.ts'
import { Client, useWorld, type World } from '#test-helpers/world.ts'

const role = (name: string, costCentre: string | null = null) => ({ role: name, costCentre })

async function personOf(world: World, name: string) {
  const { people } = await (await world.as('Wren')).do(ListPeople)
  return people.find(one => one.name.startsWith(name))!
}
/** Gives somebody other roles, as the steward. */
async function give(world: World, name: string, roles: ReturnType<typeof role>[]) {
  const { id, version } = await personOf(world, name)
  return await (await world.as('Wren')).call(ChangePerson, { params: { id }, body: { version, active: true, roles } })
}
async function answerAs(world: World, who: string, answer: 'agree' | 'refuse' | 'withdraw', reason = '') {
  const client = await world.as(who)
  const [change] = (await client.do(ListPowerChanges)).changes
  return await client.call(AnswerPowerChange, {
    params: { id: change!.id },
    body: { version: change!.version, answer, reason },
  })
}

describe('power over money', () => {
  const world = useWorld()

  it('is given to somebody by two people; until then they have what they had', async () => {
    expect((await give(world, 'Yuki', [role('receiver')])).body.waits, 'no power in it').to.equal(false)
    const asked = await give(world, 'Yuki', [role('receiver'), role('treasurer')])
    expect([asked.status, asked.body.waits]).to.deep.equal([200, true])
    expect((await personOf(world, 'Yuki')).roles.map(one => one.role)).to.deep.equal(['receiver'])
    const { changes } = await (await world.as('Adaeze')).do(ListPowerChanges)
    expect(changes[0]).to.deep.include({
      what: 'roles',
      gives: ['treasurer'],
      askedBy: (await personOf(world, 'Wren')).name,
      mayAnswer: true,
    })
    expect((await (await world.as('Adaeze')).do(ReadDesk)).items.map(item => item.act)).to.include('see')
    expect((await answerAs(world, 'Wren', 'agree')).codes, 'who asked').to.deep.equal(['secondYes.own'])
    expect((await answerAs(world, 'Adaeze', 'agree')).status).to.equal(200)
    expect((await personOf(world, 'Yuki')).roles.map(one => one.role).sort()).to.deep.equal(['receiver', 'treasurer'])
  })

  it('is never given to oneself, and not agreed to by whom it is given to', async () => {
    const wren = await personOf(world, 'Wren')
    const own = await give(world, 'Wren', [...wren.roles, role('treasurer')])
    expect([own.status, own.codes]).to.deep.equal([422, ['person.ownPower']])
    await give(world, 'Henrik', [role('director'), role('treasurer')])
    const { changes } = await (await world.as('Henrik')).do(ListPowerChanges)
    expect(changes[0]).to.deep.include({ mayAnswer: false })
    expect((await answerAs(world, 'Henrik', 'agree')).status).to.be.oneOf([403, 422])
    expect((await answerAs(world, 'Adaeze', 'refuse')).codes, 'why not').to.deep.equal(['decide.noReason'])
    expect((await answerAs(world, 'Adaeze', 'refuse', 'He approves runs already.')).status).to.equal(200)
    expect((await personOf(world, 'Henrik')).roles.map(one => one.role)).to.not.include('treasurer')
  })

  it('that is taken away is gone at once, and a change can be taken back by who asked', async () => {
    expect((await give(world, 'Casimir', [role('requester')])).body.waits).to.equal(false)
    await give(world, 'Casimir', [role('requester'), role('treasurer')])
    expect((await answerAs(world, 'Wren', 'withdraw')).status).to.equal(200)
    expect((await (await world.as('Adaeze')).do(ListPowerChanges)).changes).to.deep.equal([])
  })

  it('that was asked for before something else was changed is not given: an older wish never opens what was closed since', async () => {
    const before = await personOf(world, 'Yuki')
    await give(world, 'Yuki', [role('receiver'), role('treasurer'), role('buyer')])
    const { id, version } = await personOf(world, 'Yuki')
    const body = { version, active: false, roles: before.roles }
    await (await world.as('Wren')).do(ChangePerson, { params: { id }, body })
    expect((await answerAs(world, 'Adaeze', 'agree')).codes).to.deep.equal(['document.changed'])
    expect((await personOf(world, 'Yuki')).active).to.equal(false)
    expect((await answerAs(world, 'Wren', 'withdraw')).status, 'and it has a way out').to.equal(200)
  })

  it('of a cost centre goes to another holder by two people, and what waits moves along', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const joren = await world.as('Joren')
    await joren.do(SubmitRequisition, { params: { id }, body: { version, checkReason: 'Needed.' } })
    const asked = async () =>
      (await joren.do(ReadRequisition, { params: { id } })).steps.flatMap(step => step.approvers.map(one => one.name))
    expect(await asked()).to.deep.equal(['Marit Oland'])
    const wren = await world.as('Wren')
    const centre = (await wren.do(ReadOrganisation)).costCentres.find(one => one.code === 'LS-210')!
    const holder = (await personOf(world, 'Tobias').catch(() => undefined)) ?? (await personOf(world, 'Dov'))
    const body = { code: centre.code, name: centre.name, holderId: holder.id, version: centre.version }
    expect((await wren.do(SaveCostCentre, { body })).waits).to.equal(true)
    expect(await asked()).to.deep.equal(['Marit Oland'])
    await answerAs(world, 'Adaeze', 'agree')
    expect(await asked()).to.deep.equal([holder.name])
  })

  it('waits for a new person too, who has the harmless roles at once', async () => {
    const wren = await world.as('Wren')
    const body = {
      name: 'Nia Lowe',
      email: 'Nia@Saltmere.example',
      roles: [role('requester'), role('invoiceClerk')],
      managerId: null,
    }
    expect((await wren.do(CreatePerson, { body })).waits).to.equal(true)
    expect((await wren.call(CreatePerson, { body: { ...body, email: 'nia@saltmere.EXAMPLE' } })).codes).to.deep.equal([
      'person.mailTaken',
    ])
    const nia = await personOf(world, 'Nia')
    expect([nia.email, nia.roles.map(one => one.role)]).to.deep.equal(['nia@saltmere.example', ['requester']])
    await answerAs(world, 'Adaeze', 'agree')
    expect((await personOf(world, 'Nia')).roles.map(one => one.role)).to.deep.equal(['invoiceClerk', 'requester'])
  })
})

describe('power over money where one other person is left', () => {
  const world = useWorld()

  it('still takes two when that one is taken away, until whoever runs the machine lets go of them', async () => {
    const asked = async (name: string): Promise<boolean> =>
      (await give(world, name, [role('receiver'), role('treasurer')])).body.waits
    for (const name of ['Adaeze', 'Henrik'])
      expect((await give(world, name, [role('requester')])).body.waits, 'takes power away').to.equal(false)
    expect(await asked('Yuki'), 'nobody is there, and somebody was').to.equal(true)
    const call = writing(world.db, await settingOf(world.jobs))
    const names = await world.db.transaction(trx => goOnWithout({ ...call, trx } as typeof call))
    expect(names.map(name => name.split(' ')[0]).sort()).to.deep.equal(['Adaeze', 'Henrik'])
    expect(await asked('Dov'), 'a house of one person').to.equal(false)
  })
})

describe('what a house sets up', () => {
  const world = useWorld()

  it('are rates that hold from a day on and are not written over, above zero and for another currency', async () => {
    const wren = await world.as('Wren')
    const save = async (currency: 'SEK' | 'EUR', rate: string) =>
      (await wren.call(SaveRate, { body: { currency, validFrom: '2026-11-01', rate } })).codes
    expect(await save('SEK', '0')).to.deep.equal(['rate.none'])
    expect(await save('SEK', '-1')).to.deep.equal(['rate.none'])
    expect(await save('EUR', '1.1')).to.deep.equal(['rate.none'])
    expect(await save('SEK', '0.0891')).to.deep.equal([])
    expect(await save('SEK', '0.0892')).to.deep.equal(['rate.there'])
  })

  it('is how people come in: roles that are there, and rests between five minutes and twelve hours', async () => {
    const wren = await world.as('Wren')
    const save = async (idleMinutes: number, secondFactorRoles: string[]) =>
      (await wren.call(SaveSignIn, { body: { idleMinutes, secondFactorRoles } })).codes
    expect(await save(60, ['nobody'])).to.deep.equal(['person.role'])
    expect(await save(4, [])).to.deep.equal(['request.invalid'])
    expect(await save(60, ['treasurer'])).to.deep.equal([])
    expect((await wren.do(ReadOrganisation)).signIn).to.deep.equal({
      idleMinutes: 60,
      secondFactorRoles: ['treasurer'],
    })
    await world.db('settings').where({ key: 'signIn' }).delete()
    expect(
      (
        await wren.call(ResetSecondFactor, {
          params: { id: (await personOf(world, 'Wren')).id },
          body: { reason: 'lost' },
        })
      ).codes,
    ).to.deep.equal(['person.ownPower'])
  })

  it('comes in from files, all rows or none, with every fault at its place', async () => {
    const wren = await world.as('Wren')
    const take = async (what: 'people' | 'costCentres' | 'accounts', text: string) => {
      const { id } = (await wren.upload('in.csv', text)).body
      return await wren.do(ImportSetup, { params: { what }, body: { fileId: id, dryRun: false } })
    }
    const bad = await take(
      'people',
      'name;email;roles;manager\n;x;king;\nA B;a.b@saltmere.example;budgetHolder@LS-210|requester;nobody@saltmere.example\n',
    )
    expect(bad.faults.map(fault => `${fault.row} ${fault.place} ${fault.code}`)).to.have.members([
      '2 name import.missing',
      '2 email import.email',
      '2 roles import.unknownCode',
      '3 manager import.noPerson',
    ])
    expect(bad.loaded).to.equal(0)
    const centres = await take('costCentres', 'code;name;holder\nzz-1;New wing;\nls-210;Life support and water;\n')
    expect(centres.loaded).to.equal(2)
    expect((await wren.do(ReadOrganisation)).costCentres.map(one => one.name)).to.include.members([
      'New wing',
      'Life support and water',
    ])
    expect((await take('accounts', 'code;name\n6010;x\n6010;y\n')).faults[0]!.code).to.equal('import.codeTwice')
  })
})

describe('the first setup', () => {
  const world = useWorld(true)
  const house: NewHouse = {
    house: {
      name: 'Mill',
      street: 'Mill lane 1',
      postalCode: '1',
      city: 'Mill',
      country: 'NL',
      vat: '',
      zone: 'Europe/Amsterdam',
      base: 'EUR',
      fiscalYearFrom: 4,
    },
    administrator: { name: 'Ada', email: 'Ada@mill.example', password: 'wheels and water' },
    costCentres: [{ code: 'M-1', name: 'Mill' }],
    accounts: [{ code: '1', name: 'Flour' }],
  }

  it('is opened by the link that was shown alone, once, however many try at once', async () => {
    const nobody = new Client(world.address, '')
    const call = { trx: world.db, now: new Date().toISOString() }
    const old = (await firstLink(call)).split('/').at(-1)!
    const token = (await firstLink(call)).split('/').at(-1)!
    const set = (one: string, body = house) => nobody.call(SetUpHouse, { body: { token: one, ...body } })
    expect((await set('wrong-token-of-twenty-letters')).codes).to.deep.equal(['link.unknown'])
    expect((await set(old)).codes, 'an earlier link').to.deep.equal(['link.unknown'])
    expect((await nobody.do(ReadFirst, { query: { token } })).open).to.equal(true)
    const twice = { ...house, accounts: [house.accounts[0]!, house.accounts[0]!] }
    expect((await set(token, twice)).reasons[0]).to.deep.include({ code: 'first.twice', place: 'accounts.1.code' })
    const answers = await Promise.all([set(token), set(token), set(token)])
    expect(answers.map(answer => answer.status).sort()).to.deep.equal([200, 422, 422])
    expect(await world.db('people').where({ email: 'ada@mill.example' })).to.have.length(1)
    expect(await world.db('settings').where({ key: 'demo' }).first()).to.equal(undefined)
  })

  it('takes a house from a file only if it says what is needed', () => {
    const faults = (change: object): number => NewHouse.safeParse({ ...house, ...change }).error?.issues.length ?? 0
    expect(faults({})).to.equal(0)
    expect(faults({ house: { ...house.house, zone: 'Nowhere/City' } })).to.equal(1)
    expect(faults({ house: { ...house.house, country: 'nl' } })).to.equal(1)
    expect(faults({ costCentres: [] })).to.equal(1)
    expect(faults({ accounts: [{ code: 'a b', name: 'x' }] })).to.equal(1)
  })
})
