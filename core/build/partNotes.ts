import { buyChoice, type CostedBuild, type CostedPart, excessOf } from '#core/build/costBuild.ts'
import { allowedSteps, tiersRise } from '#core/build/offers.ts'
import type { Choice, ReadyBuild, ReadyPart } from '#core/build/prepareBuild.ts'
import { formatAmount } from '#core/money/amount.ts'
import { check, note, type Reason, stop } from '#core/reasons.ts'
import { stepsText } from '#core/build/steps.ts'

/** From which share of the total, in per cent, a minimum is said to drive the cost. */
const DRIVES = 5
/** Of the total, in per cent, with one digit. */
export const shareOf = (cost: number, total: bigint): number =>
  total === 0n ? 0 : Math.round((cost / Number(total)) * 1000) / 10

/**
 * What there is to know of a part: why it has no price, what makes it dear (a minimum of 2 000 for a need of 12: 31 % of the total), what would be
 * cheaper, what was decided for it. The first is the one that wants a look most.
 */
export function partNotes(ready: ReadyBuild, costed: CostedBuild, at: number): Reason[] {
  const [part, bought] = [ready.parts[at]!, costed.parts[at]!]
  if (bought.noPrice !== null) return [...discontinued(part), stop(`build.no.${bought.noPrice}`)]
  const choice = part.choices[bought.choice]!
  return [
    ...dominating(choice, bought, costed.total),
    ...discontinued(part),
    ...insteadCheaper(ready, part, bought, costed.builds),
    ...(bought.choice > 0 ? [note('build.alternateTaken', { item: choice.item.name })] : []),
    ...supplierNotes(part, bought),
    ...(bought.buys.length > 1 ? [note('build.split', { suppliers: bought.buys.length })] : []),
    ...quantityNotes(choice, bought),
    ...(bought.buys.some(one => !tiersRise(one.prepared.offer.tiers)) ? [note('build.tiersOdd')] : []),
    ...(bought.fromStock > 0
      ? [note('build.fromStock', { quantity: stepsText(bought.fromStock, choice.digits) })]
      : []),
  ]
}

function dominating(choice: Choice, bought: CostedPart, total: bigint): Reason[] {
  const [one] = bought.buys
  const open = bought.need - bought.fromStock
  if (!one || bought.buys.length > 1 || one.quantity !== allowedSteps(one.prepared, 1) || one.quantity < 2 * open)
    return []
  const share = shareOf(bought.cost, total)
  if (share < DRIVES) return []
  return [
    check('build.minimumDrives', {
      minimum: stepsText(one.quantity, choice.digits),
      need: stepsText(open, choice.digits),
      share: String(share),
    }),
  ]
}

const discontinued = (part: ReadyPart): Reason[] =>
  part.item?.discontinued
    ? [
        check(part.item.replacedBy === null ? 'build.discontinued' : 'build.discontinuedTake', {}, {
          place: part.item.replacedBy ?? undefined,
        } as { place?: string }),
      ]
    : []

/** An approved alternate that would cost less than what is taken. */
function insteadCheaper(ready: ReadyBuild, part: ReadyPart, bought: CostedPart, builds: number): Reason[] {
  if (ready.settings.alternates === 'whereCheaper') return []
  const others = part.choices.flatMap((choice, index) => {
    const other = index === bought.choice ? null : buyChoice(choice, builds)
    return other && other.cost < bought.cost ? [{ choice, cost: other.cost }] : []
  })
  const [best] = others.sort((a, b) => a.cost - b.cost)
  return best
    ? [
        check(
          'build.alternateCheaper',
          {
            item: best.choice.item.name,
            less: formatAmount(BigInt(bought.cost - best.cost), ready.settings.currency),
            currency: ready.settings.currency,
          },
          { place: best.choice.item.id },
        ),
      ]
    : []
}

function supplierNotes(part: ReadyPart, bought: CostedPart): Reason[] {
  const { limits, settings } = part
  if (settings.offerId !== undefined)
    return bought.buys.some(one => one.prepared.offer.id === settings.offerId)
      ? [note('build.byHand')]
      : [check('build.handGone')]
  const preferred = limits.policy === 'preferred' && limits.preferred.length > 0
  return preferred && bought.buys.some(one => !limits.preferred.includes(one.prepared.offer.supplierId))
    ? [note('build.nonePreferred')]
    : []
}

function quantityNotes(choice: Choice, bought: CostedPart): Reason[] {
  const [one] = bought.buys
  const excess = excessOf(bought)
  if (!one || bought.buys.length > 1 || excess === 0) return []
  const open = bought.need - bought.fromStock
  const quantity = stepsText(one.quantity, choice.digits)
  if (one.quantity > allowedSteps(one.prepared, open)) return [note('build.tierAbove', { quantity })]
  if (one.quantity === allowedSteps(one.prepared, 1)) return [note('build.minimum', { minimum: quantity })]
  return [note('build.packs', { multiple: stepsText(one.prepared.multiple, choice.digits) })]
}
