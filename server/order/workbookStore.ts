import type { WorkbookContent } from '#server/formats/orderWorkbook.ts'
import {
  placeCode,
  placeLabel,
  type RowState,
  type SentRow,
  workbookValues,
  type WorkbookField,
  type WorkbookValues,
} from '#core/order/workbook.ts'
import type { Reason } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'
import { PLACE } from '#server/order/orderStore.ts'

/** A line as it went out, with the words that name it. */
export type KeptRow = SentRow & Pick<WorkbookContent['lines'][number], 'order' | 'position' | 'supplier' | 'what'>
/** A row that came back, as it is kept until it is settled. */
export interface KeptReturn {
  readonly row: number
  readonly lineId: string | null
  readonly values: WorkbookValues
  /** What is wrong with what it says. */
  readonly read: readonly Reason[]
  /** What stands against doing it, by the order as it was when that was looked at. */
  readonly against: readonly Reason[]
  readonly choice: 'file' | 'now' | null
  readonly settled: boolean
}
export interface WorkbookRow {
  id: string
  byId: string
  at: string
  kind: 'change' | 'create'
  lines: number
  content: KeptRow[]
}
export interface ReturnRow {
  id: string
  workbookId: string | null
  kind: 'change' | 'create'
  fileName: string
  state: 'open' | 'applying' | 'settled'
  byId: string
  at: string
  returned: KeptReturn[]
  outcome: { orders: number; lines: number; failed: number; mails: number; jobId?: string } | null
  version: number
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    workbooks: WorkbookRow
    workbookReturns: ReturnRow
  }
}

export type { RowState, WorkbookField }

/** Lines as they stand now, by their ids. */
export async function valuesNow(call: Read, lineIds: readonly string[]): Promise<Map<string, WorkbookValues>> {
  const { rows } = await call.trx
    .raw<{
      rows: {
        id: string
        quantity: string
        needBy: string | null
        promisedDate: string | null
        price: string
        buyer: string
        place: string | null
      }[]
    }>(
      `select l.id, l.quantity, l.need_by, l.promised_date, l.price, p.name as buyer, a.code || ': ' || ${PLACE} as place from order_lines l left join addresses a on a.id = l.address_id join orders o on o.id = l.order_id join people p on p.id = o.buyer_id where l.id = any(?)`,
      [[...lineIds]],
    )
    .options({ name: 'workbook-values' })
  return new Map(rows.map(({ id, buyer, place, ...line }) => [id, workbookValues(line, buyer, place ?? '')]))
}

/** Everybody who may buy, by name. */
export async function buyerNames(call: Read): Promise<Map<string, string>> {
  const { rows } = await call.trx
    .raw<{ rows: { id: string; name: string }[] }>(
      `select p.id, p.name from people p where p.active and p.realm = 'team' and exists (select 1 from person_roles g join roles on roles.code = g.role where g.person_id = p.id and 'order.write' = any(permissions)) order by p.name, p.id`,
    )
    .options({ name: 'buyer-names' })
  return new Map(rows.map(row => [row.name, row.id]))
}

export interface WorkbookPlace {
  readonly id: string
  readonly code: string
  readonly name: string
  readonly open: boolean
}

/** The address book, by the codes of its places. */
export async function workbookPlaces(call: Read): Promise<Map<string, WorkbookPlace>> {
  const { rows } = await call.trx
    .raw<{ rows: WorkbookPlace[] }>(`select a.id, a.code, ${PLACE} as name, a.open from addresses a order by a.code`)
    .options({ name: 'workbook-places' })
  return new Map(rows.map(row => [placeCode(row.code), row]))
}

/** What can be chosen in a workbook: who buys, and open places. */
export async function workbookLists(call: Read): Promise<{ buyers: string[]; places: string[]; today: string }> {
  const places = [...(await workbookPlaces(call)).values()].filter(one => one.open)
  return {
    buyers: [...(await buyerNames(call)).keys()],
    places: places.map(one => placeLabel(one.code, one.name)),
    today: call.today,
  }
}
