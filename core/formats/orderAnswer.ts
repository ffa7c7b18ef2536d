import { isDay } from '#core/calendar/days.ts'
import type { OrderResponseText } from '#core/formats/ublOrderResponse.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { isCancelledLine } from '#core/order/measures.ts'
import { asWanted, type ResponseLine } from '#core/order/revision.ts'
import { delivered, inOrder, whyNotDated } from '#core/order/schedule.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { sameNumber } from '#core/text/sameNumber.ts'

/** UNCL 4343, what an answer says of the whole. */
const WHOLE = { accepted: 'AP', refused: 'RE', changed: 'CA', onlyReceived: 'AB' } as const
/** UNCL 1229, what it says of a line. */
const LINE = { accepted: '5', changed: '3', refused: '7' } as const

/** A supplier's answer as its file says it, for somebody to look at and hand in. */
export interface AnswerRead {
  /** The revision that the file names; null where it names none. */
  readonly revision: number | null
  readonly lines: readonly ResponseLine[]
  readonly note: string
  /** Lines of the file that are left, and why. */
  readonly left: readonly { readonly row: number; readonly reason: Reason }[]
  /** Positions of lines of the order that the file says nothing of: they stand as they were ordered. */
  readonly unsaid: readonly number[]
}

/**
 * Reads the file of a supplier's answer against the order as it stands. The revision may stand behind the number (`O-4034/2`). A refusal answers every
 * line with the quantity 0. Lines are found by their position; one in another unit is left, because its quantity would be compared wrongly. A day that
 * the file does not say is the one that was wanted, without one today.
 *
 * @throws RuleBroken orderResponse.otherOrder | orderResponse.onlyReceived | orderResponse.code | answer.currency
 */
export function readOrderAnswer(
  order: Pick<OrderFacts, 'number' | 'currency' | 'lines'>,
  file: OrderResponseText,
  today: string,
): AnswerRead {
  const { number, revision } = splitNumber(file.orderNumber)
  if (!sameNumber(number, order.number))
    throw new RuleBroken(stop('orderResponse.otherOrder', { number: file.orderNumber.slice(0, 40), order: order.number })) // prettier-ignore
  if (file.code === WHOLE.onlyReceived) throw new RuleBroken(stop('orderResponse.onlyReceived'))
  if (file.code !== '' && !(Object.values(WHOLE) as string[]).includes(file.code))
    throw new RuleBroken(stop('orderResponse.code', { code: file.code.slice(0, 20) }))
  const foreign = [file.currency, ...file.lines.map(line => line.priceCurrency)].find(one => one !== '' && one !== order.currency) // prettier-ignore
  if (foreign !== undefined) throw new RuleBroken(stop('answer.currency', { currency: order.currency }))
  const live = order.lines.filter(line => !isCancelledLine(line))
  const refusesAll = file.code === WHOLE.refused
  const answers = new Map(live.map(line => [line.position, asOrdered(line, today, refusesAll)]))
  const left: { row: number; reason: Reason }[] = []
  const said = new Set<number>()
  for (const [index, one] of file.lines.entries()) {
    const line = live.find(known => String(known.position) === one.orderLine.trim())
    const against = line ? whyNotLine(line, one, said) : stop('orderResponse.noLine', { line: one.orderLine.slice(0, 20) }) // prettier-ignore
    if (!line || against) {
      left.push({ row: index + 1, reason: against ?? stop('orderResponse.noLine', { line: '' }) })
      continue
    }
    said.add(line.position)
    answers.set(line.position, answered(line, one, answers.get(line.position)!, file.code))
  }
  const unsaid = file.lines.length === 0 ? [] : live.filter(line => !said.has(line.position)).map(line => line.position)
  const notes = [file.note, ...file.lines.map(line => line.note)].map(note => note.trim()).filter(Boolean)
  return { revision, lines: [...answers.values()], note: [...new Set(notes)].join('\n').slice(0, 2000), left, unsaid }
}

/** splitNumber('O-4034/2') //=> { number: 'O-4034', revision: 2 } */
function splitNumber(text: string): { number: string; revision: number | null } {
  const found = /^(.*?)(?:\s*\/\s*|\s+r\s*)(\d{1,4})$/i.exec(text.trim())
  return found ? { number: found[1]!, revision: Number(found[2]) } : { number: text.trim(), revision: null }
}

function asOrdered(line: OrderLine, today: string, refused: boolean): ResponseLine {
  const { parts, ...whole } = asWanted({ ...line, lineId: line.id }, today)
  return refused ? { ...whole, quantity: '0' } : { ...whole, ...(parts ? { parts } : {}) }
}

type FileLine = OrderResponseText['lines'][number]

function answered(line: OrderLine, one: FileLine, before: ResponseLine, whole: string): ResponseLine {
  const { parts: asked, ...said } = before
  if (one.code === LINE.refused || (whole === WHOLE.refused && one.code === '')) return { ...said, quantity: '0' }
  const accepted = one.code === LINE.accepted
  const quantity = accepted ? line.quantity : one.quantity || line.quantity
  const price = accepted ? line.price : perBase(one, line)
  if (one.deliveries.length > 0) {
    const parts = inOrder(one.deliveries.map(part => ({ quantity: part.quantity, date: part.date })))
    return { ...said, quantity, price, date: parts.at(-1)!.date, parts }
  }
  if (isDay(one.date)) return { ...said, quantity, price, date: one.date }
  return { ...said, quantity, price, ...(asked && quantity === line.quantity ? { parts: asked } : {}) }
}

/** The price of the file, for as many as the order's price is for. */
const perBase = (one: FileLine, line: OrderLine): string =>
  one.price === ''
    ? line.price
    : new Decimal(one.price)
        .times(line.priceBase)
        .dividedBy(one.priceBase || line.priceBase)
        .toDecimalPlaces(6)
        .toString()

function whyNotLine(line: OrderLine, one: FileLine, said: ReadonlySet<number>): Reason | undefined {
  if (said.has(line.position)) return stop('orderResponse.twice', { line: line.position })
  if (one.code !== '' && !(Object.values(LINE) as string[]).includes(one.code))
    return stop('orderResponse.lineCode', { code: one.code.slice(0, 20) })
  if (one.unit !== '' && one.unit !== line.unit) return stop('units.noConversion', { from: one.unit, to: line.unit })
  const parts = whyNotDeliveries(line, one)
  if (parts) return parts
  const figures = [one.quantity || '0', one.price || '0', one.priceBase || '1']
  return figures.every(isHeldDecimal) && new Decimal(one.priceBase || '1').gt(0)
    ? undefined
    : stop('orderResponse.figure', { line: line.position })
}

/** Several days say how much comes on each, and together what the line says. */
function whyNotDeliveries(line: OrderLine, one: FileLine): Reason | undefined {
  if (one.deliveries.length === 0) return undefined
  const [against] = whyNotDated(one.deliveries)
  if (against) return against
  const quantity = one.code === LINE.accepted ? line.quantity : one.quantity || line.quantity
  const sum = delivered(one.deliveries)
  return isHeldDecimal(quantity) && !new Decimal(sum).equals(quantity)
    ? stop('order.schedule.sum', { sum, quantity })
    : undefined
}
