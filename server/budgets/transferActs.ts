import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { AskTransfer } from '#contract/budgets/endpoints.ts'
import {
  checkTransfer,
  decideTransfer,
  decidedTransfer,
  type TransferAction,
  type TransferNext,
  transferQuestion,
  withdrawTransfer,
} from '#core/budgets/transfers.ts'
import type { Decision } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { formatAmount, type Minor, minor, moneyText, parseAmount } from '#core/money/amount.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { type Reason, refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import type { TransferRow } from '#server/budgets/transferStore.ts'
import { ask, latestConsent, settleConsent } from '#server/consent/consentStore.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { ruled } from '#server/rules/ruledStore.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { postLedgers } from '#server/ledger/post.ts'

async function heldSides(call: Write, fromId: string, toId: string): Promise<{ from: AccountFacts; to: AccountFacts }> {
  const accounts = await holdAccounts(call, [fromId, toId])
  const of = (id: string): AccountFacts =>
    found(
      accounts.find(account => account.id === id),
      'budget',
    )
  return { from: of(fromId), to: of(toId) }
}

const against = (call: Read, sides: { from: AccountFacts; to: AccountFacts }, amount: Minor): Reason[] =>
  checkTransfer(sides.from, sides.to, sides.from.sums, amount, one => moneyText(one, call.base))

/** Asks for money to move; nothing moves before somebody else agrees. */
export async function askTransfer(call: Write, body: BodyOf<typeof AskTransfer>): Promise<Done & { number: string }> {
  const sides = await heldSides(call, body.fromId, body.toId)
  const read = readTypedNumber(body.amount)
  if (!read.ok) throw new RuleBroken(stop('transfer.amount', {}, { place: 'amount' }))
  const amount = parseAmount(read.value, call.base)
  refuseStops(against(call, sides, amount))
  const { from, to } = sides
  const id = randomUUID()
  const number = await nextNumber(call, 'budgetTransfer')
  await call.trx('budgetTransfers').insert({
    id,
    number,
    fromId: from.id,
    toId: to.id,
    amount,
    reason: body.reason,
    state: 'waiting',
    askedBy: call.actor.id,
    askedAt: call.now,
  })
  await record(call, {
    kind: 'budgetTransfer',
    id,
    action: 'created',
    reason: body.reason,
    changes: { from: from.label, to: to.label, amount: formatAmount(amount, call.base) },
  })
  const giving = found(
    await call.trx('budgetAccounts').where({ id: from.id }).first('costCentre', 'naturalAccount', 'project'),
    'budget',
  )
  const standing = transferQuestion(id, giving.costCentre, call.actor.id, body.reason)
  const { question, origins } = await ruled(call, standing, decidedTransfer(id, call.actor.id, giving, amount))
  const about = {
    number,
    title: `${from.label} → ${to.label}`,
    who: call.actor.name,
    extra: body.reason,
    amount,
    currency: call.base,
    needBy: null,
    path: pathOf('budgetTransfer', id),
  }
  await ask(call, question, about, { origins })
  return { id, version: 1, number }
}

/** Approves, refuses or withdraws. An approval is checked against the books inside the transaction that writes them. */
export async function answerTransfer(
  call: Write,
  id: string,
  action: TransferAction,
  version: number,
  reason: string,
): Promise<Done> {
  const row = await hold(call, 'budgetTransfer', id, version)
  const sides = await heldSides(call, row.fromId, row.toId)
  const consent = await latestConsent(call, id, 'transfer')
  const facts = { ...row, amount: minor(row.amount), consent }
  const decision =
    action === 'withdraw'
      ? withdrawTransfer(facts, call.actor, reason)
      : decideTransfer(facts, against(call, sides, facts.amount), call.actor, action, reason)
  return await carryOut(call, row, decision, reason)
}

async function carryOut(
  call: Write,
  row: TransferRow,
  decision: Decision<TransferNext>,
  reason: string,
): Promise<Done> {
  const decided = obey(decision)
  await postLedgers(call, { kind: 'budgetTransfer', id: row.id }, decided)
  await settleConsent(call, (await latestConsent(call, row.id, 'transfer'))!, decided.next.consent)
  return await move(
    call,
    'budgetTransfer',
    row,
    decided.next.state === row.state
      ? {}
      : { state: decided.next.state, decidedBy: call.actor.id, decidedAt: call.now, decidedReason: reason },
    decided.did,
  )
}
