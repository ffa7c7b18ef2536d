import { expect } from 'chai'
import { CodeInvoice, ReadCoding } from '#contract/bill/coding.ts'
import { ActOnInvoice, ReadInvoice, ReadInvoiceFile } from '#contract/bill/endpoints.ts'
import { AnswerExcess, ReadOrder } from '#contract/order/endpoints.ts'
import { vatOf } from '#demo/world.ts'
import { plainInvoice } from '#test-helpers/invoices.ts'
import { account, posted, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('a bill without an order', () => {
  const world = useWorld()
  let made = 0
  const arrived = async (price: string) => {
    const leonie = await world.as('Leonie')
    const xml = plainInvoice({ number: `RENT-${++made}`, order: '', vat: vatOf('nordhavn'), quantity: '3', price, net: (Number(price) * 3).toFixed(2), orderLine: '', issueDate: today() }) // prettier-ignore
    const { id } = await leonie.do(ReadInvoiceFile, { body: { fileId: (await leonie.upload('rent.xml', xml)).body.id } }) // prettier-ignore
    const sheet = async () => await leonie.do(ReadInvoice, { params: { id } })
    const coding = await leonie.do(ReadCoding, { params: { id } })
    const code = async (accountId: string, reason = 'Rent of the cold store.') =>
      await leonie.call(CodeInvoice, { params: { id }, body: { version: (await sheet()).version, reason, lines: coding.lines.map(line => ({ lineId: line.lineId, splits: [{ accountId, share: '1' }] })) } }) // prettier-ignore
    return { id, leonie, sheet, coding, code }
  }
  /** The first of those whom the order written afterwards waits for. */
  const decide = async (number: string, answer: 'approve' | 'reject') => {
    const order = (await world.db('orders').where({ number }).first('id'))!
    for (let turn = 0; turn < 4; turn++) {
      const open = await world.db('consentSteps as step').join('consents', 'consents.id', 'step.consentId').joinRaw('join people on people.id = any(step.approver_ids)').where({ 'consents.documentId': order.id, 'step.state': 'open' }).whereNot('people.name', 'like', 'Leonie%').first<{ name: string } | undefined>('people.name') // prettier-ignore
      if (!open) return
      const who = await world.as(open.name.split(' ')[0]!)
      const sheet = await who.do(ReadOrder, { params: { id: order.id } })
      await who.do(AnswerExcess, { params: { id: order.id }, body: { version: sheet.version, answer, reason: 'As it was agreed.' } }) // prettier-ignore
    }
  }

  it('is coded, decided by who pays, agrees with its order afterwards, and posts', async () => {
    const bill = await arrived('40.00')
    expect((await bill.sheet()).holds.map(hold => hold.kind)).to.deep.equal(['noOrderLine'])
    const coded = await bill.code(await account(world, 'LS-210', '6210'))
    expect(coded.status, JSON.stringify(coded.body)).to.equal(200)
    const asked = await bill.sheet()
    expect([asked.state, asked.written!.state, asked.written!.waitsFor.length > 0, asked.mayCode]).to.deep.equal(['onHold', 'draft', true, false]) // prettier-ignore
    expect((await bill.code(await account(world, 'LS-210', '6210'))).codes).to.deep.equal(['code.there'])
    await decide(asked.written!.number, 'approve')
    const agreed = await bill.sheet()
    expect([agreed.state, agreed.written!.state]).to.deep.equal(['matched', 'acknowledged'])
    await posted(world, bill.id)
    const again = await arrived('40.50')
    expect(again.coding.lines[0]!.because).to.equal('words')
    expect(again.coding.lines[0]!.splits).to.have.length(1)
  })

  it('that those who pay refuse stays held, and can be coded otherwise; rejected, it takes its draft along', async () => {
    const bill = await arrived('41.00')
    await bill.code(await account(world, 'LS-210', '6210'))
    const first = (await bill.sheet()).written!
    await decide(first.number, 'reject')
    const refused = await bill.sheet()
    expect([refused.state, refused.written!.refused]).to.deep.equal(['onHold', true])
    expect(refused.mayCode).to.equal(true)
    const recoded = await bill.code(await account(world, 'LS-210', '6020'))
    expect(recoded.status, JSON.stringify(recoded.body)).to.equal(200)
    const second = (await bill.sheet()).written!
    expect(second.number).to.not.equal(first.number)
    await bill.leonie.do(ActOnInvoice, { params: { id: bill.id }, body: { version: (await bill.sheet()).version, action: 'reject', reason: 'It is another house’s.' } }) // prettier-ignore
    const orders = await world.db('orders').where({ forInvoiceId: bill.id }).pluck('state')
    expect(orders).to.deep.equal(['cancelled', 'cancelled'])
  })

  it('is not coded by others, onto accounts that are not there, or without an account', async () => {
    const bill = await arrived('42.00')
    const { lineId } = bill.coding.lines[0]!
    const body = { version: (await bill.sheet()).version, reason: '', lines: [{ lineId, splits: [] }] }
    expect((await bill.leonie.call(CodeInvoice, { params: { id: bill.id }, body })).codes).to.deep.equal(['line.noAccount']) // prettier-ignore
    expect((await bill.code('00000000-0000-4000-8000-000000000000')).status).to.equal(404)
    expect((await (await world.as('Joren')).call(CodeInvoice, { params: { id: bill.id }, body })).status).to.equal(403)
  })
})
