import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { OwnDespatches, OwnDespatchFile, SaveDespatch } from '#contract/receive/despatch.ts'
import { readUblDespatch } from '#core/formats/ublDespatch.ts'
import { whyNotCurrent } from '#core/order/answerOrder.ts'
import { openDespatch, sendDespatch, withdrawDespatch, writeDespatch } from '#core/receive/despatch.ts'
import { readDespatchFile } from '#core/receive/despatchFile.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { hangFiles } from '#server/files/fileActs.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { heldOwnOrder, knownOrder, type KnownOrder } from '#server/order/orderStore.ts'
import { needOwn } from '#server/order/orderStore.ts'
import { despatchesJson, type DespatchRow } from '#server/receive/despatchStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

export async function ownDespatches(call: Read, orderId: string): Promise<ResponseOf<typeof OwnDespatches>> {
  await needOwn(call, orderId)
  const order = await knownOrder(call, orderId)
  const rows = await call
    .trx('despatches')
    .where({ orderId })
    .whereNot({ state: 'withdrawn' })
    .orderBy('createdAt', 'desc')
  return {
    despatches: await despatchesJson(call, rows),
    open: openDespatch(order).map(one => ({ ...one, serials: [...one.serials] })),
    why: reasonsJson(whyNotCurrent(order, order.revision)),
  }
}

/** Writes an announcement, or sends it. */
export async function saveDespatch(
  call: Write,
  orderId: string,
  { despatchId, version, revision, send, entry }: BodyOf<typeof SaveDespatch>,
): Promise<Done & { number: string }> {
  const order = await heldOwnOrder(call, orderId)
  const row = despatchId === null ? await fresh(call, order) : await own(call, order, despatchId, version)
  const facts = { number: row.number, state: row.state, announced: row.announced }
  const decided = obey(send ? sendDespatch(order, revision, facts, entry) : writeDespatch(facts, entry))
  await postLedgers(call, { kind: 'despatch', id: row.id }, decided)
  const { number, packages, lines, fileIds = row.fileIds, ...head } = entry
  await hangFiles(call, { kind: 'despatch', id: row.id }, fileIds, row.fileIds)
  const change = {
    ...head,
    supplierNumber: number,
    fileIds: [...fileIds],
    packages: json(packages),
    lines: json(lines),
    state: decided.next.state,
    ...(send ? { announced: json(lines) } : {}),
  }
  const done = await move(call, 'despatch', row, change, decided.did)
  if (send) await tellOrder(call, order, decided.did)
  return { ...done, number: row.number }
}

async function tellOrder(call: Write, order: KnownOrder, did: Parameters<typeof move>[4]): Promise<void> {
  await move(call, 'order', order.row, {}, did)
  await refreshThread(call, { orderIds: [order.id] })
}

async function fresh(call: Write, order: KnownOrder): Promise<DespatchRow> {
  const row: DespatchRow = { id: randomUUID(), number: await nextNumber(call, 'despatch'), orderId: order.id, supplierId: order.supplierId, state: 'draft', supplierNumber: '', despatchedOn: call.today, arrivesOn: call.today, carrier: '', tracking: '', note: '', packages: [], lines: [], announced: [], fileIds: [], unloaderId: null, byId: call.actor.id, version: 1, createdAt: call.now, changedAt: call.now } // prettier-ignore
  await call.trx('despatches').insert({ ...row, packages: json([]), lines: json([]), announced: json([]) })
  await record(call, { kind: 'despatch', id: row.id, action: 'created' })
  return row
}

async function own(call: Write, order: KnownOrder, id: string, version?: number): Promise<DespatchRow> {
  found(await call.trx('despatches').where({ id, orderId: order.id }).first('id'), 'despatch')
  return await hold(call, 'despatch', id, version)
}

export async function withdraw(call: Write, id: string): Promise<Done> {
  const { orderId } = found(
    await call
      .trx('despatches')
      .where({ id, supplierId: call.actor.supplierId ?? '' })
      .first('orderId'),
    'despatch',
  )
  const order = await heldOwnOrder(call, orderId)
  const row = await own(call, order, id)
  const decided = obey(withdrawDespatch(order, row))
  await postLedgers(call, { kind: 'despatch', id }, decided)
  const done = await move(call, 'despatch', row, { state: decided.next.state, announced: json([]) }, decided.did)
  if (row.state === 'sent') await tellOrder(call, order, decided.did)
  return done
}

/** Reads the file of a despatch for the supplier to look at: one of another order, or another company's, is refused. */
export async function despatchFile(
  call: Read,
  orderId: string,
  text: string,
): Promise<ResponseOf<typeof OwnDespatchFile>> {
  await needOwn(call, orderId)
  const read = readDespatchFile(await knownOrder(call, orderId), readUblDespatch(text), call.today)
  const { packages, lines, ...head } = read.entry
  return {
    entry: { ...head, packages: packages.map(one => ({ ...one })), lines: lines.map(one => ({ ...one, serials: [...one.serials] })) }, // prettier-ignore
    left: read.left.map(({ row, reason }) => ({ row, code: reason.code, details: { ...reason.details } })),
  }
}

export async function setUnloader(call: Write, id: string, personId: string | null): Promise<Done> {
  const row = await hold(call, 'despatch', id)
  if (personId !== null)
    found(await call.trx('people').where({ id: personId, realm: 'team', active: true }).first('id'), 'person')
  return await move(
    call,
    'despatch',
    row,
    { unloaderId: personId },
    { action: 'unloader', changes: { personId }, reason: null },
  )
}
