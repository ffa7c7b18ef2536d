import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { askedLines, type EventFacts, type EventLine } from '#core/source/event.ts'
import type { AskedQuestion, EventKind } from '#core/source/eventKind.ts'

/** Another price from a quantity on, in units of the line. */
export interface AnswerTier {
  readonly from: string
  readonly price: string
}
/** What a supplier offers for one line. Amounts as decimals in the currency of the answer; empty where nothing is said. */
export interface AnswerLine {
  readonly lineId: string
  /** Not offered. */
  readonly declined: boolean
  /** Empty: all that is asked for. */
  readonly quantity: string
  readonly price: string
  /** For how many units the price is. */
  readonly priceBase: string
  /** By the key of the component. */
  readonly components: Readonly<Record<string, string>>
  readonly leadDays: number | null
  /** The least that is sold. */
  readonly minimum: string
  /** Only whole multiples of it; left out or empty: any quantity. */
  readonly multiple?: string
  /** Prices for larger quantities, rising by quantity; each holds for all units. Left out: there is one price. */
  readonly tiers?: readonly AnswerTier[]
  readonly note: string
  readonly texts: Readonly<Record<string, string>>
}
/** The price of a quantity: that of the highest tier that it reaches. */
export const priceAt = (line: Pick<AnswerLine, 'price' | 'tiers'>, quantity: string): string =>
  line.tiers?.filter(tier => new Decimal(tier.from).lte(quantity)).at(-1)?.price ?? line.price

/** Something else in place of what is asked. */
export interface Alternative {
  readonly id: string
  readonly lineId: string
  readonly description: string
  readonly price: string
  readonly priceBase: string
  readonly leadDays: number | null
  readonly note: string
}
/** A line that the supplier adds. */
export interface OwnLine {
  readonly id: string
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
}
/** A whole answer. */
export interface AnswerContent {
  readonly currency: string
  readonly lines: readonly AnswerLine[]
  readonly alternatives: readonly Alternative[]
  readonly ownLines: readonly OwnLine[]
  /** Components for a whole lot: by lot, by component. */
  readonly lump: Readonly<Record<string, Readonly<Record<string, string>>>>
  /** Days from delivery to payment. */
  readonly paymentDays: number | null
  readonly validUntil: string
  readonly questions: Readonly<Record<string, string>>
  readonly texts: Readonly<Record<string, string>>
  readonly note: string
  readonly fileIds: readonly string[]
}

export const emptyLine = (lineId: string): AnswerLine => ({
  lineId,
  declined: false,
  quantity: '',
  price: '',
  priceBase: '1',
  components: {},
  leadDays: null,
  minimum: '',
  note: '',
  texts: {},
})
/** The answer that a supplier begins with: nothing said about anything. */
export const emptyAnswer = (event: EventFacts, currency: string): AnswerContent => ({
  currency,
  lines: askedLines(event).map(line => emptyLine(line.id)),
  alternatives: [],
  ownLines: [],
  lump: {},
  paymentDays: null,
  validUntil: '',
  questions: {},
  texts: {},
  note: '',
  fileIds: [],
})

/** Lines with an offer that can be compared: of lines that are still asked, not declined. */
export const offeredLines = (event: Pick<EventFacts, 'lines' | 'kind'>, answer: AnswerContent): AnswerLine[] => {
  const asked = new Set(askedLines(event).map(line => line.id))
  return answer.lines.filter(
    line => asked.has(line.lineId) && !line.declined && (line.price !== '' || event.kind.pricing === 'none'),
  )
}

/**
 * What stands against an answer. Always: what could never be kept as it is meant. `complete`, when it is handed in: prices that are missing, required
 * questions. Nothing is rounded.
 */
export function checkAnswer(event: EventFacts, answer: AnswerContent, complete: boolean): Reason[] {
  const asked = new Map(askedLines(event).map(line => [line.id, line]))
  return [
    ...answer.lines.flatMap(line => {
      const about = asked.get(line.lineId)
      return about && !line.declined ? checkLine(event.kind, about, line, complete) : []
    }),
    ...checkBeside(event.kind, asked, answer),
    ...checkLump(event.kind, answer),
    ...(complete ? checkComplete(event, answer) : []),
  ]
}

const at = (lineId: string, field: string): { place: string } => ({ place: `lines.${lineId}.${field}` })
/** A figure that is there and right, or a reason; empty is nothing said. */
function figure(text: string, place: { place: string }, code: string): Reason[] {
  if (text === '') return []
  if (!isHeldDecimal(text)) return [stop('answer.figure', {}, place)]
  return new Decimal(text).gt(0) ? [] : [stop(code, {}, place)]
}

function checkLine(kind: EventKind, about: EventLine, line: AnswerLine, complete: boolean): Reason[] {
  const priced = kind.pricing !== 'none'
  return [
    ...(priced ? figure(line.price, at(line.lineId, 'price'), 'answer.priceAboveZero') : []),
    ...figure(line.priceBase, at(line.lineId, 'priceBase'), 'answer.quantity'),
    ...figure(line.quantity, at(line.lineId, 'quantity'), 'answer.quantity'),
    ...figure(line.minimum, at(line.lineId, 'minimum'), 'answer.quantity'),
    ...figure(line.multiple ?? '', at(line.lineId, 'multiple'), 'answer.quantity'),
    ...checkTiers(line, complete),
    ...checkPart(kind, about, line),
    ...Object.entries(line.components).flatMap(([key, amount]) =>
      component(amount, nameOf(kind, key), at(line.lineId, `components.${key}`)),
    ),
    ...(complete && priced && line.price === ''
      ? [stop('answer.priceMissing', { line: about.description }, at(line.lineId, 'price'))]
      : []),
  ]
}

/** Tiers begin above nothing, one above the other, and each has a price; a draft may have some that are not written yet. */
function checkTiers({ lineId, tiers = [] }: AnswerLine, complete: boolean): Reason[] {
  const place = at(lineId, 'tiers')
  const written = complete ? tiers : tiers.filter(tier => tier.from !== '' && tier.price !== '')
  const faults = written.flatMap(tier => [...needed(tier.from, place), ...needed(tier.price, place)])
  if (faults.length > 0) return faults
  return written.every((tier, index) => index === 0 || new Decimal(tier.from).gt(written[index - 1]!.from))
    ? []
    : [stop('answer.tierOrder', {}, place)]
}

const nameOf = (kind: EventKind, key: string): string => kind.components.find(one => one.key === key)?.name ?? key

function component(amount: string, name: string, place: { place: string }): Reason[] {
  if (amount === '') return []
  if (!isHeldDecimal(amount)) return [stop('answer.figure', {}, place)]
  return new Decimal(amount).gte(0) ? [] : [stop('answer.component', { name }, place)]
}

/** A part of what is asked only where the kind allows it, and never more than is asked. */
function checkPart(kind: EventKind, about: EventLine, line: AnswerLine): Reason[] {
  if (line.quantity === '' || !isHeldDecimal(line.quantity)) return []
  const offered = new Decimal(line.quantity)
  if (offered.gt(about.quantity))
    return [stop('answer.tooMuch', { asked: about.quantity }, at(line.lineId, 'quantity'))]
  return offered.lt(about.quantity) && !kind.partQuantity
    ? [stop('answer.wholeOnly', { asked: about.quantity }, at(line.lineId, 'quantity'))]
    : []
}

function checkBeside(kind: EventKind, asked: ReadonlyMap<string, EventLine>, answer: AnswerContent): Reason[] {
  return [
    ...(answer.alternatives.length > 0 && !kind.alternatives ? [stop('answer.noAlternatives')] : []),
    ...answer.alternatives.flatMap(one => [
      ...(asked.has(one.lineId) ? [] : [stop('answer.alternativeOf', {}, { place: `alternatives.${one.id}` })]),
      ...(one.description.trim() === ''
        ? [stop('answer.describe', {}, { place: `alternatives.${one.id}.description` })]
        : []),
      ...needed(one.price, { place: `alternatives.${one.id}.price` }),
    ]),
    ...(answer.ownLines.length > 0 && !kind.supplierLines ? [stop('answer.noOwnLines')] : []),
    ...answer.ownLines.flatMap(one => [
      ...(one.description.trim() === ''
        ? [stop('answer.describe', {}, { place: `ownLines.${one.id}.description` })]
        : []),
      ...needed(one.price, { place: `ownLines.${one.id}.price` }),
      ...needed(one.quantity, { place: `ownLines.${one.id}.quantity` }),
    ]),
  ]
}

const needed = (text: string, place: { place: string }): Reason[] =>
  text === '' ? [stop('answer.figure', {}, place)] : figure(text, place, 'answer.priceAboveZero')

const checkLump = (kind: EventKind, answer: AnswerContent): Reason[] =>
  Object.entries(answer.lump).flatMap(([lotId, amounts]) =>
    Object.entries(amounts).flatMap(([key, amount]) =>
      component(amount, nameOf(kind, key), { place: `lump.${lotId}.${key}` }),
    ),
  )

function checkComplete(event: EventFacts, answer: AnswerContent): Reason[] {
  const offered = answer.lines.filter(line => !line.declined && askedLines(event).some(one => one.id === line.lineId))
  return [
    ...(offered.length === 0 && answer.alternatives.length === 0 ? [stop('answer.nothing')] : []),
    ...askedQuestions(event.kind).flatMap(one => checkQuestion(one, answer.questions[one.key] ?? '')),
  ]
}

export const askedQuestions = (kind: Pick<EventKind, 'sections'>): AskedQuestion[] =>
  kind.sections.flatMap(section => [...section.questions])

function checkQuestion(question: AskedQuestion, answer: string): Reason[] {
  const place = { place: `questions.${question.key}` }
  if (answer.trim() === '')
    return question.required ? [stop('answer.question', { question: question.label }, place)] : []
  const known = question.kind === 'yesNo' ? ['yes', 'no'] : question.kind === 'choice' ? question.choices : null
  if (known && !known.includes(answer)) return [stop('answer.choice', { question: question.label }, place)]
  return question.kind === 'number' && !isHeldDecimal(answer) ? [stop('answer.figure', {}, place)] : []
}

/** Whether an answer misses what nobody may miss. */
export const knockedOut = (kind: Pick<EventKind, 'sections'>, answer: Pick<AnswerContent, 'questions'>): boolean =>
  askedQuestions(kind).some(one => one.must !== '' && answer.questions[one.key] !== one.must)
