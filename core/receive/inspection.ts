import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, obstacles, refused, saysWhy } from '#core/acts/decision.ts'
import { type DeskEntry, forRight } from '#core/desk/entry.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { spread } from '#core/ledger/commitments.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { minor, portion } from '#core/money/amount.ts'
import { Decimal, isHeldDecimal, tidy } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { proven } from '#core/order/measures.ts'
import { plainWords } from '#core/request/personalFee.ts'
import { check, type Reason, stop } from '#core/reasons.ts'
import type { DebitLine } from '#core/receive/goodsReturn.ts'
import { samplingPlan, type SamplingPlan } from '#core/receive/sampling.ts'
import type { Characteristic, ReceivingTerms } from '#core/receive/terms.ts'
import { notNow, type StateTable } from '#core/states.ts'

export type InspectionState = 'waiting' | 'passed' | 'passedInPart' | 'rejected' | 'ended'
export type InspectionAction = 'pass' | 'passInPart' | 'reject' | 'end'
/** Goods wait until somebody has said which of them are good; it ends without a word when they go back or their count is taken out. */
export const INSPECTION_STATES: StateTable<InspectionState, InspectionAction> = {
  waiting: { pass: 'passed', passInPart: 'passedInPart', reject: 'rejected', end: 'ended' },
  passed: { end: 'ended' },
  passedInPart: { end: 'ended' },
  rejected: { end: 'ended' },
  ended: {},
}
export const INSPECTION_GROUPS = {
  waiting: ['waiting'],
  said: ['passed', 'passedInPart', 'rejected'],
} as const satisfies Readonly<Record<string, readonly InspectionState[]>>

/** What one piece showed, by the name of what was looked at: a measured value, `pass` or `fail`. */
export type Reading = Readonly<Record<string, string>>

/** What somebody says of the goods. */
export interface Finding {
  /** Pieces that were looked at. */
  readonly looked: number
  /** Of those that were measured, every one; of those that were looked over, at least those that failed. */
  readonly readings: readonly Reading[]
  /** Quantities in the unit of the line: taken as they are, taken for less money, not taken. */
  readonly accepted: string
  readonly deducted: string
  /** Per cent of the price that is taken off for what is taken for less. */
  readonly deductPercent: string
  readonly rejected: string
  readonly reason: string
}
export interface InspectionFacts {
  readonly number: string
  readonly state: InspectionState
  readonly lineId: string
  /** What of its count is still here, in the unit of the line. */
  readonly left: string
  readonly plan: SamplingPlan
  readonly characteristics: readonly Characteristic[]
}

/** What is looked at where nothing is named. */
const WHOLE: Characteristic = { name: 'As ordered', unit: '', low: '', high: '' }
export const lookedAt = (characteristics: readonly Characteristic[]): readonly Characteristic[] =>
  characteristics.length > 0 ? characteristics : [WHOLE]
export const isMeasured = ({ unit, low, high }: Characteristic): boolean => [unit, low, high].some(text => text !== '')

/** How many of a count are looked at: all of it, or as the sampling plan says. planFor({ inspect: 'all', aql: '1.0' }, '6') //=> { sample: 6, acceptUpTo: 0 } */
export function planFor({ inspect, aql }: Pick<ReceivingTerms, 'inspect' | 'aql'>, quantity: string): SamplingPlan {
  if (inspect === 'sample') return samplingPlan(Number(quantity), aql)
  return { sample: Math.max(1, Math.ceil(Number(quantity))), acceptUpTo: 0 }
}

/** Whether a piece failed in one thing: it is outside the limits, which belong to it, or was looked over and failed. */
export function failsIn(one: Characteristic, value: string): boolean {
  if (!isMeasured(one)) return value === 'fail'
  if (!isHeldDecimal(value)) return false
  const { low, high } = one
  return (low !== '' && new Decimal(value).lt(low)) || (high !== '' && new Decimal(value).gt(high))
}

export interface Verdict {
  readonly failed: number
  /** No more failed than the plan lets pass. */
  readonly passes: boolean
}
/** What the plan says of what was found. */
export function verdict(
  { characteristics, plan }: Pick<InspectionFacts, 'characteristics' | 'plan'>,
  readings: readonly Reading[],
): Verdict {
  const all = lookedAt(characteristics)
  const failed = readings.filter(reading => all.some(one => failsIn(one, reading[one.name] ?? ''))).length
  return { failed, passes: failed <= plan.acceptUpTo }
}

function whyNotReadings({ characteristics, plan }: InspectionFacts, { looked, readings }: Finding): Reason[] {
  const all = lookedAt(characteristics)
  const known = new Set(all.map(one => one.name))
  const measured = all.filter(isMeasured)
  const wrong = readings.flatMap((reading, index): Reason[] => [
    ...(Object.keys(reading).every(name => known.has(name))
      ? []
      : [stop('inspection.reading', { name: '' }, { place: `readings.${index}` })]),
    ...all.flatMap((one): Reason[] => {
      const value = reading[one.name] ?? ''
      const fits = isMeasured(one) ? isHeldDecimal(value) : ['pass', 'fail'].includes(value)
      return fits ? [] : [stop('inspection.reading', { name: one.name }, { place: `readings.${index}.${one.name}` })]
    }),
  ])
  return [
    ...wrong,
    ...(Number.isInteger(looked) && looked >= Math.max(1, readings.length)
      ? []
      : [stop('inspection.looked', { told: readings.length }, { place: 'looked' })]),
    ...(measured.length > 0 && readings.length < looked
      ? [stop('inspection.measureAll', { looked, told: readings.length }, { place: 'readings' })]
      : []),
    ...(looked < plan.sample ? [check('inspection.fewer', { looked, sample: plan.sample }, { place: 'looked' })] : []),
  ]
}

function whyNotQuantities(found: InspectionFacts, { accepted, deducted, deductPercent, rejected }: Finding): Reason[] {
  const parts = { accepted, deducted, rejected }
  for (const [place, quantity] of Object.entries(parts))
    if (!isHeldDecimal(quantity) || new Decimal(quantity).isNegative()) return [stop('receive.quantity', {}, { place })]
  const sum = new Decimal(accepted).plus(deducted).plus(rejected)
  if (!sum.equals(found.left))
    return [stop('inspection.sum', { left: tidy(found.left), told: tidy(sum) }, { place: 'accepted' })]
  const off = isHeldDecimal(deductPercent) ? new Decimal(deductPercent) : null
  return new Decimal(deducted).gt(0) && (off === null || off.lte(0) || off.gt(100))
    ? [stop('inspection.percent', {}, { place: 'deductPercent' })]
    : []
}

export interface InspectedNext {
  readonly state: InspectionState
  /** What is taken off because goods are taken for less than was ordered: net, in the order's currency. */
  readonly deduction: DebitLine | null
}

/**
 * Says which of the goods are good. What is taken counts as accepted, so that its bill can pass; what is not waits to go back. What is taken for less is
 * taken off by a debit note: per cent of the ordered price, rounded once, half away from zero. Against the sampling plan (ISO 2859-1:1999, 11) it wants
 * a reason.
 */
export function concludeInspection(
  found: InspectionFacts,
  order: OrderFacts,
  finding: Finding,
  actor: ActorFacts,
): Decision<InspectedNext> {
  const line = order.lines.find(one => one.id === found.lineId)!
  const { passes, failed } = verdict(found, finding.readings)
  const told = whyNotQuantities(found, finding)
  const takes = told.length === 0 && new Decimal(finding.accepted).gt(0)
  const leaves = told.length === 0 && !new Decimal(finding.accepted).equals(found.left)
  const against = obstacles(
    [
      ...needsRight(actor, 'delivery.receive'),
      ...notNow(INSPECTION_STATES, 'inspection', found.state, 'pass'),
      ...whyNotReadings(found, finding),
      ...told,
      ...(takes && !passes
        ? [check('inspection.against', { failed, most: found.plan.acceptUpTo }, { place: 'accepted' })]
        : []),
      ...(leaves && !saysWhy(finding.reason) ? [stop('inspection.why', {}, { place: 'reason' })] : []),
    ],
    finding.reason,
    stop('inspection.wantsReason', {}, { place: 'reason' }),
  )
  if (against.length > 0) return refused(against)
  const taken = new Decimal(finding.accepted).plus(finding.deducted)
  const deduction = deductionOf(line, finding)
  const outcome = follow(
    order,
    [...acceptedNow(line, taken), { lineId: line.id, kind: 'rejected', quantity: tidy(finding.rejected) }].filter(
      entry => !new Decimal(entry.quantity).isZero(),
    ) as QuantityEntry[],
  )
  const state = new Decimal(finding.rejected).isZero() ? 'passed' : taken.isZero() ? 'rejected' : 'passedInPart'
  return done<InspectedNext>(
    { state, deduction },
    {
      action: 'inspected',
      changes: {
        inspection: found.number,
        lines: [
          {
            position: line.position,
            accepted: tidy(finding.accepted),
            deducted: tidy(finding.deducted),
            rejected: tidy(finding.rejected),
            unit: line.unit,
          },
        ],
        ...(deduction ? { percent: tidy(finding.deductPercent) } : {}),
      },
      reason: finding.reason,
    },
    { ...outcome, budget: [...outcome.budget, ...(deduction ? givenBack(line, finding) : [])] },
  )
}

/** Of a line whose bills wait, what was found good; no more than has come and is not accepted already. */
function acceptedNow(line: OrderLine, taken: Decimal): QuantityEntry[] {
  if (!line.inspects) return []
  const most = Decimal.max(0, new Decimal(proven(line)).minus(line.sums.accepted))
  return [{ lineId: line.id, kind: 'accepted', quantity: Decimal.min(taken, most).toString() }]
}

function deductionOf(line: OrderLine, { deducted, deductPercent }: Finding): DebitLine | null {
  if (new Decimal(deducted).isZero()) return null
  const net = portion(portion(line.amount, deducted, line.quantity), deductPercent, '100')
  const { id, position, unit } = line
  return { lineId: id, position, description: plainWords(line), quantity: tidy(deducted), unit, net }
}

/** What the accounts of a line get back, in the base currency at the order's rate. */
const givenBack = (line: OrderLine, { deducted, deductPercent }: Finding): BudgetEntry[] =>
  spread('spent', line.id, minor(-portion(portion(line.baseAmount, deducted, line.quantity), deductPercent, '100')), line.splits) // prettier-ignore

/** How much of a count nobody has found good, and is still here: it goes back first. */
export function notAccepted(found: {
  readonly state: InspectionState
  readonly rejected: string
  readonly quantity: string
  readonly gone: string
}): string {
  if (found.state === 'ended') return '0'
  const of = found.state === 'waiting' ? found.quantity : found.rejected
  return tidy(Decimal.max(0, new Decimal(of).minus(found.gone)))
}

/** What waits until it is inspected. */
export const inspectionDesk = (
  found: Pick<InspectionFacts, 'number' | 'state'>,
  about: {
    readonly id: string
    readonly title: string
    readonly who: string
    readonly place: string
    readonly since: string
    readonly needBy: string | null
  },
): DeskEntry[] =>
  found.state !== 'waiting'
    ? []
    : [
        {
          key: 'inspect',
          stage: 'receive',
          act: 'inspect',
          tone: 'plain',
          audiences: [forRight('delivery.receive')],
          notFor: [],
          from: null,
          amount: null,
          currency: null,
          since: about.since,
          needBy: about.needBy,
          path: `/receive/inspections/${about.id}`,
          details: { number: found.number, title: about.title, who: about.who, extra: about.place },
        },
      ]

/** What the supplier is told of goods that did not pass as they are. */
export const inspectionMail = (
  order: OrderFacts,
  found: InspectionFacts,
  finding: Finding,
  debit: string,
): Message => ({
  template: 'goods.inspected',
  to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
  key: `inspection:${found.number}`,
  details: {
    number: found.number,
    order: order.number,
    title: order.title,
    rejected: new Decimal(finding.rejected).isZero() ? '' : tidy(finding.rejected),
    deducted: new Decimal(finding.deducted).isZero() ? '' : tidy(finding.deducted),
    percent: tidy(finding.deductPercent || '0'),
    reason: finding.reason,
    debit,
    path: `/supplier/orders/${order.id}`,
  },
})
