import { expect } from 'chai'
import { ActOnCredit, CreditFile, ReadCredit, SupplierCredit, SupplierCreditFile, SupplierInvoices, SupplierInvoiceSheet, WithdrawSupplierCredit, WriteDebit } from '#contract/bill/credits.ts' // prettier-ignore
import { ActOnInvoice, PostInvoice, ReadInvoice, ReadInvoiceFiles } from '#contract/bill/endpoints.ts'
import { ProposeRun } from '#contract/pay/endpoints.ts'
import { ReverseReceipt, ReadDelivery } from '#contract/receive/endpoints.ts'
import { vatOf } from '#demo/world.ts'
import { readEInvoice } from '#core/formats/eInvoice.ts'
import { checkInvoice } from '#core/bill/en16931.ts'
import { addDays } from '#core/calendar/days.ts'
import { reading } from '#server/call.ts'
import { invoicesIn } from '#server/formats/invoiceFile.ts'
import { audit } from '#server/insight/audit.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { billed, goodsLine, type Issued, ordered, posted, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const note = (number: string, lines: { of: number; way: 'quantity' | 'price'; quantity: string; priceOff?: string }[], charges = '0.00') => ({ number, issueDate: today(), reason: 'Two were broken.', charges, lines: lines.map(one => ({ priceOff: '0', ...one })) }) // prettier-ignore

describe('credit and debit notes', () => {
  const world = useWorld()
  const leonie = () => world.as('Leonie')
  const seller = (order: Issued) => world.as(`at ${order.company}`)
  const audited = async () => await world.db.transaction(async trx => (await audit(reading(trx, await settingOf(world.jobs)))).differences) // prettier-ignore
  const sheetOf = async (id: string) => (await leonie()).do(ReadInvoice, { params: { id } })
  const creditOf = async (id: string) => (await leonie()).do(ReadCredit, { params: { id } })
  const credit = async (order: Issued, id: string, body: ReturnType<typeof note>, send = true) => (await seller(order)).call(SupplierCredit, { params: { id }, body: { creditId: null, version: null, send, note: body, fileIds: [] } }) // prettier-ignore
  const inBooks = async (number: string, quantity = '10'): Promise<{ order: Issued; id: string }> => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', quantity)])
    await received(world, order, quantity)
    const { id } = await billed(world, order, { quantity, number })
    await posted(world, id)
    return { order, id }
  }

  it('a supplier writes one by quantity and one by price; posted they are set off, and void brings all back', async () => {
    const { order, id } = await inBooks('CR-1')
    const before = await sheetOf(id)
    const draft = await credit(order, id, note('', [{ of: 1, way: 'quantity', quantity: '2' }]), false)
    expect(draft.status).to.equal(200)
    const written = draft.body as { id: string; version: number; gross: string }
    expect((await credit(order, id, note('', [{ of: 1, way: 'quantity', quantity: '2' }]))).codes).to.deep.equal(['credit.number']) // prettier-ignore
    const sent = await (await seller(order)).do(SupplierCredit, { params: { id }, body: { creditId: written.id, version: written.version, send: true, note: note('GS-1', [{ of: 1, way: 'quantity', quantity: '2' }]), fileIds: [] } }) // prettier-ignore
    expect(sent.state).to.equal('waiting')
    expect((await credit(order, id, note('gs 001', [{ of: 1, way: 'quantity', quantity: '1' }]))).codes).to.deep.equal(['credit.duplicate']) // prettier-ignore
    // eight are left: nine are too many, and so is more money than they cost
    expect((await credit(order, id, note('GS-2', [{ of: 1, way: 'quantity', quantity: '9' }]))).codes).to.deep.equal(['credit.aboveQuantity']) // prettier-ignore
    expect((await credit(order, id, note('GS-2', [{ of: 1, way: 'price', quantity: '10', priceOff: '99999' }]))).codes).to.include('credit.aboveNet') // prettier-ignore
    const price = (await credit(order, id, note('GS-2', [{ of: 1, way: 'price', quantity: '8', priceOff: '1.25' }]))).body as { id: string; gross: string } // prettier-ignore
    expect(price.gross).to.equal('10.00')
    expect(await audited()).to.deep.equal([])
    const clerk = await leonie()
    await clerk.do(ActOnCredit, { params: { id: sent.id }, body: { version: (await creditOf(sent.id)).version, action: 'post', reason: '' } }) // prettier-ignore
    const shown = await creditOf(sent.id)
    expect([shown.state, shown.setOff, shown.setOffs.map(one => one.number)]).to.deep.equal(['posted', shown.gross, [before.number]]) // prettier-ignore
    expect(await audited()).to.deep.equal([])
    // while it is set off and unpaid it can be voided; what it took is owed again
    await clerk.do(ActOnCredit, { params: { id: sent.id }, body: { version: shown.version, action: 'void', reason: 'Wrong one.' } }) // prettier-ignore
    expect((await sheetOf(id)).state).to.equal('cleared')
    expect(await audited()).to.deep.equal([])
    // a standing credit keeps its invoice
    const refused = await clerk.call(ActOnInvoice, { params: { id }, body: { version: (await sheetOf(id)).version, action: 'void', reason: 'Wrong.' } }) // prettier-ignore
    expect(refused.codes).to.deep.equal(['bill.credited'])
    const { version } = await creditOf(price.id)
    expect((await (await seller(order)).call(WithdrawSupplierCredit, { params: { id: price.id }, body: { version, reason: '' } })).status).to.equal(200) // prettier-ignore
    expect((await creditOf(price.id)).state).to.equal('withdrawn')
    expect(await audited()).to.deep.equal([])
  })

  it('one that takes all leaves nothing to pay; what is left of a credit is set off against the next bill of the supplier', async () => {
    const { order, id } = await inBooks('CR-5', '4')
    const whole = (await credit(order, id, note('GS-5', [{ of: 1, way: 'quantity', quantity: '4' }]))).body as { id: string } // prettier-ignore
    const clerk = await leonie()
    await clerk.do(ActOnCredit, { params: { id: whole.id }, body: { version: (await creditOf(whole.id)).version, action: 'post', reason: '' } }) // prettier-ignore
    expect((await sheetOf(id)).state).to.equal('setOff')
    expect(await audited()).to.deep.equal([])
    expect((await credit(order, id, note('GS-6', [{ of: 1, way: 'quantity', quantity: '1' }]))).codes).to.include('credit.aboveQuantity') // prettier-ignore
    // a second bill is proposed for payment less what is open of a third one's credit
    const paid = await inBooks('CR-6', '5')
    const other = await inBooks('CR-7', '2')
    const open = (await credit(other.order, other.id, note('GS-7', [{ of: 1, way: 'price', quantity: '2', priceOff: '3' }]))).body as { id: string } // prettier-ignore
    await clerk.do(ActOnCredit, { params: { id: open.id }, body: { version: (await creditOf(open.id)).version, action: 'post', reason: '' } }) // prettier-ignore
    const treasurer = await world.as('Casimir')
    await treasurer.do(ProposeRun, { body: { dueUntil: addDays(today(), 90), executeOn: today() } })
    const rows = await world.db('payments').whereIn('invoiceId', [paid.id, other.id]).select<{ invoiceId: string; amount: bigint }[]>('invoiceId', 'amount') // prettier-ignore
    const owed = await world.db('invoices').whereIn('id', [paid.id, other.id]).select('id', 'payable', 'setOff')
    for (const row of rows) {
      const one = owed.find(invoice => invoice.id === row.invoiceId)!
      expect(row.amount).to.equal(one.payable - one.setOff)
    }
    expect(owed.reduce((sum, one) => sum + one.setOff, 0n)).to.equal(600n)
    expect(await audited()).to.deep.equal([])
    const stuck = await clerk.call(ActOnCredit, { params: { id: open.id }, body: { version: (await creditOf(open.id)).version, action: 'void', reason: 'Wrong.' } }) // prettier-ignore
    if (rows.length > 0) expect(stuck.codes).to.deep.equal(['credit.setOff'])
  })

  it('a debit note takes the difference off a held bill: the rest is paid, both post together, and wait together again', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order, '10')
    const price = order.lines[0]!.price
    const { id } = await billed(world, order, { quantity: '10', number: 'DN-1', price: String(Number(price) + 2) })
    const held = await sheetOf(id)
    expect([held.state, held.holds[0]!.kind, held.holds[0]!.amount]).to.deep.equal(['onHold', 'price', '20.00'])
    const buyer = await world.as('Pilar')
    const nothing = await buyer.call(WriteDebit, { params: { id }, body: { version: held.version, note: { ...note('', [{ of: 1, way: 'price', quantity: '10', priceOff: '2' }]), reason: '' } } }) // prettier-ignore
    expect(nothing.codes).to.deep.equal(['bill.wantsReason'])
    const debit = await buyer.do(WriteDebit, { params: { id }, body: { version: held.version, note: note('', [{ of: 1, way: 'price', quantity: '10', priceOff: '2' }]) } }) // prettier-ignore
    expect(debit.state).to.equal('waiting')
    const free = await sheetOf(id)
    expect([free.state, free.holds.filter(one => one.endedAt === null)]).to.deep.equal(['matched', []])
    expect(await audited()).to.deep.equal([])
    await (await leonie()).do(PostInvoice, { params: { id }, body: { version: free.version } })
    expect((await creditOf(debit.id)).state).to.equal('posted')
    expect(await audited()).to.deep.equal([])
    const outbox = await world.db('outbox').whereRaw(`payload::text like '%' || ? || '%'`, [debit.number])
    expect(outbox.length).to.be.above(0)
    // the receipt is taken back: the bill is out of the books, and its debit note with it
    const yuki = await world.as('Yuki')
    const delivery = await yuki.do(ReadDelivery, { params: { id: order.id } })
    const receipt = delivery.receipts[0]!
    await yuki.do(ReverseReceipt, { params: { id: receipt.id }, body: { reason: 'Counted wrongly.' } }) // prettier-ignore
    expect([(await sheetOf(id)).state, (await creditOf(debit.id)).state]).to.deep.equal(['onHold', 'waiting'])
    expect(await audited()).to.deep.equal([])
    await (await leonie()).do(ActOnInvoice, { params: { id }, body: { version: (await sheetOf(id)).version, action: 'reject', reason: 'Nothing came.' } }) // prettier-ignore
    expect((await creditOf(debit.id)).state).to.equal('withdrawn')
    expect(await audited()).to.deep.equal([])
  })

  it('are given out as UBL, CII and a PDF with the data in it, which our own checker finds nothing in; and read as a file', async () => {
    const { order, id } = await inBooks('CR-9', '7')
    const sent = (await credit(order, id, note('GS-9', [{ of: 1, way: 'quantity', quantity: '3' }]))).body as { id: string; gross: string } // prettier-ignore
    const supplier = await seller(order)
    const [ubl, cii, pdf] = await Promise.all((['ubl', 'cii', 'pdf'] as const).map(form => supplier.bytes(SupplierCreditFile, { id: sent.id }, { form }))) // prettier-ignore
    for (const file of [ubl!, cii!]) {
      const text = readEInvoice(file.toString())
      expect([text.typeCode, text.number, text.preceding[0]?.number, text.totals.gross, text.seller.vatId]).to.deep.equal(['381', 'GS-9', 'CR-9', sent.gross, vatOf('nordhavn')]) // prettier-ignore
      expect(checkInvoice(text, today()).map(one => one.rule)).to.deep.equal([])
    }
    const [inside] = await invoicesIn('x.pdf', pdf!)
    expect([inside!.invoice?.number, inside!.invoice?.typeCode, inside!.invoice?.lines[0]?.quantity]).to.deep.equal(['GS-9', '381', '3']) // prettier-ignore
    const foreign = await world.as('at Brightwater Diving')
    expect((await foreign.call(SupplierInvoiceSheet, { params: { id } })).status).to.equal(404)
    expect((await foreign.call(SupplierCredit, { params: { id }, body: { creditId: null, version: null, send: true, note: note('X-1', [{ of: 1, way: 'quantity', quantity: '1' }]), fileIds: [] } })).status).to.equal(404) // prettier-ignore
    const mine = await supplier.do(SupplierInvoices, { query: { search: 'cr-9' } })
    expect(mine.invoices.map(one => one.number)).to.deep.equal(['CR-9'])
    const page = await supplier.do(SupplierInvoiceSheet, { params: { id } })
    expect([page.state, page.mayCredit, page.lines[0]!.leftQuantity, page.payDay !== null]).to.deep.equal(['cleared', true, '4', true]) // prettier-ignore
    // taken back on the pages, it comes as a file
    await supplier.do(WithdrawSupplierCredit, { params: { id: sent.id }, body: { version: (await creditOf(sent.id)).version, reason: '' } }) // prettier-ignore
    const clerk = await leonie()
    const fileId = (await clerk.upload('gs-9.xml', ubl!)).body.id
    const { results } = await clerk.do(ReadInvoiceFiles, { body: { fileIds: [fileId] } })
    expect(results.map(one => [one.state, one.path.startsWith('/bill/credits/')])).to.deep.equal([['waiting', true]])
    const again = await clerk.do(ReadInvoiceFiles, { body: { fileIds: [(await clerk.upload('gs-9b.xml', cii!)).body.id] } }) // prettier-ignore
    expect(again.results[0]!.reasons.map(one => one.code)).to.deep.equal(['credit.duplicate'])
    expect((await clerk.bytes(CreditFile, { id: sent.id }, { form: 'pdf' })).subarray(0, 4).toString()).to.equal('%PDF')
    expect(await audited()).to.deep.equal([])
  })
})
