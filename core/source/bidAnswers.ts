import { formatAmount } from '#core/money/amount.ts'
import { type AnswerContent, emptyAnswer, emptyLine } from '#core/source/answer.ts'
import { askedLines, type EventFacts } from '#core/source/event.ts'
import type { LotStanding } from '#core/source/replayLot.ts'

/**
 * What suppliers offer by the bids that stand, as answers: each line's amount for its whole quantity, so that nothing is divided and rounded. Who has no
 * bid that stands in any lot has no answer.
 */
export function bidAnswers(event: EventFacts, lots: ReadonlyMap<string, LotStanding>): Map<string, AnswerContent> {
  const lines = new Map(askedLines(event).map(line => [line.id, line]))
  const offered = new Map<string, [string, string][]>()
  for (const lot of lots.values())
    for (const { supplierId, bid } of lot.standing)
      offered.set(supplierId, [
        ...(offered.get(supplierId) ?? []),
        ...[...bid.lines].map(([id, amount]): [string, string] => [id, formatAmount(amount, event.currency)]),
      ])
  return new Map(
    [...offered].map(([supplierId, amounts]) => [
      supplierId,
      {
        ...emptyAnswer(event, event.currency),
        lines: amounts.flatMap(([id, price]) => {
          const line = lines.get(id)
          return line ? [{ ...emptyLine(id), price, priceBase: line.quantity }] : []
        }),
      },
    ]),
  )
}
