import type { EditPolicy } from '#core/consent/settings.ts'
import { changesBetween, type SeenContent, type SeenLine } from '#core/decide/changes.ts'
import type { TakenStep } from '#core/decide/askAgain.ts'
import { ownLines } from '#core/decide/ownLines.ts'
import { minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { splitAmounts } from '#core/request/lines.ts'

/** A decision with what was seen when it was taken. */
export interface SeenStep extends TakenStep {
  /** In which round it was taken. */
  readonly round: number
  /** SHA-256 over what was seen; null: nobody kept it. */
  readonly seenHash: string | null
  /** The lines that it decided; null: all. */
  readonly lineIds: readonly string[] | null
}

type CentreOf = (accountId: string) => string | undefined

/**
 * Whether a decision has to be taken again because of what changed since: something that the policy asks again for, on a line because of
 * which it was asked for; or the amount of those lines (its cost centres' part of them) differs from what was approved by more than the
 * policy bears. Exactly so much does not ask; words never do.
 */
export function asksAgain(
  step: Pick<SeenStep, 'rules' | 'lineIds'>,
  before: SeenContent,
  after: SeenContent,
  policy: EditPolicy,
  centreOf: CentreOf,
): boolean {
  const own = new Set([...linesOf(step, before, centreOf), ...linesOf(step, after, centreOf)])
  const other = changesBetween(before, after).some(
    change =>
      change.field !== 'words' &&
      change.field !== 'amount' &&
      policy.fields[change.field] === 'again' &&
      own.has(change.lineId!),
  )
  if (other) return true
  if (policy.fields.amount !== 'again') return false
  return beyond(amountOf(step, before, own, centreOf), amountOf(step, after, own, centreOf), policy)
}

const linesOf = (step: Pick<SeenStep, 'rules' | 'lineIds'>, content: SeenContent, centreOf: CentreOf): Set<string> =>
  ownLines(
    [{ costCentres: step.rules.map(rule => rule.costCentre), lineIds: step.lineIds }],
    content.lines.map(line => ({ id: line.id, costCentres: centresOf(line, centreOf) })),
  )

const centresOf = (line: SeenLine, centreOf: CentreOf): string[] =>
  line.splits.flatMap(split => centreOf(split.accountId) ?? [])

function amountOf(
  { rules }: Pick<SeenStep, 'rules'>,
  { lines }: SeenContent,
  own: ReadonlySet<string>,
  centreOf: CentreOf,
): bigint {
  const all = rules.length === 0 || rules.some(rule => rule.costCentre === null)
  const centres = new Set(rules.map(rule => rule.costCentre))
  return lines
    .filter(line => own.has(line.id) && !line.gone)
    .flatMap(line => splitAmounts(minor(BigInt(line.baseAmount)), line.splits))
    .filter(part => all || centres.has(centreOf(part.accountId) ?? null))
    .reduce((sum, part) => sum + part.amount, 0n)
}

/** Whether an amount differs from another by more than is borne: in money or in per cent, whichever is less. */
function beyond(before: bigint, after: bigint, { tolerance, tolerancePercent, decreases }: EditPolicy): boolean {
  if (after === before || (after < before && !decreases)) return false
  const difference = new Decimal((after - before).toString()).abs()
  return (
    difference.gt(tolerance) || difference.times(100).gt(new Decimal(before.toString()).abs().times(tolerancePercent))
  )
}

/**
 * The decisions in favour that stand for a request as it is now. Where everybody is to be asked again, none of the last round does as soon as
 * one of them does not; a change that is undone lets them stand again.
 */
export function stillStanding(
  taken: readonly SeenStep[],
  contents: ReadonlyMap<string, SeenContent>,
  now: SeenContent,
  policy: EditPolicy,
  centreOf: CentreOf,
): SeenStep[] {
  const approved = taken.filter(step => step.state === 'approved' && step.decidedBy !== null)
  const stands = (step: SeenStep): boolean => {
    const saw = step.seenHash === null ? undefined : contents.get(step.seenHash)
    return saw !== undefined && !asksAgain(step, saw, now, policy, centreOf)
  }
  const still = approved.filter(stands)
  const last = Math.max(0, ...taken.map(step => step.round))
  const broken = approved.some(step => step.round === last && !still.includes(step))
  return policy.again === 'all' && broken ? [] : still
}
