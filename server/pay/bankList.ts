import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadBankMessage } from '#contract/pay/endpoints.ts'
import { whyNotSettle } from '#core/pay/settleItem.ts'
import { found, type Read } from '#server/call.ts'
import { byId, someIds } from '#server/database/rows.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import type { FileAnswer } from '#server/http/route.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import type { BankItemRow } from '#server/pay/bankStore.ts'

interface Listed {
  id: string
  name: string
  kind: string
  messageId: string
  state: string
  at: string
  items: number
  open: number
}

const OPEN =
  "(select count(*)::int from bank_items where bank_message_id = message.id and effect = 'open' and settled_at is null)"

/** What the bank has said, whatever became of it. */
export const bankMessageList: ListDefinition<Listed> = {
  id: 'message.id',
  base: call => call.trx('bankMessages as message'),
  select: [
    'message.id',
    'message.name',
    'message.kind',
    'message.message_id',
    'message.state',
    'message.at',
    '(select count(*)::int from bank_items where bank_message_id = message.id) as items',
    `${OPEN} as open`,
  ],
  views: {
    open: (query, call) => void query.whereRaw(call.trx.raw(`${OPEN} > 0`)),
    all: () => undefined,
  },
  sorts: { newest: { sql: 'message.at', descending: true, type: 'timestamptz' } },
  search: "lower(message.name || ' ' || message.message_id)",
  states: { column: 'message.state', values: ['read', 'repeated', 'unreadable'] },
  columns: [
    { key: 'kind', type: 'words', sql: 'message.kind' },
    { key: 'at', type: 'date', sql: 'message.at' },
    { key: 'items', type: 'figure', sql: '(select count(*)::int from bank_items where bank_message_id = message.id)' },
    { key: 'open', type: 'figure', sql: OPEN },
  ],
  row: row => ({
    id: row.id,
    path: pathOf('bankMessage', row.id),
    number: row.messageId,
    title: row.kind === '' ? row.name : `${row.kind} ${row.messageId}`,
    subtitle: row.name,
    state: row.state,
    amount: null,
    currency: null,
    note: { code: `bankMessage.short.${row.open > 0 ? 'open' : row.state}`, details: { open: row.open } },
    tone: row.open > 0 ? 'attention' : 'plain',
    cells: { kind: row.kind, at: row.at, items: String(row.items), open: String(row.open) },
  }),
}

type Sheet = ResponseOf<typeof ReadBankMessage>

/** One message with everything that it says and what became of it. */
export async function readBankMessage(call: Read, id: string): Promise<Sheet> {
  const message = found(await call.trx('bankMessages').where({ id }).first(), 'bankMessage')
  const items = await call.trx('bankItems').where({ bankMessageId: id }).orderBy('position')
  const payments = byId(
    await call
      .trx('payments')
      .join('paymentRuns', 'paymentRuns.id', 'payments.runId')
      .whereIn(
        'payments.id',
        items.flatMap(item => item.paymentIds),
      )
      .select<{ id: string; endToEndId: string; runId: string; runNumber: string }[]>(
        'payments.id',
        'payments.endToEndId',
        'payments.runId',
        'paymentRuns.number as runNumber',
      ),
  )
  const people = byId(
    await call
      .trx('people')
      .whereIn('id', someIds(items.map(item => item.settledBy)))
      .select('id', 'name'),
  )
  const open = items.find(item => item.effect === 'open' && item.settledAt === null)
  return {
    id,
    version: message.version,
    name: message.name,
    kind: message.kind,
    messageId: message.messageId,
    state: message.state,
    at: message.at,
    faults: reasonsJson(message.fault ?? []),
    items: items.map(item => ({
      ...saidBy(item),
      payments: item.paymentIds.flatMap(paymentId => {
        const payment = payments.get(paymentId)
        return payment
          ? [
              {
                endToEndId: payment.endToEndId,
                runNumber: payment.runNumber,
                path: pathOf('paymentRun', payment.runId),
              },
            ]
          : []
      }),
      settled:
        item.settledAt === null
          ? null
          : { by: people.get(item.settledBy ?? '')?.name ?? '', at: item.settledAt, note: item.note ?? '' },
    })),
    maySettle: open !== undefined && whyNotSettle({ ...open, settled: false }, call.actor).length === 0,
  }
}

const saidBy = (item: BankItemRow): Omit<Sheet['items'][number], 'payments' | 'settled'> => ({
  id: item.id,
  level: item.level,
  reference: item.reference,
  outcome: item.outcome,
  status: item.status,
  reasonCode: item.reasonCode,
  amounts: item.amounts,
  date: item.date,
  effect: item.effect,
  why: item.why === null ? null : { code: item.why, details: { reference: item.reference } },
})

/** The message as the bank sent it. */
export async function bankMessageFile(call: Read, id: string): Promise<FileAnswer> {
  const message = found(await call.trx('bankMessages').where({ id }).first('name', 'content'), 'bankMessage')
  return { name: `${message.name}.xml`, mediaType: 'application/xml', bytes: message.content }
}
