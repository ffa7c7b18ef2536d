import { Decimal, tidy } from '#core/money/decimal.ts'
import { stop, type Reason } from '#core/reasons.ts'
import type { Findable } from '#core/receive/scan.ts'
import { type Count, kindOf } from '#core/receive/counts.ts'

/** A piece as it was told beside a count: its tag, and its serial number. */
export interface ToldPiece {
  readonly tag: string
  readonly serial: string
}
/** What a handheld does: one count of one line of an order. Its key is made on the device and never again. */
export interface DeviceAct {
  readonly key: string
  /** In which order the acts of a device were done. */
  readonly sequence: number
  /** By the device's clock. */
  readonly madeAt: string
  /** Who did it. */
  readonly personId: string
  readonly orderId: string
  readonly placeId: string
  readonly count: Count
  readonly pieces: readonly ToldPiece[]
  readonly note: string
  readonly checkReason: string
  readonly despatchId?: string | undefined
}
/** `kept` on the device, `sent` and taken once, or `settle`: it no longer fits, and somebody has to say what becomes of it. */
export type ActState = 'kept' | 'taken' | 'settle' | 'dropped'
export interface KeptAct extends DeviceAct {
  readonly state: ActState
  readonly reasons: readonly Reason[]
  readonly number: string
}

/** An expected line as a device has it. */
export interface DeviceLine extends Findable {
  readonly lineId: string
  readonly orderId: string
  readonly position: number
  readonly unit: string
  readonly units: readonly string[]
  readonly ordered: string
  readonly open: string
  readonly blind: boolean
  readonly becomes: 'counted' | 'stock' | 'asset'
  readonly serial: 'no' | 'may' | 'must'
  readonly batch: 'no' | 'may' | 'must'
  readonly bestBefore: 'no' | 'may' | 'must'
  readonly tagRange: string
  readonly expectedOn: string | null
  readonly despatchId: string | null
}

/** What of a line is still to be counted, as the device knows: what was open when it was loaded, less what it counted since. */
export function openHere(line: Pick<DeviceLine, 'lineId' | 'open' | 'unit'>, acts: readonly KeptAct[]): string {
  const counted = acts
    .filter(
      act =>
        act.count.lineId === line.lineId &&
        (act.state === 'kept' || act.state === 'taken') &&
        (act.count.unit ?? line.unit) === line.unit,
    ) // prettier-ignore
    .reduce((sum, act) => sum.plus(act.count.quantity), new Decimal(0))
  return tidy(Decimal.max(0, new Decimal(line.open).minus(counted)))
}

/** The acts that are to be sent, in the order in which they were done. */
export const toSend = (acts: readonly KeptAct[]): KeptAct[] =>
  acts.filter(act => act.state === 'kept').sort((a, b) => a.sequence - b.sequence)

/** What acts need to have in common to be one receipt; another kind of count each, as the lines of a receipt are. */
type Joinable = Pick<DeviceAct, 'orderId' | 'placeId' | 'note' | 'checkReason' | 'despatchId' | 'personId'> & {
  readonly count: Pick<Count, 'lineId' | 'batch' | 'bin' | 'bestBefore' | 'condition'>
  /** The day on which it was done. */
  readonly day: string
}

/**
 * Acts that can be taken as one receipt, as somebody at a desk would count them in: of one delivery, by one person, at one place, on one day, with
 * the same words, and each of another kind. The acts of an order stay in their order; what lies between them is of other orders.
 */
export function asReceipts<T extends Joinable>(acts: readonly T[]): T[][] {
  const groups: T[][] = []
  const last = new Map<string, T[]>()
  for (const act of acts) {
    const group = last.get(act.orderId)
    if (group && headOf(group[0]!) === headOf(act) && group.every(one => kindOf(one.count) !== kindOf(act.count))) {
      group.push(act)
      continue
    }
    const next = [act]
    last.set(act.orderId, next)
    groups.push(next)
  }
  return groups
}
const headOf = ({ placeId, note, checkReason, despatchId, personId, day }: Joinable): string =>
  JSON.stringify([placeId, note, checkReason, despatchId ?? '', personId, day])

/** What the server says of an act. */
export interface ActAnswer {
  readonly key: string
  readonly state: 'taken' | 'settle' | 'dropped'
  readonly number: string
  readonly reasons: readonly Reason[]
}

/** The acts with what was answered; an answer that came twice, or to an act that is over, changes nothing more. */
export function answered(acts: readonly KeptAct[], answers: readonly ActAnswer[]): KeptAct[] {
  const byKey = new Map(answers.map(answer => [answer.key, answer]))
  return acts.map(act => {
    const answer = byKey.get(act.key)
    if (!answer || act.state === 'taken' || act.state === 'dropped') return act
    return { ...act, state: answer.state, number: answer.number, reasons: answer.reasons }
  })
}

/** A clock may be as far off as this without being put right. */
const CLOCK_MINUTES = 5

/**
 * The moment at which something was done, by our clock: the device says what it thought the time was then and is now, so that a clock that is days
 * off is put right. Never later than now.
 *
 * trueMoment('2026-06-04T10:00:00Z', '2026-06-04T12:00:00Z', '2026-06-01T12:00:00Z') //=> '2026-06-01T10:00:00.000Z'
 */
export function trueMoment(madeAt: string, deviceNow: string, now: string): string {
  const off = Date.parse(now) - Date.parse(deviceNow)
  const moved = Math.abs(off) < CLOCK_MINUTES * 60_000 ? 0 : off
  return new Date(Math.min(Date.parse(madeAt) + moved, Date.parse(now))).toISOString()
}

/** What stands against taking an act at all: it is another person's than who sends it. */
export const whyNotSend = (act: Pick<DeviceAct, 'personId'>, senderId: string): Reason[] =>
  act.personId === senderId ? [] : [stop('handheld.otherPerson', {}, { clearedBy: ['steward'] })]
