import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRun } from '#contract/pay/endpoints.ts'
import { formatAmount } from '#core/money/amount.ts'
import { canPayIn } from '#core/pay/ownAccounts.ts'
import { runActions } from '#core/pay/actions.ts'
import { PAYMENT_GROUPS } from '#core/pay/states.ts'
import { isIn } from '#core/states.ts'
import type { Read } from '#server/call.ts'
import { latestConsent } from '#server/consent/consentStore.ts'
import { actionsJson, pathOf, sheetParts } from '#server/documents/sheetParts.ts'
import { ownAccounts } from '#server/pay/ownAccountStore.ts'
import { currenciesOf, outboxKey } from '#server/pay/runActs.ts'
import { knownRun, type KnownRun, totalsOf } from '#server/pay/runStore.ts'
import { threadOf } from '#server/thread/thread.ts'

type Sheet = ResponseOf<typeof ReadRun>

export async function readRun(call: Read, id: string): Promise<Sheet> {
  const run = await knownRun(call, id)
  const { row } = run
  const parts = await sheetParts(call, 'paymentRun', id)
  const orderIds = await ordersOf(call, run)
  const thread = orderIds.length > 0 ? await threadOf(call, { orderIds }) : null
  const payable = canPayIn(await ownAccounts(call), currenciesOf(run), call.base)
  const outgoing = await call
    .trx('outbox')
    .where({ key: outboxKey(run.number), state: 'waiting' })
    .first('lastError')
  return {
    kind: 'paymentRun',
    id,
    number: row.number,
    title: `Payment run of ${row.executeOn}`,
    state: row.state,
    version: row.version,
    ...parts,
    thread,
    budgets: [],
    steps: [],
    ...told(run),
    actions: actionsJson(runActions(run, call.actor, payable)),
    executeOn: row.executeOn,
    proposedBy: run.proposer,
    approvedBy: run.approver,
    messages: await messagesOf(call, run),
    recall: await openRecall(call, run),
    trouble: outgoing?.lastError ?? null,
    totals: totalsOf(run.payments).map(total => ({ ...total, amount: formatAmount(total.amount, total.currency) })),
    payments: run.payments.map(payment => ({
      id: payment.id,
      invoiceId: payment.invoiceId,
      invoiceNumber: payment.invoiceNumber,
      invoicePath: pathOf('invoice', payment.invoiceId),
      supplier: payment.supplier,
      iban: payment.iban,
      accountState: payment.accountState,
      amount: formatAmount(payment.amount, payment.currency),
      currency: payment.currency,
      dueOn: payment.dueOn,
      state: payment.state,
      endToEndId: payment.endToEndId,
      bankReason: payment.bankReason,
      paidOn: payment.paidOn,
    })),
  }
}

function told(run: KnownRun): Pick<Sheet, 'sentence' | 'tone'> {
  const failed = run.payments.filter(payment => isIn(PAYMENT_GROUPS.failed, payment.state)).length
  const asked = run.recall?.state === 'open'
  const code = asked
    ? 'run.is.recallAsked'
    : failed > 0 && run.state === 'answered'
      ? 'run.is.partlyRefused'
      : `run.is.${run.state}`
  return {
    sentence: {
      code,
      details: { payments: run.payments.length, refused: failed, who: run.proposer, executeOn: run.executeOn },
    },
    tone:
      run.state === 'proposed' || asked
        ? 'attention'
        : failed > 0
          ? 'stop'
          : run.state === 'answered'
            ? 'settled'
            : 'plain',
  }
}

async function ordersOf(call: Read, run: KnownRun): Promise<string[]> {
  const lines = run.payments.flatMap(payment => payment.lines.map(line => line.orderLineId))
  const rows = await call.trx('orderLines').whereIn('id', lines).distinct<{ orderId: string }[]>('orderId')
  return rows.map(row => row.orderId)
}

async function messagesOf(call: Read, run: KnownRun): Promise<Sheet['messages']> {
  const { rows } = await call.trx
    .raw<{ rows: Omit<Sheet['messages'][number], 'path'>[] }>(
      `select id, kind, message_id, at from bank_messages where run_id = :run or id in (select bank_message_id from bank_items where payment_ids && :payments::uuid[]) order by at, id`,
      { run: run.id, payments: run.payments.map(payment => payment.id) },
    )
    .options({ name: 'messages-of-run' })
  return rows.map(row => ({ ...row, path: pathOf('bankMessage', row.id) }))
}

async function openRecall(call: Read, run: KnownRun): Promise<Sheet['recall']> {
  if (run.recall?.state !== 'open') return null
  const asked = (await latestConsent(call, run.id, 'recall'))!
  const person = await call.trx('people').where({ id: asked.askedBy }).first('name')
  return { askedBy: person?.name ?? '', at: asked.askedAt, reason: asked.reason }
}
