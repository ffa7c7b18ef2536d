import { Decimal } from '#core/money/decimal.ts'
import type { AnswerContent } from '#core/source/answer.ts'
import type { Comparison } from '#core/source/compareAnswers.ts'
import { type AskedQuestion, type EventKind, QUESTIONS } from '#core/source/eventKind.ts'
import {
  type ComparedAnswer,
  questionnairePoints,
  scoreAnswers,
  type Scored,
  scorersTogether,
  type Turn,
  winnersByPriceWeight,
} from '#core/source/scores.ts'

/** Points that one scorer gave. */
export interface GivenPoints {
  readonly personId: string
  readonly supplierId: string
  readonly question: string
  readonly points: string
}
/** Who scores, and whether they are done. */
export interface Scorer {
  readonly personId: string
  readonly done: boolean
}

/** What one answer to a question got: by its rule, or on average of all scorers; null until all are done. */
export interface QuestionPoints {
  readonly points: string | null
  readonly spread: string | null
}

export interface EventScores {
  /** Everybody who scores is done, or nobody has to: only then is anything counted that people score. */
  readonly complete: boolean
  /** By question and supplier. */
  readonly questions: ReadonlyMap<string, ReadonlyMap<string, QuestionPoints>>
  readonly scored: readonly Scored[]
  readonly turns: readonly Turn[]
}

/** Questions that count, with those of people only where there are scorers. */
export const scoredQuestions = (kind: Pick<EventKind, 'sections'>): AskedQuestion[] =>
  kind.sections.flatMap(section => section.questions.filter(one => one.scoredBy !== 'nobody'))

/** What one of a question's answers gets by its rule. An answer without points, or none, gets none. */
export const byRule = (question: AskedQuestion, answer: string | undefined): string | null =>
  answer === undefined || answer === '' ? null : (question.points[answer] ?? '0')

/** Whether all who score are done, as far as anything is scored by people. */
export const isComplete = (kind: Pick<EventKind, 'sections'>, scorers: readonly Scorer[]): boolean =>
  !scoredQuestions(kind).some(one => one.scoredBy === 'people') ||
  (scorers.length > 0 && scorers.every(one => one.done))

/**
 * The answers of an event by their points (domain page, section 9). Compared is the landed cost of the lines that all have who answered; whoever has
 * none of them, or is knocked out, is not scored.
 */
export function scoreEvent(
  kind: EventKind,
  comparison: Comparison,
  answers: ReadonlyMap<string, AnswerContent>,
  scorers: readonly Scorer[],
  given: readonly GivenPoints[],
): EventScores {
  const complete = isComplete(kind, scorers)
  const questions = new Map(
    scoredQuestions(kind).map(question => [question.key, pointsOf(question, answers, scorers, given, complete)]),
  )
  const compared = comparison.totals.flatMap((total): ComparedAnswer[] =>
    total.common === null && !total.knockedOut
      ? []
      : [
          {
            supplierId: total.supplierId,
            cost: total.common ?? new Decimal(0),
            points: new Map([[QUESTIONS, questionsOf(kind, questions, total.supplierId)]]),
            knockedOut: total.knockedOut,
          },
        ],
  )
  const counted = compared.some(one => !one.knockedOut)
  return {
    complete,
    questions,
    scored: counted ? scoreAnswers(compared, kind.criteria, kind.formula) : [],
    turns: counted ? winnersByPriceWeight(compared, kind.criteria, kind.formula) : [],
  }
}

function pointsOf(
  question: AskedQuestion,
  answers: ReadonlyMap<string, AnswerContent>,
  scorers: readonly Scorer[],
  given: readonly GivenPoints[],
  complete: boolean,
): Map<string, QuestionPoints> {
  return new Map(
    [...answers].map(([supplierId, answer]) => {
      if (question.scoredBy === 'rule')
        return [supplierId, { points: byRule(question, answer.questions[question.key]), spread: null }]
      const own = scorers.map(
        scorer => given.find(one => one.personId === scorer.personId && one.supplierId === supplierId && one.question === question.key)?.points ?? null, // prettier-ignore
      )
      const together = complete ? scorersTogether(own) : null
      return [supplierId, { points: together?.average.toString() ?? null, spread: together?.spread.toString() ?? null }]
    }),
  )
}

const questionsOf = (
  kind: Pick<EventKind, 'sections'>,
  questions: ReadonlyMap<string, ReadonlyMap<string, QuestionPoints>>,
  supplierId: string,
): Decimal => {
  const sections = kind.sections.flatMap(section => {
    const counting = section.questions.filter(one => one.scoredBy !== 'nobody')
    if (counting.length === 0) return []
    return [
      {
        weight: section.weight,
        questions: counting.map(one => ({
          weight: one.weight,
          most: one.most,
          points: questions.get(one.key)?.get(supplierId)?.points ?? null,
        })),
      },
    ]
  })
  return sections.length === 0 ? new Decimal(0) : questionnairePoints(sections)
}
