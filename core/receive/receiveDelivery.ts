import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, obstacles, refused } from '#core/acts/decision.ts'
import type { NewConsent } from '#core/consent/consent.ts'
import { Decimal, isDecimalText, isHeldDecimal, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { proven, toReceive } from '#core/order/measures.ts'
import { whyNotOpen, whyNotProve } from '#core/order/proving.ts'
import { check, type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { isWork } from '#core/request/kinds.ts'
import { convertQuantity } from '#core/units/units.ts'
import { type CountedLine, NOTHING_ELSE, plainLine, type ReceivingFacts, serialKey } from '#core/receive/facts.ts'
import { becoming, countEntries } from '#core/receive/becoming.ts'
import { type AboveTolerance, type Count, type Counted, type CountedPart, kindOf } from '#core/receive/counts.ts'
import { overQuestion } from '#core/receive/overReceipt.ts'
import { twice } from '#core/receive/serials.ts'
import { overPercent } from '#core/receive/terms.ts'

/** What is written of a receipt; its number is given by the store. */
export interface ReceiptNext {
  /** `asked`: a second person has to say yes before it counts. */
  readonly state: 'posted' | 'asked'
  readonly lines: readonly CountedPart[]
  readonly asks: NewConsent | null
}

/**
 * Takes goods in, or accepts work. More than ordered wants a reason up to the line's tolerance; above it the count is kept and counts once a
 * second person has said yes. What came in and is not billed is accrued at the ordered price.
 */
export function receiveDelivery(
  order: OrderFacts,
  counted: Counted,
  actor: ActorFacts,
  today: string,
  facts: ReceivingFacts = NOTHING_ELSE,
): Decision<ReceiptNext> {
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const parts = counted.lines.map(count => partOf(count, lines.get(count.lineId), facts))
  const told = parts.flatMap(part => ('part' in part ? [part.part] : []))
  const against = obstacles(
    [
      ...whyNotOpen(order),
      ...whyNotDay(counted.receivedOn, today, facts),
      ...checkLines(lines, counted, actor),
      ...parts.flatMap(part => ('reasons' in part ? part.reasons : [])),
      ...(told.length === parts.length ? checkParts(lines, told, counted, facts) : []),
    ],
    counted.checkReason,
    stop('receive.wantsReason', {}, { place: 'checkReason' }),
  )
  if (against.length > 0) return refused(against)
  const above = told.length > 0 ? aboveTolerance(lines, told, facts) : []
  const asks = above.length > 0 ? overQuestion(order, above, counted.checkReason, actor) : null
  const changes = {
    lines: told.map(({ lineId, quantity, batch, condition }) => {
      const { position, unit } = lines.get(lineId)!
      return { position, quantity, unit, ...(batch ? { batch } : {}), ...(condition === 'good' ? {} : { condition }) }
    }),
  }
  return done<ReceiptNext>(
    { state: asks ? 'asked' : 'posted', lines: told, asks },
    { action: asks ? 'overAsked' : 'received', changes, reason: counted.checkReason },
    asks ? {} : follow(order, countEntries(order, told)),
  )
}

/** Not from tomorrow, and not from a period that is closed. */
export function whyNotDay(day: string, today: string, facts: Pick<ReceivingFacts, 'openFrom'>): Reason[] {
  if (day > today) return [stop('receive.future', { today }, { place: 'receivedOn' })]
  return facts.openFrom !== null && day < facts.openFrom
    ? [
        stop(
          'receive.closedPeriod',
          { from: facts.openFrom },
          { place: 'receivedOn', clearedBy: ['financeController'] },
        ),
      ]
    : []
}

function checkLines(lines: ReadonlyMap<string, OrderLine>, counted: Counted, actor: ActorFacts): Reason[] {
  const kinds = counted.lines.map(kindOf)
  return [
    ...(kinds.length === 0 ? [stop('receive.nothingCounted')] : []),
    ...(new Set(kinds).size === kinds.length ? [] : [stop('receive.lineTwice')]),
    ...[...new Set(counted.lines.map(count => count.lineId))].flatMap((lineId, index): Reason[] => {
      const line = lines.get(lineId)
      return line ? whyNotProve(line, actor) : [stop('receive.foreignLine', {}, { place: `lines.${index}` })]
    }),
  ]
}

const placeOf = (line: OrderLine, field = 'quantity'): { place: string } => ({
  place: `lines.${line.position}.${field}`,
})

/** A count in the unit of its line, or what is wrong with it. */
function partOf(
  count: Count,
  line: OrderLine | undefined,
  facts: ReceivingFacts,
): { part: CountedPart } | { reasons: Reason[] } {
  if (!line) return { reasons: [] }
  const known = facts.lines.get(line.id) ?? plainLine(line.unit)
  if (!isDecimalText(count.quantity) || new Decimal(count.quantity).lte(0))
    return { reasons: [stop('receive.quantity', {}, placeOf(line))] }
  const unit = count.unit ?? line.unit
  try {
    const quantity = convertQuantity(count.quantity, unit, line.unit, known.packs, known.itemUnit)
    if (!isHeldDecimal(quantity)) return { reasons: [stop('receive.quantity', {}, placeOf(line))] }
    return {
      part: {
        lineId: line.id,
        quantity,
        enteredQuantity: tidy(count.quantity),
        enteredUnit: unit,
        bin: (count.bin ?? '').trim(),
        batch: (count.batch ?? '').trim(),
        bestBefore: count.bestBefore ?? null,
        condition: count.condition ?? 'good',
        serials: (count.serials ?? []).map(one => one.trim()),
        note: (count.note ?? '').trim(),
        ...becoming(line, known),
      },
    }
  } catch (error) {
    if (!(error instanceof RuleBroken)) throw error
    return { reasons: error.reasons.map(reason => ({ ...reason, ...placeOf(line) })) }
  }
}

interface CountedOf {
  readonly line: OrderLine
  readonly parts: readonly CountedPart[]
  readonly known: CountedLine
  /** All that was counted of it now. */
  readonly now: Decimal
}

function byLine(
  lines: ReadonlyMap<string, OrderLine>,
  parts: readonly CountedPart[],
  facts: ReceivingFacts,
): CountedOf[] {
  return [...new Set(parts.map(part => part.lineId))].map(id => {
    const line = lines.get(id)!
    const own = parts.filter(part => part.lineId === id)
    const now = own.reduce((sum, part) => sum.plus(part.quantity), new Decimal(0))
    return { line, parts: own, known: facts.lines.get(id) ?? plainLine(line.unit), now }
  })
}

function checkParts(
  lines: ReadonlyMap<string, OrderLine>,
  parts: readonly CountedPart[],
  counted: Counted,
  facts: ReceivingFacts,
): Reason[] {
  return byLine(lines, parts, facts).flatMap(one => [
    ...whyNotBlind(one, counted),
    ...checkCount(one.line, one.now.toString(), overPercent(one.known.terms.terms, one.line.overReceiptPercent)),
    ...one.parts.flatMap(part => whyNotDetails(one, part)),
    ...whyNotSerials(one, facts),
  ])
}

/** Whether a count can be taken in: up to the tolerance above what was ordered it wants a reason, above it goods want a second person, too, and work and sums of money a change of the order. */
export function checkCount(line: OrderLine, quantity: string, percent = line.overReceiptPercent): Reason[] {
  const over = overOf(line, quantity)
  if (over.lte(0)) return []
  const details = { ordered: tidy(line.quantity), received: tidy(over.plus(line.quantity)), over: tidy(over), percent }
  if (over.lte(allowed(line, percent))) return [check('receive.over', details, placeOf(line))]
  return line.kind === 'goods'
    ? [check('receive.overAsked', details, placeOf(line))]
    : [stop('receive.overTolerance', details, { ...placeOf(line), clearedBy: ['buyer'] })]
}

const overOf = (line: OrderLine, quantity: string): Decimal =>
  new Decimal(proven(line)).plus(quantity).minus(line.quantity)
const allowed = (line: OrderLine, percent: number): Decimal => new Decimal(line.quantity).times(percent).dividedBy(100)

const aboveTolerance = (
  lines: ReadonlyMap<string, OrderLine>,
  parts: readonly CountedPart[],
  facts: ReceivingFacts,
): AboveTolerance[] =>
  byLine(lines, parts, facts).flatMap(({ line, now, known }) => {
    const over = overOf(line, now.toString())
    return over.gt(0) && over.gt(allowed(line, overPercent(known.terms.terms, line.overReceiptPercent)))
      ? [{ line, over: tidy(over) }]
      : []
  })

/** Where what is expected is hidden, a count that differs has to be counted a second time, and to be the same. */
function whyNotBlind({ line, now, known }: CountedOf, counted: Counted): Reason[] {
  if (!known.terms.terms.blind || now.equals(toReceive(line))) return []
  const again = counted.lines.filter(count => count.lineId === line.id).map(count => count.again)
  if (again.some(one => one === undefined)) return [stop('receive.countAgain', {}, placeOf(line))]
  const same = counted.lines.every(
    count =>
      count.lineId !== line.id || (isDecimalText(count.again!) && new Decimal(count.again!).equals(count.quantity)),
  )
  return same ? [] : [stop('receive.countsDiffer', {}, placeOf(line))]
}

/** As many pieces as can become assets in one count. */
const MOST_PIECES = 500
const isWholePieces = (quantity: string): boolean =>
  new Decimal(quantity).isInteger() && new Decimal(quantity).lte(MOST_PIECES)

function whyNotDetails({ line, known }: CountedOf, part: CountedPart): Reason[] {
  if (isWork(line.kind)) return []
  const { batch, bestBefore } = known.terms.terms
  return [
    ...(part.becomes === 'asset' && !isWholePieces(part.quantity)
      ? [stop('receive.wholePieces', { most: MOST_PIECES }, placeOf(line))]
      : []),
    ...(batch === 'must' && part.batch === '' ? [stop('receive.needsBatch', {}, placeOf(line, 'batch'))] : []),
    ...(bestBefore === 'must' && part.bestBefore === null
      ? [stop('receive.needsBestBefore', {}, placeOf(line, 'bestBefore'))]
      : []),
  ]
}

/** Serial numbers: as many as pieces where they must be told, never more, none twice, none that is here already. */
function whyNotSerials({ line, parts, known }: CountedOf, facts: ReceivingFacts): Reason[] {
  if (isWork(line.kind)) return []
  const place = placeOf(line, 'serials')
  const all = parts.flatMap(part => part.serials)
  if (all.some(serial => serial === '' || serial.length > 40)) return [stop('serial.tooLong', { serial: '' }, place)]
  const keys = all.map(serial => serialKey(known.itemId ?? line.id, serial))
  const here = keys.findIndex(key => facts.knownSerials.has(key))
  return [
    ...parts.flatMap(part => {
      const [told, pieces] = [part.serials.length, new Decimal(part.quantity)]
      // a piece that becomes an asset is asked for its serial number later, if it is not told now
      const all = known.terms.terms.serial === 'must' && part.becomes !== 'asset'
      if (pieces.lt(told)) return [stop('receive.tooManySerials', { told, pieces: tidy(pieces) }, place)]
      return all && !pieces.equals(told) ? [stop('receive.needsSerials', { told, pieces: tidy(pieces) }, place)] : []
    }),
    ...twice(all.map(serial => serial.toUpperCase())).map(reason => ({ ...reason, ...place })),
    ...(here < 0 ? [] : [stop('serial.known', { serial: all[here]! }, place)]),
  ]
}

/** What stands in the way of taking in everything that is still open and that this person proves. */
export function whyNotReceiveAll(order: OrderFacts, actor: ActorFacts): Reason[] {
  const closed = whyNotOpen(order)
  if (closed.length > 0) return closed
  const open = order.lines.filter(line => new Decimal(toReceive(line)).gt(0))
  if (open.length === 0) return [stop('receive.nothingOpen')]
  const each = open.map(line => whyNotProve(line, actor))
  return each.some(reasons => reasons.length === 0) ? [] : each[0]!
}
