import { isDay } from '#core/calendar/days.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { checkIban, checkIdentifier } from '#core/source/identifiers.ts'

export const QUESTION_KINDS = [
  'text',
  'longText',
  'yesNo',
  'choice',
  'choices',
  'number',
  'date',
  'country',
  'mail',
  'file',
  'certificate',
] as const
export type QuestionKind = (typeof QUESTION_KINDS)[number]

/** Fields of the supplier's record that an answer can fill, so that nobody types it twice. */
export const RECORD_FIELDS = [
  'name', 'tradeName', 'size', 'founded', 'web', 'vat', 'registration', 'lei', 'gln', 'street', 'postalCode', 'city', 'country', 'contactName', 'contactMail', 'contactPhone', 'currency', 'iban', 'bic', 'holder', 'taxResidence', 'taxNumber', 'birthDate',
] as const // prettier-ignore
export type RecordField = (typeof RECORD_FIELDS)[number]

export interface Question {
  /** Stays the same through all versions: answers are kept under it. */
  readonly key: string
  readonly kind: QuestionKind
  readonly label: string
  readonly help: string
  readonly required: boolean
  /** Asked only when another answer is this; a list answer counts when it contains it. */
  readonly when: { readonly key: string; readonly equals: string } | null
  readonly choices: readonly string[]
  readonly fills: RecordField | null
}
export interface Section {
  readonly title: string
  readonly questions: readonly Question[]
}
export interface CertificateAnswer {
  readonly issuer: string
  readonly number: string
  readonly validFrom: string
  readonly validTo: string
  readonly fileId: string
  readonly fileName: string
}
export interface FileAnswer {
  readonly fileId: string
  readonly fileName: string
}
export type Answer = string | readonly string[] | CertificateAnswer | FileAnswer
export type Answers = Readonly<Record<string, Answer>>

export const questionsOf = (sections: readonly Section[]): Question[] =>
  sections.flatMap(section => [...section.questions])

const isEmpty = (answer: Answer | undefined): boolean =>
  answer === undefined ||
  (typeof answer === 'string'
    ? answer.trim() === ''
    : Array.isArray(answer)
      ? answer.length === 0
      : 'issuer' in answer
        ? answer.issuer.trim() === '' && answer.number.trim() === ''
        : (answer as FileAnswer).fileId === '')

/** Whether a question is asked, given the answers so far. A question that hangs on one that is not asked is not asked either. */
export function isAsked(question: Question, questions: readonly Question[], answers: Answers, depth = 0): boolean {
  if (!question.when || depth > 20) return true
  const on = questions.find(one => one.key === question.when!.key)
  if (!on || !isAsked(on, questions, answers, depth + 1)) return false
  const answer = answers[on.key]
  return Array.isArray(answer) ? answer.includes(question.when.equals) : answer === question.when.equals
}

/** What is wrong with the answers: always their form; what is missing only when `complete` is wanted, at handing in. */
export function checkAnswers(sections: readonly Section[], answers: Answers, complete: boolean): Reason[] {
  const questions = questionsOf(sections)
  return questions
    .filter(question => isAsked(question, questions, answers))
    .flatMap(question => {
      const answer = answers[question.key]
      const place = `answers.${question.key}`
      if (isEmpty(answer))
        return complete && question.required ? [stop('question.missing', { question: question.label }, { place })] : []
      return formReasons(question, answer!, answers, questions, place)
    })
}

function formReasons(
  question: Question,
  answer: Answer,
  answers: Answers,
  questions: readonly Question[],
  place: string,
): Reason[] {
  const bad = (code: string, details: Record<string, string> = {}): Reason[] => [
    stop(code, { question: question.label, ...details }, { place }),
  ]
  if (question.kind === 'choices')
    return Array.isArray(answer) && answer.every(one => question.choices.includes(one as string))
      ? []
      : bad('question.choice')
  if (question.kind === 'certificate') {
    if (typeof answer === 'string' || Array.isArray(answer) || !('issuer' in answer)) return bad('question.form')
    if (!answer.issuer.trim() || !answer.number.trim() || !isDay(answer.validFrom)) return bad('question.certificate')
    return answer.validTo !== '' && (!isDay(answer.validTo) || answer.validTo < answer.validFrom)
      ? bad('question.certificateEnd')
      : []
  }
  if (question.kind === 'file')
    return typeof answer !== 'string' && !Array.isArray(answer) && 'fileId' in answer ? [] : bad('question.form')
  if (typeof answer !== 'string') return bad('question.form')
  if (answer.length > 4000) return bad('question.tooLong')
  if (question.kind === 'yesNo') return answer === 'yes' || answer === 'no' ? [] : bad('question.choice')
  if (question.kind === 'choice') return question.choices.includes(answer) ? [] : bad('question.choice')
  if (question.kind === 'number') return readTypedNumber(answer).ok ? [] : bad('question.number')
  if (question.kind === 'date') return isDay(answer) ? [] : bad('question.date')
  if (question.kind === 'country') return /^[A-Z]{2}$/.test(answer) ? [] : bad('question.country')
  if (question.kind === 'mail') return /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(answer) ? [] : bad('question.mail')
  return fieldReasons(question.fills, answer, countryOf(questions, answers), place)
}

const countryOf = (questions: readonly Question[], answers: Answers): string => {
  const key = questions.find(question => question.fills === 'country')?.key
  const answer = key === undefined ? undefined : answers[key]
  return typeof answer === 'string' ? answer : ''
}

/** Identifiers and accounts are held to the same rules as in the record itself. */
export function fieldReasons(field: RecordField | null, value: string, country: string, place: string): Reason[] {
  if (field === 'vat' || field === 'registration' || field === 'lei' || field === 'gln')
    return checkIdentifier(field, value, place, country)
  if (field === 'iban') return checkIban(value, place)
  if (field === 'founded')
    return /^(1[0-9]|20)\d\d$/.test(value) ? [] : [stop('question.number', { question: field }, { place })]
  return []
}

/** Faults of a questionnaire itself: keys twice, choices missing, conditions on what is not there or comes later, no questions. */
export function checkQuestionnaire(sections: readonly Section[]): Reason[] {
  const questions = questionsOf(sections)
  const reasons: Reason[] = []
  if (questions.length === 0) reasons.push(stop('questionnaire.empty'))
  for (const [index, question] of questions.entries()) {
    const place = `questions.${question.key}`
    const details = { question: question.label || question.key }
    if (question.label.trim() === '') reasons.push(stop('questionnaire.noLabel', { key: question.key }, { place }))
    if (questions.findIndex(one => one.key === question.key) !== index)
      reasons.push(stop('questionnaire.keyTwice', details, { place }))
    if ((question.kind === 'choice' || question.kind === 'choices') && question.choices.length < 2)
      reasons.push(stop('questionnaire.choices', details, { place }))
    if (question.fills && questions.findIndex(one => one.fills === question.fills) !== index)
      reasons.push(stop('questionnaire.fillsTwice', details, { place }))
    if (question.when) {
      const on = questions.findIndex(one => one.key === question.when!.key)
      if (on < 0 || on >= index) reasons.push(stop('questionnaire.condition', details, { place }))
    }
  }
  return reasons
}

export interface AnswerDifference {
  readonly key: string
  readonly label: string
  readonly field: RecordField | null
  readonly before: string
  readonly after: string
}

/** An answer as one line of text. */
export function answerText(answer: Answer | undefined): string {
  if (answer === undefined) return ''
  if (typeof answer === 'string') return answer
  if (Array.isArray(answer)) return answer.join(', ')
  const other = answer as CertificateAnswer | FileAnswer
  return 'issuer' in other
    ? [other.issuer, other.number, other.validTo && `until ${other.validTo}`, other.fileName].filter(Boolean).join(', ')
    : other.fileName
}

/** What changed between two sets of answers, question by question in their order; spaces at the ends do not count. */
export function answerDifferences(sections: readonly Section[], before: Answers, after: Answers): AnswerDifference[] {
  return questionsOf(sections).flatMap(question => {
    const [was, is] = [answerText(before[question.key]).trim(), answerText(after[question.key]).trim()]
    return was === is
      ? []
      : [{ key: question.key, label: question.label, field: question.fills, before: was, after: is }]
  })
}
