import type { Knex } from 'knex'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { SendActs, SettleAct, ToSettle } from '#contract/receive/handheld.ts'
import { trueMoment, whyNotSend } from '#core/receive/handheld.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { NOT_YOURS } from '#core/acts/decision.ts'
import { dayOf, found, may, type Read, type Write, writing } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { reasonsJson, pathOf } from '#server/documents/sheetParts.ts'
import { tell } from '#server/receive/assetActs.ts'
import { receive } from '#server/receive/receiptActs.ts'

type Act = BodyOf<typeof SendActs>['acts'][number]
type Answer = ResponseOf<typeof SendActs>['answers'][number]
interface HandheldActRow {
  key: string
  deviceId: string
  sequence: number
  personId: string
  sentBy: string
  madeAt: string
  arrivedAt: string
  orderId: string
  act: Act
  state: 'taken' | 'settle' | 'dropped'
  number: string
  reasons: readonly Reason[]
  receiptId: string | null
  settledBy: string | null
  settledAt: string | null
  settleReason: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    handheldActs: HandheldActRow
  }
}

/** Takes what a device did, act by act, each in a transaction of its own and each once: what came before is answered as it was then. */
export async function sendActs(
  call: Write,
  { deviceId, deviceNow, acts }: BodyOf<typeof SendActs>,
): Promise<ResponseOf<typeof SendActs>> {
  const answers: Answer[] = []
  for (const act of [...acts].sort((a, b) => a.sequence - b.sequence)) {
    const madeAt = trueMoment(act.madeAt, deviceNow, call.now)
    answers.push(await takeOnce(call, act, { deviceId, madeAt }))
  }
  return { answers }
}

interface From {
  readonly deviceId: string
  readonly madeAt: string
}

async function takeOnce(call: Write, act: Act, from: From): Promise<Answer> {
  const db = call.trx
  try {
    return await db.transaction(async trx => {
      const own = writing(trx, call)
      const before = await claimed(trx, act.key)
      if (before) return answerOf(before)
      const made = await take(own, act, from)
      await keep(own, act, from, { state: 'taken', ...made, reasons: [] })
      return { key: act.key, state: 'taken' as const, number: made.number, reasons: [] }
    })
  } catch (error) {
    if (!(error instanceof RuleBroken)) throw error
    return await db.transaction(async trx => {
      const before = await claimed(trx, act.key)
      if (before) return answerOf(before)
      await keep(writing(trx, call), act, from, {
        state: 'settle',
        number: '',
        receiptId: null,
        reasons: error.reasons,
      })
      return { key: act.key, state: 'settle' as const, number: '', reasons: reasonsJson(error.reasons) }
    })
  }
}

/** One at a time for each key: whoever comes second finds what the first did. */
async function claimed(trx: Knex, key: string): Promise<HandheldActRow | undefined> {
  await trx.raw(`select pg_advisory_xact_lock(hashtext('handheld'), hashtext(?))`, [key])
  return await trx('handheldActs').where({ key }).first()
}

const answerOf = ({ key, state, number, reasons }: HandheldActRow): Answer => ({
  key,
  state,
  number,
  reasons: reasonsJson(reasons),
})

/** What somebody counted on a device, taken as if they had counted it at a desk on that day. */
async function take(
  call: Write,
  act: Act,
  { madeAt }: From,
  check = true,
): Promise<{ number: string; receiptId: string }> {
  const against = check ? whyNotSend(act, call.actor.id) : []
  if (against.length > 0) throw new RuleBroken(against)
  if (!may(call, 'delivery.receive'))
    throw new RuleBroken(stop('right.missing', { permission: 'delivery.receive' }, { clearedBy: ['steward'] }))
  const done = await receive(
    call,
    act.orderId,
    {
      receivedOn: dayOf(madeAt, call.house.zone),
      placeId: act.placeId,
      note: act.note,
      ...(act.checkReason ? { checkReason: act.checkReason } : {}),
      ...(act.despatchId && (await isStillAnnounced(call, act.despatchId)) ? { despatchId: act.despatchId } : {}),
      lines: [
        {
          ...act.count,
          serials: [...(act.count.serials ?? []), ...act.pieces.map(piece => piece.serial).filter(Boolean)],
        },
      ],
    },
    'handheld',
  )
  if (done.state === 'posted') await tellPieces(call, done.id, act.pieces)
  return { number: done.number, receiptId: done.id }
}

/** The first count of an announced delivery says that it is here; the others need not. */
const isStillAnnounced = async (call: Read, id: string): Promise<boolean> =>
  (await call.trx('despatches').where({ id, state: 'sent' }).first('id')) !== undefined

/** Tags go onto the fresh pieces of the count in the order in which they were told. */
async function tellPieces(call: Write, receiptId: string, pieces: Act['pieces']): Promise<void> {
  const { rows: fresh } = await call.trx.raw<{ rows: { id: string; version: number; serial: string }[] }>(
    'select a.id, a.version, a.serial from assets a join receipt_lines l on l.id = a.receipt_line_id where l.receipt_id = ? order by a.number',
    [receiptId],
  )
  for (const { tag, serial } of pieces) {
    const at = fresh.findIndex(piece => serial !== '' && piece.serial === serial)
    const [piece] = fresh.splice(Math.max(0, at), 1)
    if (piece && (tag !== '' || serial !== '')) await tell(call, piece.id, { version: piece.version, tag, serial })
  }
}

async function keep(
  call: Write,
  act: Act,
  { deviceId, madeAt }: From,
  outcome: Pick<HandheldActRow, 'state' | 'number' | 'receiptId' | 'reasons'>,
): Promise<void> {
  await call.trx('handheldActs').insert({
    key: act.key,
    deviceId,
    sequence: act.sequence,
    personId: act.personId,
    sentBy: call.actor.id,
    madeAt,
    arrivedAt: call.now,
    orderId: act.orderId,
    act: json(act) as never,
    ...outcome,
    reasons: json([...outcome.reasons]) as never,
  })
}

/** Who may settle an act: whoever made it, or a steward. */
const maySettle = (call: Read, row: Pick<HandheldActRow, 'personId'>): boolean =>
  (row.personId === call.actor.id && may(call, 'delivery.receive')) ||
  may(call, 'requisition.passOn') ||
  may(call, 'order.write')

export async function toSettle(call: Read): Promise<ResponseOf<typeof ToSettle>> {
  const { rows } = await call.trx.raw<{
    rows: (HandheldActRow & { by: string; orderNumber: string; what: string; unit: string })[]
  }>(
    `select h.*, p.name as by, o.number as order_number, coalesce(l.description, '') as what, coalesce(l.unit, '') as unit from handheld_acts h join people p on p.id = h.person_id join orders o on o.id = h.order_id
     left join order_lines l on l.id = (h.act -> 'count' ->> 'lineId')::uuid where h.state = 'settle' order by h.arrived_at limit 500`,
  )
  return {
    acts: rows.map(row => ({
      key: row.key,
      by: row.by,
      madeAt: row.madeAt,
      order: row.orderNumber,
      path: pathOf('delivery', row.orderId),
      what: row.what,
      quantity: row.act.count.quantity,
      unit: row.act.count.unit ?? row.unit,
      reasons: reasonsJson(row.reasons),
      maySettle: maySettle(call, row),
    })),
  }
}

/** Somebody says what becomes of an act that did not fit: it is tried again as things are now, or let go. */
export async function settleAct(call: Write, key: string, { how, reason }: BodyOf<typeof SettleAct>): Promise<Answer> {
  const row = found(await call.trx('handheldActs').where({ key }).forUpdate().first(), 'handheldAct')
  if (!maySettle(call, row)) throw new RuleBroken(NOT_YOURS)
  if (row.state !== 'settle') return answerOf(row)
  const done =
    how === 'drop'
      ? { state: 'dropped' as const, number: '', receiptId: null }
      : {
          state: 'taken' as const,
          ...(await take(
            call,
            { ...row.act, note: row.act.note || reason },
            { deviceId: row.deviceId, madeAt: row.madeAt },
            false,
          )),
        }
  const change = { ...done, settledBy: call.actor.id, settledAt: call.now, settleReason: reason }
  await call.trx('handheldActs').where({ key }).update(change)
  return answerOf({ ...row, ...change, reasons: how === 'drop' ? row.reasons : [] })
}
