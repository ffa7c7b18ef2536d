import type { AgreementContent, Callers } from '#core/agreements/content.ts'
import type { CalledAgreement, CalledLine } from '#core/agreements/ceilings.ts'
import {
  type ConsumedByKind,
  type ConsumptionEntry,
  type ConsumptionKind,
  sumConsumption,
} from '#core/agreements/consumption.ts'
import type { AgreementState } from '#core/agreements/states.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import type { Read, Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import type { SourceDocument } from '#server/ledger/quantityStore.ts'

interface EntryRow {
  id: bigint
  agreementLineId: string
  lineId: string
  kind: ConsumptionKind
  amount: bigint
  quantity: string
  at: string
  actorId: string
  documentKind: string
  documentId: string
}
interface CallOffRow {
  lineId: string
  agreementLineId: string
  /** Base currency for one unit of the agreement's, on the day that the line first called off. */
  rate: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    agreementEntries: EntryRow
    agreementBalances: Pick<EntryRow, 'agreementLineId' | 'kind' | 'amount' | 'quantity'>
    callOffs: CallOffRow
  }
}

/** An agreement in force as whoever calls off needs it. */
export interface HeldAgreement extends CalledAgreement {
  readonly supplierId: string
  readonly callers: Callers
}

interface HeadRow {
  id: string
  number: string
  state: AgreementState
  supplierId: string
  currency: string
  startsOn: string
  endsOn: string
  content: AgreementContent
}
type LineRow = Pick<CalledLine, 'id' | 'description' | 'category' | 'unit'> & { agreementId: string }

/** Agreements by their lines, with what was called off of each line; every line, also those that are no longer in force. */
export async function calledAgreements(call: Read, ids: readonly string[]): Promise<Map<string, HeldAgreement>> {
  if (ids.length === 0) return new Map()
  const { rows: heads } = await call.trx
    .raw<{ rows: HeadRow[] }>(
      'select id, number, state, supplier_id, currency, starts_on, ends_on, content from agreements where id = any(?) order by id',
      [[...ids]],
    )
    .options({ name: 'called-agreements' })
  const { rows: lines } = await call.trx
    .raw<{ rows: LineRow[] }>(
      'select id, agreement_id, description, category, unit from agreement_lines where agreement_id = any(?) order by agreement_id, position',
      [[...ids]],
    )
    .options({ name: 'called-agreement-lines' })
  const { rows: balances } = await call.trx
    .raw<{ rows: Pick<EntryRow, 'agreementLineId' | 'kind' | 'amount' | 'quantity'>[] }>(
      'select b.agreement_line_id, b.kind, b.amount, b.quantity from agreement_balances b join agreement_lines l on l.id = b.agreement_line_id where l.agreement_id = any(?)',
      [[...ids]],
    )
    .options({ name: 'called-agreement-balances' })
  const sums = groupBy(balances, row => row.agreementLineId)
  const own = groupBy(lines, line => line.agreementId)
  return new Map(
    heads.map(({ content, ...head }) => [
      head.id,
      {
        ...head,
        whenOver: content.whenOver,
        ceilings: content.ceilings,
        callers: content.callers,
        lines: (own.get(head.id) ?? []).map(({ agreementId: _of, ...line }) => ({
          ...line,
          consumed: sumConsumption((sums.get(line.id) ?? []).map(row => ({ ...row, amount: minor(row.amount) }))),
        })),
      },
    ]),
  )
}

/** The agreements that lines belong to: by line of an agreement. */
export async function agreementsOfLines(call: Read, agreementLineIds: readonly string[]): Promise<Map<string, string>> {
  if (agreementLineIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: { id: string; agreementId: string }[] }>(
      'select id, agreement_id from agreement_lines where id = any(?)',
      [[...new Set(agreementLineIds)]],
    )
    .options({ name: 'agreements-of-lines' })
  return new Map(rows.map(row => [row.id, row.agreementId]))
}

/** Holds agreements in id order until the transaction ends, so that two people cannot call off the same rest. They are held after all else that calls off. */
export async function holdAgreements(call: Write, ids: readonly string[]): Promise<HeldAgreement[]> {
  const sorted = [...new Set(ids)].sort()
  if (sorted.length === 0) return []
  await call.trx
    .raw('select id from agreements where id = any(?) order by id for no key update', [sorted])
    .options({ name: 'hold-agreements' })
  return [...(await calledAgreements(call, sorted)).values()]
}

/** What stands on lines that call off, and of which line of an agreement. A line of whose agreement was changed may stand on several. */
export async function consumedOn(
  call: Read,
  lineIds: readonly string[],
): Promise<Map<string, { readonly agreementLineId: string; readonly by: ConsumedByKind }[]>> {
  if (lineIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: Omit<EntryRow, 'id'>[] }>(
      `select line_id, agreement_line_id, kind, sum(amount)::bigint as amount, sum(quantity) as quantity from agreement_entries where line_id = any(?) group by 1, 2, 3 order by 1, 2, 3`,
      [[...lineIds]],
    )
    .options({ name: 'consumed-on-lines' })
  return new Map(
    [...groupBy(rows, row => row.lineId)].map(([lineId, own]) => [
      lineId,
      [...groupBy(own, row => row.agreementLineId)].map(([agreementLineId, some]) => ({
        agreementLineId,
        by: sumConsumption(some.map(row => ({ ...row, amount: minor(row.amount) as Minor }))),
      })),
    ]),
  )
}

/** The currency in which each of some agreements is counted. */
export async function agreementCurrencies(call: Read, ids: readonly string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: { id: string; currency: string }[] }>('select id, currency from agreements where id = any(?)', [
      [...ids],
    ])
    .options({ name: 'agreement-currencies' })
  return new Map(rows.map(row => [row.id, row.currency]))
}

/** The rates that were fixed when lines first called off. */
export async function keptRates(call: Read, lineIds: readonly string[]): Promise<Map<string, string>> {
  if (lineIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: Pick<CallOffRow, 'lineId' | 'rate'>[] }>(
      'select line_id, rate from call_offs where line_id = any(?)',
      [[...lineIds]],
    )
    .options({ name: 'kept-call-off-rates' })
  return new Map(rows.map(row => [row.lineId, row.rate]))
}

/** Keeps what lines call off, and the rate of those that do so for the first time. */
export async function keepCallOffs(call: Write, rows: readonly CallOffRow[]): Promise<void> {
  if (rows.length === 0) return
  await call.trx
    .raw(
      `insert into call_offs (line_id, agreement_line_id, rate) select line_id, agreement_line_id, rate from jsonb_to_recordset(?::jsonb) as l (line_id uuid, agreement_line_id uuid, rate numeric) order by line_id
       on conflict (line_id) do update set agreement_line_id = excluded.agreement_line_id where call_offs.agreement_line_id <> excluded.agreement_line_id`,
      [
        JSON.stringify(
          rows.map(one => ({ line_id: one.lineId, agreement_line_id: one.agreementLineId, rate: one.rate })),
        ),
      ],
    )
    .options({ name: 'keep-call-offs' })
}

/** Appends entries and brings the kept sums along, in one statement. */
export async function postConsumption(
  call: Write,
  entries: readonly (ConsumptionEntry & { readonly source: SourceDocument })[],
): Promise<void> {
  if (entries.length === 0) return
  await call.trx
    .raw(
      `with posted as (
       insert into agreement_entries (agreement_line_id, line_id, kind, amount, quantity, at, actor_id, document_kind, document_id)
       select agreement_line_id, line_id, kind, amount, quantity, ?, ?, document_kind, document_id from jsonb_to_recordset(?::jsonb)
         as entry (agreement_line_id uuid, line_id uuid, kind text, amount bigint, quantity numeric, document_kind text, document_id uuid)
       returning agreement_line_id, kind, amount, quantity)
     insert into agreement_balances (agreement_line_id, kind, amount, quantity) select agreement_line_id, kind, sum(amount), sum(quantity) from posted group by 1, 2 order by 1, 2
     on conflict (agreement_line_id, kind) do update set amount = agreement_balances.amount + excluded.amount, quantity = agreement_balances.quantity + excluded.quantity`,
      [
        call.now,
        call.actor.id,
        JSON.stringify(
          entries.map(({ source, ...entry }) => ({
            agreement_line_id: entry.agreementLineId,
            line_id: entry.lineId,
            kind: entry.kind,
            amount: entry.amount.toString(),
            quantity: entry.quantity,
            document_kind: source.kind,
            document_id: source.id,
          })),
        ),
      ],
    )
    .options({ name: 'post-consumption' })
}
