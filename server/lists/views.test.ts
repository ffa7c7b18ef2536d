import { expect } from 'chai'
import { ChangeView, DropView, KeepView, ReadViewAudience, ReadViews } from '#contract/lists/views.ts'
import { KeepPreference, ReadPreferences } from '#contract/people/preferences.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('saved views', () => {
  const world = useWorld()
  const orders = { params: { list: 'orders' } }
  const late = {
    name: 'Late, by supplier',
    asked: { view: 'open', where: 'needBy.last:400', group: 'supplier' },
    columns: [{ key: 'supplier', width: 200, pinned: true, hidden: false }],
    roles: [] as string[],
    people: [] as string[],
  }
  const views = async (who: string) => (await (await world.as(who)).do(ReadViews, orders)).views
  const idOf = async (name: string): Promise<string> =>
    (await world.db('people').where('name', 'like', `${name}%`).first('id'))!.id
  afterEach(() => world.db('savedViews').delete())

  it('are their owner’s until they are shared with a person or a role', async () => {
    const pilar = await world.as('Pilar')
    const { id, version } = await pilar.do(KeepView, { ...orders, body: late })
    expect((await views('Pilar'))[0]).to.deep.include({
      id,
      name: late.name,
      mine: true,
      asked: late.asked,
      columns: late.columns,
    })
    expect(await views('Rasmus')).to.deep.equal([])
    const shared = await pilar.do(ChangeView, {
      params: { id },
      body: { ...late, people: [await idOf('Rasmus')], version },
    })
    expect((await views('Rasmus'))[0]).to.deep.include({ id, mine: false, owner: 'Pilar Quenneville', people: [] })
    expect(await views('Adaeze')).to.deep.equal([])
    await pilar.do(ChangeView, {
      params: { id },
      body: { ...late, roles: ['financeController'], version: shared.version },
    })
    expect((await views('Adaeze')).map(one => one.id)).to.deep.equal([id])
    expect(await views('Rasmus')).to.deep.equal([])
  })

  it('are changed and dropped by their owner alone', async () => {
    const pilar = await world.as('Pilar')
    const rasmus = await world.as('Rasmus')
    const { id, version } = await pilar.do(KeepView, { ...orders, body: { ...late, people: [await idOf('Rasmus')] } })
    const change = { params: { id }, body: { ...late, name: 'Mine now', version } }
    expect((await rasmus.call(ChangeView, change)).codes).to.deep.equal(['document.notFound'])
    expect((await rasmus.call(DropView, { params: { id } })).codes).to.deep.equal(['document.notFound'])
    await rasmus.do(KeepPreference, { body: { key: 'start', subject: 'orders', value: id } })
    expect((await rasmus.do(ReadViews, orders)).start).to.equal(id)
    await pilar.do(DropView, { params: { id } })
    expect(await rasmus.do(ReadViews, orders)).to.deep.equal({ views: [], start: null })
  })

  it('have one name each, and are not written over unseen', async () => {
    const pilar = await world.as('Pilar')
    const { id, version } = await pilar.do(KeepView, { ...orders, body: late })
    const again = await pilar.call(KeepView, { ...orders, body: { ...late, name: 'LATE, by supplier' } })
    expect([again.codes, again.reasons[0]?.place]).to.deep.equal([['view.nameTaken'], 'name'])
    await pilar.do(ChangeView, { params: { id }, body: { ...late, version } })
    const stale = await pilar.call(ChangeView, { params: { id }, body: { ...late, version } })
    expect([stale.status, stale.codes]).to.deep.equal([409, ['view.changed']])
  })

  it('are of lists that there are and that one may read', async () => {
    const ines = await world.as('Ines')
    expect((await ines.call(ReadViews, { params: { list: 'payables' } })).status).to.equal(403)
    expect((await ines.call(KeepView, { params: { list: 'payables' }, body: late })).status).to.equal(403)
    for (const list of ['nothing', '__proto__', 'constructor'])
      expect((await ines.call(ReadViews, { params: { list } })).status, list).to.equal(404)
  })

  it('can be shared with whoever may read the list, and nobody else', async () => {
    const { roles, people } = await (await world.as('Pilar')).do(ReadViewAudience, orders)
    expect(roles).to.include('buyer').and.not.include('supplier')
    const names = people.map(one => one.name.split(' ')[0])
    expect(names).to.include('Rasmus').and.not.include('Pilar')
    const closed = await world.db('people').where({ active: false }).select('name')
    for (const { name } of closed) expect(people.map(one => one.name)).to.not.include(name)
  })

  it('of one person and list are no more than sixty', async () => {
    const pilar = await world.as('Pilar')
    for (let count = 0; count < 60; count++)
      await pilar.do(KeepView, { ...orders, body: { ...late, name: `View ${count}` } })
    expect((await pilar.call(KeepView, { ...orders, body: late })).codes).to.deep.equal(['view.tooMany'])
  })
})

describe('what is remembered of a person', () => {
  const world = useWorld()

  it('follows them from one browser to another, the last one winning, and is nobody else’s', async () => {
    const pilar = await world.as('Pilar')
    await pilar.do(KeepPreference, { body: { key: 'split', subject: 'order', value: 30 } })
    await pilar.do(KeepPreference, { body: { key: 'split', subject: 'order', value: 42 } })
    await pilar.do(KeepPreference, { body: { key: 'folded', subject: 'desk', value: ['expected'] } })
    const { preferences } = await (await world.as('Pilar')).do(ReadPreferences)
    expect(preferences).to.have.deep.members([
      { key: 'split', subject: 'order', value: 42 },
      { key: 'folded', subject: 'desk', value: ['expected'] },
    ])
    expect((await (await world.as('Rasmus')).do(ReadPreferences)).preferences).to.deep.equal([])
  })

  it('is only what this version knows', async () => {
    const pilar = await world.as('Pilar')
    const person = (await world.db('people').where('name', 'like', 'Pilar%').first('id'))!.id
    await world.db('preferences').insert({ personId: person, key: 'split', subject: 'bill', value: '"wide"' })
    await world.db('preferences').insert({ personId: person, key: 'gone', subject: '', value: '1' })
    const { preferences } = await pilar.do(ReadPreferences)
    expect(preferences.map(one => one.subject))
      .to.not.include('bill')
      .and.not.include('')
    expect((await pilar.call(KeepPreference, { body: { key: 'split', subject: 'order', value: 99 } })).status).to.equal(
      400,
    )
  })
})
