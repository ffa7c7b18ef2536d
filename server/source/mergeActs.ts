import { randomUUID } from 'node:crypto'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { Merge, PreviewMerge } from '#contract/source/duplicates.ts'
import { refuseStops, RuleBroken } from '#core/reasons.ts'
import { tellingKey } from '#core/source/likeness.ts'
import { mergeReasons, sameName, undoUntil, whyNotItself, whyNotUndo } from '#core/source/merging.ts'
import { mergeQuestion, movesMoney } from '#core/source/questions.ts'
import { SUPPLIER_STATES } from '#core/source/states.ts'
import { transition } from '#core/states.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { holdAll } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { say } from '#server/mail/mail.ts'
import { type MergePlan, type Moved, PARTS, planMerge } from '#server/source/mergeStore.ts'
import { askSecondYes } from '#server/source/secondYesStore.ts'
import { refreshSuppliers } from '#server/source/supplierRefresh.ts'
import { refreshSearch, type SupplierRow } from '#server/source/supplierStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

const head = (one: SupplierRow): { id: string; number: string; name: string } => ({
  id: one.id,
  number: one.number,
  name: one.name,
})

export async function previewMerge(
  call: Read,
  keptId: string,
  mergedId: string,
): Promise<ResponseOf<typeof PreviewMerge>> {
  const read = async (id: string): Promise<SupplierRow> =>
    found(await call.trx('suppliers').where({ id }).first(), 'supplier')
  const plan = await planMerge(call, await read(keptId), await read(mergedId))
  return {
    kept: head(plan.kept),
    merged: head(plan.merged),
    moves: plan.moves.map(({ part, move: moving, stay }) => ({
      what: part.what,
      count: moving.length,
      staying: stay,
      moving: moving.slice(0, 12).map(row => row.label),
    })),
    reasons: reasonsJson(mergeReasons(plan.facts)),
    needsSecondYes: movesMoney(plan.facts),
  }
}

/** Both records held in id order, and what a merge of them would move. */
async function heldPlan(call: Write, keptId: string, mergedId: string): Promise<MergePlan> {
  refuse(whyNotItself(keptId, mergedId))
  const rows = await holdAll(call, 'supplier', [keptId, mergedId])
  const of = (id: string): SupplierRow => rows.find(row => row.id === id)!
  const plan = await planMerge(call, of(keptId), of(mergedId))
  refuseStops(mergeReasons(plan.facts))
  return plan
}

/** Merges two records into one; where that moves money, it asks a second person first. */
export async function askMerge(
  call: Write,
  keptId: string,
  mergedId: string,
  reason: string,
): Promise<ResponseOf<typeof Merge>> {
  const plan = await heldPlan(call, keptId, mergedId)
  if (!movesMoney(plan.facts)) return { ...(await mergeSuppliers(call, plan, reason)), secondYesId: null }
  const { kept, merged } = plan
  const title = `${merged.name} → ${kept.name}`
  const question = await askSecondYes(call, mergeQuestion(keptId, mergedId, call.actor.id, reason), title, kept.number)
  const did = { action: 'mergeAsked', changes: { from: merged.number, unpaid: plan.facts.unpaidInvoices }, reason }
  return { ...(await move(call, 'supplier', kept, {}, did)), secondYesId: question.id }
}

/** Carries out a merge that a second person said yes to. */
export const agreedMerge = async (call: Write, keptId: string, mergedId: string, reason: string): Promise<Done> =>
  await mergeSuppliers(call, await heldPlan(call, keptId, mergedId), reason)

/** Open documents and the record's parts move to the one that is kept, both histories stay where they are. */
async function mergeSuppliers(call: Write, plan: MergePlan, reason: string): Promise<Done> {
  const { kept, merged } = plan
  const next = transition(SUPPLIER_STATES, 'supplier', merged.state, 'merge')
  if (!next.ok) throw new RuleBroken(next.reasons)
  // before the parts move: both sides are told at the addresses that they have now
  if (movesMoney(plan.facts)) await tellBoth(call, plan)
  const steppedDown = await stepDown(call, plan)
  for (const { part, move: moving } of plan.moves)
    if (moving.length > 0)
      await call
        .trx(part.table)
        .whereIn(
          'id',
          moving.map(row => row.id),
        )
        .update({ supplierId: kept.id })
  const moved: Moved = {
    rows: Object.fromEntries(plan.moves.map(({ part, move: moving }) => [part.what, moving.map(row => row.id)])),
    nameId: await keepName(call, plan),
    categories: kept.categories,
    steppedDown,
  }
  await call.trx('supplierMerges').insert({
    id: randomUUID(),
    keptId: kept.id,
    mergedId: merged.id,
    reason,
    byId: call.actor.id,
    at: call.now,
    moved: json(moved),
    stateBefore: merged.state,
  })
  await call
    .trx('supplierPairs')
    .where(pairOf(kept.id, merged.id))
    .update({ state: 'merged', decidedBy: call.actor.id, decidedAt: call.now, reason })
  const counts = Object.fromEntries(plan.moves.map(({ part, move: moving }) => [part.what, moving.length]))
  await move(
    call,
    'supplier',
    merged,
    { state: next.state, mergedInto: kept.id, stateReason: reason },
    { action: 'mergedInto', changes: { into: kept.number, moved: counts }, reason },
  )
  const done = await move(
    call,
    'supplier',
    kept,
    { categories: [...new Set([...kept.categories, ...merged.categories])] },
    { action: 'merged', changes: { from: merged.number, moved: counts }, reason },
  )
  await bringAlong(call, [kept.id, merged.id], moved)
  return done
}

/** Everything that shows something of what moved. */
async function bringAlong(call: Write, supplierIds: readonly string[], moved: Moved): Promise<void> {
  await refreshSearch(call, supplierIds)
  await refreshSuppliers(call, supplierIds)
  await refreshThread(call, { orderIds: moved.rows.orders ?? [], invoiceIds: moved.rows.invoices ?? [] })
}

/** Both suppliers hear that what one of them is owed is paid to the account of the other from now on. */
async function tellBoth(call: Write, { kept, merged }: MergePlan): Promise<void> {
  const account = await call
    .trx('supplierBankAccounts')
    .where({ supplierId: kept.id })
    .whereNot({ state: 'closed' })
    .first('iban')
  const details = { merged: merged.name, kept: kept.name, ending: account?.iban.slice(-4) ?? '' }
  await say(
    call,
    [kept, merged].map(one => ({
      template: 'supplier.merged',
      to: { kind: 'supplier', id: one.id, message: 'payments' },
      key: `merged:${kept.id}:${merged.id}:${merged.version}:${one.id}`,
      details,
    })),
    { kind: 'supplier', id: kept.id },
  )
}

const pairOf = (a: string, b: string): { lowId: string; highId: string } =>
  a < b ? { lowId: a, highId: b } : { lowId: b, highId: a }

/** A supplier has one administrator: where both have one, that of the merged record stays a person without that office until the merge is undone. */
async function stepDown(call: Write, plan: MergePlan): Promise<string | null> {
  const administrator = (supplierId: string) =>
    call.trx('people').where({ supplierId, supplierAdministrator: true }).first('id')
  const own = await administrator(plan.merged.id)
  const other = await administrator(plan.kept.id)
  if (!own || !other) return null
  await call.trx('people').where({ id: own.id }).update({ supplierAdministrator: false })
  return own.id
}

/** The merged record's name is kept as one that the other trades under, so that it is still found by it. */
async function keepName(call: Write, plan: MergePlan): Promise<string | null> {
  if (sameName(plan.kept.name) === sameName(plan.merged.name) && plan.kept.name === plan.merged.name) return null
  const id = randomUUID()
  await call
    .trx('supplierNames')
    .insert({ id, supplierId: plan.kept.id, name: plan.merged.name, matchKey: tellingKey(plan.merged.name) })
  return id
}

/** Takes a merge back for thirty days: what was moved and is still there goes back; what came since stays with the record that was kept. */
export async function undoMerge(call: Write, id: string, reason: string): Promise<Done> {
  const merge = found(await call.trx('supplierMerges').where({ id }).forNoKeyUpdate().first(), 'merge')
  const rows = await holdAll(call, 'supplier', [merge.keptId, merge.mergedId])
  const kept = rows.find(row => row.id === merge.keptId)!
  const merged = rows.find(row => row.id === merge.mergedId)!
  refuse(whyNotUndo(merge, kept, call.now))
  const back: Record<string, number> = {}
  for (const part of PARTS) {
    const ids = merge.moved.rows[part.what] ?? []
    if (ids.length > 0)
      back[part.what] = await call
        .trx(part.table)
        .whereIn('id', ids)
        .where({ supplierId: kept.id })
        .update({ supplierId: merged.id })
  }
  if (merge.moved.steppedDown)
    await call
      .trx('people')
      .where({ id: merge.moved.steppedDown, supplierId: merged.id })
      .update({ supplierAdministrator: true })
  if (merge.moved.nameId) await call.trx('supplierNames').where({ id: merge.moved.nameId }).delete()
  await call.trx('supplierMerges').where({ id }).update({ undoneAt: call.now, undoneBy: call.actor.id })
  await call
    .trx('supplierPairs')
    .where(pairOf(kept.id, merged.id))
    .update({ state: 'open', decidedBy: null, decidedAt: null, reason: null })
  const added = kept.categories.filter(one => !merge.moved.categories.includes(one) && merged.categories.includes(one))
  const did = (changes: Record<string, unknown>) => ({ action: 'unmerged', changes: { ...changes, back }, reason })
  await move(
    call,
    'supplier',
    merged,
    { state: merge.stateBefore, mergedInto: null, stateReason: null },
    did({ from: kept.number }),
  )
  const done = await move(
    call,
    'supplier',
    kept,
    { categories: kept.categories.filter(one => !added.includes(one)) },
    did({ out: merged.number }),
  )
  await bringAlong(call, [kept.id, merged.id], merge.moved)
  return done
}

interface ShownMerge {
  id: string
  number: string
  name: string
  mergedId: string
  at: string
  by: string
  undoUntil: string
  mayUndo: boolean
}

/** Merges that a Sheet shows: those into this record that stand. */
export async function mergesOf(call: Read, keptId: string): Promise<ShownMerge[]> {
  const rows = await call
    .trx('supplierMerges as merge')
    .join('suppliers', 'suppliers.id', 'merge.mergedId')
    .join('people', 'people.id', 'merge.byId')
    .where({ keptId })
    .whereNull('undoneAt')
    .orderBy('merge.at', 'desc')
    .select<Omit<ShownMerge, 'undoUntil' | 'mayUndo'>[]>(
      'merge.id',
      'suppliers.number',
      'suppliers.name',
      'merge.mergedId',
      'merge.at',
      'people.name as by',
    )
  return rows.map(row => ({ ...row, undoUntil: undoUntil(row.at), mayUndo: call.now <= undoUntil(row.at) }))
}
