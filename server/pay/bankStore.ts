import type { BankAmount, BankMessage, BankOutcome } from '#core/formats/bankAnswers.ts'
import type { AssignedItem } from '#core/pay/takeBankMessage.ts'
import type { Reason } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { json } from '#server/database/json.ts'
import { bankDesk } from '#core/pay/desk.ts'
import { keepDesk } from '#server/desk/deskStore.ts'

export interface BankMessageRow {
  id: string
  /** As the bank names the file. */
  name: string
  kind: BankMessage['kind'] | ''
  messageId: string
  /** repeated: the bank told the same twice · unreadable: kept with why. */
  state: 'read' | 'repeated' | 'unreadable'
  fault: Reason[] | null
  runId: string | null
  content: Buffer
  at: string
  version: number
  changedAt: string
}
export interface BankItemRow {
  id: string
  bankMessageId: string
  position: number
  level: 'file' | 'batch' | 'payment'
  reference: string
  outcome: BankOutcome
  status: string
  reasonCode: string
  amounts: BankAmount[]
  date: string
  effect: AssignedItem['effect']
  why: string | null
  paymentIds: string[]
  settledBy: string | null
  settledAt: string | null
  note: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    bankMessages: BankMessageRow
    bankItems: BankItemRow
  }
}

/** Keeps on the Desks whether a message waits for somebody. */
export async function keepBankDesk(call: Write, id: string): Promise<void> {
  const message = (await call.trx('bankMessages').where({ id }).first())!
  const open = await call
    .trx('bankItems')
    .where({ bankMessageId: id, effect: 'open' })
    .whereNull('settledAt')
    .select('id')
  await keepDesk(
    call,
    { kind: 'bankMessage', id },
    bankDesk({ id, kind: message.kind, messageId: message.messageId, takenAt: message.at, open: open.length }),
  )
}

/** The message in which a bank said the same before, if it did. */
export const sameMessage = (call: Read, message: BankMessage): Promise<BankMessageRow | undefined> =>
  call.trx('bankMessages').where({ kind: message.kind, messageId: message.messageId, state: 'read' }).first()

export async function insertItems(
  call: Write,
  rows: readonly Omit<BankItemRow, 'settledBy' | 'settledAt' | 'note'>[],
): Promise<void> {
  await insertMany(
    call.trx,
    'bankItems',
    rows.map(row => ({ ...row, amounts: json(row.amounts), paymentIds: [...row.paymentIds] })),
  )
}
