import { ReadInvoiceTerms } from '#contract/bill/terms.ts'
import { expect } from 'chai'
import JSZip from 'jszip'
import { ReadInvoice, ReadInvoiceFile, ReadInvoiceFiles } from '#contract/bill/endpoints.ts'
import { SupplierCredit } from '#contract/bill/credits.ts'
import { SaveBillingSettings } from '#contract/bill/settings.ts'
import { vatOf } from '#demo/world.ts'
import { postUntouched } from '#server/bill/postUntouched.ts'
import { reading } from '#server/call.ts'
import { audit } from '#server/insight/audit.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { plainInvoice } from '#test-helpers/invoices.ts'
import { billed, goodsLine, ordered, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('invoices that nobody has to touch', () => {
  const world = useWorld()
  const leonie = () => world.as('Leonie')
  const set = async (postUntouched: boolean, ruleSets: ('german' | 'peppol')[] = [], who = 'Adaeze') =>
    (await world.as(who)).call(SaveBillingSettings, {
      body: { postUntouched, ruleSets, remindHours: 16, escalateHours: 40 },
    })
  const stateOf = async (id: string) => (await (await leonie()).do(ReadInvoice, { params: { id } })).state
  const audited = async () => await world.db.transaction(async trx => (await audit(reading(trx, await settingOf(world.jobs)))).differences) // prettier-ignore

  it('post themselves where the house says so; one that is held, or that somebody had to clear, waits for a person', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order, '4')
    const clean = await billed(world, order, { quantity: '4', number: 'CLEAN-1' })
    const other = await ordered(world, [await goodsLine(world, 'PS-1200', '3')])
    const held = await billed(world, other, { quantity: '3', number: 'HELD-1' })
    expect([await stateOf(clean.id), await stateOf(held.id)]).to.deep.equal(['matched', 'onHold'])
    await postUntouched(world.jobs)
    expect(await stateOf(clean.id)).to.equal('matched')
    expect((await set(true, [], 'Leonie')).status).to.equal(403)
    expect((await set(true)).status).to.equal(200)
    await postUntouched(world.jobs)
    expect([await stateOf(clean.id), await stateOf(held.id)]).to.deep.equal(['cleared', 'onHold'])
    const sheet = await (await leonie()).do(ReadInvoice, { params: { id: clean.id } })
    expect(sheet.history.some(one => one.action === 'posted' && one.channel === 'job')).to.equal(true)
    // what ends its hold comes in: then nobody has to touch it either
    await received(world, other, '3')
    expect(await postUntouched(world.jobs)).to.be.greaterThan(0)
    expect(await stateOf(held.id)).to.equal('cleared')
    expect(await postUntouched(world.jobs)).to.equal(0)
    // what the supplier gives back of what is posted takes nobody's word either
    const note = { number: 'BACK-1', issueDate: today(), reason: '', charges: '0', lines: [{ of: 1, way: 'quantity' as const, quantity: '1', priceOff: '0' }] } // prettier-ignore
    const theirs = await world.as(`at ${order.company}`)
    await theirs.do(SupplierCredit, { params: { id: clean.id }, body: { creditId: null, version: null, send: true, note, fileIds: [] } }) // prettier-ignore
    expect(await postUntouched(world.jobs)).to.equal(1)
    expect((await world.db('creditNotes').where({ supplierNumber: 'BACK-1' }).first('state'))?.state).to.equal('posted')
    expect(await audited()).to.deep.equal([])
  })

  it('are read many at once, out of a ZIP, in either syntax and in a PDF, each with its own outcome', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const vat = vatOf('nordhavn')
    const xml = (number: string, net = '85.00') => plainInvoice({ number, order: order.number, vat, quantity: '1', price: '85.00', net, orderLine: '1', issueDate: today() }) // prettier-ignore
    const zip = new JSZip().file('a.xml', xml('ZIP-1')).file('b.xml', xml('ZIP-2', '86.00')).file('a-again.xml', xml('zip 1')).file('c.xml', '<Order/>') // prettier-ignore
    const clerk = await leonie()
    const upload = async (name: string, bytes: Buffer | string) => (await clerk.upload(name, bytes)).body.id
    const fileIds = [await upload('all.zip', await zip.generateAsync({ type: 'nodebuffer' })), await upload('d.xml', xml('XML-4'))] // prettier-ignore
    const { results } = await clerk.do(ReadInvoiceFiles, { body: { fileIds } })
    expect(results.map(one => [one.file, one.theirs, one.state, one.reasons.map(reason => reason.details.rule ?? reason.code)])).to.deep.equal([
      ['a.xml', 'ZIP-1', 'onHold', []],
      ['b.xml', 'ZIP-2', 'refused', ['BT-131']],
      ['a-again.xml', 'zip 1', 'refused', ['bill.duplicate']],
      ['c.xml', '', 'refused', ['bill.notAnInvoice']],
      ['d.xml', 'XML-4', 'onHold', []],
    ]) // prettier-ignore
    expect((await (await world.as('Joren')).call(ReadInvoiceFiles, { body: { fileIds } })).status).to.equal(403)
    expect((await clerk.call(ReadInvoiceFile, { body: { fileId: fileIds[0]! } })).codes).to.deep.equal(['bill.several'])
  })

  it('keep the rules of the sets that the house selects, too', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    const clerk = await leonie()
    const xml = plainInvoice({ number: 'DE-1', order: order.number, vat: vatOf('nordhavn'), quantity: '1', price: '85.00', net: '85.00', orderLine: '1', issueDate: today() }) // prettier-ignore
    const read = async () => (await clerk.do(ReadInvoiceFiles, { body: { fileIds: [(await clerk.upload('de.xml', xml)).body.id] } })).results[0]! // prettier-ignore
    await set(false, ['german'])
    expect((await read()).reasons.map(reason => reason.details.rule)).to.include.members(['BR-DE-2', 'BR-DE-15'])
    await set(false)
    const kept = await read()
    expect(kept.state).to.equal('onHold')
    const params = { id: kept.path.split('/').at(-1)! }
    const said = await clerk.do(ReadInvoiceTerms, { params })
    const terms = new Map(said.groups.flatMap(one => one.terms).map(one => [one.term, one.value]))
    expect([said.syntax, terms.get('BT-1'), terms.get('BT-13'), terms.get('BT-131')]).to.deep.equal(['ubl', 'DE-1', order.number, '85.00']) // prettier-ignore
    expect((await (await world.as('Joren')).call(ReadInvoiceTerms, { params })).status).to.be.oneOf([403, 404])
  })
})
