import { expect } from 'chai'
import {
  ActOnInvoice,
  ClearHold,
  PostInvoice,
  ReadInvoice,
  ReadInvoiceFile,
  SupplierInvoice,
} from '#contract/bill/endpoints.ts'
import { ActOnOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { ProposeRun } from '#contract/pay/endpoints.ts'
import { ReadDesk } from '#contract/desk/endpoints.ts'
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
    expect(cancel.status).to.equal(200)
    expect(await open(id)).to.include('orderEnded')
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

describe('what clerks and buyers do with an invoice', () => {
  const world = useWorld()

  const sheetOf = async (id: string, who = 'Leonie') => (await world.as(who)).do(ReadInvoice, { params: { id } })
  const act = async (id: string, action: 'reject' | 'void', who = 'Leonie', reason = 'Wrong address.') =>
    (await world.as(who)).call(ActOnInvoice, {
      params: { id },
      body: { version: (await sheetOf(id)).version, action, reason },
    })
  const possible = async (id: string, who = 'Leonie'): Promise<string[]> =>
    (await sheetOf(id, who)).actions.filter(one => one.possible).map(one => one.action)

  it('rejects what is not posted, once and with a reason; the number may come again', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '3')])
    const first = await billed(world, order, { number: 'RE-1' })
    expect(await possible(first.id)).to.include('reject')
    expect((await act(first.id, 'reject', 'Leonie', ' ')).status).to.equal(400)
    expect((await act(first.id, 'reject', 'Yuki')).status).to.equal(403)
    expect((await act(first.id, 'void')).codes).to.deep.equal(['state.notNow'])
    expect((await act(first.id, 'reject')).status).to.equal(200)
    expect((await act(first.id, 'reject')).codes).to.deep.equal(['state.notNow'])
    const { holds } = await sheetOf(first.id)
    expect(holds.map(hold => hold.endReason)).to.deep.equal(['rejected'])
    expect(await possible(first.id)).to.deep.equal([])
    const second = await billed(world, order, { number: 're 1' })
    expect(second.id).to.not.equal(first.id)
  })

  it('voids what is posted, by counter-entries, and never what a payment run has', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '6')])
    await received(world, order)
    const before = await figures(world, accountId)
    const { id } = await billed(world, order, { number: 'VO-1' })
    await posted(world, id)
    expect((await figures(world, accountId)).spent - before.spent).to.equal(51_000n)
    expect((await act(id, 'reject')).codes).to.deep.equal(['state.notNow'])
    expect((await act(id, 'void')).status).to.equal(200)
    expect(await figures(world, accountId)).to.deep.equal(before)
    expect((await act(id, 'void')).codes).to.deep.equal(['state.notNow'])

    const again = await billed(world, order, { number: 'VO-2' })
    await posted(world, again.id)
    const dueOn = (await world.db('invoices').where({ id: again.id }).first('dueOn'))!.dueOn!
    await (await world.as('Casimir')).do(ProposeRun, { body: { dueUntil: dueOn, executeOn: today() } })
    expect((await sheetOf(again.id)).state).to.equal('scheduled')
    expect(await possible(again.id)).to.not.include('void')
    expect((await act(again.id, 'void')).codes).to.deep.equal(['bill.inRun'])
  })

  it('clears only the holds that are theirs, those that a reason can clear, with a reason, once', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    const { id } = await billed(world, order, { price: '99', number: 'CL-1' })
    const sheet = await sheetOf(id)
    const of = (kind: string): string => sheet.holds.find(hold => hold.kind === kind)!.id
    const clear = async (who: string, holdId: string, reason = 'Agreed by telephone.') =>
      (await world.as(who)).call(ClearHold, {
        params: { id, holdId },
        body: { version: (await sheetOf(id)).version, reason },
      })
    expect((await clear('Leonie', of('price'))).codes).to.deep.equal(['bill.holdNotYours'])
    expect((await clear('Pilar', of('proof'))).codes[0]).to.match(/^bill\.clearOtherwise\./)
    expect((await clear('Pilar', of('price'), '')).status).to.equal(400)
    expect((await clear('Pilar', order.id)).status).to.be.oneOf([404, 422])
    expect((await clear('Pilar', of('price'))).status).to.equal(200)
    expect((await clear('Pilar', of('price'))).status).to.equal(422)
    await received(world, order)
    expect((await sheetOf(id)).state, 'nothing holds it any more').to.equal('matched')
    const kept = (await sheetOf(id)).holds.find(hold => hold.kind === 'price')!
    expect([kept.endReason, kept.endedBy]).to.deep.equal(['Agreed by telephone.', 'Pilar Quenneville'])
  })

  it('is posted once by two clerks at once', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    await received(world, order)
    const { id } = await billed(world, order, { number: 'PO-1' })
    const { version } = await sheetOf(id)
    const leonie = await world.as('Leonie')
    const both = await Promise.all([1, 2].map(() => leonie.call(PostInvoice, { params: { id }, body: { version } })))
    expect(both.map(one => one.status).sort()).to.deep.equal([200, 409])
    expect((await world.db('budgetEntries').where({ documentId: id, kind: 'spent' })).length).to.equal(1)
  })

  it('is read by whoever bills, buys or pays; its supplier sees only what it made for its own orders', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    const { id } = await billed(world, order, { number: 'SE-1' })
    for (const who of ['Leonie', 'Pilar', 'Casimir', 'Adaeze'])
      expect((await (await world.as(who)).call(ReadInvoice, { params: { id } })).status, who).to.equal(200)
    for (const who of ['Ines', `at ${order.company}`])
      expect((await (await world.as(who)).call(ReadInvoice, { params: { id } })).status, who).to.equal(403)
    const lines = [{ lineId: order.lines[0]!.id, quantity: '1', price: '85' }]
    const body = {
      revision: 0,
      number: 'SE-2',
      issueDate: today(),
      freight: '0.00',
      taxCategory: 'AE' as const,
      taxRate: '0',
      lines,
    }
    const other = (
      (await world
        .db('people')
        .join('suppliers', 'suppliers.id', 'people.supplierId')
        .whereNot('suppliers.name', order.company)
        .where('people.active', true)
        .first('suppliers.name')) as { name: string }
    ).name
    const strange = await (await world.as(`at ${other}`)).call(SupplierInvoice, { params: { id: order.id }, body })
    expect([strange.status, strange.codes]).to.deep.equal([404, ['document.notFound']])
    const own = await world.as(`at ${order.company}`)
    const old = await own.call(SupplierInvoice, { params: { id: order.id }, body: { ...body, revision: 4 } })
    expect(old.status).to.be.oneOf([409, 422])
    for (const wrong of [
      { taxCategory: 'S' as const, taxRate: '100' },
      { issueDate: '2020-01-01' },
      { taxRate: '21' },
    ]) {
      const answer = await own.call(SupplierInvoice, { params: { id: order.id }, body: { ...body, ...wrong } })
      const taken = answer.status === 200 ? (await sheetOf(answer.body.id)).holds.length : -1
      expect(answer.status !== 200 || taken > 0, `${JSON.stringify(wrong)}: refused or held`).to.equal(true)
    }
  })
})
