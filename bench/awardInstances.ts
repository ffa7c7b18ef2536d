import type { InstanceFile } from '#core/award/instanceFile.ts'

/** Sizes of the measured instances: lines, suppliers, how many may be used. */
export const SIZES = { small: [20, 6, 3], medium: [100, 12, 5], large: [300, 20, 6], xlarge: [1000, 30, 8] } as const
export type InstanceSize = keyof typeof SIZES

/** Numbers from 0 to 1 that come the same for the same seed (mulberry32). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32
  }
}

const rounded = (quantity: number): number => {
  const to = quantity < 20 ? 1 : quantity < 500 ? 5 : quantity < 1000 ? 10 : 50
  return Math.max(1, Math.round(quantity / to) * to)
}

/**
 * An instance of the distribution that the format describes: skewed values of lines, six bids in ten, tiers, capacities that do not carry a line,
 * minimums, charges, levels of rebate, a quarter of the suppliers near and dearer. Some suppliers are made to carry everything together, so that there
 * is an award.
 */
export function awardInstance(size: InstanceSize, seed: number): InstanceFile {
  const [lineCount, supplierCount, most] = SIZES[size]
  const random = seeded(seed * 7919 + lineCount)
  const values = Array.from({ length: lineCount }, () => (300 + 60_000 * random() ** 3) * 100)
  const whole = values.reduce((sum, one) => sum + one, 0)
  const lines = values.map((_value, index) => ({ id: `L${index + 1}`, demand: rounded(12 * (3300 / 12) ** random()) }))
  const near = Math.max(1, Math.round(supplierCount / 4))
  const suppliers = Array.from({ length: supplierCount }, (_one, index) => ({
    id: `S${index + 1}`,
    local: index < near,
    fixedCharge: Math.round((whole * (0.002 + 0.01 * random())) / 1000) * 1000,
    rebates: random() < 0.6 ? levels(random, whole) : [],
  }))
  // one that is near and enough others carry every line between them
  const carrying = new Set([Math.floor(random() * near), ...shuffled(random, supplierCount).slice(0, most - 1)].slice(0, most)) // prettier-ignore
  const bids = lines.flatMap((line, index) => {
    const own = suppliers.flatMap(({ local }, at) => {
      if (random() > 0.6) return []
      return [{ at, bid: bidFor(random, line, suppliers[at]!.id, values[index]! / line.demand, local) }]
    })
    const carried = own.filter(one => carrying.has(one.at))
    if (
      carried.reduce((sum, one) => sum + one.bid.capacity, 0) < line.demand ||
      carried.every(one => one.bid.moq > 0)
    ) {
      const at = [...carrying][index % carrying.size]!
      const known = own.find(one => one.at === at)
      const bid = known?.bid ?? bidFor(random, line, suppliers[at]!.id, values[index]! / line.demand, suppliers[at]!.local) // prettier-ignore
      const full = { ...bid, capacity: Math.max(bid.capacity, line.demand), moq: 0 }
      if (known) known.bid = full
      else own.push({ at, bid: full })
    }
    return own.map(one => one.bid)
  })
  return { lines, suppliers, bids, rules: { maxSuppliers: most, minLocalShareBp: 1000, maxSupplierShareBp: 6000 } }
}

function levels(random: () => number, whole: number): { minSpend: number; rateBp: number }[] {
  let minSpend = 0
  let rateBp = 0
  return Array.from({ length: 1 + Math.floor(random() * 3) }, () => {
    minSpend += Math.round((whole * (0.08 + 0.08 * random())) / 100_000) * 100_000
    rateBp += 80 + 10 * Math.floor(random() * 11)
    return { minSpend, rateBp }
  })
}

function bidFor(
  random: () => number,
  { id, demand }: { id: string; demand: number },
  supplier: string,
  value: number,
  local: boolean,
): InstanceFile['bids'][number] {
  const first = value * (0.9 + 0.25 * random()) * (local ? 1.01 + 0.05 * random() : 1)
  const capacity = Math.max(1, Math.round(demand * (random() < 0.5 ? 0.35 + random() : 1 + 0.35 * random())))
  const moq = random() < 0.5 ? Math.min(capacity, Math.round(demand * (0.05 + 0.3 * random()))) : 0
  let minQty = 1
  let price = Math.max(1, first)
  const tiers = Array.from({ length: 2 + Math.floor(random() * 3) }, () => {
    const tier = { minQty, unitPrice: Math.max(1, Math.round(price)) }
    minQty += Math.max(1, Math.round(demand * (0.1 + 0.35 * random())))
    price *= 0.95 + 0.04 * random()
    return tier
  })
  return { line: id, supplier, capacity, moq, tiers }
}

const shuffled = (random: () => number, count: number): number[] =>
  Array.from({ length: count }, (_one, index) => ({ index, key: random() }))
    .sort((a, b) => a.key - b.key)
    .map(one => one.index)
