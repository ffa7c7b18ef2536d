import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { ExtensionRule, LotRules } from '#core/source/auctionRules.ts'

/** The longest a late bid moves the end, and the longest that counts as late: a day, in seconds. */
const LONGEST = 86_400

/** What stands against the rules of a lot: figures that make no sense, or a step that would tell what is sealed. */
export const checkLotRules = (rules: LotRules): Reason[] => [
  ...checkStep(rules),
  ...(rules.ceiling === null || rules.ceiling > 0n ? [] : [stop('lot.ceilingAboveZero', {}, { place: 'ceiling' })]),
  ...[...rules.lineCeilings].flatMap(([lineId, most]) =>
    most > 0n ? [] : [stop('lot.ceilingAboveZero', {}, { place: `lines.${lineId}.ceiling` })],
  ),
  ...(rules.extension ? checkExtension(rules.extension) : []),
]

function checkStep({ step, sealed }: LotRules): Reason[] {
  if (step.kind === 'none') return []
  const at = { place: 'step' }
  const figure =
    step.kind === 'amount'
      ? step.amount > 0n
        ? []
        : [stop('lot.stepAboveZero', {}, at)]
      : isDecimalText(step.percent) && new Decimal(step.percent).gt(0) && new Decimal(step.percent).lt(100)
        ? []
        : [stop('lot.stepPercent', {}, at)]
  return [...figure, ...(sealed && step.against === 'best' ? [stop('lot.stepTellsSealed', {}, at)] : [])]
}

function checkExtension({ withinSeconds, bySeconds, places, most }: ExtensionRule): Reason[] {
  const whole = (value: number, least: number, largest: number): boolean =>
    Number.isInteger(value) && value >= least && value <= largest
  return [
    ...(whole(withinSeconds, 1, LONGEST) && whole(bySeconds, 1, LONGEST)
      ? []
      : [stop('lot.extensionSeconds', { most: LONGEST }, { place: 'extension' })]),
    ...(places === null || whole(places, 1, 1000) ? [] : [stop('lot.extensionPlaces', {}, { place: 'extension' })]),
    ...(most === null || whole(most, 1, 1000) ? [] : [stop('lot.extensionMost', {}, { place: 'extension' })]),
  ]
}
