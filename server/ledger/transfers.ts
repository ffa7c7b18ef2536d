import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AskTransfer, ListTransfers } from '#contract/ledger/endpoints.ts'
import { available } from '#core/ledger/budget.ts'
import { checkTransfer, TRANSFER_STATES, type TransferAction, transferEntries, type TransferState } from '#core/ledger/transfers.ts'
import { formatAmount, minor, parseAmount } from '#core/money/amount.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, type Done, found, guardVersion, may } from '#server/call.ts'
import { accountLabel, type AccountRow, budgetSums, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/ledger/history.ts'

interface TransferRow {
  id: string
  number: string
  fromId: string
  toId: string
  amount: bigint
  reason: string
  state: TransferState
  askedBy: string
  askedAt: string
  decidedBy: string | null
  decidedAt: string | null
  decidedReason: string | null
  version: number
}

const accountsOf = async (call: Call, ids: readonly string[]): Promise<Map<string, AccountRow>> =>
  new Map(
    (
      (await call
        .trx('budgetAccounts')
        .whereIn('id', [...ids])
        .orderBy('id')
        .forNoKeyUpdate()) as AccountRow[]
    ).map(account => [account.id, account]),
  )

/** Whoever decides holds the giving cost centre or the books, and did not ask. */
const mayDecide = (call: Call, from: AccountRow, askedBy: string): boolean =>
  askedBy !== call.actor.id && may(call, 'budget.transfer') && (may(call, 'budget.write') || call.actor.costCentres.includes(from.costCentre))

/** Transfers that wait, and the last hundred that were decided. */
export async function listTransfers(call: Call): Promise<ResponseOf<typeof ListTransfers>> {
  const rows = (await call
    .trx('budgetTransfers as t')
    .join('people as asker', 'asker.id', 't.askedBy')
    .leftJoin('people as decider', 'decider.id', 't.decidedBy')
    .orderByRaw("(t.state = 'waiting') desc, t.asked_at desc")
    .limit(100)
    .select('t.*', 'asker.name as asker', 'decider.name as decider')) as (TransferRow & { asker: string; decider: string | null })[]
  const ids = [...new Set(rows.flatMap(row => [row.fromId, row.toId]))]
  const accounts = new Map(((await call.trx('budgetAccounts').whereIn('id', ids)) as AccountRow[]).map(account => [account.id, account]))
  const sums = await budgetSums(call, ids)
  const side = (id: string) => ({ id, label: accountLabel(accounts.get(id)!), available: formatAmount(available(sums.get(id)!), call.base) })
  return {
    currency: call.base,
    transfers: rows.map(row => ({
      id: row.id,
      number: row.number,
      from: side(row.fromId),
      to: side(row.toId),
      amount: formatAmount(row.amount, call.base),
      reason: row.reason,
      state: row.state,
      askedBy: row.asker,
      askedAt: row.askedAt,
      decidedBy: row.decider,
      decidedAt: row.decidedAt,
      decidedReason: row.decidedReason,
      version: row.version,
      mayDecide: row.state === 'waiting' && mayDecide(call, accounts.get(row.fromId)!, row.askedBy),
      mine: row.askedBy === call.actor.id,
    })),
  }
}

async function refuse(call: Call, from: AccountRow, to: AccountRow, amount: bigint): Promise<void> {
  const sums = await budgetSums(call, [from.id])
  const side = (account: AccountRow) => ({ id: account.id, label: accountLabel(account), open: account.open })
  refuseStops(checkTransfer(side(from), side(to), sums.get(from.id)!, minor(amount), one => `${call.base} ${formatAmount(one, call.base)}`))
}

/** Asks for money to move; nothing moves before somebody else agrees. */
export async function askTransfer(call: Call, body: BodyOf<typeof AskTransfer>): Promise<Done & { number: string }> {
  const accounts = await accountsOf(call, [body.fromId, body.toId])
  const [from, to] = [found(accounts.get(body.fromId), 'budget'), found(accounts.get(body.toId), 'budget')]
  const read = readTypedNumber(body.amount)
  if (!read.ok) throw new RuleBroken(stop('transfer.amount', {}, { place: 'amount' }))
  const amount = parseAmount(read.value, call.base)
  await refuse(call, from, to, amount)
  const id = randomUUID()
  const { rows } = (await call.trx.raw(`select 'T-' || nextval('transfer_numbers') as number`)) as { rows: [{ number: string }] }
  await call
    .trx('budgetTransfers')
    .insert({ id, number: rows[0].number, fromId: from.id, toId: to.id, amount, reason: body.reason, state: 'waiting', askedBy: call.actor.id, askedAt: call.now })
  await record(call, {
    kind: 'budgetTransfer',
    id,
    action: 'created',
    reason: body.reason,
    changes: { from: accountLabel(from), to: accountLabel(to), amount: formatAmount(amount, call.base) },
  })
  return { id, version: 1, number: rows[0].number }
}

/** Approves, refuses or withdraws. An approval is checked against the books inside the transaction that writes them. */
export async function decideTransfer(call: Call, id: string, action: TransferAction, version: number, reason: string): Promise<Done> {
  const row = found((await call.trx('budgetTransfers').where({ id }).forUpdate().first()) as TransferRow | undefined, 'budgetTransfer')
  await guardVersion(call, row, version)
  const next = transition(TRANSFER_STATES, 'budgetTransfer', row.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  const accounts = await accountsOf(call, [row.fromId, row.toId])
  const [from, to] = [accounts.get(row.fromId)!, accounts.get(row.toId)!]
  if (action === 'withdraw' ? row.askedBy !== call.actor.id : !mayDecide(call, from, row.askedBy))
    throw new RuleBroken(stop(row.askedBy === call.actor.id ? 'transfer.own' : 'right.notYours'))
  if (action === 'refuse' && reason.trim().length < 3) throw new RuleBroken(stop('decide.noReason', {}, { place: 'reason' }))
  if (action === 'approve') {
    await refuse(call, from, to, row.amount)
    await postBudget(call, { kind: 'budgetTransfer', id }, transferEntries(row.fromId, row.toId, minor(row.amount)))
  }
  await call
    .trx('budgetTransfers')
    .where({ id })
    .update({ state: next.state, decidedBy: call.actor.id, decidedAt: call.now, decidedReason: reason, version: version + 1 })
  await record(call, { kind: 'budgetTransfer', id, action, reason: reason || null })
  return { id, version: version + 1 }
}
