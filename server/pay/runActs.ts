import { randomUUID } from 'node:crypto'
import type { ConsentAnswer } from '#core/consent/consent.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { accountFor, canPayIn, type OwnAccount } from '#core/pay/ownAccounts.ts'
import { approveRun } from '#core/pay/approveRun.ts'
import { batchId } from '#core/pay/takeBankMessage.ts'
import { decidedRun, proposeRun, runQuestion } from '#core/pay/proposeRun.ts'
import { askRecall, recallRun } from '#core/pay/recallRun.ts'
import { leaveRun, sendRun } from '#core/pay/sendRun.ts'
import { RUN_GROUPS } from '#core/pay/states.ts'
import { withdrawRun } from '#core/pay/withdrawRun.ts'
import type { Reason } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'
import type { Done, Read, Write } from '#server/call.ts'
import { type About, ask, latestConsent, settleConsent } from '#server/consent/consentStore.ts'
import { insertMany } from '#server/database/insert.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { record } from '#server/documents/history.ts'
import { writePain001 } from '#server/formats/pain001.ts'
import { ownAccounts } from '#server/pay/ownAccountStore.ts'
import { dropOutgoing, post } from '#server/outbox/post.ts'
import { moveInvoices } from '#server/pay/invoiceMoves.ts'
import { ruled } from '#server/rules/ruledStore.ts'
import { heldDue, heldRun, type KnownRun } from '#server/pay/runStore.ts'

interface Proposed {
  id: string | null
  version: number
  taken: number
  left: Reason[]
}

/** Proposes what is due until a day. Invoices that cannot be paid stay out, each with its reason. */
export async function propose(call: Write, dueUntil: string, executeOn: string): Promise<Proposed> {
  const decided = obey(proposeRun(await heldDue(call, dueUntil), executeOn, call.actor, call.today))
  const { taken, left, baseTotal } = decided.next
  if (taken.length === 0) return { id: null, version: 1, taken: 0, left: [...left] }
  const id = randomUUID()
  const number = await nextNumber(call, 'paymentRun')
  await call.trx('paymentRuns').insert({
    id,
    number,
    state: 'proposed',
    executeOn,
    proposedBy: call.actor.id,
    baseTotal,
    payments: taken.length,
    createdAt: call.now,
    changedAt: call.now,
  })
  await insertMany(
    call.trx,
    'payments',
    taken.map(invoice => ({
      id: randomUUID(),
      runId: id,
      invoiceId: invoice.invoiceId,
      bankAccountId: invoice.account!.id,
      iban: invoice.account!.iban,
      bic: invoice.account!.bic,
      holder: invoice.account!.holder,
      amount: invoice.amount,
      currency: invoice.currency,
      endToEndId: `${number}-${invoice.number}`,
      state: 'proposed' as const,
    })),
  )
  await moveInvoices(
    call,
    taken.map(({ invoiceId }) => ({ invoiceId, action: 'schedule', changes: { run: number } })),
  )
  await record(call, { kind: 'paymentRun', id, ...decided.did })
  const numbers = await supplierNumbers(call, taken)
  const payments = taken.map(one => ({ ...one, supplierNumber: numbers.get(one.supplierId) ?? '' }))
  const { question, origins } = await ruled(call, runQuestion(id, call.actor.id), decidedRun(call.actor.id, payments))
  await ask(call, question, aboutRun(call, { id, number, payments: taken.length, baseTotal }), { origins })
  return { id, version: 1, taken: taken.length, left: [...left] }
}

async function supplierNumbers(
  call: Read,
  payments: readonly { readonly supplierId: string }[],
): Promise<Map<string, string>> {
  const rows = await call
    .trx('suppliers')
    .whereIn('id', [...new Set(payments.map(one => one.supplierId))])
    .select('id', 'number')
  return new Map(rows.map(row => [row.id, row.number]))
}

const aboutRun = (
  call: Write,
  run: { readonly id: string; readonly number: string; readonly payments: number; readonly baseTotal: bigint },
): About => ({
  number: run.number,
  title: '',
  who: call.actor.name,
  extra: String(run.payments),
  amount: minor(run.baseTotal),
  currency: call.base,
  needBy: null,
  path: pathOf('paymentRun', run.id),
})

/** Approves a run as another person than the one who proposed it, writes its file and hands it to the outbox. */
export async function approve(call: Write, id: string, version: number): Promise<Done> {
  const run = await heldRun(call, id, version)
  const accounts = await ownAccounts(call)
  const payable = canPayIn(accounts, currenciesOf(run), call.base)
  const decided = obey(approveRun(run, call.actor, call.today, payable))
  const { consent, state, executeOn } = decided.next
  await settleConsent(call, (await latestConsent(call, id, 'run'))!, consent)
  if (state === run.row.state) return await move(call, 'paymentRun', run.row, {}, decided.did)
  const file = runFile(call, run, executeOn, accounts)
  const done = await move(
    call,
    'paymentRun',
    run.row,
    { state, executeOn, approvedBy: call.actor.id, file },
    decided.did,
  )
  await post(call, {
    kind: 'bankFile',
    key: outboxKey(run.number),
    payload: { messageId: run.number },
    document: { kind: 'paymentRun', id },
  })
  return done
}

/** Names what goes to the bank in the outbox. */
export const outboxKey = (runNumber: string): string => `bank:${runNumber}`

/** The currencies in which a run pays. */
export const currenciesOf = (run: Pick<KnownRun, 'payments'>): Set<string> =>
  new Set(run.payments.map(payment => payment.currency))

const runFile = (call: Write, run: KnownRun, executeOn: string, accounts: readonly OwnAccount[]): string =>
  writePain001({
    messageId: run.number,
    createdAt: call.now,
    executeOn,
    debtor: currency => accountFor(accounts, currency, call.base)!,
    batchId: currency => batchId(run.number, currency),
    payments: run.payments.map(payment => ({
      endToEndId: payment.endToEndId,
      amount: formatAmount(payment.amount, payment.currency),
      currency: payment.currency,
      holder: payment.holder,
      iban: payment.iban,
      bic: payment.bic,
      remittance: `Invoice ${payment.supplierNumber}`,
    })),
  })

/** Ends payments without money: their invoices can be paid by another run. */
async function endPayments(
  call: Write,
  run: KnownRun,
  ends: readonly string[],
  state: 'withdrawn' | 'recalled',
  reason: string,
): Promise<void> {
  await call
    .trx('payments')
    .whereIn('id', [...ends])
    .update({ state })
  await moveInvoices(
    call,
    run.payments
      .filter(payment => ends.includes(payment.id))
      .map(({ invoiceId }) => ({ invoiceId, action: 'unschedule', changes: { run: run.number }, reason })),
  )
  await dropOutgoing(call, outboxKey(run.number))
}

/** Takes a run back while the bank cannot have it. */
export async function withdraw(call: Write, id: string, version: number, reason: string): Promise<Done> {
  const run = await heldRun(call, id, version)
  const decided = obey(withdrawRun(run, call.actor, reason))
  const { consent, ends, state } = decided.next
  if (consent) await settleConsent(call, (await latestConsent(call, id, 'run'))!, consent)
  await endPayments(call, run, ends, 'withdrawn', reason)
  return await move(call, 'paymentRun', run.row, { state }, decided.did)
}

/** Says that the bank has been asked to stop a file that it has or may have; a second person records what it answered. */
export async function recall(call: Write, id: string, version: number, reason: string): Promise<Done> {
  const run = await heldRun(call, id, version)
  const decided = obey(askRecall(run, call.actor, reason))
  await ask(call, decided.next.asks, aboutRun(call, { ...run.row, payments: run.payments.length }))
  return await move(call, 'paymentRun', run.row, {}, decided.did)
}

/** Records what the bank said to a recall. */
export async function answerRecall(
  call: Write,
  id: string,
  version: number,
  answer: Extract<ConsentAnswer, 'approve' | 'reject'>,
  reason: string,
): Promise<Done> {
  const run = await heldRun(call, id, version)
  const decided = obey(recallRun(run, call.actor, answer, reason))
  const { consent, ends, state } = decided.next
  await settleConsent(call, (await latestConsent(call, id, 'recall'))!, consent)
  if (ends.length > 0) await endPayments(call, run, ends, 'recalled', reason)
  return await move(call, 'paymentRun', run.row, { state }, decided.did)
}

/**
 * Writes that a run is about to leave, and gives its file. Nothing, where it was taken back meanwhile.
 *
 * @throws RuleBroken when an account or a supplier changed since the approval
 */
export async function leave(call: Write, id: string): Promise<{ number: string; file: string } | undefined> {
  const run = await heldRun(call, id)
  if (!isIn(RUN_GROUPS.leaving, run.state)) return undefined
  const decided = obey(leaveRun(run))
  if (decided.next.state !== run.state)
    await move(call, 'paymentRun', run.row, { state: decided.next.state }, decided.did)
  return { number: run.number, file: run.row.file! }
}

/** The bank has taken the file. What it has answered meanwhile stands. */
export async function markSent(call: Write, id: string): Promise<void> {
  const run = await heldRun(call, id)
  const decided = sendRun(run)
  if (!decided.ok) return
  await call.trx('payments').where({ runId: id, state: 'proposed' }).update({ state: 'sent' })
  await move(call, 'paymentRun', run.row, { state: decided.next.state }, decided.did)
}
