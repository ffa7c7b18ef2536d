import { expect } from 'chai'
import { ActOnInvoice, ClearHold, PostInvoice, ReadInvoice, SupplierInvoice } from '#contract/bill/endpoints.ts'
import { Decide, PassStep } from '#contract/decide/endpoints.ts'
import { ReadLineEntries } from '#contract/insight/endpoints.ts'
import {
  ActOnOrder,
  AnswerResponse,
  ChangeOrder,
  DraftOrders,
  IssueOrder,
  OrderPdf,
  OrderUbl,
  ReadOrder,
} from '#contract/order/endpoints.ts'
import { RespondToOrder, SupplierOrder } from '#contract/order/supplierOrders.ts'
import { ApproveRun, ProposeRun, ReadRun, RunFile, WithdrawRun } from '#contract/pay/endpoints.ts'
import { ReadDelivery, Receive, ReverseReceipt } from '#contract/receive/endpoints.ts'
import {
  ActOnRequisition,
  CheckRequisition,
  ReadRequisition,
  SaveRequisition,
  SubmitRequisition,
} from '#contract/request/endpoints.ts'
import { SetBankAccount, ProveBankAccount, ReadSupplier } from '#contract/source/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { inventedIban } from '#demo/identifiers.ts'
import { fetchBankAnswers } from '#server/pay/bankTransfer.ts'
import {
  account,
  approved,
  billed,
  draft,
  drafted,
  figures,
  freight,
  goodsLine,
  moved,
  ordered,
  PLACE,
  posted,
  received,
  today,
} from '#test-helpers/steps.ts'
import { supplierBody } from '#test-helpers/suppliers.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

describe('a request', () => {
  const world = useWorld()

  it('shows before submitting what the budget will look like and who decides, and holds to it', async () => {
    const before = await figures(world, await account(world, 'LS-210', '6210'))
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '10')])
    const joren = await world.as('Joren')
    const shown = await joren.do(CheckRequisition, { params: { id } })
    expect(shown.steps.flatMap(step => step.approvers.map(one => one.name))).to.deep.equal(['Marit Oland'])
    expect(shown.budgets[0]!.here).to.equal('850.00')
    expect(Number(shown.budgets[0]!.available) - Number(shown.budgets[0]!.after)).to.equal(850)
    await joren.do(SubmitRequisition, { params: { id }, body: { version } })
    expect(moved(before, await figures(world, await account(world, 'LS-210', '6210')))).to.deep.equal({
      reserved: 85000n,
      committed: 0n,
      spent: 0n,
      accrued: 0n,
    })
  })

  it('gives the budget back when it is withdrawn, sent back or rejected', async () => {
    const id = await account(world, 'LS-210', '6210')
    for (const end of ['withdraw', 'return', 'reject'] as const) {
      const before = await figures(world, id)
      const request = await draft(world, [await goodsLine(world, 'PS-1240', '2')])
      const joren = await world.as('Joren')
      const { version } = await joren.do(SubmitRequisition, {
        params: { id: request.id },
        body: { version: request.version },
      })
      if (end === 'withdraw')
        await joren.do(ActOnRequisition, { params: { id: request.id }, body: { version, action: 'withdraw' } })
      else
        await (
          await world.as('Marit')
        ).do(Decide, { params: { id: request.id }, body: { version, decision: end, reason: 'Not this year.' } })
      expect(moved(before, await figures(world, id)).reserved, end).to.equal(0n)
    }
  })

  it('that was sent back can be mended and submitted again', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '4')])
    const [joren, marit] = [await world.as('Joren'), await world.as('Marit')]
    const sent = await joren.do(SubmitRequisition, { params: { id }, body: { version } })
    const back = await marit.do(Decide, {
      params: { id },
      body: { version: sent.version, decision: 'return', reason: 'Two are enough.' },
    })
    const saved = await joren.do(SaveRequisition, {
      params: { id },
      body: { version: back.version, title: 'Two sets', reason: '', lines: [await goodsLine(world, 'PS-1200', '2')] },
    })
    const again = await joren.do(SubmitRequisition, { params: { id }, body: { version: saved.version } })
    await marit.do(Decide, { params: { id }, body: { version: again.version, decision: 'approve', reason: '' } })
    expect((await joren.do(ReadRequisition, { params: { id } })).state).to.equal('approved')
  })

  it('splits over two cost centres and asks the holders of both', async () => {
    const splits = [
      { accountId: await account(world, 'LS-210', '6210'), share: '1' },
      { accountId: await account(world, 'AC-110', '6010'), share: '2' },
    ]
    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '1', { splits })])
    const shown = await (await world.as('Joren')).do(CheckRequisition, { params: { id } })
    expect(shown.steps.flatMap(step => step.approvers.map(one => one.name)).sort()).to.deep.equal([
      'Marit Oland',
      'Tomas Brackenfeld',
    ])
    expect(shown.budgets.map(budget => budget.here).sort()).to.deep.equal(['28.33', '56.67'])
  })

  it('stops at an account that stops, and wants a reason at one that asks', async () => {
    const joren = await world.as('Joren')
    const over = await draft(world, [
      await goodsLine(world, 'CP-1260', '40', {
        routes: ['orderNow', 'askForQuotes'],
        splits: [{ accountId: await account(world, 'LS-210', '1510'), share: '1' }],
      }),
    ])
    const refused = await joren.call(SubmitRequisition, {
      params: { id: over.id },
      body: { version: over.version, checkReason: 'Please.' },
    })
    expect([refused.status, refused.codes]).to.deep.equal([422, ['budget.over']])
    const asks = await draft(world, [await goodsLine(world, 'CP-1260', '12', { routes: ['orderNow', 'askForQuotes'] })])
    const asked = await joren.call(SubmitRequisition, { params: { id: asks.id }, body: { version: asks.version } })
    expect(asked.codes).to.deep.equal(['requisition.wantsReason', 'budget.over'])
    const sent = await joren.do(SubmitRequisition, {
      params: { id: asks.id },
      body: { version: asks.version, checkReason: 'The pool stands still.' },
    })
    await joren.do(ActOnRequisition, { params: { id: asks.id }, body: { version: sent.version, action: 'withdraw' } })
  })

  it('is decided by nobody about their own, nor by anybody who is not asked', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const sent = await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    const decision = { params: { id }, body: { version: sent.version, decision: 'approve' as const, reason: '' } }
    expect((await (await world.as('Joren')).call(Decide, decision)).codes).to.deep.equal(['decide.own'])
    expect((await (await world.as('Henrik')).call(Decide, decision)).codes).to.deep.equal(['decide.notYours'])
    await (await world.as('Marit')).do(Decide, decision)
    expect((await (await world.as('Marit')).call(Decide, decision)).codes).to.deep.equal(['document.changed'])
  })

  it('that stalls on a closed account is passed on by a steward with a reason', async () => {
    const { id, version } = (await world.db('requisitions').where({ title: 'Inspection dive, ray tank' }).first()) as {
      id: string
      version: number
    }
    const wren = await world.as('Wren')
    const sheet = await wren.do(ReadRequisition, { params: { id } })
    expect(sheet.sentence.code).to.equal('requisition.is.stalled')
    const stalled = sheet.steps.find(step => step.stalled)!
    const toJoren = {
      params: { id, stepId: stalled.id! },
      body: { version, toPersonId: sheet.requesterId, reason: 'He knows it.' },
    }
    expect((await wren.call(PassStep, toJoren)).codes).to.deep.equal(['decide.own', 'decide.withoutRight'])
    const henrik = ((await world.db('people').where('name', 'like', 'Henrik%').first('id')) as { id: string }).id
    await wren.do(PassStep, {
      params: { id, stepId: stalled.id! },
      body: { version, toPersonId: henrik, reason: 'Orla has left us.' },
    })
    const now = await (await world.as('Henrik')).do(ReadRequisition, { params: { id } })
    expect(now.mayDecide).to.equal(true)
  })
})

describe('an order', () => {
  const world = useWorld()

  it('commits in place of the reservation, is mailed once with PDF and UBL, and can be read as both', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')], {
      title: 'Mounting sets',
      answer: false,
    })
    expect(moved(before, await figures(world, accountId))).to.deep.equal({
      reserved: 0n,
      committed: 85000n,
      spent: 0n,
      accrued: 0n,
    })
    await sendAll(world)
    const mails = (await (await fetch(`http://127.0.0.1:${world.mail.httpPort}/mails?to=orders@nordhavn`)).json()) as {
      mails: { subject: string; attachments: { name: string }[] }[]
    }
    const mail = mails.mails.filter(one => one.subject.includes(order.number))
    expect(mail.map(one => one.attachments.map(part => part.name))).to.deep.equal([
      [`${order.number}-r0.pdf`, `${order.number}-r0.xml`],
    ])
    const pilar = await world.as('Pilar')
    expect((await pilar.call(OrderPdf, { params: { id: order.id, revision: 0 } })).status).to.equal(200)
    expect(await pilar.text(OrderUbl, { params: { id: order.id, revision: 0 } })).to.include(
      `<cbc:ID>${order.number}</cbc:ID>`,
    )
  })

  it('changed after issue becomes revision 1; the old one takes no answer and no invoice', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const [pilar, aslaug] = [await world.as('Pilar'), await world.as(`at ${order.company}`)]
    const sheet = await pilar.do(ReadOrder, { params: { id: order.id } })
    const change = {
      version: sheet.version,
      title: sheet.title,
      message: '',
      charges: freight('25.00'),
      reason: 'Two fewer, with freight.',
      lines: sheet.lines.map(line => ({
        id: line.id,
        quantity: '8',
        price: line.price,
        needBy: line.needBy,
        description: line.description,
      })),
    }
    expect(
      (await pilar.call(ChangeOrder, { params: { id: order.id }, body: { ...change, reason: '' } })).codes,
    ).to.deep.equal(['order.changeWantsReason'])
    await pilar.do(ChangeOrder, { params: { id: order.id }, body: change })
    const now = await pilar.do(ReadOrder, { params: { id: order.id } })
    expect([now.revision, now.state, now.total]).to.deep.equal([1, 'issued', '705.00'])
    expect(now.revisions[1]!.differences[1]!.fields).to.deep.equal([{ field: 'quantity', before: '10', after: '8' }])
    expect(now.lines[0]!.gauge.confirmed, 'it has to be confirmed again').to.equal('0')
    const answer = order.lines.map(line => ({ lineId: line.id, quantity: '10', price: line.price, date: today() }))
    expect(
      (await aslaug.call(RespondToOrder, { params: { id: order.id }, body: { revision: 0, note: '', lines: answer } }))
        .codes,
    ).to.deep.equal(['order.superseded'])
    expect(
      (
        await aslaug.call(SupplierInvoice, {
          params: { id: order.id },
          body: {
            revision: 0,
            number: 'X',
            issueDate: today(),
            freight: '0',
            taxCategory: 'AE',
            taxRate: '0',
            lines: [{ lineId: order.lines[0]!.id, quantity: '1', price: '85' }],
          },
        })
      ).codes,
    ).to.deep.equal(['order.superseded'])
    expect(
      (await aslaug.do(SupplierOrder, { params: { id: order.id }, query: { revision: 0 } })).why[0]!.code,
    ).to.equal('order.superseded')
  })

  it('cancelled gives the budget back, or goes back to be bought when the need remains', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const pilar = await world.as('Pilar')
    for (const needRemains of [false, true]) {
      const before = await figures(world, accountId)
      const order = await ordered(world, [await goodsLine(world, 'PS-1240', '3')])
      const { version } = await pilar.do(ReadOrder, { params: { id: order.id } })
      await pilar.do(ActOnOrder, {
        params: { id: order.id },
        body: { version, action: 'cancel', reason: 'Wrong size.', needRemains },
      })
      const change = moved(before, await figures(world, accountId))
      expect([change.committed, change.reserved > 0n], String(needRemains)).to.deep.equal([0n, needRemains])
    }
  })

  it('cannot take more than was asked for, nor a line twice', async () => {
    const order = await drafted(world, [await goodsLine(world, 'PS-1200', '5')])
    const pilar = await world.as('Pilar')
    const sheet = await pilar.do(ReadOrder, { params: { id: order.id } })
    const change = (quantity: string, price: string) => ({
      version: sheet.version,
      title: sheet.title,
      message: '',
      charges: [],
      reason: '',
      lines: sheet.lines.map(line => ({
        id: line.id,
        quantity,
        price,
        needBy: line.needBy,
        description: line.description,
      })),
    })
    const { version } = await pilar.do(ChangeOrder, { params: { id: order.id }, body: change('6', '85') })
    expect((await pilar.call(IssueOrder, { params: { id: order.id }, body: { version } })).codes).to.deep.equal([
      'order.overRequested',
    ])
    const dearer = await pilar.do(ChangeOrder, { params: { id: order.id }, body: { ...change('5', '99'), version } })
    expect(
      (await pilar.call(IssueOrder, { params: { id: order.id }, body: { version: dearer.version } })).codes,
    ).to.deep.equal(['order.overApproved'])
    const lineIds = (
      (await world.db('orderLines').where({ orderId: order.id }).select('requisitionLineId')) as {
        requisitionLineId: string
      }[]
    ).map(row => row.requisitionLineId)
    expect((await pilar.call(DraftOrders, { body: { lineIds } })).codes).to.deep.equal(['order.lineNotToBuy'])
  })

  it('answered with another price makes a revision when accepted, and stands when refused', async () => {
    for (const answer of ['accept', 'refuse'] as const) {
      const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')], { answer: false })
      const [pilar, aslaug] = [await world.as('Pilar'), await world.as(`at ${order.company}`)]
      const later = addDays(today(), 90)
      await aslaug.do(RespondToOrder, {
        params: { id: order.id },
        body: {
          revision: 0,
          note: 'Steel went up.',
          lines: [{ lineId: order.lines[0]!.id, quantity: '8', price: '88', date: later }],
        },
      })
      const sheet = await pilar.do(ReadOrder, { params: { id: order.id } })
      expect(sheet.responses[0]!.differences[0]!.fields.map(field => field.field)).to.deep.equal([
        'quantity',
        'price',
        'needBy',
      ])
      await pilar.do(AnswerResponse, {
        params: { id: order.id, responseId: sheet.responses[0]!.id },
        body: { version: sheet.version, answer, reason: 'As discussed.' },
      })
      const now = await pilar.do(ReadOrder, { params: { id: order.id } })
      const expected = answer === 'accept' ? [1, 'acknowledged', '88', '8', later] : [0, 'issued', '85', '0', null]
      expect([
        now.revision,
        now.state,
        now.lines[0]!.price,
        now.lines[0]!.gauge.confirmed,
        now.lines[0]!.promisedDate,
      ]).to.deep.equal(expected)
    }
  })

  it('of another company is not there for a supplier', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')], { answer: false })
    const other = await world.as('at Aldis Membranes')
    expect((await other.call(SupplierOrder, { params: { id: order.id } })).status).to.equal(404)
    expect(
      (
        await other.call(RespondToOrder, {
          params: { id: order.id },
          body: {
            revision: 0,
            note: '',
            lines: [{ lineId: order.lines[0]!.id, quantity: '1', price: '1', date: today() }],
          },
        })
      ).status,
    ).to.equal(404)
    expect((await other.call(ReadOrder, { params: { id: order.id } })).status).to.equal(403)
  })

  it('is sealed only when its invoices are settled', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    await received(world, order)
    await posted(world, (await billed(world, order)).id)
    const pilar = await world.as('Pilar')
    const { version } = await pilar.do(ReadOrder, { params: { id: order.id } })
    const closed = await pilar.do(ActOnOrder, {
      params: { id: order.id },
      body: { version, action: 'close', reason: 'All in.', needRemains: false },
    })
    expect(
      (
        await pilar.call(ActOnOrder, {
          params: { id: order.id },
          body: { version: closed.version, action: 'seal', reason: 'All in.', needRemains: false },
        })
      ).codes,
    ).to.deep.equal(['order.openInvoices'])
    await pilar.do(ActOnOrder, {
      params: { id: order.id },
      body: { version: closed.version, action: 'reopen', reason: 'Something is missing.', needRemains: false },
    })
  })
})

describe('receiving and billing', () => {
  const world = useWorld()

  it('a receipt in parts, over the tolerance and back again', async () => {
    const order = await ordered(world, [await goodsLine(world, 'FA-1200', '1000')])
    const yuki = await world.as('Yuki')
    const take = (quantity: string, checkReason?: string) =>
      yuki.call(Receive, {
        params: { id: order.id },
        body: {
          receivedOn: today(),
          placeId: PLACE,
          note: '',
          lines: [{ lineId: order.lines[0]!.id, quantity }],
          ...(checkReason ? { checkReason } : {}),
        },
      })
    expect((await take('600')).status).to.equal(200)
    expect((await take('450')).codes[0]).to.equal('receive.wantsReason')
    expect((await take('501')).codes).to.deep.equal(['receive.wantsReason', 'receive.overAsked'])
    expect((await take('450', 'Full boxes.')).status).to.equal(200)
    const sheet = await yuki.do(ReadDelivery, { params: { id: order.id } })
    expect([sheet.lines[0]!.done, sheet.sentence.code]).to.deep.equal(['1050', 'delivery.is.over'])
    const last = sheet.receipts[0]!
    await yuki.do(ReverseReceipt, { params: { id: last.id }, body: { reason: 'Counted twice.' } })
    expect(
      (await yuki.call(ReverseReceipt, { params: { id: last.id }, body: { reason: 'Again.' } })).codes,
    ).to.deep.equal(['receive.reversedAlready'])
    const entries = await (await world.as('Pilar')).do(ReadLineEntries, { params: { id: order.lines[0]!.id } })
    expect(entries.entries.filter(entry => entry.kind === 'received').map(entry => entry.quantity)).to.deep.equal([
      '600',
      '450',
      '-450',
    ])
  })

  it('work is accepted by who asked for it, and by nobody else', async () => {
    const supplierId = (
      (await world.db('suppliers').where({ name: 'Brightwater Diving' }).first('id')) as { id: string }
    ).id
    const line = {
      kind: 'fixedPriceWork' as const,
      itemId: null,
      offerId: null,
      description: 'Inspection dive',
      quantity: '1',
      unit: 'E48',
      price: '2880',
      priceBase: '1',
      currency: 'EUR' as const,
      supplierId,
      needBy: addDays(today(), 30),
      addressId: PLACE,
      splits: [{ accountId: await account(world, 'EX-310', '6310'), share: '1' }],
    }
    const order = await ordered(world, [line])
    const body = {
      receivedOn: today(),
      placeId: PLACE,
      note: '',
      lines: [{ lineId: order.lines[0]!.id, quantity: '1' }],
    }
    expect((await (await world.as('Yuki')).call(Receive, { params: { id: order.id }, body })).codes).to.deep.equal([
      'receive.workByRequester',
    ])
    await (await world.as('Joren')).do(Receive, { params: { id: order.id }, body })
    expect((await billed(world, order)).state).to.equal('matched')
  })

  it('an invoice before the goods is held, and clears by itself when they arrive', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const invoice = await billed(world, order)
    expect(invoice.state).to.equal('onHold')
    const leonie = await world.as('Leonie')
    const held = await leonie.do(ReadInvoice, { params: { id: invoice.id } })
    expect(held.holds.map(hold => [hold.kind, hold.quantity, hold.amount, hold.clearedBy])).to.deep.equal([
      ['proof', '10', '850.00', 'receiver'],
    ])
    expect(held.holds[0]!.clearers).to.include('Yuki Amberley')
    await received(world, order, '4')
    expect(
      (await leonie.do(ReadInvoice, { params: { id: invoice.id } })).holds
        .filter(hold => !hold.endedAt)
        .map(hold => hold.quantity),
    ).to.deep.equal(['6'])
    await received(world, order, '6')
    const clear = await leonie.do(ReadInvoice, { params: { id: invoice.id } })
    expect([clear.state, clear.holds.filter(hold => !hold.endedAt).length]).to.deep.equal(['matched', 0])
  })

  it('a dearer price is cleared by the buyer with a reason, not by the clerk', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order)
    const invoice = await billed(world, order, { price: '89.00' })
    const [leonie, pilar] = [await world.as('Leonie'), await world.as('Pilar')]
    const sheet = await leonie.do(ReadInvoice, { params: { id: invoice.id } })
    expect(sheet.holds.map(hold => [hold.kind, hold.amount])).to.deep.equal([['price', '40.00']])
    const clear = {
      params: { id: invoice.id, holdId: sheet.holds[0]!.id },
      body: { version: sheet.version, reason: 'Agreed by telephone.' },
    }
    expect((await leonie.call(ClearHold, clear)).codes).to.deep.equal(['bill.holdNotYours'])
    expect(
      (await leonie.call(PostInvoice, { params: { id: invoice.id }, body: { version: sheet.version } })).codes,
    ).to.deep.equal(['bill.heldUp'])
    await pilar.do(ClearHold, clear)
    await posted(world, invoice.id)
  })

  it('posting releases the commitment at the ordered price and spends at the billed one', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order)
    expect(moved(before, await figures(world, accountId))).to.deep.equal({
      reserved: 0n,
      committed: 85000n,
      spent: 0n,
      accrued: 85000n,
    })
    await posted(world, (await billed(world, order, { price: '86.00' })).id)
    expect(moved(before, await figures(world, accountId))).to.deep.equal({
      reserved: 0n,
      committed: 0n,
      spent: 86000n,
      accrued: 0n,
    })
  })

  it('billing in parts leaves nothing behind, and voiding restores everything', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const order = await ordered(world, [await goodsLine(world, 'PS-1240', '3')])
    await received(world, order)
    const before = await figures(world, accountId)
    const first = await billed(world, order, { number: 'PART-1', quantity: '1' })
    await posted(world, first.id)
    await posted(world, (await billed(world, order, { number: 'PART-2', quantity: '2' })).id)
    const after = await figures(world, accountId)
    expect(
      [moved(before, after).committed, moved(before, after).accrued].map(
        amount => amount === -BigInt(Math.round(246.5 * 3 * 100)),
      ),
    ).to.deep.equal([true, true])
    const leonie = await world.as('Leonie')
    const { version } = await leonie.do(ReadInvoice, { params: { id: first.id } })
    await leonie.do(ActOnInvoice, {
      params: { id: first.id },
      body: { version, action: 'void', reason: 'Entered for the wrong month.' },
    })
    expect(moved(before, await figures(world, accountId)).spent).to.equal(49300n)
  })

  it('the same invoice a second time is stopped, however its number is written; rejected, it may come again', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order)
    const first = await billed(world, order, { number: 'INV-0042/A' })
    const again = {
      params: { id: order.id },
      body: {
        revision: 0,
        number: 'inv 42a',
        issueDate: today(),
        freight: '0.00',
        taxCategory: 'AE' as const,
        taxRate: '0',
        lines: [{ lineId: order.lines[0]!.id, quantity: '1', price: '85' }],
      },
    }
    const aslaug = await world.as(`at ${order.company}`)
    expect((await aslaug.call(SupplierInvoice, again)).codes).to.deep.equal(['bill.duplicate'])
    const leonie = await world.as('Leonie')
    const { version } = await leonie.do(ReadInvoice, { params: { id: first.id } })
    await leonie.do(ActOnInvoice, {
      params: { id: first.id },
      body: { version, action: 'reject', reason: 'Wrong address.' },
    })
    await aslaug.do(SupplierInvoice, again)
  })

  it('a receipt that is billed can be taken back: its bill is out of the books and waits for its proof again', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    await received(world, order)
    const invoice = await billed(world, order)
    await posted(world, invoice.id)
    const yuki = await world.as('Yuki')
    const { receipts } = await yuki.do(ReadDelivery, { params: { id: order.id } })
    const back = await yuki.do(ReverseReceipt, { params: { id: receipts[0]!.id }, body: { reason: 'Mistake.' } })
    expect(back.unproven).to.equal(1)
    const leonie = await world.as('Leonie')
    const sheet = await leonie.do(ReadInvoice, { params: { id: invoice.id } })
    expect([sheet.state, sheet.history.map(one => one.action).slice(0, 2)]).to.deep.equal([
      'onHold',
      ['heldUp', 'unposted'],
    ])
    await received(world, order)
    expect((await leonie.do(ReadInvoice, { params: { id: invoice.id } })).state).to.equal('matched')
  })

  it('a fee in yen and one in crowns come to whole euros and cents at the dated rate', async () => {
    for (const item of ['PR-1200', 'FK-1200']) {
      const order = await ordered(world, [await goodsLine(world, item, item === 'PR-1200' ? '3' : '60')])
      await received(world, order)
      const invoice = await billed(world, order)
      expect(invoice.state, item).to.equal('matched')
      await posted(world, invoice.id)
    }
  })
})

describe('paying', () => {
  const world = useWorld()

  let quantity = 1
  const due = async (): Promise<{ runId: string; version: number; invoiceId: string }> => {
    await world.db.raw(
      `update suppliers set terms = '{"days": 0, "from": "invoice"}', defaults = defaults || '{"termsDays": "0"}' where name = 'Nordhavn Pumpeverk'`,
    )
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', String(++quantity))])
    await received(world, order)
    const invoice = await billed(world, order)
    await posted(world, invoice.id)
    const run = await (await world.as('Casimir')).do(ProposeRun, { body: { dueUntil: today(), executeOn: today() } })
    return { runId: run.id!, version: run.version, invoiceId: invoice.id }
  }

  it('takes two people, goes out as pain.001 and is paid when the bank says so', async () => {
    const { runId, version, invoiceId } = await due()
    expect(
      (await (await world.as('Casimir')).call(ApproveRun, { params: { id: runId }, body: { version } })).codes,
    ).to.deep.equal(['pay.ownRun'])
    const adaeze = await world.as('Adaeze')
    await adaeze.do(ApproveRun, { params: { id: runId }, body: { version } })
    expect(await adaeze.text(RunFile, { params: { id: runId } })).to.include('pain.001.001.09')
    await sendAll(world)
    await fetchBankAnswers(world.jobs)
    const run = await adaeze.do(ReadRun, { params: { id: runId } })
    expect([run.state, run.messages.map(message => message.kind).sort()]).to.deep.equal([
      'answered',
      ['camt.053', 'pain.002'],
    ])
    expect((await adaeze.do(ReadInvoice, { params: { id: invoiceId } })).state).to.equal('paid')
    await sendAll(world)
    const mails = (await (await fetch(`http://127.0.0.1:${world.mail.httpPort}/mails?to=orders@nordhavn`)).json()) as {
      mails: { subject: string }[]
    }
    expect(mails.mails.filter(mail => mail.subject.startsWith('Remittance advice'))).to.have.length.above(0)
  })

  it('cannot pay an invoice twice: it is in one run at a time, and the bank’s answers count once', async () => {
    const { runId, version, invoiceId } = await due()
    const casimir = await world.as('Casimir')
    expect((await casimir.do(ProposeRun, { body: { dueUntil: today(), executeOn: today() } })).taken).to.equal(0)
    await (await world.as('Adaeze')).do(ApproveRun, { params: { id: runId }, body: { version } })
    await sendAll(world)
    expect(await fetchBankAnswers(world.jobs)).to.be.greaterThan(0)
    const before = await world.db('quantityEntries').where({ kind: 'paid' }).count({ n: '*' }).first()
    await world.db('paymentRuns').where({ id: runId }).update({ state: 'sent' })
    expect(await fetchBankAnswers(world.jobs)).to.equal(0)
    await world.db('paymentRuns').where({ id: runId }).update({ state: 'answered' })
    expect(await world.db('quantityEntries').where({ kind: 'paid' }).count({ n: '*' }).first()).to.deep.equal(before)
    expect((await casimir.do(ReadInvoice, { params: { id: invoiceId } })).state).to.equal('paid')
    const insert = world.db('payments').insert({
      ...((await world.db('payments').where({ invoiceId }).first()) as object),
      id: '22222222-2222-4222-8222-222222222222',
      endToEndId: 'TWICE',
    })
    expect(
      await insert.then(
        () => 'paid twice',
        (error: { constraint: string }) => error.constraint,
      ),
    ).to.equal('payments_never_twice')
  })

  it('withdrawn, its invoices can go into another run', async () => {
    const { runId, version } = await due()
    const casimir = await world.as('Casimir')
    await casimir.do(WithdrawRun, { params: { id: runId }, body: { version, reason: 'Not this week.' } })
    expect((await casimir.do(ProposeRun, { body: { dueUntil: today(), executeOn: today() } })).taken).to.be.greaterThan(
      0,
    )
  })

  it('waits for a changed account until another person has proved it', async () => {
    const [casimir, pilar] = [await world.as('Casimir'), await world.as('Pilar')]
    const id = ((await world.db('suppliers').where({ name: 'Nordhavn Pumpeverk' }).first('id')) as { id: string }).id
    const run = await due()
    const supplier = await pilar.do(ReadSupplier, { params: { id } })
    const changed = await pilar.do(SetBankAccount, {
      params: { id },
      body: { version: supplier.version, iban: inventedIban('NO', 4242), bic: '', holder: 'Nordhavn Pumpeverk' },
    })
    const refused = await (
      await world.as('Adaeze')
    ).call(ApproveRun, { params: { id: run.runId }, body: { version: run.version } })
    expect(refused.codes).to.include('pay.accountChanged')
    await casimir.do(WithdrawRun, {
      params: { id: run.runId },
      body: { version: run.version, reason: 'The account changed.' },
    })
    const again = await casimir.do(ProposeRun, { body: { dueUntil: today(), executeOn: today() } })
    expect(again.left.map(reason => reason.code)).to.include('pay.unproven')
    const account = (await pilar.do(ReadSupplier, { params: { id } })).bankAccounts.find(
      one => one.state === 'unproven',
    )!
    expect(
      (
        await pilar.call(ProveBankAccount, {
          params: { id, accountId: account.id },
          body: { version: changed.version, proof: 'I called them.' },
        })
      ).status,
    ).to.equal(403)
    await casimir.do(ProveBankAccount, {
      params: { id, accountId: account.id },
      body: { version: changed.version, proof: 'Called the known number.' },
    })
    expect(
      (await casimir.do(ProposeRun, { body: { dueUntil: today(), executeOn: today() } })).left.filter(
        reason => reason.details.invoice === run.invoiceId,
      ),
    ).to.deep.equal([])
  })
})

describe('lists', () => {
  const world = useWorld()

  it('page by key through everything once, in order', async () => {
    const { Requisitions } = await import('#contract/request/endpoints.ts')
    const pilar = await world.as('Pilar')
    const seen: string[] = []
    for (let after: string | undefined; ;) {
      const page = await pilar.do(Requisitions.page, {
        query: { view: 'all', sort: 'amount', limit: 7, ...(after ? { after } : {}) },
      })
      seen.push(...page.rows.map(row => row.number))
      if (!page.next) break
      after = page.next
    }
    const all = (await world
      .db('requisitions')
      // what nobody has submitted is its drafter's alone
      .whereNotNull('submittedAt')
      .orderBy([
        { column: 'total', order: 'desc' },
        { column: 'id', order: 'desc' },
      ])
      .select('number')) as { number: string }[]
    expect(seen).to.deep.equal(all.map(row => row.number))
  })

  it('search by part of a word and say how many they hide', async () => {
    const { Orders } = await import('#contract/order/endpoints.ts')
    const page = await (await world.as('Pilar')).do(Orders.page, { query: { view: 'all', q: 'pump nordh' } })
    expect(page.rows.length).to.be.greaterThan(2)
    expect(page.rows.every(row => row.title === 'Nordhavn Pumpeverk')).to.equal(true)
    expect(page.hidden).to.be.greaterThan(30)
    expect((await (await world.as('Pilar')).do(Orders.page, { query: { q: '%_\\' } })).rows).to.deep.equal([])
  })

  it('export exactly what they show, without formulas', async () => {
    const { Suppliers, CreateSupplier } = await import('#contract/source/endpoints.ts')
    const rasmus = await world.as('Rasmus')
    await rasmus.do(CreateSupplier, {
      body: supplierBody({ name: '=HYPERLINK("http://x")' }),
    })
    const csv = await rasmus.text(Suppliers.export, { params: { format: 'csv' }, query: { q: 'hyperlink' } })
    expect(csv.trim().split('\r\n')).to.have.length(2)
    expect(csv).to.include(`"'=HYPERLINK(""http://x"")"`)
    expect((await rasmus.call(Suppliers.export, { params: { format: 'xlsx' } })).status).to.equal(200)
  })

  it('of a requester hold only what is theirs to see', async () => {
    const { Requisitions } = await import('#contract/request/endpoints.ts')
    const page = await (await world.as('Ines')).do(Requisitions.page, { query: { view: 'all', limit: 200 } })
    expect(new Set(page.rows.map(row => row.cells.requester))).to.deep.equal(new Set(['Ines Castellane']))
  })

  it('are not touched by a forged page key', async () => {
    const { Orders } = await import('#contract/order/endpoints.ts')
    for (const after of [
      'xx',
      Buffer.from('["a"]').toString('base64url'),
      Buffer.from('{"a":1}').toString('base64url'),
    ])
      expect((await (await world.as('Pilar')).call(Orders.page, { query: { after } })).status).to.equal(200)
  })

  it('approved lines end in purchasing and nowhere twice', async () => {
    const id = await approved(world, [await goodsLine(world, 'PS-1200', '1'), await goodsLine(world, 'UL-1200', '2')])
    const { ToBuy } = await import('#contract/order/endpoints.ts')
    const page = await (await world.as('Pilar')).do(ToBuy.page, { query: { limit: 200 } })
    expect(page.rows.filter(row => row.path === `/request/${id}`)).to.have.length(2)
  })
})
