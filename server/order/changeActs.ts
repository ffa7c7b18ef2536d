import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { KeepChange, LookAtChange, ReadOrder } from '#contract/order/endpoints.ts'
import { formatAmount, minor, parseAmount } from '#core/money/amount.ts'
import { accountsOf } from '#core/order/after.ts'
import { changeLines, type WantedOrder } from '#core/order/changeLines.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { lookAtRevision } from '#core/order/lookAtRevision.ts'
import { whyNotLatest, whyNotRevise } from '#core/order/reviseOrder.ts'
import { placeText } from '#core/order/supplierPlace.ts'
import { PERSONAL_FEE, seesFee } from '#core/request/personalFee.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, may, type Read, type Write } from '#server/call.ts'
import { byId, someIds } from '#server/database/rows.ts'
import { json } from '#server/database/json.ts'
import { refuse } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { accountFacts, budgetFigures } from '#server/ledger/budgetStore.ts'
import { documentTopic, tell } from '#server/news/tell.ts'
import { orderCallOffs } from '#server/order/callOffStore.ts'
import { orderPlace } from '#server/order/placeStore.ts'
import { knownOrder, type KnownOrder, PLACE } from '#server/order/orderStore.ts'

type Kept = Omit<BodyOf<typeof KeepChange>, 'seen' | 'revision'>
interface OrderChangeRow {
  orderId: string
  content: Kept
  revision: number
  byId: string
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    orderChanges: OrderChangeRow
  }
}

/** What somebody wants of an order, as the core takes it: places by their names. */
export async function wantedOf(
  call: Read,
  order: Pick<OrderFacts, 'currency' | 'lines' | 'supplierId'>,
  {
    wanted: { title, message, charges, locationId, lines },
    needRemains = true,
  }: Omit<Partial<Kept>, 'wanted'> & Pick<Kept, 'wanted'>,
): Promise<WantedOrder> {
  const ids = lines.flatMap(line => [line.addressId, ...(line.schedule ?? []).map(one => one.addressId)])
  const names = await placeNames(call, someIds(ids))
  const place = (id: string | null): string => (id === null ? '' : found(names.get(id), 'address'))
  return {
    title,
    message,
    charges: charges.map(item => ({ ...item, amount: parseAmount(item.amount, order.currency) })),
    needRemains,
    ...(locationId === undefined
      ? {}
      : { locationId, location: await locationText(call, order.supplierId, locationId) }),
    lines: lines.map(({ addressId, schedule, ...line }) => ({
      ...line,
      ...(addressId === undefined ? {} : { addressId, place: place(addressId) }),
      ...(schedule === undefined ? {} : { schedule: schedule.map(one => ({ ...one, place: place(one.addressId) })) }),
    })),
  }
}

/** Charges of an order as they are sent back when nothing of them is changed. */
export const wantedCharges = (order: Pick<OrderFacts, 'chargeItems' | 'currency'>): Kept['wanted']['charges'] =>
  order.chargeItems.map(item => ({
    ...item,
    amount: formatAmount(item.amount, order.currency),
    splits: item.splits.map(split => ({ ...split })),
  }))

/** The place of a supplier in words; without one the place that orders usually go to. */
async function locationText(call: Read, supplierId: string, locationId: string | null): Promise<string> {
  const place = await orderPlace(call, { supplierId, locationId })
  if (locationId !== null && place?.id !== locationId)
    throw new RuleBroken(stop('document.notFound', { kind: 'location' }))
  return placeText(place)
}

async function placeNames(call: Read, ids: readonly string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: { id: string; place: string }[] }>(
      `select a.id, ${PLACE} as place from addresses a where a.id = any(?)`,
      [[...ids]],
    ) // prettier-ignore
    .options({ name: 'place-names' })
  return new Map(rows.map(row => [row.id, row.place]))
}

/** Keeps a change that is being written, on top of what this person has seen of it. */
export async function keepChange(
  call: Write,
  id: string,
  { seen, revision, ...content }: BodyOf<typeof KeepChange>,
): Promise<{ at: string }> {
  await needVisible(call, 'order', id)
  const order = await knownOrder(call, id)
  refuse([...whyNotRevise(order, call.actor), ...whyNotLatest(order, revision)])
  const before = await call.trx('orderChanges').where({ orderId: id }).forNoKeyUpdate().first()
  if (before && before.byId !== call.actor.id && before.changedAt !== seen) {
    const by = await call.trx('people').where({ id: before.byId }).first('name')
    throw new RuleBroken(stop('order.changeByOther', { who: by?.name ?? '', at: before.changedAt }))
  }
  const row = { content: json(content) as never, revision: before?.revision ?? order.revision, byId: call.actor.id, changedAt: call.now } // prettier-ignore
  await call.trx('orderChanges').insert({ orderId: id, ...row }).onConflict('orderId').merge(row) // prettier-ignore
  return { at: call.now }
}

export async function dropChange(call: Write, id: string): Promise<{ dropped: boolean }> {
  await needVisible(call, 'order', id)
  const dropped = await forgetChange(call, id)
  if (dropped) await tell(call, [documentTopic(id)])
  return { dropped }
}

/** A change that was made, or given up, is kept no longer. */
export const forgetChange = async (call: Write, orderId: string): Promise<boolean> =>
  (await call.trx('orderChanges').where({ orderId }).delete()) > 0

/** The change of an order that is being written, for those who may go on with it. */
export async function keptChange(call: Read, order: KnownOrder): Promise<ResponseOf<typeof ReadOrder>['keptChange']> {
  if (!may(call, 'order.write')) return null
  const row = await call
    .trx('orderChanges')
    .join('people', 'people.id', 'orderChanges.byId')
    .where({ orderId: order.id })
    .first<(OrderChangeRow & { by: string }) | undefined>('orderChanges.*', 'people.name as by')
  if (!row) return null
  const known = byId(order.rows)
  const lines = row.content.wanted.lines.map(line => {
    const own = known.get(line.id)
    const hidden = own?.kind === 'personalFee' && !seesFee(call.actor, own.requesterId)
    return hidden ? { ...line, description: PERSONAL_FEE } : line
  })
  return {
    ...row.content,
    wanted: { ...row.content.wanted, lines },
    by: row.by,
    mine: row.byId === call.actor.id,
    at: row.changedAt,
    revision: row.revision,
  }
}

/** What a change would do; nothing is kept by looking. */
export async function lookAtChange(
  call: Read,
  id: string,
  body: BodyOf<typeof LookAtChange>,
): Promise<ResponseOf<typeof LookAtChange>> {
  await needVisible(call, 'order', id)
  const known = await knownOrder(call, id)
  const wanted = await wantedOf(call, known, body)
  const order = { ...known, agreementReasons: await orderCallOffs(call, changeLines(known, wanted).order) }
  const look = lookAtRevision(order, wanted, await accountFacts(call, accountsOf(order)), call.actor)
  const moved = new Map(look.moves.map(one => [one.accountId, minor(one.reserved + one.committed)]))
  const figures = await budgetFigures(call, moved, false)
  const amount = (value: bigint): string => formatAmount(minor(value), call.base)
  return {
    differences: look.differences.map(one => ({ ...one, fields: [...one.fields] })),
    before: formatAmount(look.before, order.currency),
    after: formatAmount(look.after, order.currency),
    moves: look.moves.flatMap(one => {
      const account = figures.find(figure => figure.accountId === one.accountId)
      if (!account) return []
      const { label, available: left, after: then } = account
      return [{ accountId: one.accountId, label, reserved: amount(one.reserved), committed: amount(one.committed), left, then }] // prettier-ignore
    }),
    base: call.base,
    reasons: reasonsJson(look.reasons),
    same: look.same,
  }
}
