import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { EventFacts } from '#core/source/event.ts'
import { isOver } from '#core/source/event.ts'
import { scoredQuestions, type Scorer } from '#core/source/scoreEvent.ts'

/** What stands against points that somebody gives: only scorers give them, after the end and before the award, once they say that they are done no more. */
export function whyNotGivePoints(
  event: EventFacts,
  scorer: Scorer | undefined,
  points: readonly { readonly supplierId: string; readonly question: string; readonly points: string }[],
  done: boolean,
  at: string,
): Reason[] {
  if (!scorer) return [stop('right.notYours')]
  if (!isOver(event, at)) return [stop('score.early', { at: event.endsAt ?? '' })]
  if (event.state !== 'over' && event.state !== 'asking') return [stop('score.late')]
  if (scorer.done) return [stop('score.done')]
  const asked = new Map(scoredQuestions(event.kind).map(one => [one.key, one]))
  const answered = event.invited.filter(one => one.answeredAt !== null).map(one => one.supplierId)
  const faults = points.flatMap((one, index) => {
    const question = asked.get(one.question)
    const at = { place: `points.${index}` }
    if (question?.scoredBy !== 'people' || !answered.includes(one.supplierId)) return [stop('score.question', {}, at)]
    const given = new Decimal(one.points)
    return given.lt(0) || given.gt(question.most) ? [stop('score.points', { most: question.most }, at)] : []
  })
  if (faults.length > 0 || !done) return faults
  const toGive = [...asked.values()].filter(one => one.scoredBy === 'people').length * answered.length
  const left = toGive - new Set(points.map(one => `${one.supplierId} ${one.question}`)).size
  return left > 0 ? [stop('score.open', { count: left })] : []
}
