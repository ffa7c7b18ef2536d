import type { Knex } from 'knex'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { SendActs, SettleAct, ToSettle } from '#contract/receive/handheld.ts'
import { asReceipts, trueMoment, whyNotSend } from '#core/receive/handheld.ts'
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

/**
 * Takes what a device did, each act once: what came before is answered as it was then. Acts of one delivery become one receipt where they can; where one
 * of them cannot be taken, each is taken by itself.
 */
export async function sendActs(
  call: Write,
  { deviceId, deviceNow, acts }: BodyOf<typeof SendActs>,
): Promise<ResponseOf<typeof SendActs>> {
  const own = [...acts]
    .sort((a, b) => a.sequence - b.sequence)
    .map(act => {
      const madeAt = trueMoment(act.madeAt, deviceNow, call.now)
      return { ...act, madeAt, day: dayOf(madeAt, call.house.zone), deviceId }
    })
  const answers = new Map<string, Answer>()
  for (const group of asReceipts(own))
    for (const answer of await takeGroup(call, group)) answers.set(answer.key, answer)
  return { answers: own.map(act => answers.get(act.key)!) }
}

/** An act by our clock, with the device that it came from. */
type SentAct = Act & { readonly day: string; readonly deviceId: string }

/** One of several acts waits for a second person: it must not keep the others waiting. */
class NotTogether extends Error {}

async function takeGroup(call: Write, acts: readonly SentAct[]): Promise<Answer[]> {
  try {
    return await call.trx.transaction(async trx => await takeTogether(writing(trx, call), acts))
  } catch (error) {
    if (acts.length > 1 && (error instanceof RuleBroken || error instanceof NotTogether)) return await takeSingly(call, acts) // prettier-ignore
    if (!(error instanceof RuleBroken)) throw error
    return [await toBeSettled(call, acts[0]!, error.reasons)]
  }
}

async function takeSingly(call: Write, acts: readonly SentAct[]): Promise<Answer[]> {
  const answers: Answer[] = []
  for (const act of acts) answers.push(...(await takeGroup(call, [act])))
  return answers
}

/** One receipt of these acts, without those that came before. @throws RuleBroken, NotTogether */
async function takeTogether(call: Write, acts: readonly SentAct[]): Promise<Answer[]> {
  const before = await claimed(call.trx, acts)
  const fresh = acts.filter(act => !before.has(act.key))
  const made = fresh.length > 0 ? await take(call, fresh) : null
  if (made) await keep(call, fresh, { state: 'taken', number: made.number, receiptId: made.receiptId, reasons: [] })
  return acts.map(({ key }) => {
    const known = before.get(key)
    return known ? answerOf(known) : { key, state: 'taken', number: made!.number, reasons: [] }
  })
}

const toBeSettled = async (call: Write, act: SentAct, reasons: readonly Reason[]): Promise<Answer> =>
  await call.trx.transaction(async trx => {
    const before = await claimed(trx, [act])
    if (before.has(act.key)) return answerOf(before.get(act.key)!)
    await keep(writing(trx, call), [act], { state: 'settle', number: '', receiptId: null, reasons })
    return { key: act.key, state: 'settle' as const, number: '', reasons: reasonsJson(reasons) }
  })

/** One at a time for each key: whoever comes second finds what the first did. */
async function claimed(trx: Knex, acts: readonly { key: string }[]): Promise<Map<string, HandheldActRow>> {
  const keys = acts.map(act => act.key).sort()
  await trx.raw(`select pg_advisory_xact_lock(hashtext('handheld'), hashtext(key)) from unnest(?::text[]) with ordinality as asked (key, nth) order by nth`, [keys]) // prettier-ignore
  return new Map((await trx('handheldActs').whereIn('key', keys)).map(row => [row.key, row]))
}

const answerOf = ({ key, state, number, reasons }: HandheldActRow): Answer => ({
  key,
  state,
  number,
  reasons: reasonsJson(reasons),
})

/** What somebody counted on a device, taken as if they had counted it at a desk on that day. Several acts have one order, place, day and words. */
async function take(
  call: Write,
  acts: readonly (Act & { readonly day: string })[],
  byDevice = true,
): Promise<{ number: string; receiptId: string }> {
  const [act] = acts as readonly [Act & { day: string }]
  const against = byDevice ? whyNotSend(act, call.actor.id) : []
  if (against.length > 0) throw new RuleBroken(against)
  if (!may(call, 'delivery.receive'))
    throw new RuleBroken(stop('right.missing', { permission: 'delivery.receive' }, { clearedBy: ['steward'] }))
  const done = await receive(
    call,
    act.orderId,
    {
      receivedOn: act.day,
      placeId: act.placeId,
      note: act.note,
      ...(act.checkReason ? { checkReason: act.checkReason } : {}),
      ...(act.despatchId && (await isStillAnnounced(call, act.despatchId)) ? { despatchId: act.despatchId } : {}),
      lines: acts.map(({ count, pieces }) => ({
        ...count,
        serials: [...(count.serials ?? []), ...pieces.map(piece => piece.serial).filter(Boolean)],
      })),
    },
    'handheld',
  )
  if (done.state !== 'posted' && acts.length > 1) throw new NotTogether()
  if (done.state === 'posted') await tellPieces(call, done.id, acts)
  return { number: done.number, receiptId: done.id }
}

/** The first count of an announced delivery says that it is here; the others need not. */
const isStillAnnounced = async (call: Read, id: string): Promise<boolean> =>
  (await call.trx('despatches').where({ id, state: 'sent' }).first('id')) !== undefined

/** Tags go onto the fresh pieces of each count in the order in which they were told. */
async function tellPieces(call: Write, receiptId: string, acts: readonly Pick<Act, 'pieces'>[]): Promise<void> {
  if (acts.every(act => act.pieces.length === 0)) return
  const { rows } = await call.trx.raw<{ rows: { id: string; version: number; serial: string; position: number }[] }>(
    'select a.id, a.version, a.serial, l.position from assets a join receipt_lines l on l.id = a.receipt_line_id where l.receipt_id = ? order by a.number',
    [receiptId],
  )
  for (const [index, { pieces }] of acts.entries()) {
    const fresh = rows.filter(row => row.position === index + 1)
    for (const { tag, serial } of pieces) {
      const at = fresh.findIndex(piece => serial !== '' && piece.serial === serial)
      const [piece] = fresh.splice(Math.max(0, at), 1)
      if (piece && (tag !== '' || serial !== '')) await tell(call, piece.id, { version: piece.version, tag, serial })
    }
  }
}

async function keep(
  call: Write,
  acts: readonly SentAct[],
  outcome: Pick<HandheldActRow, 'state' | 'number' | 'receiptId' | 'reasons'>,
): Promise<void> {
  const rows = acts.map(({ deviceId, day: _day, ...act }) => ({
    key: act.key,
    deviceId,
    sequence: act.sequence,
    personId: act.personId,
    sentBy: call.actor.id,
    madeAt: act.madeAt,
    arrivedAt: call.now,
    orderId: act.orderId,
    act: json(act) as never,
    ...outcome,
    reasons: json([...outcome.reasons]) as never,
  }))
  await call.trx('handheldActs').insert(rows)
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
            [{ ...row.act, note: row.act.note || reason, day: dayOf(row.madeAt, call.house.zone) }],
            false,
          )),
        }
  const change = { ...done, settledBy: call.actor.id, settledAt: call.now, settleReason: reason }
  await call.trx('handheldActs').where({ key }).update(change)
  return answerOf({ ...row, ...change, reasons: how === 'drop' ? row.reasons : [] })
}
