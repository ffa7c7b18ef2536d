import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { BidStep, ExtensionRule, ShownToSuppliers } from '#core/source/auctionRules.ts'
import type { ComponentBasis, LandedRules } from '#core/source/landedCost.ts'
import { checkMessages, type EventMessage } from '#core/source/eventMessages.ts'
import { checkCriteria, type Criterion, PRICE, type PriceFormula } from '#core/source/scores.ts'

export const EVENT_FORMATS = ['quotes', 'auction'] as const
/** A quote request, answered until a moment; or a reverse auction, bid in on its day. */
export type EventFormat = (typeof EVENT_FORMATS)[number]
export const PRICE_MODELS = ['none', 'one', 'components'] as const
/** Facts only; one price for each line; or a price with named components beside it. */
export type PriceModel = (typeof PRICE_MODELS)[number]
export const OUTCOMES_TOLD = ['nothing', 'place', 'winningPrice'] as const
/** What those who do not win learn beside that. */
export type OutcomeTold = (typeof OUTCOMES_TOLD)[number]

/** A part of the price that suppliers give beside the goods. */
export interface PriceComponent {
  readonly key: string
  readonly name: string
  readonly basis: ComponentBasis
  readonly kind: 'freight' | 'other'
}

/** Words by language; English has to be there. */
export type InLanguages = Readonly<Partial<Record<'en' | 'de', string>>>

/** A named text of an event or of its lines. */
export interface EventText {
  readonly key: string
  readonly name: string
  readonly place: 'head' | 'line'
  readonly seenBy: 'us' | 'suppliers' | 'both'
  readonly writtenBy: 'us' | 'suppliers'
  /** It goes on to the order. */
  readonly carried: boolean
  readonly words: InLanguages
}

export const ASKED_KINDS = ['yesNo', 'choice', 'number', 'text'] as const
/** A question that suppliers answer and that may count in the award. */
export interface AskedQuestion {
  readonly key: string
  readonly label: string
  readonly kind: (typeof ASKED_KINDS)[number]
  readonly choices: readonly string[]
  /** Answers without which nothing counts: whoever answers otherwise is knocked out; empty: nobody is. */
  readonly must: string
  readonly required: boolean
  readonly scoredBy: 'rule' | 'people' | 'nobody'
  /** Points for each answer, where a rule scores it. */
  readonly points: Readonly<Record<string, string>>
  readonly most: string
  readonly weight: string
}
export interface AskedSection {
  readonly title: string
  readonly weight: string
  readonly questions: readonly AskedQuestion[]
}

/** Rules that lots of an auction begin with. Amounts as decimals in the event's currency. */
export interface LotDefaults {
  readonly minutes: number
  readonly step: LotStep
  readonly extension: ExtensionRule | null
  readonly shows: ShownToSuppliers
}
/** The smallest step as it is entered. */
export interface LotStep {
  readonly kind: BidStep['kind']
  readonly value: string
  readonly against: 'own' | 'best'
}

/** Everything that a kind of event says; an event keeps the version that it began with. */
export interface EventKind {
  readonly format: EventFormat
  readonly pricing: PriceModel
  readonly components: readonly PriceComponent[]
  readonly bought: 'goods' | 'work'
  /** Every qualified supplier of the category may answer; else only who is invited. */
  readonly open: boolean
  readonly supplierLines: boolean
  readonly alternatives: boolean
  readonly partQuantity: boolean
  /** Nobody of ours reads an answer before the end. */
  readonly sealed: boolean
  readonly texts: readonly EventText[]
  readonly sections: readonly AskedSection[]
  /** Bidding terms that have to be accepted before anything is answered; empty: there are none. */
  readonly terms: InLanguages
  /** What goes out to suppliers by itself, and when, beside what every event says (asked, moved, outcome). */
  readonly messages: readonly EventMessage[]
  readonly tells: OutcomeTold
  /** Days for answering that a new event begins with. */
  readonly daysOpen: number
  readonly lot: LotDefaults
  readonly landed: Omit<LandedRules, 'rate'>
  readonly criteria: readonly Criterion[]
  readonly formula: PriceFormula
}

/** The criterion that the questionnaire counts under. */
export const QUESTIONS = 'questions'
/** Everything that answers may be judged by. */
export const CRITERIA = [PRICE, QUESTIONS] as const

/** A kind as a new one begins: one price for goods, read as answers come in, by invitation; the cheapest leads. */
export const NEW_KIND: EventKind = {
  format: 'quotes',
  pricing: 'one',
  components: [],
  bought: 'goods',
  open: false,
  supplierLines: false,
  alternatives: true,
  partQuantity: true,
  sealed: false,
  texts: [],
  sections: [],
  terms: {},
  messages: [{ key: 'reminder', moment: 'beforeEnd', hours: 48, to: 'silent', words: {} }],
  tells: 'nothing',
  daysOpen: 10,
  lot: {
    minutes: 30,
    step: { kind: 'none', value: '', against: 'own' },
    extension: { withinSeconds: 300, bySeconds: 300, from: 'end', places: 1, most: 4 },
    shows: { place: true, best: false, bidders: false },
  },
  landed: {
    insurancePercent: '0',
    insured: '1',
    dutyOn: 'goods',
    interestPercent: '0',
    interest: 'simple',
  },
  criteria: [{ key: 'price', weight: '100' }],
  formula: 'lowestRatio',
}

const twice = (keys: readonly string[]): string | undefined => keys.find((key, index) => keys.indexOf(key) < index)

/** What stands against a kind of event: faults that would show only when it is used. */
export const checkKind = (kind: EventKind): Reason[] => [
  ...checkComponents(kind),
  ...checkTexts(kind),
  ...kind.sections.flatMap((section, index) => checkSection(section, `sections.${index}`)),
  ...checkTwice(kind),
  ...checkMessages(kind),
  ...(kind.terms.de && !kind.terms.en ? [stop('kind.termsEnglish', {}, { place: 'terms' })] : []),
  ...(kind.pricing === 'none' && kind.format === 'auction'
    ? [stop('kind.auctionPrice', {}, { place: 'pricing' })]
    : []),
  ...checkCriteria(kind.criteria),
  ...checkScored(kind),
]

function checkComponents({ pricing, components }: EventKind): Reason[] {
  if (pricing !== 'components')
    return components.length > 0 ? [stop('kind.noComponents', {}, { place: 'components' })] : []
  const same = twice(components.map(one => one.name.trim().toLowerCase()))
  return [
    ...(components.length === 0 ? [stop('kind.componentsMissing', {}, { place: 'components' })] : []),
    ...components.flatMap((one, index) =>
      one.name.trim() === '' ? [stop('kind.componentName', {}, { place: `components.${index}.name` })] : [],
    ),
    ...(same ? [stop('kind.twice', { name: same }, { place: 'components' })] : []),
  ]
}

function checkTexts({ texts }: EventKind): Reason[] {
  const same = twice(texts.map(one => one.name.trim().toLowerCase()))
  return [
    ...texts.flatMap((one, index) => [
      ...(one.name.trim() === '' ? [stop('kind.textName', {}, { place: `texts.${index}.name` })] : []),
      ...(one.writtenBy === 'suppliers' && one.seenBy === 'us'
        ? [stop('kind.textUnseen', { name: one.name }, { place: `texts.${index}.seenBy` })]
        : []),
    ]),
    ...(same ? [stop('kind.twice', { name: same }, { place: 'texts' })] : []),
  ]
}

const above = (text: string): boolean => isDecimalText(text) && new Decimal(text).gt(0)

function checkSection(section: AskedSection, place: string): Reason[] {
  return section.questions.flatMap((one, index) => {
    const at = { place: `${place}.questions.${index}` }
    const known = one.kind === 'yesNo' ? ['yes', 'no'] : one.choices
    const hasAnswers = one.kind === 'yesNo' || one.kind === 'choice'
    return [
      ...(one.label.trim() === '' ? [stop('kind.questionLabel', {}, at)] : []),
      ...(one.kind === 'choice' && one.choices.length < 2 ? [stop('kind.questionChoices', {}, at)] : []),
      ...(one.scoredBy !== 'nobody' && !above(one.most) ? [stop('kind.questionMost', {}, at)] : []),
      ...(one.scoredBy === 'rule' && !hasAnswers ? [stop('kind.questionRule', {}, at)] : []),
      ...(one.scoredBy === 'rule' && hasAnswers ? checkPoints(one, known, at.place) : []),
      ...(one.must !== '' && !known.includes(one.must) ? [stop('kind.questionMust', { answer: one.must }, at)] : []),
    ]
  })
}

/** Every answer has its points, from none to the most that there are. */
const checkPoints = (one: AskedQuestion, known: readonly string[], place: string): Reason[] =>
  known.flatMap(answer => {
    const points = one.points[answer]
    const right =
      points !== undefined &&
      isDecimalText(points) &&
      new Decimal(points).gte(0) &&
      (!above(one.most) || new Decimal(points).lte(one.most))
    return right ? [] : [stop('kind.questionPoints', { answer, most: one.most }, { place })]
  })

function checkTwice({ sections }: EventKind): Reason[] {
  const same = twice(sections.flatMap(section => section.questions.map(one => one.key)))
  return same ? [stop('kind.twice', { name: same }, { place: 'sections' })] : []
}

/** Weight for the questionnaire without a question that is scored counts nothing; so does a price where none is asked. */
function checkScored({ criteria, sections, pricing }: EventKind): Reason[] {
  const weighs = (key: string): boolean => criteria.some(one => one.key === key && new Decimal(one.weight).gt(0))
  const scored = sections.some(section => section.questions.some(one => one.scoredBy !== 'nobody'))
  return [
    ...(weighs(QUESTIONS) && !scored ? [stop('kind.nothingScored', {}, { place: 'criteria' })] : []),
    ...(weighs('price') && pricing === 'none' ? [stop('kind.noPrice', {}, { place: 'criteria' })] : []),
  ]
}
