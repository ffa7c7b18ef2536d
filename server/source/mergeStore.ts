import { DOCUMENTS } from '#core/documents/kinds.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { PAYMENT_GROUPS, RUN_GROUPS } from '#core/pay/states.ts'
import { type MergeFacts, rowsToMove, sameContact, sameLocation, sameName } from '#core/source/merging.ts'
import type { Read } from '#server/call.ts'
import type { SupplierRow } from '#server/source/supplierStore.ts'

export interface Moving {
  readonly id: string
  readonly label: string
  /** What makes it the same as a row that is there already. */
  readonly same: string
}
/** A kind of row that belongs to a supplier: how to read those that move, and where they are kept. */
export interface Part {
  readonly what: string
  readonly table: string
  readonly read: (call: Read, supplierId: string) => Promise<Moving[]>
}
interface MergeRow {
  id: string
  keptId: string
  mergedId: string
  reason: string
  byId: string
  at: string
  moved: Moved
  stateBefore: SupplierRow['state']
  undoneAt: string | null
  undoneBy: string | null
}
/** What a merge moved, so that it can be taken back. */
export interface Moved {
  readonly rows: Readonly<Record<string, string[]>>
  readonly nameId: string | null
  readonly categories: readonly string[]
  /** The merged record's administrator, who is not the administrator of both. */
  readonly steppedDown: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    supplierMerges: MergeRow
  }
}

const rowsOf = async (call: Read, sql: string, id: string, states: readonly string[] = []): Promise<Moving[]> =>
  (await call.trx.raw<{ rows: Moving[] }>(sql, { id, states: [...states] })).rows

/** Documents move whole, each being only itself, while somebody may still do something with them. */
const documents = (kind: 'agreement' | 'order' | 'invoice', label: string): Part => ({
  what: DOCUMENTS[kind].rows,
  table: DOCUMENTS[kind].rows,
  read: (call, id) =>
    rowsOf(
      call,
      `select id, ${label} as label, id::text as same from ${DOCUMENTS[kind].rows} where supplier_id = :id and state = any(:states) order by id`,
      id,
      DOCUMENTS[kind].mergesIn,
    ),
})
const plain = (what: string, table: string, label: string, condition: string): Part => ({
  what,
  table,
  read: (call, id) =>
    rowsOf(
      call,
      `select id, ${label} as label, id::text as same from ${table} where supplier_id = :id and ${condition} order by id`,
      id,
    ),
})

/** Everything that moves when two records become one. */
export const PARTS: readonly Part[] = [
  documents('agreement', "number || ' ' || title"),
  documents('order', "number || ' ' || title"),
  plain('requestLines', 'requisition_lines', 'description', "state in ('open', 'toBuy', 'onDraftOrder')"),
  documents('invoice', "number || ' ' || supplier_number"),
  plain(
    'creditNotes',
    'credit_notes',
    "number || ' ' || supplier_number",
    `state in (${DOCUMENTS.creditNote.mergesIn.map(state => `'${state}'`).join(', ')})`,
  ),
  {
    what: 'offers',
    table: 'offers',
    read: (call, id) =>
      rowsOf(
        call,
        "select o.id, i.number || ' ' || i.name as label, o.item_id::text || ' ' || o.supplier_item as same from offers o join items i on i.id = o.item_id where o.supplier_id = :id order by o.id",
        id,
      ),
  },
  {
    what: 'locations',
    table: 'supplier_locations',
    read: async (call, id) =>
      (await call.trx('supplierLocations').where({ supplierId: id }).orderBy('position')).map(one => ({
        id: one.id,
        label: `${one.name}, ${one.city}`,
        same: sameLocation(one),
      })),
  },
  {
    what: 'contacts',
    table: 'supplier_contacts',
    read: async (call, id) =>
      (await call.trx('supplierContacts').where({ supplierId: id }).orderBy('position')).map(one => ({
        id: one.id,
        label: one.name || one.email,
        same: sameContact(one),
      })),
  },
  {
    what: 'identifiers',
    table: 'supplier_identifiers',
    read: (call, id) =>
      rowsOf(
        call,
        "select id, value as label, scheme || ' ' || value as same from supplier_identifiers where supplier_id = :id order by id",
        id,
      ),
  },
  {
    what: 'names',
    table: 'supplier_names',
    read: async (call, id) =>
      (await call.trx('supplierNames').where({ supplierId: id }).orderBy('id')).map(one => ({
        id: one.id,
        label: one.name,
        same: sameName(one.name),
      })),
  },
  plain('certificates', 'supplier_certificates', 'kind', "state = 'current'"),
  plain('people', 'people', 'name', "realm = 'supplier'"),
]

export interface MergePlan {
  readonly kept: SupplierRow
  readonly merged: SupplierRow
  readonly moves: readonly { readonly part: Part; readonly move: Moving[]; readonly stay: number }[]
  readonly facts: MergeFacts
}

/** What a merge would move, and what is known about whether it may. */
export async function planMerge(call: Read, kept: SupplierRow, merged: SupplierRow): Promise<MergePlan> {
  const moves = []
  for (const part of PARTS) {
    const mine = await part.read(call, merged.id)
    const { move } = rowsToMove(await part.read(call, kept.id), mine)
    const moving = new Set(move)
    moves.push({ part, move: mine.filter(row => moving.has(row.id)), stay: mine.length - move.length })
  }
  return { kept, merged, moves, facts: await factsOf(call, kept, merged) }
}

async function factsOf(call: Read, kept: SupplierRow, merged: SupplierRow): Promise<MergeFacts> {
  const numbers = async (sql: string, bindings: Record<string, string | string[]>): Promise<string[]> =>
    (await call.trx.raw<{ rows: { number: string }[] }>(sql, bindings)).rows.map(row => row.number)
  const moving = [...DOCUMENTS.invoice.mergesIn]
  return {
    keptId: kept.id,
    mergedId: merged.id,
    kept: side(kept),
    merged: side(merged),
    sameInvoices: await numbers(
      'select a.supplier_number as number from invoices a join invoices b on b.normal_number = a.normal_number and b.supplier_id = :kept and b.state = any(:standing) where a.supplier_id = :merged and a.state = any(:moving)',
      { kept: kept.id, merged: merged.id, moving, standing: [...INVOICE_GROUPS.standing] },
    ),
    unpaidInvoices: await numbers(
      'select number from invoices where supplier_id = :merged and state = any(:moving) order by number',
      { merged: merged.id, moving },
    ),
    openRuns: await numbers(
      'select distinct r.number from payments p join payment_runs r on r.id = p.run_id join invoices i on i.id = p.invoice_id where i.supplier_id = :merged and p.state = any(:live) and r.state = any(:open)',
      { merged: merged.id, live: [...PAYMENT_GROUPS.live], open: [...RUN_GROUPS.open] },
    ),
  }
}

const side = (one: SupplierRow): MergeFacts['kept'] => ({
  name: one.name,
  state: one.state,
  mergedInto: one.mergedInto,
  kind: one.kind,
})
