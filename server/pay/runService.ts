import { randomUUID } from 'node:crypto'
import { formatAmount, sumMinor } from '#core/money/amount.ts'
import type { BankAnswer, PaymentAnswer } from '#core/formats/bankAnswers.ts'
import { INVOICE_STATES } from '#core/bill/states.ts'
import { PAYMENT_STATES, payableReasons, type PaymentState, RUN_STATES, type RunState } from '#core/pay/states.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { type InvoiceRow, invoiceLines } from '#server/bill/matchService.ts'
import { writePain001 } from '#server/formats/pain001.ts'
import { record } from '#server/ledger/history.ts'
import { postQuantities } from '#server/ledger/quantityStore.ts'
import { post } from '#server/outbox/post.ts'
import { mailSupplier } from '#server/source/messages.ts'

export interface RunRow {
  id: string
  number: string
  state: RunState
  executeOn: string
  proposedBy: string
  approvedBy: string | null
  baseTotal: bigint
  payments: number
  version: number
  createdAt: string
  changedAt: string
  file: string | null
}
export interface PaymentRow {
  id: string
  runId: string
  invoiceId: string
  bankAccountId: string
  iban: string
  bic: string
  holder: string
  amount: bigint
  currency: string
  endToEndId: string
  state: PaymentState
  bankReason: string | null
  paidOn: string | null
}
interface Account {
  id: string
  supplierId: string
  iban: string
  bic: string
  holder: string
  state: 'unproven' | 'proven' | 'closed'
}

async function lockRun(call: Call, id: string): Promise<RunRow> {
  return found((await call.trx('paymentRuns').where({ id }).forNoKeyUpdate().first()) as RunRow | undefined, 'paymentRun')
}

/** Proposes what is due until a day. Invoices that cannot be paid stay out, each with its reason. */
export async function proposeRun(call: Call, dueUntil: string, executeOn: string): Promise<{ id: string | null; version: number; taken: number; left: Reason[] }> {
  if (executeOn < call.today) throw new RuleBroken(stop('pay.executePast', { today: call.today }, { place: 'executeOn' }))
  const due = (await call.trx('invoices').where({ state: 'cleared' }).andWhere('dueOn', '<=', dueUntil).orderBy('id').forNoKeyUpdate()) as InvoiceRow[]
  const accounts = new Map(
    (
      (await call
        .trx('supplierBankAccounts')
        .whereIn(
          'supplierId',
          due.map(invoice => invoice.supplierId),
        )
        .whereNot({ state: 'closed' })) as Account[]
    ).map(account => [account.supplierId, account]),
  )
  const refusals = (await call
    .trx('payments')
    .whereIn(
      'invoiceId',
      due.map(invoice => invoice.id),
    )
    .where({ state: 'refused' })
    .select('invoiceId', 'bankAccountId', 'bankReason')) as { invoiceId: string; bankAccountId: string; bankReason: string | null }[]
  const refusedWith = (invoiceId: string, accountId: string | undefined): string | null =>
    refusals.find(one => one.invoiceId === invoiceId && one.bankAccountId === accountId)?.bankReason ?? null
  const methods = new Map(
    (
      (await call
        .trx('suppliers')
        .whereIn(
          'id',
          due.map(invoice => invoice.supplierId),
        )
        .select('id', call.trx.raw("coalesce(defaults ->> 'method', '') as method"))) as { id: string; method: string }[]
    ).map(row => [row.id, row.method]),
  )
  const judged = due.map(invoice => ({
    invoice,
    account: accounts.get(invoice.supplierId),
    reasons: payableReasons({
      number: invoice.number,
      method: methods.get(invoice.supplierId),
      bankAccount: accounts.get(invoice.supplierId) ?? null,
      refusedWith: refusedWith(invoice.id, accounts.get(invoice.supplierId)?.id),
    }),
  }))
  const left = judged.flatMap(one => one.reasons)
  const taken = judged.filter(one => one.reasons.length === 0)
  if (taken.length === 0) return { id: null, version: 1, taken: 0, left }
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'P-' || nextval('run_numbers') as number`)) as { rows: [{ number: string }] }
  await call.trx('paymentRuns').insert({
    id,
    number: rows[0].number,
    state: 'proposed',
    executeOn,
    proposedBy: call.actor.id,
    baseTotal: sumMinor(taken.map(one => one.invoice.baseGross)),
    payments: taken.length,
    createdAt: call.now,
    changedAt: call.now,
  })
  await call.trx.batchInsert(
    'payments',
    taken.map(({ invoice, account }) => ({
      id: randomUUID(),
      runId: id,
      invoiceId: invoice.id,
      bankAccountId: account!.id,
      iban: account!.iban,
      bic: account!.bic,
      holder: account!.holder,
      amount: invoice.gross,
      currency: invoice.currency,
      endToEndId: `${rows[0].number}-${invoice.number}`,
      state: 'proposed',
    })),
    500,
  )
  for (const { invoice } of taken) await moveInvoice(call, invoice.id, 'schedule', { run: rows[0].number })
  await record(call, { kind: 'paymentRun', id, action: 'proposed', changes: { payments: taken.length, left: left.length } })
  return { id, version: 1, taken: taken.length, left }
}

async function moveInvoice(call: Call, id: string, action: 'schedule' | 'unschedule' | 'pay', changes: unknown, reason: string | null = null): Promise<InvoiceRow> {
  const invoice = found((await call.trx('invoices').where({ id }).forNoKeyUpdate().first()) as InvoiceRow | undefined, 'invoice')
  const next = transition(INVOICE_STATES, 'invoice', invoice.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  await call
    .trx('invoices')
    .where({ id })
    .update({ state: next.state, version: invoice.version + 1, changedAt: call.now })
  await record(call, { kind: 'invoice', id, action, changes, reason })
  return invoice
}

/** Approves a run as another person than the one who proposed it, writes its file and hands it to the outbox. Accounts are looked at again. */
export async function approveRun(call: Call, id: string, version: number): Promise<Done> {
  const run = await lockRun(call, id)
  await guardVersion(call, run, version)
  const next = transition(RUN_STATES, 'paymentRun', run.state, 'approve')
  if (!next.ok) throw new RuleBroken(next.reasons)
  if (run.proposedBy === call.actor.id) throw new RuleBroken(stop('pay.ownRun', {}, { clearedBy: ['financeController', 'director'] }))
  const payments = (await call.trx('payments').where({ runId: id }).orderBy('id')) as PaymentRow[]
  const accounts = new Map(
    (
      (await call
        .trx('supplierBankAccounts')
        .whereIn(
          'id',
          payments.map(payment => payment.bankAccountId),
        )
        .orderBy('id')
        .forShare()) as Account[]
    ).map(account => [account.id, account]),
  )
  const changed = payments.filter(payment => accounts.get(payment.bankAccountId)?.state !== 'proven')
  if (changed.length > 0)
    throw new RuleBroken(changed.map(payment => stop('pay.accountChanged', { holder: payment.holder, payment: payment.endToEndId }, { clearedBy: ['treasurer'] })))
  const file = await runFile(call, run, payments)
  await call
    .trx('paymentRuns')
    .where({ id })
    .update({ state: next.state, approvedBy: call.actor.id, file, version: version + 1, changedAt: call.now })
  await record(call, { kind: 'paymentRun', id, action: 'approved', changes: { payments: payments.length } })
  await post(call, { kind: 'bankFile', key: `bank:${run.number}`, payload: { messageId: run.number }, documentKind: 'paymentRun', documentId: id })
  return { id, version: version + 1 }
}

async function runFile(call: Call, run: RunRow, payments: readonly PaymentRow[]): Promise<string> {
  const debtor = (await call.trx('settings').where({ key: 'payFrom' }).first('value')) as { value: { name: string; iban: string; bic: string } } | undefined
  if (!debtor) throw new RuleBroken(stop('pay.noOwnAccount', {}, { clearedBy: ['steward'] }))
  const invoices = new Map(
    (
      (await call
        .trx('invoices')
        .whereIn(
          'id',
          payments.map(payment => payment.invoiceId),
        )
        .select('id', 'supplierNumber')) as { id: string; supplierNumber: string }[]
    ).map(row => [row.id, row.supplierNumber]),
  )
  return writePain001({
    messageId: run.number,
    createdAt: call.now,
    executeOn: run.executeOn < call.today ? call.today : run.executeOn,
    debtor: debtor.value,
    payments: payments.map(payment => ({
      endToEndId: payment.endToEndId,
      amount: formatAmount(payment.amount, payment.currency),
      currency: payment.currency,
      holder: payment.holder,
      iban: payment.iban,
      bic: payment.bic,
      remittance: `Invoice ${invoices.get(payment.invoiceId)}`,
    })),
  })
}

/** Takes a run back while the bank does not have it; its invoices can be paid by another. */
export async function withdrawRun(call: Call, id: string, version: number, reason: string): Promise<Done> {
  const run = await lockRun(call, id)
  await guardVersion(call, run, version)
  const next = transition(RUN_STATES, 'paymentRun', run.state, 'withdraw')
  if (!next.ok) throw new RuleBroken(next.reasons)
  if (run.state === 'approved') {
    const stopped = await call
      .trx('outbox')
      .where({ key: `bank:${run.number}`, state: 'waiting', attempts: 0 })
      .update({ state: 'failed', lastError: 'withdrawn' })
    if (stopped === 0) throw new RuleBroken(stop('pay.onItsWay', { run: run.number }))
  }
  const payments = (await call.trx('payments').where({ runId: id }).orderBy('id')) as PaymentRow[]
  await call.trx('payments').where({ runId: id }).update({ state: 'withdrawn' })
  for (const payment of payments) await moveInvoice(call, payment.invoiceId, 'unschedule', { run: run.number }, reason)
  await call
    .trx('paymentRuns')
    .where({ id })
    .update({ state: next.state, version: version + 1, changedAt: call.now })
  await record(call, { kind: 'paymentRun', id, action: 'withdrawn', reason })
  return { id, version: version + 1 }
}

/** The bank has taken the file. */
export async function markSent(call: Call, runId: string): Promise<void> {
  const run = await lockRun(call, runId)
  const next = transition(RUN_STATES, 'paymentRun', run.state, 'send')
  if (!next.ok) return
  await call.trx('payments').where({ runId, state: 'proposed' }).update({ state: 'sent' })
  await call
    .trx('paymentRuns')
    .where({ id: runId })
    .update({ state: next.state, version: run.version + 1, changedAt: call.now })
  await record(call, { kind: 'paymentRun', id: runId, action: 'sent' })
}

/** Takes in a bank's answer once: the same message a second time changes nothing. Says how many payments moved. */
export async function takeBankAnswer(call: Call, answer: BankAnswer, content: string): Promise<number> {
  const ids = answer.payments.map(payment => payment.endToEndId)
  const runIds = ((await call.trx('payments').whereIn('endToEndId', ids).distinct('runId').orderBy('runId')) as { runId: string }[]).map(row => row.runId)
  const inserted = (await call
    .trx('bankMessages')
    .insert({ id: randomUUID(), kind: answer.kind, messageId: answer.messageId, runId: runIds[0] ?? null, content, at: call.now })
    .onConflict(['kind', 'messageId'])
    .ignore()
    .returning('id')) as unknown[]
  if (inserted.length === 0) return 0
  for (const runId of runIds) {
    await lockRun(call, runId)
    await markSent(call, runId)
  }
  let moved = 0
  for (const payment of [...answer.payments].sort((a, b) => (a.endToEndId < b.endToEndId ? -1 : 1))) moved += (await movePayment(call, payment)) ? 1 : 0
  for (const runId of runIds) await finishRun(call, runId)
  return moved
}

const PAYMENT_ACTION = { accepted: 'accept', refused: 'refuse', paid: 'pay' } as const

async function movePayment(call: Call, answer: PaymentAnswer): Promise<boolean> {
  const payment = (await call.trx('payments').where({ endToEndId: answer.endToEndId }).forNoKeyUpdate().first()) as PaymentRow | undefined
  if (!payment) return false
  const next = transition(PAYMENT_STATES, 'payment', payment.state, PAYMENT_ACTION[answer.outcome])
  if (!next.ok) return false
  const amountTold = answer.outcome === 'paid' && answer.amount !== ''
  if (amountTold && (answer.currency !== payment.currency || answer.amount !== formatAmount(payment.amount, payment.currency))) {
    await record(call, {
      kind: 'paymentRun',
      id: payment.runId,
      action: 'amountDiffers',
      changes: { payment: payment.endToEndId, told: `${answer.currency} ${answer.amount}`, expected: `${payment.currency} ${formatAmount(payment.amount, payment.currency)}` },
    })
    return false
  }
  await call
    .trx('payments')
    .where({ id: payment.id })
    .update({ state: next.state, bankReason: answer.reasonCode || null, paidOn: answer.outcome === 'paid' ? answer.date : null })
  if (answer.outcome === 'paid') await settle(call, payment, answer.date)
  if (answer.outcome === 'refused')
    await moveInvoice(call, payment.invoiceId, 'unschedule', { payment: payment.endToEndId, bank: answer.reasonCode }, `The bank refused: ${answer.reasonCode}`)
  return true
}

async function settle(call: Call, payment: PaymentRow, day: string): Promise<void> {
  const invoice = await moveInvoice(call, payment.invoiceId, 'pay', { payment: payment.endToEndId, on: day })
  const lines = await invoiceLines(call, invoice.id)
  await postQuantities(
    call,
    { kind: 'payment', id: payment.id },
    lines.filter(line => line.orderLineId !== null).map(line => ({ lineId: line.orderLineId!, kind: 'paid' as const, quantity: line.quantity })),
  )
  await mailSupplier(
    call,
    invoice.supplierId,
    'payments',
    `remittance:${payment.id}`,
    { kind: 'invoice', id: invoice.id },
    {
      subject: `Remittance advice: ${payment.currency} ${formatAmount(payment.amount, payment.currency)} for invoice ${invoice.supplierNumber}`,
      text: name =>
        `Dear ${name},\n\non ${day} we paid ${payment.currency} ${formatAmount(payment.amount, payment.currency)} for your invoice ${invoice.supplierNumber} of ${invoice.issueDate} to the account ending in ${payment.iban.slice(-4)}. Reference: ${payment.endToEndId}.\n\nSaltmere Aquarium Trust\n`,
    },
  )
}

async function finishRun(call: Call, runId: string): Promise<void> {
  const run = await lockRun(call, runId)
  const open = (await call.trx('payments').where({ runId }).whereIn('state', ['proposed', 'sent', 'accepted']).first('id')) as unknown
  if (open || run.state !== 'sent') return
  await call
    .trx('paymentRuns')
    .where({ id: runId })
    .update({ state: 'answered', version: run.version + 1, changedAt: call.now })
  await record(call, { kind: 'paymentRun', id: runId, action: 'answered' })
}
