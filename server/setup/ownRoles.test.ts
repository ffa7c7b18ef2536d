import { expect } from 'chai'
import { AnswerPowerChange, ListPowerChanges } from '#contract/setup/people.ts'
import { BeginRules, ReadRuleSet, SaveRules } from '#contract/rules/endpoints.ts'
import { ChangePerson, ListPeople } from '#contract/setup/endpoints.ts'
import { DropRole, ReadRoles, SaveRole } from '#contract/setup/roles.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('roles of the house', () => {
  const world = useWorld()
  const roles = async () => (await (await world.as('Wren')).do(ReadRoles, {})).roles
  const role = async (code: string) => (await roles()).find(one => one.code === code)!
  const save = async (name: string, permissions: string[], id: string | null = null, version = 0) =>
    await (await world.as('Wren')).call(SaveRole, { body: { id, name, permissions, version } })
  const give = async (first: string, ...more: string[]) => {
    const wren = await world.as('Wren')
    const one = (await wren.do(ListPeople, {})).people.find(person => person.name.startsWith(first))!
    const kept = [...one.roles.filter(given => !more.includes(given.role)), ...more.map(code => ({ role: code, costCentre: null }))] // prettier-ignore
    const body = { version: one.version, active: one.active, roles: kept }
    return await wren.call(ChangePerson, { params: { id: one.id }, body })
  }

  /** A second person agrees to what waits. */
  async function agree() {
    const henrik = await world.as('Henrik')
    const change = (await henrik.do(ListPowerChanges, {})).changes[0]!
    const body = { version: change.version, answer: 'agree' as const, reason: '' }
    await henrik.do(AnswerPowerChange, { params: { id: change.id }, body })
    return change
  }

  it('are made of rights, given like any other, and work at once', async () => {
    expect((await save('Dock lead', ['order.read', 'setup.read'])).body.waits).to.equal(false)
    const ines = await world.as('Ines')
    expect((await ines.call(ReadRoles, {})).status).to.equal(403)
    expect((await give('Ines', 'Dock lead')).body.waits).to.equal(false)
    expect((await (await world.as('Ines')).call(ReadRoles, {})).status).to.equal(200)
    const made = await role('Dock lead')
    expect([made.own, made.people, made.permissions]).to.deep.equal([true, ['Ines Castellane'], ['order.read', 'setup.read']]) // prettier-ignore
    const trail = await world.db('history').where({ documentId: made.id }).select('action')
    expect(trail.map(row => row.action)).to.deep.equal(['created'])
  })

  it('refuse a name that is taken, in whatever letters, and rights that there are not', async () => {
    expect((await save('dock LEAD', [])).codes).to.deep.equal(['role.there'])
    expect((await save('Other', ['supplierPages.use'])).codes).to.deep.equal(['role.right'])
    expect((await save('', [])).codes).to.deep.equal(['role.name'])
  })

  it('give people more power over money by two people only', async () => {
    const made = await role('Dock lead')
    const asked = await save('', [...made.permissions, 'payment.approve'], made.id, made.version)
    expect([asked.status, asked.body.waits]).to.deep.equal([200, true])
    expect((await role('Dock lead')).permissions).to.not.include('payment.approve')
    const change = await agree()
    expect([change.what, change.name, change.gives]).to.deep.equal(['role', 'Dock lead', ['payment.approve']])
    const now = await role('Dock lead')
    expect(now.permissions).to.include('payment.approve')
    expect((await save('', ['order.read'], now.id, now.version)).body.waits).to.equal(false)
    const stale = await save('', [], now.id, now.version)
    expect([stale.status, stale.codes]).to.deep.equal([409, ['document.changed']])
  })

  it('never leave nobody who can change Setup, nor take that from whoever changes them', async () => {
    const steward = await role('steward')
    const less = steward.permissions.filter(one => one !== 'setup.write')
    expect((await save('', less, steward.id, steward.version)).codes).to.deep.equal(['role.nobodyLeft'])
    const lead = await role('Dock lead')
    await world
      .db('roles')
      .where({ id: lead.id })
      .update({ permissions: ['setup.write'] as never })
    expect((await save('', less, steward.id, steward.version)).codes).to.deep.equal(['person.ownStewardship'])
    await world
      .db('roles')
      .where({ id: lead.id })
      .update({ permissions: ['order.read'] as never })
  })

  it('stay while somebody has them, and those that the house began with for good', async () => {
    const wren = await world.as('Wren')
    const drop = async (code: string) => {
      const { id, version } = await role(code)
      return await wren.call(DropRole, { params: { id }, body: { version } })
    }
    expect((await drop('Dock lead')).codes).to.deep.equal(['role.used'])
    await save('Night watch', [])
    const { id, version } = await wren.do(BeginRules)
    const { rules } = await wren.do(ReadRuleSet, { params: { id } })
    const nights = {
      ...rules[0]!,
      name: 'Nights',
      who: { kind: 'role' as const, role: 'Night watch', inCentre: false },
    }
    await wren.do(SaveRules, { params: { id }, body: { version, rules: [...rules, nights] } })
    expect((await drop('Night watch')).codes).to.deep.equal(['role.asked'])
    expect((await drop('receiver')).codes).to.deep.equal(['role.stays'])
    await save('Nobody’s', [])
    expect((await drop('Nobody’s')).status).to.equal(200)
    expect((await roles()).map(one => one.code)).to.not.include('Nobody’s')
  })
})
