import { expect } from 'chai'
import { ClearHold, PostInvoice, ReadInvoice, ReadInvoiceFile } from '#contract/bill/endpoints.ts'
import { ActOnOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { ReadDesk } from '#contract/people/endpoints.ts'
import { vatOf } from '#demo/world.ts'
import { inventedIban } from '#demo/identifiers.ts'
import { plainInvoice } from '#test-helpers/invoices.ts'
import {
  account,
  billed,
  figures,
  goodsLine,
  type Issued,
  ordered,
  posted,
  received,
  today,
} from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('holds of an invoice', () => {
  const world = useWorld()

  const sheetOf = async (id: string) => (await world.as('Leonie')).do(ReadInvoice, { params: { id } })
  const open = async (id: string): Promise<string[]> =>
    (await sheetOf(id)).holds.filter(hold => hold.endedAt === null).map(hold => hold.kind)
  const post = async (id: string) =>
    (await world.as('Leonie')).call(PostInvoice, { params: { id }, body: { version: (await sheetOf(id)).version } })
  const clear = async (who: string, id: string, kind: string) => {
    const sheet = await sheetOf(id)
    const hold = sheet.holds.find(one => one.kind === kind && one.endedAt === null)!
    return (await world.as(who)).call(ClearHold, {
      params: { id, holdId: hold.id },
      body: { version: sheet.version, reason: 'Agreed with the supplier.' },
    })
  }
  const readIn = async (xml: string) => {
    const leonie = await world.as('Leonie')
    const file = await leonie.upload('invoice.xml', xml)
    return await leonie.call(ReadInvoiceFile, { body: { fileId: file.body.id } })
  }
  const fileOf = (order: Issued, number: string, quantity: string): string =>
    plainInvoice({
      number,
      order: order.number,
      vat: vatOf('nordhavn'),
      quantity,
      price: '85.00',
      net: `${85 * Number(quantity)}.00`,
      orderLine: '1',
      issueDate: today(),
    })

  it('stand for themselves: what never came is not posted when the quantity is accepted', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const { id } = await billed(world, order, { quantity: '11' })
    expect(await open(id)).to.have.members(['quantity', 'proof'])
    expect((await clear('Pilar', id, 'quantity')).status).to.equal(200)
    expect(await open(id)).to.deep.equal(['proof'])
    expect((await post(id)).codes).to.deep.equal(['bill.heldUp'])
    expect((await clear('Pilar', id, 'proof')).status).to.equal(422)
  })

  it('of the second of two invoices on one open quantity are shown, though posting it is refused', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '6')])
    await received(world, order)
    const first = await billed(world, order, { number: 'TWO-1' })
    const second = await billed(world, order, { number: 'TWO-2' })
    expect(await open(first.id)).to.not.include('quantity')
    if ((await open(second.id)).includes('nearDuplicate')) await clear('Leonie', second.id, 'nearDuplicate')
    if ((await open(first.id)).includes('nearDuplicate')) await clear('Leonie', first.id, 'nearDuplicate')
    await posted(world, first.id)
    expect(await open(second.id)).to.include.members(['quantity', 'proof'])
    expect((await post(second.id)).status).to.equal(422)
    const desk = await (await world.as('Pilar')).do(ReadDesk)
    expect(desk.items.map(item => item.path)).to.include(`/bill/${second.id}`)
  })

  it('end by themselves when their cause is gone, and say so', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
    const { id } = await billed(world, order)
    expect(await open(id)).to.deep.equal(['proof'])
    await received(world, order)
    expect(await open(id)).to.deep.equal([])
    expect((await sheetOf(id)).holds.map(hold => hold.endReason)).to.deep.equal(['causeGone'])
  })

  it('stop the bill of an order that was cancelled', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    const { id } = await billed(world, order)
    const pilar = await world.as('Pilar')
    const { version } = await pilar.do(ReadOrder, { params: { id: order.id } })
    const cancel = await pilar.call(ActOnOrder, {
      params: { id: order.id },
      body: { version, action: 'cancel', reason: 'Not needed.', needRemains: false },
    })
    if (cancel.status === 200) expect(await open(id)).to.deep.equal(['orderEnded'])
    else expect(cancel.status).to.equal(422)
    expect((await post(id)).codes).to.deep.equal(['bill.heldUp'])
  })

  it('are opened by whatever an e-invoice asks beyond its lines', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '3')])
    await received(world, order)
    const plain = fileOf(order, 'ASK-1', '1')
    const asked = async (xml: string): Promise<string[]> => {
      const answer = await readIn(xml)
      expect(answer.status, JSON.stringify(answer.reasons)).to.equal(200)
      return await open((answer.body as { id: string }).id)
    }
    expect(await asked(plain)).to.deep.equal([])
    const rounded = plain
      .replace('ASK-1', 'ASK-2')
      .replace(
        /<cbc:PayableAmount currencyID="EUR">85\.00</,
        '<cbc:PayableRoundingAmount currencyID="EUR">50000.00</cbc:PayableRoundingAmount><cbc:PayableAmount currencyID="EUR">50085.00<',
      )
    expect(await asked(rounded)).to.include('rounding')
    const foreign = plain
      .replace('ASK-1', 'ASK-3')
      .replace(
        '<cac:TaxTotal>',
        `<cac:PaymentMeans><cbc:PaymentMeansCode>58</cbc:PaymentMeansCode><cac:PayeeFinancialAccount><cbc:ID>${inventedIban('DE', 4711)}</cbc:ID></cac:PayeeFinancialAccount></cac:PaymentMeans><cac:TaxTotal>`,
      )
    expect(await asked(foreign)).to.include('account')
  })
})

describe('posting', () => {
  const world = useWorld()

  it('of several bills on one order line leaves nothing committed or accrued', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order)
    for (const [number, quantity] of [
      ['PART-1', '4'],
      ['PART-2', '6'],
    ] as const)
      await posted(world, (await billed(world, order, { number, quantity })).id)
    const after = await figures(world, accountId)
    expect([after.committed - before.committed, after.accrued - before.accrued]).to.deep.equal([0n, 0n])
    expect(after.spent - before.spent).to.equal(85_000n)
  })

  it('twice is refused, and so is a version that is not the last', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    await received(world, order)
    const { id } = await billed(world, order)
    const leonie = await world.as('Leonie')
    const { version } = await leonie.do(ReadInvoice, { params: { id } })
    expect((await leonie.call(PostInvoice, { params: { id }, body: { version: version + 7 } })).codes).to.deep.equal([
      'document.changed',
    ])
    const done = await leonie.do(PostInvoice, { params: { id }, body: { version } })
    expect((await leonie.call(PostInvoice, { params: { id }, body: { version: done.version } })).codes).to.deep.equal([
      'state.notNow',
    ])
  })
})
