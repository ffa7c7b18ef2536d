import { expect } from 'chai'
import { AgreeInDispute, DropDispute, OpenDispute, SayInDispute, SupplierAgrees, SupplierSays } from '#contract/bill/disputes.ts' // prettier-ignore
import { SupplierInvoiceSheet } from '#contract/bill/credits.ts'
import { ActOnInvoice, PostInvoice, ReadInvoice } from '#contract/bill/endpoints.ts'
import { billed, goodsLine, ordered, received } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('a dispute about an invoice', () => {
  const world = useWorld()
  const arrived = async (quantity: string) => {
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', quantity)])
    await received(world, order)
    const { id } = await billed(world, order)
    const pilar = await world.as('Pilar')
    const supplier = await world.as(`at ${order.company}`)
    const sheet = async () => await pilar.do(ReadInvoice, { params: { id } })
    const theirs = async () => await supplier.do(SupplierInvoiceSheet, { params: { id } })
    return { id, params: { id }, pilar, supplier, sheet, theirs }
  }
  const version = async (one: { sheet: () => Promise<{ version: number }> }) => (await one.sheet()).version
  const mails = async (like: string) =>
    (await world.db('outbox').where({ kind: 'mail' }).whereRaw("payload ->> 'subject' like ?", [like])).map(row =>
      JSON.stringify(row.payload),
    )

  it('holds it, is talked about on both pages, and ends by what both agree', async () => {
    const one = await arrived('31')
    const { pilar, supplier, params } = one
    await pilar.do(OpenDispute, { params, body: { version: await version(one), text: 'Two sacks were wet.' } })
    const held = await one.sheet()
    expect([held.state, held.holds.filter(hold => hold.endedAt === null).map(hold => hold.kind)]).to.deep.equal(['onHold', ['dispute']]) // prettier-ignore
    expect((await (await world.as('Leonie')).call(PostInvoice, { params, body: { version: held.version } })).codes).to.deep.equal(['bill.heldUp']) // prettier-ignore
    const read = await one.theirs()
    expect(read.waits.map(wait => wait.code)).to.deep.equal(['supplierInvoice.waits.dispute'])
    expect(read.disputes[0]!.messages.map(message => [message.text, message.mine])).to.deep.equal([['Two sacks were wet.', false]]) // prettier-ignore
    expect((await supplier.call(SupplierAgrees, { params, body: { version: await version(one) } })).codes).to.deep.equal(['dispute.nothingProposed']) // prettier-ignore
    await supplier.do(SupplierSays, { params, body: { version: await version(one), text: 'We credit two.', outcome: 'creditNote' } }) // prettier-ignore
    const answered = await one.sheet()
    expect(answered.disputes[0]!.toAgree).to.equal('creditNote')
    const waits = await world.db('deskEntries').where({ documentId: one.id, key: 'dispute' })
    expect(waits).to.have.length(1)
    await pilar.do(AgreeInDispute, { params, body: { version: answered.version } })
    const agreed = await one.sheet()
    expect([agreed.state, agreed.disputes[0]!.state, agreed.disputes[0]!.outcome]).to.deep.equal(['matched', 'agreed', 'creditNote']) // prettier-ignore
    expect(await world.db('deskEntries').where({ documentId: one.id, key: 'dispute' })).to.have.length(0)
  })

  it('ends by sending another invoice: this one goes back by itself, its number is free', async () => {
    const one = await arrived('32')
    await one.pilar.do(OpenDispute, { params: one.params, body: { version: await version(one), text: 'Wrong company.' } }) // prettier-ignore
    await one.pilar.do(SayInDispute, { params: one.params, body: { version: await version(one), text: 'Send another.', outcome: 'newInvoice' } }) // prettier-ignore
    expect((await one.theirs()).disputes[0]!.toAgree).to.equal('newInvoice')
    await one.supplier.do(SupplierAgrees, { params: one.params, body: { version: await version(one) } })
    expect((await one.sheet()).state).to.equal('rejected')
  })

  it('is nobody else’s, is there once, and is dropped with a reason', async () => {
    const one = await arrived('33')
    const { pilar, params } = one
    const body = { version: await version(one), text: 'What is this for?' }
    expect((await (await world.as('Joren')).call(OpenDispute, { params, body })).status).to.equal(403)
    const both = await Promise.all([pilar.call(OpenDispute, { params, body }), pilar.call(OpenDispute, { params, body })]) // prettier-ignore
    expect(both.map(answer => answer.status).sort()).to.deep.equal([200, 409])
    const other = await world.as('at Seefelder Pumpen GmbH')
    const said = { version: await version(one), text: 'Mine?', outcome: null }
    expect((await other.call(SupplierSays, { params, body: said })).status).to.equal(404)
    expect((await other.call(SupplierInvoiceSheet, { params })).status).to.equal(404)
    await pilar.do(DropDispute, { params, body: { version: await version(one), reason: 'It is clear now.' } })
    const dropped = await one.sheet()
    expect([dropped.state, dropped.disputes[0]!.state]).to.deep.equal(['matched', 'dropped'])
    expect((await one.supplier.call(SupplierSays, { params, body: { ...said, version: dropped.version } })).codes).to.deep.equal(['dispute.ended']) // prettier-ignore
  })

  it('what goes back is told to the supplier, with the reason', async () => {
    const one = await arrived('34')
    await (await world.as('Leonie')).do(ActOnInvoice, { params: one.params, body: { version: await version(one), action: 'reject', reason: 'The order number is missing.' } }) // prettier-ignore
    const told = await mails('Your invoice%comes back')
    expect(told.some(mail => mail.includes('The order number is missing.'))).to.equal(true)
  })
})
