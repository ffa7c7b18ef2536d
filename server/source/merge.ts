import { randomUUID } from 'node:crypto'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { PreviewMerge } from '#contract/source/duplicates.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { type MergeFacts, mergeReasons, rowsToMove, sameContact, sameLocation, sameName, undoUntil } from '#core/source/merging.ts'
import { tellingKey } from '#core/source/likeness.ts'
import { SUPPLIER_STATES } from '#core/source/states.ts'
import { transition } from '#core/states.ts'
import { type Call, type Done, found } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { reasonsJson } from '#server/sheets/parts.ts'
import { lockSupplier, refreshSearch, type SupplierRow, touch } from '#server/source/supplierStore.ts'

interface Moving {
  readonly id: string
  readonly label: string
  readonly same: string
}
/** A kind of row that belongs to a supplier: how to read those that move, and where they are kept. */
interface Part {
  readonly what: string
  readonly table: string
  readonly column: string
  readonly read: (call: Call, supplierId: string) => Promise<Moving[]>
}

const rowsOf = async (call: Call, sql: string, id: string): Promise<Moving[]> => ((await call.trx.raw(sql, [id])) as { rows: Moving[] }).rows
/** Documents move whole, each being only itself. */
const documents = (what: string, table: string, label: string, open: string): Part => ({
  what,
  table,
  column: 'supplier_id',
  read: (call, id) => rowsOf(call, `select id, ${label} as label, id::text as same from ${table} where supplier_id = ? and ${open} order by id`, id),
})

const PARTS: readonly Part[] = [
  documents('orders', 'orders', "number || ' ' || title", "state in ('draft', 'issued', 'acknowledged', 'closed')"),
  documents('requestLines', 'requisition_lines', 'description', "state in ('open', 'toBuy', 'onDraftOrder')"),
  documents('invoices', 'invoices', "number || ' ' || supplier_number", "state in ('read', 'onHold', 'matched', 'cleared')"),
  {
    what: 'offers',
    table: 'offers',
    column: 'supplier_id',
    read: (call, id) =>
      rowsOf(
        call,
        "select o.id, i.number || ' ' || i.name as label, o.item_id::text || ' ' || o.supplier_item as same from offers o join items i on i.id = o.item_id where o.supplier_id = ? order by o.id",
        id,
      ),
  },
  {
    what: 'locations',
    table: 'supplier_locations',
    column: 'supplier_id',
    read: async (call, id) =>
      (
        (await call.trx('supplierLocations').where({ supplierId: id }).orderBy('position')) as {
          id: string
          name: string
          street: string
          postalCode: string
          city: string
          country: string
        }[]
      ).map(one => ({ id: one.id, label: `${one.name}, ${one.city}`, same: sameLocation(one) })),
  },
  {
    what: 'contacts',
    table: 'supplier_contacts',
    column: 'supplier_id',
    read: async (call, id) =>
      ((await call.trx('supplierContacts').where({ supplierId: id }).orderBy('position')) as { id: string; name: string; email: string }[]).map(one => ({
        id: one.id,
        label: one.name || one.email,
        same: sameContact(one),
      })),
  },
  {
    what: 'identifiers',
    table: 'supplier_identifiers',
    column: 'supplier_id',
    read: (call, id) => rowsOf(call, "select id, value as label, scheme || ' ' || value as same from supplier_identifiers where supplier_id = ? order by id", id),
  },
  {
    what: 'names',
    table: 'supplier_names',
    column: 'supplier_id',
    read: async (call, id) =>
      (await rowsOf(call, 'select id, name as label, name as same from supplier_names where supplier_id = ? order by id', id)).map(one => ({ ...one, same: sameName(one.label) })),
  },
  documents('certificates', 'supplier_certificates', 'kind', "state = 'current'"),
  documents('people', 'people', 'name', "realm = 'supplier'"),
]

interface Plan {
  readonly kept: SupplierRow
  readonly merged: SupplierRow
  readonly moves: { part: Part; move: Moving[]; stay: number }[]
  readonly facts: MergeFacts
}

async function planMerge(call: Call, kept: SupplierRow, merged: SupplierRow): Promise<Plan> {
  const moves: Plan['moves'] = []
  for (const part of PARTS) {
    const mine = await part.read(call, merged.id)
    const { move } = rowsToMove(await part.read(call, kept.id), mine)
    const moving = new Set(move)
    moves.push({ part, move: mine.filter(row => moving.has(row.id)), stay: mine.length - move.length })
  }
  const twice = (await call.trx.raw(
    `select a.supplier_number as number from invoices a join invoices b on b.normal_number = a.normal_number and b.supplier_id = :kept and b.state not in ('rejected', 'voided') where a.supplier_id = :merged and a.state in ('read', 'onHold', 'matched', 'cleared')`,
    {
      kept: kept.id,
      merged: merged.id,
    },
  )) as { rows: { number: string }[] }
  const runs = (await call.trx.raw(
    `select distinct r.number from payments p join payment_runs r on r.id = p.run_id join invoices i on i.id = p.invoice_id where i.supplier_id = ? and p.state in ('proposed', 'sent', 'accepted') and r.state in ('proposed', 'approved', 'sent')`,
    [merged.id],
  )) as { rows: { number: string }[] }
  const side = (one: SupplierRow): MergeFacts['kept'] => ({ name: one.name, state: one.state, mergedInto: one.mergedInto, kind: one.kind })
  return {
    kept,
    merged,
    moves,
    facts: {
      keptId: kept.id,
      mergedId: merged.id,
      kept: side(kept),
      merged: side(merged),
      sameInvoices: twice.rows.map(row => row.number),
      openRuns: runs.rows.map(row => row.number),
    },
  }
}

const head = (one: SupplierRow): { id: string; number: string; name: string } => ({ id: one.id, number: one.number, name: one.name })

export async function previewMerge(call: Call, keptId: string, mergedId: string): Promise<ResponseOf<typeof PreviewMerge>> {
  const read = async (id: string): Promise<SupplierRow> => found((await call.trx('suppliers').where({ id }).first()) as SupplierRow | undefined, 'supplier')
  const plan = await planMerge(call, await read(keptId), await read(mergedId))
  return {
    kept: head(plan.kept),
    merged: head(plan.merged),
    moves: plan.moves.map(({ part, move, stay }) => ({ what: part.what, count: move.length, staying: stay, moving: move.slice(0, 12).map(row => row.label) })),
    reasons: reasonsJson(mergeReasons(plan.facts)),
  }
}

/** Merges: open documents and the record's parts move to the one that is kept, both histories stay where they are. */
export async function mergeSuppliers(call: Call, keptId: string, mergedId: string, reason: string): Promise<Done> {
  if (keptId === mergedId) throw new RuleBroken(stop('merge.itself'))
  const locked = new Map<string, SupplierRow>()
  for (const id of [keptId, mergedId].sort()) locked.set(id, await lockSupplier(call, id))
  const plan = await planMerge(call, locked.get(keptId)!, locked.get(mergedId)!)
  refuseStops(mergeReasons(plan.facts))
  const next = transition(SUPPLIER_STATES, 'supplier', plan.merged.state, 'merge')
  if (!next.ok) throw new RuleBroken(next.reasons)
  const steppedDown = await stepDown(call, plan)
  for (const { part, move } of plan.moves)
    if (move.length > 0)
      await call
        .trx(part.table)
        .whereIn(
          'id',
          move.map(row => row.id),
        )
        .update({ supplier_id: keptId })
  const nameId = await keepName(call, plan)
  const id = randomUUID()
  const moved = { rows: Object.fromEntries(plan.moves.map(({ part, move }) => [part.what, move.map(row => row.id)])), nameId, categories: plan.kept.categories, steppedDown }
  await call.trx('supplierMerges').insert({ id, keptId, mergedId, reason, byId: call.actor.id, at: call.now, moved: JSON.stringify(moved), stateBefore: plan.merged.state })
  await call
    .trx('supplierPairs')
    .where({ lowId: low(keptId, mergedId), highId: high(keptId, mergedId) })
    .update({ state: 'merged', decidedBy: call.actor.id, decidedAt: call.now, reason })
  await touch(call, plan.merged, { state: next.state, mergedInto: keptId, stateReason: reason })
  const done = await touch(call, plan.kept, { categories: [...new Set([...plan.kept.categories, ...plan.merged.categories])] })
  await refreshSearch(call, [keptId, mergedId])
  const counts = Object.fromEntries(plan.moves.map(({ part, move }) => [part.what, move.length]))
  await record(call, { kind: 'supplier', id: mergedId, action: 'mergedInto', changes: { into: plan.kept.number, moved: counts }, reason })
  await record(call, { kind: 'supplier', id: keptId, action: 'merged', changes: { from: plan.merged.number, moved: counts }, reason })
  return done
}

const low = (a: string, b: string): string => (a < b ? a : b)
const high = (a: string, b: string): string => (a < b ? b : a)

/** A supplier has one administrator: where both have one, that of the merged record stays a person without that office until the merge is undone. */
async function stepDown(call: Call, plan: Plan): Promise<string | null> {
  const own = (await call.trx('people').where({ supplierId: plan.merged.id, supplierAdministrator: true }).first('id')) as { id: string } | undefined
  const other = (await call.trx('people').where({ supplierId: plan.kept.id, supplierAdministrator: true }).first('id')) as { id: string } | undefined
  if (!own || !other) return null
  await call.trx('people').where({ id: own.id }).update({ supplierAdministrator: false })
  return own.id
}

/** The merged record's name is kept as one that the other trades under, so that it is still found by it. */
async function keepName(call: Call, plan: Plan): Promise<string | null> {
  if (sameName(plan.kept.name) === sameName(plan.merged.name) && plan.kept.name === plan.merged.name) return null
  const [row] = (await call
    .trx('supplierNames')
    .insert({ supplierId: plan.kept.id, name: plan.merged.name, matchKey: tellingKey(plan.merged.name) })
    .returning('id')) as { id: string }[]
  return row!.id
}

interface MergeRow {
  id: string
  keptId: string
  mergedId: string
  at: string
  moved: { rows: Record<string, string[]>; nameId: string | null; categories: string[]; steppedDown: string | null }
  stateBefore: string
  undoneAt: string | null
}

/** Takes a merge back for thirty days: what was moved and is still there goes back; what came since stays with the record that was kept. */
export async function undoMerge(call: Call, id: string, reason: string): Promise<Done> {
  const merge = found((await call.trx('supplierMerges').where({ id }).forNoKeyUpdate().first()) as MergeRow | undefined, 'merge')
  if (merge.undoneAt !== null) throw new RuleBroken(stop('merge.undone'))
  if (call.now > undoUntil(merge.at)) throw new RuleBroken(stop('merge.tooLate', { until: undoUntil(merge.at).slice(0, 10) }))
  const locked = new Map<string, SupplierRow>()
  for (const one of [merge.keptId, merge.mergedId].sort()) locked.set(one, await lockSupplier(call, one))
  const [kept, merged] = [locked.get(merge.keptId)!, locked.get(merge.mergedId)!]
  if (kept.mergedInto !== null) throw new RuleBroken(stop('merge.keptMerged', { name: kept.name }))
  const back: Record<string, number> = {}
  for (const part of PARTS) {
    const ids = merge.moved.rows[part.what] ?? []
    if (ids.length > 0) back[part.what] = await call.trx(part.table).whereIn('id', ids).where({ supplier_id: merge.keptId }).update({ supplier_id: merge.mergedId })
  }
  if (merge.moved.steppedDown) await call.trx('people').where({ id: merge.moved.steppedDown, supplierId: merge.mergedId }).update({ supplierAdministrator: true })
  if (merge.moved.nameId) await call.trx('supplierNames').where({ id: merge.moved.nameId }).delete()
  await call.trx('supplierMerges').where({ id }).update({ undoneAt: call.now, undoneBy: call.actor.id })
  await call
    .trx('supplierPairs')
    .where({ lowId: low(kept.id, merged.id), highId: high(kept.id, merged.id) })
    .update({ state: 'open', decidedBy: null, decidedAt: null, reason: null })
  await touch(call, merged, { state: merge.stateBefore, mergedInto: null, stateReason: null })
  const added = kept.categories.filter(one => !merge.moved.categories.includes(one) && merged.categories.includes(one))
  const done = await touch(call, kept, { categories: kept.categories.filter(one => !added.includes(one)) })
  await refreshSearch(call, [kept.id, merged.id])
  await record(call, { kind: 'supplier', id: merged.id, action: 'unmerged', changes: { from: kept.number, back }, reason })
  await record(call, { kind: 'supplier', id: kept.id, action: 'unmerged', changes: { out: merged.number, back }, reason })
  return done
}

/** Merges that a Sheet shows: those into this record that stand. */
export async function mergesOf(
  call: Call,
  keptId: string,
): Promise<{ id: string; number: string; name: string; mergedId: string; at: string; by: string; undoUntil: string; mayUndo: boolean }[]> {
  const rows = (await call
    .trx('supplierMerges as merge')
    .join('suppliers', 'suppliers.id', 'merge.mergedId')
    .join('people', 'people.id', 'merge.byId')
    .where({ keptId })
    .whereNull('undoneAt')
    .orderBy('merge.at', 'desc')
    .select('merge.id', 'suppliers.number', 'suppliers.name', 'merge.mergedId', 'merge.at', 'people.name as by')) as {
    id: string
    number: string
    name: string
    mergedId: string
    at: string
    by: string
  }[]
  return rows.map(row => ({ ...row, undoUntil: undoUntil(row.at), mayUndo: call.now <= undoUntil(row.at) }))
}
