import type { Ceiling, WhenOver } from '#core/agreements/content.ts'
import {
  type Consumed,
  type ConsumedByKind,
  consumedAll,
  type ConsumptionEntry,
  plus,
} from '#core/agreements/consumption.ts'
import { AGREEMENT_GROUPS, type AgreementState } from '#core/agreements/states.ts'
import { formatAmount, type Minor, minor, moneyText, parseAmount } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { check, type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** A line of an agreement in force with what was called off of it. */
export interface CalledLine {
  readonly id: string
  readonly description: string
  readonly category: string
  readonly unit: string
  readonly consumed: ConsumedByKind
}

/** What is known of an agreement when something is called off. */
export interface CalledAgreement {
  readonly id: string
  readonly number: string
  readonly state: AgreementState
  readonly currency: string
  readonly startsOn: string
  readonly endsOn: string
  readonly whenOver: WhenOver
  readonly ceilings: readonly Ceiling[]
  readonly lines: readonly CalledLine[]
}

/** A ceiling with how much of it is taken. */
export interface CeilingUse {
  readonly ceiling: Ceiling
  readonly taken: Consumed
  /** Of the limit that is nearest, in per cent, one digit. */
  readonly percent: string
  readonly full: boolean
}

const counts = (ceiling: Ceiling, line: Pick<CalledLine, 'id' | 'category'>): boolean =>
  ceiling.scope === 'whole' ||
  (ceiling.scope === 'category' ? line.category === ceiling.category : line.id === ceiling.lineId)

/** What is taken of each ceiling, all kinds together. */
export function ceilingUse(agreement: Pick<CalledAgreement, 'ceilings' | 'lines' | 'currency'>): CeilingUse[] {
  return agreement.ceilings.map(ceiling => {
    const taken = agreement.lines
      .filter(line => counts(ceiling, line))
      .map(line => consumedAll(line.consumed))
      .reduce(plus, { amount: minor(0), quantity: '0' })
    const shares = [
      ...(ceiling.amount === ''
        ? []
        : [new Decimal(formatAmount(taken.amount, agreement.currency)).div(ceiling.amount)]),
      ...(ceiling.quantity === '' ? [] : [new Decimal(taken.quantity).div(ceiling.quantity)]),
    ]
    const most = Decimal.max(0, ...shares)
    return { ceiling, taken, percent: most.times(100).toDecimalPlaces(1).toString(), full: most.gte(1) }
  })
}

/** How full the fullest ceiling is, in per cent; nothing where there is none. */
export const fullest = (uses: readonly CeilingUse[]): string =>
  uses.reduce((most, one) => (new Decimal(one.percent).gt(most) ? one.percent : most), '0')

/** Whether nothing more can be called off: a ceiling of the whole is reached, or those of its lines or categories leave no line open. */
export function isUsedUp(agreement: Pick<CalledAgreement, 'ceilings' | 'lines' | 'currency'>): boolean {
  const full = ceilingUse(agreement).filter(use => use.full)
  return agreement.lines.length > 0 && agreement.lines.every(line => full.some(use => counts(use.ceiling, line)))
}

/** Lines of which nothing more can be called off. */
export const fullLines = (agreement: Pick<CalledAgreement, 'ceilings' | 'lines' | 'currency'>): string[] => {
  const full = ceilingUse(agreement).filter(use => use.full)
  return agreement.lines.filter(line => full.some(use => counts(use.ceiling, line))).map(line => line.id)
}

/**
 * What entries take beyond what they give back, by line of the agreement. A bill that is dearer than its order is judged where it is matched and
 * takes nothing here; what it gives back counts.
 */
export function takenByLine(entries: readonly ConsumptionEntry[]): Map<string, Consumed> {
  const taken = new Map<string, Consumed>()
  for (const { agreementLineId, kind, amount, quantity } of entries) {
    const part = {
      amount: kind === 'used' && amount > 0n ? minor(0) : amount,
      quantity: kind === 'used' && new Decimal(quantity).gt(0) ? '0' : quantity,
    }
    taken.set(agreementLineId, plus(taken.get(agreementLineId) ?? { amount: minor(0), quantity: '0' }, part))
  }
  return taken
}

const SPEAK = { stop, check }

/**
 * Reasons against calling off what `taken` says on top of what stands: the agreement is not in force on that day, or a ceiling would be passed. Exactly
 * at a ceiling is enough. What takes nothing more is never refused, so that what was called off in time is ordered, received and billed.
 */
export function againstCallOff(
  agreement: CalledAgreement,
  taken: ReadonlyMap<string, Consumed>,
  today: string,
  place: { readonly place?: string } = {},
): Reason[] {
  const more = new Map([...taken].filter(([, one]) => one.amount > 0n || new Decimal(one.quantity).gt(0)))
  if (more.size === 0) return []
  const closed = againstDay(agreement, today, place)
  if (closed.length > 0) return closed
  const known = new Set(agreement.lines.map(line => line.id))
  if ([...more.keys()].some(id => !known.has(id)))
    return [stop('agreement.lineGone', { number: agreement.number }, place)]
  return ceilingUse(agreement).flatMap(use => passed(agreement, use, taken, place))
}

/** Why nothing can be called off on a day: it is not in force, has not begun or has ended. */
export function againstDay(
  agreement: Pick<CalledAgreement, 'number' | 'state' | 'startsOn' | 'endsOn'>,
  today: string,
  place: { readonly place?: string } = {},
): Reason[] {
  const { number, state, startsOn, endsOn } = agreement
  if (state === 'usedUp') return []
  if (state === 'active' && today < startsOn) return [stop('agreement.notYet', { number, startsOn }, place)]
  if (isIn(AGREEMENT_GROUPS.standing, state) && today > endsOn)
    return [stop('agreement.ended', { number, endsOn }, place)]
  return state === 'active' ? [] : [stop('agreement.notInForce', { number, state }, place)]
}

function passed(
  agreement: CalledAgreement,
  { ceiling, taken }: CeilingUse,
  adds: ReadonlyMap<string, Consumed>,
  place: { readonly place?: string },
): Reason[] {
  const { currency, number } = agreement
  const here = agreement.lines.filter(line => counts(ceiling, line))
  const add = here.reduce((sum, line) => plus(sum, adds.get(line.id) ?? { amount: minor(0), quantity: '0' }), { amount: minor(0), quantity: '0' } as Consumed) // prettier-ignore
  const of =
    ceiling.scope === 'whole' ? '' : ceiling.scope === 'category' ? ceiling.category : (here[0]?.description ?? '')
  const speak = SPEAK[agreement.whenOver]
  const reasons: Reason[] = []
  if (ceiling.amount !== '' && add.amount > 0n) {
    const left: Minor = minor(parseAmount(ceiling.amount, currency) - taken.amount)
    if (add.amount > left)
      reasons.push(
        speak(
          'agreement.over',
          {
            number,
            of,
            left: moneyText(left, currency),
            wanted: moneyText(add.amount, currency),
            over: moneyText(add.amount - left, currency),
          },
          place,
        ),
      )
  }
  if (ceiling.quantity !== '' && new Decimal(add.quantity).gt(0)) {
    const left = new Decimal(ceiling.quantity).minus(taken.quantity)
    const unit = here[0]?.unit ?? ''
    if (new Decimal(add.quantity).gt(left))
      reasons.push(
        speak(
          'agreement.overQuantity',
          {
            number,
            of,
            unit,
            left: tidy(left),
            wanted: tidy(add.quantity),
            over: tidy(new Decimal(add.quantity).minus(left)),
          },
          place,
        ),
      )
  }
  return reasons
}

/** All that was called off of an agreement, whatever became of its lines. */
export const consumedOf = (agreement: Pick<CalledAgreement, 'lines'>): Consumed =>
  agreement.lines.map(line => consumedAll(line.consumed)).reduce(plus, { amount: minor(0), quantity: '0' })
