import { expect } from 'chai'
import { ReadInvoice } from '#contract/bill/endpoints.ts'
import {
  AnswerRecall,
  ApproveRun,
  BankMessages,
  ProposeRun,
  ReadBankMessage,
  ReadRun,
  RecallRun,
  SettleBankItem,
  WithdrawRun,
} from '#contract/pay/endpoints.ts'
import { ReadDesk } from '#contract/desk/endpoints.ts'
import { ReadRegister, SaveEntry } from '#contract/setup/registers.ts'
import { addDays } from '#core/calendar/days.ts'
import { inTransaction } from '#server/jobs/parts.ts'
import { takeFile, type Taken } from '#server/pay/bankActs.ts'
import { fetchBankAnswers } from '#server/pay/bankTransfer.ts'
import { inventedIban } from '#demo/identifiers.ts'
import { billed, goodsLine, ordered, posted, received, today } from '#test-helpers/steps.ts'
import { sendAll, useWorld, type World } from '#test-helpers/world.ts'

interface Due {
  readonly runId: string
  readonly version: number
  readonly invoiceId: string
  readonly endToEndId: string
  readonly amount: string
}

let quantity = 1
/** A posted invoice of Nordhavn that is due today, in a run that waits for its approval. */
async function due(world: World): Promise<Due> {
  await world.db.raw(
    `update suppliers set terms = '{"days": 0, "from": "invoice"}', defaults = defaults || '{"termsDays": "0"}' where name = 'Nordhavn Pumpeverk'`,
  )
  const order = await ordered(world, [await goodsLine(world, 'PS-1200', String(++quantity))])
  await received(world, order)
  const invoice = await billed(world, order)
  await posted(world, invoice.id)
  const run = await (await world.as('Casimir')).do(ProposeRun, { body: { dueUntil: today(), executeOn: today() } })
  const payment = (await world.db('payments').where({ invoiceId: invoice.id, runId: run.id! }).first())!
  const amount = `${payment.amount / 100n}.${String(payment.amount % 100n).padStart(2, '0')}`
  return { runId: run.id!, version: run.version, invoiceId: invoice.id, endToEndId: payment.endToEndId, amount }
}

/** A run whose file the bank has, and that it has not answered. */
async function atTheBank(world: World): Promise<Due> {
  const run = await due(world)
  await (await world.as('Adaeze')).do(ApproveRun, { params: { id: run.runId }, body: { version: run.version } })
  await sendAll(world)
  return run
}

const take = (world: World, name: string, content: string): Promise<Taken> =>
  inTransaction(world.jobs, call => takeFile(call, name, Buffer.from(content)))

const statement = (id: string, entries: string): string =>
  `<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>${id}</MsgId></GrpHdr><Stmt><Id>1</Id>${entries}</Stmt></BkToCstmrStmt></Document>`
const booked = (reference: string, amount: string, date: string, way = 'DBIT', more = ''): string =>
  `<Ntry><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>${way}</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>${date}</Dt></BookgDt><NtryDtls><TxDtls><Refs><EndToEndId>${reference}</EndToEndId></Refs>${more}</TxDtls></NtryDtls></Ntry>`

describe('what a bank says', () => {
  const world = useWorld()

  it('that cannot be read is kept and shown, and the next message is taken', async () => {
    const run = await atTheBank(world)
    expect(await take(world, 'A-BROKEN', '<Document')).to.deep.equal({ moved: 0, open: 1 })
    expect(
      await take(world, 'B-DATE', statement('B-DATE', booked(run.endToEndId, run.amount, '2026-02-30'))),
    ).to.deep.equal({ moved: 0, open: 1 })
    await fetchBankAnswers(world.jobs)
    const casimir = await world.as('Casimir')
    expect((await casimir.do(ReadInvoice, { params: { id: run.invoiceId } })).state).to.equal('paid')
    const list = await casimir.do(BankMessages.page, { query: { view: 'open' } })
    expect(list.rows.map(row => row.number)).to.include.members(['A-BROKEN', 'B-DATE'])
    const desk = await casimir.do(ReadDesk)
    expect(desk.items.filter(item => item.key.startsWith('bankMessage'))).to.have.length(2)
  })

  it('is dealt with by a person, once and with what they did', async () => {
    await take(world, 'C-OTHER', statement('C-OTHER', booked('NOBODY-1', '12.00', today())))
    const casimir = await world.as('Casimir')
    const { rows } = await casimir.do(BankMessages.page, { query: { view: 'open', q: 'c-other' } })
    const sheet = await casimir.do(ReadBankMessage, { params: { id: rows[0]!.id } })
    expect(sheet.items.map(item => [item.effect, item.why?.code])).to.deep.equal([['open', 'bank.open.noPayment']])
    expect(rows[0]!.path).to.equal(`/pay/bank-messages/${sheet.id}`)
    const settle = {
      params: { id: sheet.id, itemId: sheet.items[0]!.id },
      body: { version: sheet.version, note: 'The bank says it was a fee.' },
    }
    expect((await (await world.as('Joren')).call(SettleBankItem, settle)).status).to.equal(403)
    await casimir.do(SettleBankItem, settle)
    const after = await casimir.do(ReadBankMessage, { params: { id: sheet.id } })
    expect(after.items[0]!.settled?.note).to.equal('The bank says it was a fee.')
    expect((await casimir.call(SettleBankItem, settle)).codes).to.deep.equal(['document.changed'])
    expect(
      (await casimir.call(SettleBankItem, { ...settle, body: { ...settle.body, version: after.version } })).codes,
    ).to.deep.equal(['bank.settledAlready'])
    expect((await casimir.do(BankMessages.page, { query: { view: 'open', q: 'c-other' } })).rows).to.deep.equal([])
  })

  it('of money that came back opens the invoice again, also after the run was answered', async () => {
    const run = await atTheBank(world)
    await fetchBankAnswers(world.jobs)
    const back = '<RtrInf><Rsn><Cd>AC04</Cd></Rsn></RtrInf>'
    const said = statement('D-RETURN', booked(run.endToEndId, run.amount, addDays(today(), 1), 'CRDT', back))
    expect((await take(world, 'D-RETURN', said)).moved).to.equal(1)
    const invoice = await (await world.as('Casimir')).do(ReadInvoice, { params: { id: run.invoiceId } })
    expect(invoice.state).to.equal('cleared')
    expect((await take(world, 'D-RETURN-AGAIN', said)).moved).to.equal(0)
  })

  it('under an old name but with another content is not taken for the old one', async () => {
    await take(world, 'E-1', statement('E-1', booked('NOBODY-2', '1.00', today())))
    await take(world, 'E-2', statement('E-1', booked('NOBODY-2', '2.00', today())))
    const message = await world.db('bankMessages').where({ name: 'E-2' }).first('state')
    expect(message).to.deep.equal({ state: 'unreadable' })
  })

  it('is fetched by two at once and taken once', async () => {
    await atTheBank(world)
    await Promise.all([fetchBankAnswers(world.jobs), fetchBankAnswers(world.jobs)])
    const names = await world.db('bankMessages').select('name')
    expect(new Set(names.map(row => row.name)).size).to.equal(names.length)
  })
})

describe('a run that left', () => {
  const world = useWorld()

  it('cannot be withdrawn, also while nobody knows whether the bank has it', async () => {
    const run = await due(world)
    await (await world.as('Adaeze')).do(ApproveRun, { params: { id: run.runId }, body: { version: run.version } })
    world.bank.faults.down = true
    await sendAll(world).catch(() => undefined)
    world.bank.faults.down = false
    const casimir = await world.as('Casimir')
    const sheet = await casimir.do(ReadRun, { params: { id: run.runId } })
    expect([sheet.state, sheet.trouble !== null]).to.deep.equal(['sending', true])
    const withdraw = await casimir.call(WithdrawRun, {
      params: { id: run.runId },
      body: { version: sheet.version, reason: 'Stop it.' },
    })
    expect([withdraw.status, withdraw.codes.length]).to.deep.equal([422, 1])
    expect(sheet.actions.find(one => one.action === 'withdraw')?.possible).to.equal(false)
    expect(sheet.actions.find(one => one.action === 'recall')?.possible).to.equal(true)
    await sendAll(world)
    await fetchBankAnswers(world.jobs)
  })

  it('is recalled by two people, and its invoices can be paid again', async () => {
    const run = await atTheBank(world)
    const [casimir, adaeze] = [await world.as('Casimir'), await world.as('Adaeze')]
    const params = { id: run.runId }
    const { version } = await casimir.do(ReadRun, { params })
    await casimir.do(RecallRun, { params, body: { version, reason: 'Sent twice by mistake.' } })
    const asked = await casimir.do(ReadRun, { params })
    expect([asked.recall?.reason, asked.sentence.code]).to.deep.equal(['Sent twice by mistake.', 'run.is.recallAsked'])
    const answer = { version: asked.version, answer: 'approve' as const, reason: 'The bank has stopped it.' }
    expect((await casimir.call(AnswerRecall, { params, body: answer })).codes).to.include.oneOf([
      'pay.ownRecall',
      'right.missing',
    ])
    expect((await adaeze.do(ReadDesk)).items.map(item => item.key.split(':')[0])).to.include('recall')
    await adaeze.do(AnswerRecall, { params, body: answer })
    const recalled = await adaeze.do(ReadRun, { params })
    expect([recalled.state, ...new Set(recalled.payments.map(one => one.state))]).to.deep.equal([
      'recalled',
      'recalled',
    ])
    expect((await casimir.do(ReadInvoice, { params: { id: run.invoiceId } })).state).to.equal('cleared')
  })

  it('goes on when the recall is refused', async () => {
    const run = await atTheBank(world)
    const [casimir, adaeze] = [await world.as('Casimir'), await world.as('Adaeze')]
    const params = { id: run.runId }
    const { version } = await casimir.do(ReadRun, { params })
    const asked = await casimir.do(RecallRun, { params, body: { version, reason: 'Perhaps wrong.' } })
    await adaeze.do(AnswerRecall, {
      params,
      body: { version: asked.version, answer: 'reject', reason: 'It is right.' },
    })
    expect((await casimir.do(ReadRun, { params })).recall).to.equal(null)
    await fetchBankAnswers(world.jobs)
    expect((await casimir.do(ReadInvoice, { params: { id: run.invoiceId } })).state).to.equal('paid')
  })
})

describe('a run', () => {
  const world = useWorld()

  it('is not carried out years from now, nor in the past', async () => {
    const casimir = await world.as('Casimir')
    for (const executeOn of [addDays(today(), 800), addDays(today(), -3)]) {
      const answer = await casimir.call(ProposeRun, { body: { dueUntil: today(), executeOn } })
      expect([answer.status, answer.reasons[0]?.place]).to.deep.equal([422, 'executeOn'])
    }
  })

  it('pays nobody who is barred since the invoice was posted', async () => {
    const run = await due(world)
    await world.db('suppliers').where({ name: 'Nordhavn Pumpeverk' }).update({ state: 'barred' })
    const answer = await (
      await world.as('Adaeze')
    ).call(ApproveRun, { params: { id: run.runId }, body: { version: run.version } })
    expect([answer.status, answer.codes.some(code => code.startsWith('pay.'))]).to.deep.equal([422, true])
    await world.db('suppliers').where({ name: 'Nordhavn Pumpeverk' }).update({ state: 'active' })
  })

  const ours = { register: 'ownAccounts' as const }
  it('cannot be approved while no account of ours can pay its currencies', async () => {
    const wren = await world.as('Wren')
    const [main] = (await wren.do(ReadRegister, { params: ours })).entries
    const close = async (open: boolean): Promise<void> => {
      const { version } = (await wren.do(ReadRegister, { params: ours })).entries[0]!
      await wren.do(SaveEntry, { params: ours, body: { id: main!.id, version, open, values: main!.values } })
    }
    const run = await due(world)
    await close(false)
    const adaeze = await world.as('Adaeze')
    const refused = await adaeze.call(ApproveRun, { params: { id: run.runId }, body: { version: run.version } })
    expect([refused.status, refused.codes]).to.deep.equal([422, ['pay.noOwnAccount']])
    await close(true)
    await adaeze.do(ApproveRun, { params: { id: run.runId }, body: { version: run.version } })
  })

  it('is paid from an account that needs no BIC; the file leaves the element out', async () => {
    const wren = await world.as('Wren')
    const iban = inventedIban('NL', 77)
    const [main] = (await wren.do(ReadRegister, { params: ours })).entries
    const keep = (changed: Record<string, string>) =>
      wren.call(SaveEntry, {
        params: ours,
        body: { id: main!.id, version: main!.version, open: true, values: { ...main!.values, bic: '', ...changed } },
      })
    const wrong = await keep({ iban: 'NL00BANK0123456789', currency: 'EURO' })
    expect([wrong.status, wrong.codes]).to.deep.equal([422, ['register.iban', 'register.currency']])
    expect((await keep({ iban })).status).to.equal(200)
    const run = await atTheBank(world)
    const file = (await world.db('paymentRuns').where({ id: run.runId }).first('file'))!.file!
    expect(file).to.include(`<IBAN>${iban}</IBAN>`)
    expect(file).to.not.match(/<(BICFI|Id)\s*\/>|<(BICFI|Id)><\/\2>/)
  })
})
