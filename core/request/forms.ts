import { readTypedNumber } from '#core/money/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { KINDS, type LineKind } from '#core/request/kinds.ts'
import { type Answers, checkQuestionnaire, isAsked, questionsOf, type Section } from '#core/source/questionnaire.ts'
import type { Route } from '#core/request/routes.ts'

/** Parts of a request that an answer can fill. */
export const FORM_FILLS = ['title', 'reason', 'description', 'quantity', 'price', 'needBy'] as const
export type FormFill = (typeof FORM_FILLS)[number]

/** The line that a filled form makes, before its answers. */
export interface FormLine {
  readonly kind: LineKind
  readonly description: string
  readonly unit: string
  readonly price: string
  readonly currency: string
  readonly routes: readonly Route[]
}
export interface RequestForm {
  readonly name: string
  readonly category: string
  readonly line: FormLine
  readonly sections: readonly Section[]
  /** Which question fills what. */
  readonly fills: Readonly<Partial<Record<FormFill, string>>>
}
export interface FilledForm {
  readonly title: string
  readonly reason: string
  readonly description: string
  readonly quantity: string
  readonly price: string
  readonly needBy: string | null
  /** Everything that was asked and answered, as text for those who decide. */
  readonly said: readonly { question: string; answer: string }[]
}

/** Faults of a form: those of its questions, fills that point nowhere, no route, a kind that cannot carry what is filled. */
export function checkForm(form: RequestForm): Reason[] {
  const keys = new Set(questionsOf(form.sections).map(question => question.key))
  const reasons = checkQuestionnaire(form.sections)
  for (const [fill, key] of Object.entries(form.fills))
    if (key && !keys.has(key)) reasons.push(stop('form.fill', { fill }, { place: `fills.${fill}` }))
  if (form.line.routes.length === 0) reasons.push(stop('form.noRoute', {}, { place: 'line.routes' }))
  if (form.name.trim() === '') reasons.push(stop('form.noName', {}, { place: 'name' }))
  if (form.fills.quantity && !KINDS[form.line.kind].fields.includes('quantity'))
    reasons.push(stop('form.noQuantity', {}, { place: 'fills.quantity' }))
  return reasons
}

const textOf = (answers: Answers, key: string | undefined): string => {
  const answer = key === undefined ? undefined : answers[key]
  return typeof answer === 'string' ? answer.trim() : ''
}

/** What a filled form says: the parts of its line, and every answer as text. Numbers take decimal comma and point. */
export function filledForm(form: RequestForm, answers: Answers): FilledForm {
  const questions = questionsOf(form.sections)
  const number = (key: string | undefined, fallback: string): string => {
    const read = readTypedNumber(textOf(answers, key))
    return read.ok ? read.value : fallback
  }
  const said = questions
    .filter(question => isAsked(question, questions, answers))
    .flatMap(question => {
      const answer = answers[question.key]
      const text =
        typeof answer === 'string'
          ? answer
          : Array.isArray(answer)
            ? answer.join(', ')
            : answer && 'fileName' in answer
              ? answer.fileName
              : ''
      return text.trim() === '' ? [] : [{ question: question.label, answer: text }]
    })
  const money = form.line.kind === 'goodsByAmount'
  const price = number(form.fills.price, form.line.price)
  return {
    title: textOf(answers, form.fills.title) || form.name,
    reason: textOf(answers, form.fills.reason),
    description: textOf(answers, form.fills.description) || form.line.description || form.name,
    quantity: money ? price : number(form.fills.quantity, '1'),
    price: money ? '1' : price,
    needBy: textOf(answers, form.fills.needBy) || null,
    said,
  }
}
