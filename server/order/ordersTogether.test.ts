import { expect } from 'chai'
import { ActTogether, PreviewTogether } from '#contract/documents/together.ts'
import { ReadDesk } from '#contract/desk/endpoints.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { today } from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

describe('several orders at once', () => {
  const world = useWorld()
  /** Orders of the scenario that are late and that nobody has chased. */
  const late = async (): Promise<string[]> =>
    (
      await world
        .db('orders')
        .whereIn('state', ['issued', 'acknowledged'])
        .whereIn('receiveExtent', ['none', 'part'])
        .where('needBy', '<', today())
        .whereNull('chasedAt')
        .orderBy('number')
        .select('id')
    ).map(row => row.id)
  const several = (act: 'chase' | 'issue' | 'close', ids: string[], reason = '') => ({
    body: { kind: 'order' as const, act, ids, reason },
  })

  it('are chased each for itself: what cannot be chased is named and holds up no other', async () => {
    const pilar = await world.as('Pilar')
    const [one = '', two = ''] = await late()
    const draft = (await world.db('orders').where({ state: 'draft' }).first('id'))!.id
    const { rows } = await pilar.do(PreviewTogether, several('chase', [one, draft, two, one]))
    expect(rows.map(row => [row.id, row.possible])).to.deep.equal([
      [one, true],
      [draft, false],
      [two, true],
    ])
    expect(rows[0]?.says?.code).to.equal('together.order.chase.delivery')
    expect(rows[1]?.reasons.map(reason => reason.code)).to.deep.equal(['order.nothingToChase'])
    expect((await pilar.do(ReadOrder, { params: { id: one } })).history[0]?.action).to.not.equal('chased')

    const done = await pilar.do(ActTogether, several('chase', [one, draft, two], 'Please hurry.'))
    expect(done.rows.map(row => row.done)).to.deep.equal([true, false, true])
    const sheet = await pilar.do(ReadOrder, { params: { id: two } })
    expect([sheet.history[0]?.action, sheet.history[0]?.reason]).to.deep.equal(['chased', 'Please hurry.'])
    const mails = await world.db('outbox').whereIn('documentId', [one, two, draft]).whereRaw("key like 'chase:%'")
    expect(mails).to.have.length(2)
    expect((await pilar.do(ReadDesk)).items.map(item => item.path)).to.not.include(`/order/${one}`)
    const again = await pilar.do(ActTogether, several('chase', [one]))
    expect(again.rows[0]?.reasons.map(reason => reason.code)).to.deep.equal(['order.chasedAlready'])
  })

  it('are done once, however often the button is pressed', async () => {
    const pilar = await world.as('Pilar')
    const [id = ''] = await late()
    const key = crypto.randomUUID()
    for (const _ of [1, 2])
      expect((await pilar.call(ActTogether, { ...several('chase', [id]), key })).body.rows[0]?.done).to.equal(true)
    const mails = await world.db('outbox').where({ documentId: id }).whereRaw("key like 'chase:%'")
    expect(mails).to.have.length(1)
  })

  it('are not for who may not: nobody without the right looks at them, or does anything', async () => {
    const [id = ''] = await late()
    expect((await (await world.as('Ines')).call(PreviewTogether, several('close', [id]))).status).to.equal(403)
    const leonie = await (await world.as('Leonie')).do(ActTogether, several('close', [id]))
    expect(leonie.rows.map(row => [row.done, row.reasons[0]?.code])).to.deep.equal([[false, 'right.notYours']])
    const unknown = await (await world.as('Pilar')).do(PreviewTogether, several('close', [crypto.randomUUID()]))
    expect(unknown.rows).to.deep.equal([])
  })

  it('issued or closed by their own rules, which the preview has said before', async () => {
    const pilar = await world.as('Pilar')
    const drafts = (await world.db('orders').where({ state: 'draft' }).select('id')).map(row => row.id)
    const { rows } = await pilar.do(PreviewTogether, several('issue', drafts))
    const { rows: done } = await pilar.do(ActTogether, several('issue', drafts))
    expect(done.map(row => row.done)).to.deep.equal(rows.map(row => row.possible))
    const issued = done.filter(row => row.done).map(row => row.id)
    expect(issued.length).to.be.greaterThan(0)
    const closed = await pilar.do(ActTogether, several('close', issued, 'Not needed.'))
    expect(closed.rows.every(row => row.done)).to.equal(true)
    const states = await world.db('orders').whereIn('id', issued).select('state')
    expect(new Set(states.map(row => row.state))).to.deep.equal(new Set(['closed']))
  })

  it('with the mail server down wait, and reach each supplier once when it is back', async () => {
    const ids = (await late()).slice(0, 2)
    expect(ids).to.not.deep.equal([])
    await sendAll(world)
    world.mail.faults.down = true
    const done = await (await world.as('Pilar')).do(ActTogether, several('chase', ids, 'Please hurry.'))
    expect(done.rows.filter(row => row.done)).to.have.length(ids.length)
    const mails = () => world.db('outbox').whereIn('documentId', ids).whereRaw("key like 'chase:%'").select<{ state: string; attempts: number }[]>('state', 'attempts') // prettier-ignore
    await sendAll(world).catch(() => undefined)
    expect(new Set((await mails()).map(mail => mail.state))).to.deep.equal(new Set(['waiting']))
    world.mail.faults.down = false
    const before = await world.mail.count()
    for (const _ of [1, 2]) await sendAll(world)
    expect((await mails()).map(mail => mail.state)).to.deep.equal(ids.map(() => 'sent'))
    expect((await world.mail.count()) - before).to.equal(ids.length)
  })
})
