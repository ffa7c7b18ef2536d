import { saysWhy } from '#core/acts/decision.ts'
import { allocate } from '#core/money/allocate.ts'
import { minor } from '#core/money/amount.ts'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'
import { check, type Reason, stop } from '#core/reasons.ts'

/** A line of an event that can be awarded, with what it costs at each supplier who answered it. */
export interface AwardableLine {
  readonly id: string
  readonly quantity: string
  /** Landed cost of one unit, by supplier; those who cannot be awarded (knocked out, withdrawn, suspended) are missing. */
  readonly perUnit: ReadonlyMap<string, Decimal>
  /** Landed cost of one unit by quantity, for suppliers whose prices go by it: the first from nothing on, rising. */
  readonly tiers?: ReadonlyMap<string, readonly { readonly from: string; readonly perUnit: Decimal }[]>
  /** The least that each takes of it, by supplier; missing: whatever one wants. */
  readonly minimum: ReadonlyMap<string, string>
  /** Only whole multiples of it, by supplier; missing: any quantity. */
  readonly multiple?: ReadonlyMap<string, string>
}

/** Landed cost of one unit where a supplier gets so much of a line. */
export const unitCost = (line: AwardableLine, supplierId: string, quantity: string): Decimal =>
  line.tiers?.get(supplierId)?.filter(tier => new Decimal(tier.from).lte(quantity)).at(-1)?.perUnit ?? line.perUnit.get(supplierId)! // prettier-ignore

/** How much of a line goes to a supplier. */
export interface LineShare {
  readonly lineId: string
  readonly supplierId: string
  readonly quantity: string
}

/**
 * What stands against an award. Each share is above zero, of somebody who answered the line and takes as little, once for each supplier; together they
 * are no more than is asked for. Where anybody gets a part of a line who is not the cheapest for it, somebody has to say why.
 */
export function checkAward(lines: readonly AwardableLine[], shares: readonly LineShare[], reason: string): Reason[] {
  const known = new Map(lines.map(line => [line.id, line]))
  const stops = [
    ...(shares.length > 0 ? [] : [stop('award.nothing')]),
    ...shares.flatMap((share, index) => againstShare(known.get(share.lineId), share, shares.slice(0, index))),
    ...lines.flatMap(line => tooMuch(line, shares)),
  ]
  if (stops.length > 0) return stops
  const dearer = notCheapest(lines, shares)
  return dearer.length === 0 || saysWhy(reason)
    ? []
    : [stop('award.reason', {}, { place: 'reason' }), ...dearer.map(({ lineId }) => check('award.notCheapest', {}, { place: `lines.${lineId}` }))] // prettier-ignore
}

function againstShare(line: AwardableLine | undefined, share: LineShare, before: readonly LineShare[]): Reason[] {
  const at = { place: `lines.${share.lineId}` }
  if (!line?.perUnit.has(share.supplierId)) return [stop('award.noAnswer', {}, at)]
  const least = line.minimum.get(share.supplierId)
  const multiple = line.multiple?.get(share.supplierId)
  return [
    ...(new Decimal(share.quantity).gt(0) ? [] : [stop('award.aboveZero', {}, at)]),
    ...(least !== undefined && new Decimal(share.quantity).lt(least)
      ? [stop('award.belowMinimum', { least }, at)]
      : []),
    ...(multiple !== undefined && !new Decimal(share.quantity).mod(multiple).isZero()
      ? [stop('award.notMultiple', { multiple }, at)]
      : []),
    ...(before.some(one => one.lineId === share.lineId && one.supplierId === share.supplierId)
      ? [stop('award.twice', {}, at)]
      : []),
  ]
}

function tooMuch(line: AwardableLine, shares: readonly LineShare[]): Reason[] {
  const awarded = awardedOf(line.id, shares)
  return awarded.lte(line.quantity)
    ? []
    : [stop('award.tooMuch', { asked: line.quantity, awarded: awarded.toString() }, { place: `lines.${line.id}` })]
}

/** How much of a line is given to anybody. */
export const awardedOf = (lineId: string, shares: readonly LineShare[]): Decimal =>
  sumDecimals(shares.filter(one => one.lineId === lineId).map(one => one.quantity))

/** Shares that go to somebody who is dearer for that line than another who answered it, by how much in all. */
export function notCheapest(
  lines: readonly AwardableLine[],
  shares: readonly LineShare[],
): { readonly lineId: string; readonly supplierId: string; readonly more: Decimal }[] {
  const known = new Map(lines.map(line => [line.id, line]))
  return shares.flatMap(({ lineId, supplierId, quantity }) => {
    const line = known.get(lineId)!
    const cheapest = Decimal.min(...[...line.perUnit.keys()].map(one => unitCost(line, one, quantity)))
    const more = unitCost(line, supplierId, quantity).minus(cheapest).times(quantity)
    return more.gt(0) ? [{ lineId, supplierId, more }] : []
  })
}

/** Every line to the supplier who is cheapest for it; of equal ones to the first. Lines that nobody answered stay open. */
export const cheapestAward = (lines: readonly AwardableLine[]): LineShare[] =>
  lines.flatMap(line => {
    const [best] = [...line.perUnit].sort(([, a], [, b]) => a.comparedTo(b))
    return best ? [{ lineId: line.id, supplierId: best[0], quantity: line.quantity }] : []
  })

/** All that a supplier answered, to that supplier. */
export const awardAllTo = (lines: readonly AwardableLine[], supplierId: string): LineShare[] =>
  lines.flatMap(line =>
    line.perUnit.has(supplierId) ? [{ lineId: line.id, supplierId, quantity: line.quantity }] : [],
  )

/**
 * Quantities that stand for shares in per cent, in steps of the unit's digits; they add up to the whole (largest remainder, ties to the earlier).
 *
 * quantitiesByShare('10', 0, ['33', '67']) //=> ['3', '7']
 */
export function quantitiesByShare(quantity: string, digits: number, percents: readonly string[]): string[] {
  const scale = new Decimal(10).pow(digits)
  const steps = new Decimal(quantity).times(scale)
  // what the unit cannot divide goes with the first
  const whole = steps.floor()
  const rest = steps.minus(whole).dividedBy(scale)
  const parts = allocate(minor(BigInt(whole.toFixed(0))), percents)
  return parts.map((part, index) =>
    new Decimal(part.toString())
      .dividedBy(scale)
      .plus(index === 0 ? rest : 0)
      .toString(),
  )
}
