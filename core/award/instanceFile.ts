import { type AwardProblem, segmentsOf, WHOLE } from '#core/award/problem.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'

/** A file of the format quote-award-instance, version 1: money in whole cents, quantities in whole units, rates in basis points. */
export interface InstanceFile {
  readonly lines: readonly { readonly id: string; readonly demand: number }[]
  readonly suppliers: readonly {
    readonly id: string
    readonly local: boolean
    readonly fixedCharge: number
    readonly rebates: readonly { readonly minSpend: number; readonly rateBp: number }[]
  }[]
  readonly bids: readonly {
    readonly line: string
    readonly supplier: string
    readonly capacity: number
    readonly moq: number
    readonly tiers: readonly { readonly minQty: number; readonly unitPrice: number }[]
  }[]
  readonly rules: {
    readonly maxSuppliers?: number | null
    readonly minLocalShareBp?: number | null
    readonly maxSupplierShareBp?: number | null
  }
}

/**
 * The problem of an instance file.
 *
 * @throws RuleBroken with every figure that cannot be meant: a bid for no line, two for one line, a capacity below one, a price or charge below zero, a
 * rate above the whole, levels or tiers twice, a sum that is not exact any more
 */
export function problemOfInstance(file: InstanceFile): AwardProblem {
  const faults = faultsOf(file)
  if (faults.length > 0) throw new RuleBroken(faults)
  const lineAt = new Map(file.lines.map((line, index) => [line.id, index]))
  const supplierAt = new Map(file.suppliers.map((supplier, index) => [supplier.id, index]))
  const bids: (ReturnType<typeof segmentsOf> | undefined)[][] = file.lines.map(() =>
    file.suppliers.map(() => undefined),
  )
  for (const bid of file.bids) {
    const line = lineAt.get(bid.line)!
    const tiers = bid.tiers.map(tier => ({ from: tier.minQty, price: tier.unitPrice }))
    bids[line]![supplierAt.get(bid.supplier)!] = segmentsOf(
      { capacity: bid.capacity, minimum: bid.moq, tiers, tierPrices: 'allUnits' },
      file.lines[line]!.demand,
    )
  }
  const { maxSuppliers, minLocalShareBp } = file.rules
  const mostShare = file.rules.maxSupplierShareBp ?? WHOLE
  const local = file.suppliers.flatMap((supplier, index) => (supplier.local ? [index] : []))
  return {
    demands: file.lines.map(line => line.demand),
    suppliers: file.suppliers.map(({ id, fixedCharge, rebates }) => ({
      id,
      charge: fixedCharge,
      levels: [
        { from: 0, rate: 0, offset: 0 },
        ...rebates
          .map(({ minSpend, rateBp }) => ({ from: minSpend, rate: rateBp, offset: 0 }))
          .sort((a, b) => a.from - b.from),
      ],
    })),
    bids,
    mostSuppliers: maxSuppliers ?? file.suppliers.length,
    spendRules: [
      ...(minLocalShareBp ? [{ suppliers: local, leastShare: minLocalShareBp }] : []),
      ...(mostShare >= WHOLE ? [] : file.suppliers.map((_one, index) => ({ suppliers: [index], mostShare }))),
    ],
    lotCharges: [],
    bundles: [],
  }
}

const whole = (value: unknown, least: number): boolean => Number.isSafeInteger(value) && (value as number) >= least
/** What an exact sum may come to, with room for the weighing of shares. */
const MOST_GOODS = Number.MAX_SAFE_INTEGER / WHOLE

function faultsOf(file: InstanceFile): Reason[] {
  const lines = new Map(file.lines.map(line => [line.id, line]))
  const suppliers = new Set(file.suppliers.map(one => one.id))
  const seen = new Set<string>()
  const twice = (ids: readonly string[]): string[] => ids.filter((id, index) => ids.indexOf(id) < index)
  return [
    ...(file.lines.length === 0 ? [stop('awardFile.missing', { place: 'lines' })] : []),
    ...(file.suppliers.length === 0 ? [stop('awardFile.missing', { place: 'suppliers' })] : []),
    ...twice(file.lines.map(one => one.id)).map(id => stop('awardFile.twice', { place: id })),
    ...twice(file.suppliers.map(one => one.id)).map(id => stop('awardFile.twice', { place: id })),
    ...file.lines.flatMap(line => (whole(line.demand, 1) ? [] : [stop('awardFile.demand', { place: line.id })])),
    ...file.suppliers.flatMap(one => [
      ...(whole(one.fixedCharge, 0) ? [] : [stop('awardFile.charge', { place: one.id })]),
      ...(one.rebates.every(level => whole(level.minSpend, 0) && whole(level.rateBp, 0) && level.rateBp <= WHOLE)
        ? []
        : [stop('awardFile.rebate', { place: one.id })]),
      ...(new Set(one.rebates.map(level => level.minSpend)).size < one.rebates.length
        ? [stop('awardFile.rebateTwice', { place: one.id })]
        : []),
    ]),
    ...file.bids.flatMap(bid => {
      const place = `${bid.line} ${bid.supplier}`
      if (!lines.has(bid.line) || !suppliers.has(bid.supplier)) return [stop('awardFile.unknown', { place: place })]
      if (seen.has(place)) return [stop('awardFile.twice', { place: place })]
      seen.add(place)
      return [
        ...(whole(bid.capacity, 1) ? [] : [stop('awardFile.capacity', { place: place })]),
        ...(whole(bid.moq, 0) ? [] : [stop('awardFile.minimum', { place: place })]),
        ...(bid.tiers.length > 0 && bid.tiers.every(tier => whole(tier.minQty, 0) && whole(tier.unitPrice, 0))
          ? []
          : [stop('awardFile.tiers', { place: place })]),
        ...(bid.tiers.some(tier => tier.unitPrice * (lines.get(bid.line)!.demand || 1) > MOST_GOODS)
          ? [stop('awardFile.tooMuch', { place: place })]
          : []),
      ]
    }),
  ]
}
