import { isDay } from '#core/calendar/days.ts'
import type { QuotationText } from '#core/formats/ublQuotation.ts'
import { isHeldDecimal, sameDecimal } from '#core/money/decimal.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { type AnswerContent, emptyLine } from '#core/source/answer.ts'
import type { SheetDifference, SheetRead } from '#core/source/answerSheet.ts'
import { askedLines, type EventFacts, type EventLine } from '#core/source/event.ts'

/**
 * Reads a quotation into an answer. Its lines are found by the number of the line that they answer. Another currency than the one that is agreed with the
 * supplier is refused whole; a line in another unit is left, because its price would be compared wrongly.
 *
 * @throws RuleBroken quotation.otherRequest | answer.currency
 */
export function readQuotation(
  event: EventFacts,
  before: AnswerContent,
  quotation: QuotationText,
  currency: string,
): SheetRead {
  if (quotation.requestNumber !== '' && quotation.requestNumber !== event.number)
    throw new RuleBroken(stop('quotation.otherRequest', { number: quotation.requestNumber.slice(0, 40) }))
  const foreign = [quotation.currency, ...quotation.lines.map(line => line.priceCurrency)].find(one => one !== '' && one !== currency) // prettier-ignore
  if (foreign !== undefined) throw new RuleBroken(stop('answer.currency', { currency }, { place: 'currency' }))
  const asked = new Map(askedLines(event).map(line => [String(line.position), line]))
  const answers = new Map(before.lines.map(line => [line.lineId, line]))
  const differences: SheetDifference[] = []
  const left: { row: number; reason: Reason }[] = []
  for (const [index, line] of quotation.lines.entries()) {
    const about = asked.get(line.requestLine)
    const against = about ? whyNotLine(about, line) : stop('sheet.noLine')
    if (!about || against) {
      left.push({ row: index + 1, reason: against ?? stop('sheet.noLine') })
      continue
    }
    const own = answers.get(about.id) ?? emptyLine(about.id)
    const quantity = line.quantity === '' || sameDecimal(line.quantity, about.quantity) ? own.quantity : line.quantity // prettier-ignore
    const next = { ...own, declined: false, price: line.price, priceBase: line.priceBase || '1', quantity, note: line.note || own.note } // prettier-ignore
    for (const [field, was, is] of [
      ['Price', own.price, next.price],
      ['Price for', own.priceBase, next.priceBase],
      ['Quantity', own.quantity, next.quantity],
      ['Note', own.note, next.note],
    ] as const)
      // prettier-ignore
      if (was !== is) differences.push({ line: about.description, field, before: was, after: is })
    answers.set(about.id, next)
  }
  const validUntil = isDay(quotation.validUntil) ? quotation.validUntil : before.validUntil
  return { answer: { ...before, validUntil, note: quotation.note || before.note, lines: [...answers.values()] }, differences, left } // prettier-ignore
}

function whyNotLine(about: EventLine, line: QuotationText['lines'][number]): Reason | undefined {
  if (line.unit !== '' && line.unit !== about.unit)
    return stop('units.noConversion', { from: line.unit, to: about.unit })
  return [line.price, line.priceBase || '1', line.quantity || '1'].every(isHeldDecimal)
    ? undefined
    : stop('answer.figure')
}
