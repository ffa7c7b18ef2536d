import { assign } from '#core/bill/assign.ts'
import { Decimal } from '#core/money/decimal.ts'

/** A line of a bill that belongs to no order line that is known. Price is for one piece, in the bill's currency. */
export interface LooseLine {
  readonly id: string
  readonly words: string
  readonly sellerItem: string
  readonly buyerItem: string
  readonly order: string
  readonly orderLine: string
  readonly unit: string
  readonly quantity: string
  readonly price: string
}

/** A line of an order of the same supplier of which something is not billed. */
export interface OpenLine {
  readonly id: string
  readonly order: string
  readonly position: number
  readonly words: string
  readonly supplierItem: string
  readonly item: string
  /** Units that convert into that of the order line, itself among them, with how many of its units each holds. */
  readonly units: ReadonlyMap<string, string>
  /** Not billed yet, in its unit, and what has come in of that. */
  readonly open: string
  readonly proven: string
  /** For one of its unit, in the bill's currency. */
  readonly price: string
}

export const LIKENESS_REASONS = ['orderLine', 'order', 'supplierItem', 'item', 'words', 'price', 'quantity', 'proven', 'unit'] as const // prettier-ignore
export type LikenessReason = (typeof LIKENESS_REASONS)[number]

/** How much a line of a bill is like a line of an order, from 0 to 100, and what makes it so. */
export interface Likeness {
  readonly score: number
  readonly because: readonly LikenessReason[]
}

export interface LinkProposal extends Likeness {
  readonly lineId: string
  readonly orderLineId: string
  /** How many other order lines are nearly as like it: then somebody has to look. */
  readonly others: number
}

/** Points of each likeness; together they may pass a hundred, which counts as a hundred. */
const POINTS = { orderLine: 35, order: 15, supplierItem: 45, item: 45, words: 40, price: 20, quantity: 15, proven: 5, unit: 5 } as const // prettier-ignore
/** Below this nothing is proposed. */
export const LEAST_LIKE = 40
/** Another line is nearly as like when it is this near. */
const NEAR = 8
/** The price counts less the further it is off, and nothing from a quarter on. */
const FARTHEST_PRICE = 0.25
/** Only so many of the likest order lines of each line take part: the best of hundreds stands among them. */
const MOST_EACH = 40

interface Known {
  readonly tokens: ReadonlySet<string>
  readonly order: string
  readonly position: string
  readonly supplierItem: string
  readonly item: string
  readonly price: number
  readonly open: number
  readonly proven: number
  readonly units: ReadonlyMap<string, number>
}

/**
 * Which open order line each loose line of a bill belongs to most likely: likeness of every pair with its reasons, then the assignment of all lines at once
 * that is likest in sum, each order line taken once. Nothing is linked by it: a person says yes.
 */
export function linkProposals(loose: readonly LooseLine[], open: readonly OpenLine[]): LinkProposal[] {
  const known = open.map(knownOf)
  const index = indexOf(known)
  const scored = loose.map(line => likest(line, known, index))
  const columns = [...new Set(scored.flatMap(pairs => pairs.map(pair => pair.at)))]
  const column = new Map(columns.map((at, index) => [at, index]))
  const gains = scored.map(pairs => new Map(pairs.map(pair => [column.get(pair.at)!, pair.score])))
  const taken = assign(gains, columns.length)
  return loose.flatMap((line, row): LinkProposal[] => {
    const at = taken[row]
    if (at === undefined || at === null) return []
    const pair = scored[row]!.find(one => one.at === columns[at])!
    const others = scored[row]!.filter(one => one !== pair && one.score >= pair.score - NEAR).length
    return [{ lineId: line.id, orderLineId: open[pair.at]!.id, score: pair.score, because: pair.because, others }]
  })
}

interface Pair extends Likeness {
  readonly at: number
}

function likest(line: LooseLine, known: readonly Known[], index: WordIndex): Pair[] {
  const wanted = { tokens: tokensOf(line.words), order: plain(line.order), orderLine: line.orderLine.trim(), supplierItem: plain(line.sellerItem), item: plain(line.buyerItem), price: Number(line.price), quantity: Number(line.quantity), unit: line.unit } // prettier-ignore
  const same = sameWords(wanted.tokens, index, known.length)
  const parts = new Float64Array(ORDER.length)
  const pairs: { at: number; score: number }[] = []
  for (const [at, one] of known.entries()) {
    const score = weigh(wanted, one, alike(same[at]!, wanted.tokens.size, one.tokens.size), parts)
    if (score >= LEAST_LIKE) pairs.push({ at, score })
  }
  const best = pairs.sort((a, b) => b.score - a.score || a.at - b.at).slice(0, MOST_EACH)
  // what makes them like is only said of the few that are left
  return best.map(pair => {
    const one = known[pair.at]!
    weigh(wanted, one, alike(same[pair.at]!, wanted.tokens.size, one.tokens.size), parts)
    return { ...pair, because: ORDER.filter((_reason, at) => parts[at]! >= 0.5) }
  })
}

/** In which order lines each word stands. */
type WordIndex = ReadonlyMap<string, readonly number[]>
function indexOf(known: readonly Known[]): WordIndex {
  const index = new Map<string, number[]>()
  for (const [at, { tokens }] of known.entries())
    for (const word of tokens) {
      const places = index.get(word)
      if (places) places.push(at)
      else index.set(word, [at])
    }
  return index
}

/** How many of some words each order line has. */
function sameWords(words: ReadonlySet<string>, index: WordIndex, count: number): Uint16Array {
  const same = new Uint16Array(count)
  for (const word of words) for (const at of index.get(word) ?? []) same[at]!++
  return same
}

interface Wanted {
  readonly tokens: ReadonlySet<string>
  readonly order: string
  readonly orderLine: string
  readonly supplierItem: string
  readonly item: string
  readonly price: number
  readonly quantity: number
  readonly unit: string
}

/** In which order reasons are said; parts of a likeness stand at the same places. */
const ORDER = ['order', 'orderLine', 'supplierItem', 'item', 'words', 'unit', 'price', 'quantity', 'proven'] as const satisfies readonly LikenessReason[] // prettier-ignore
const WEIGHTS = ORDER.map(reason => POINTS[reason])
const [AT_ORDER, AT_LINE, AT_SUPPLIER_ITEM, AT_ITEM, AT_WORDS, AT_UNIT, AT_PRICE, AT_QUANTITY, AT_PROVEN] = [0, 1, 2, 3, 4, 5, 6, 7, 8] as const // prettier-ignore

/** Fills in how far each reason speaks for a pair, from 0 to 1, and answers the score; called a million times for a long bill, so that it makes nothing new. */
function weigh(wanted: Wanted, one: Known, words: number, parts: Float64Array): number {
  parts.fill(0)
  const sameOrder = wanted.order !== '' && wanted.order === one.order
  if (sameOrder) parts[AT_ORDER] = 1
  if ((sameOrder || wanted.order === '') && wanted.orderLine === one.position) parts[AT_LINE] = sameOrder ? 1 : 0.5
  if (wanted.supplierItem !== '' && wanted.supplierItem === one.supplierItem) parts[AT_SUPPLIER_ITEM] = 1
  if (wanted.item !== '' && wanted.item === one.item) parts[AT_ITEM] = 1
  parts[AT_WORDS] = words
  const holds = one.units.get(wanted.unit)
  if (holds !== undefined) {
    parts[AT_UNIT] = 1
    const price = wanted.price / holds
    parts[AT_PRICE] = one.price === 0 ? 0 : Math.max(0, 1 - Math.abs(price - one.price) / one.price / FARTHEST_PRICE)
    const quantity = wanted.quantity * holds
    parts[AT_QUANTITY] = quantity === one.open ? 1 : quantity < one.open ? 0.6 : 0
    if (one.proven > 0 && quantity <= one.proven) parts[AT_PROVEN] = 1
  }
  let score = 0
  for (let at = 0; at < WEIGHTS.length; at++) score += WEIGHTS[at]! * parts[at]!
  // in a unit that does not convert, words alone say little
  return Math.round(holds === undefined ? Math.max(0, score - POINTS.words) : Math.min(100, score))
}

const knownOf = (line: OpenLine): Known => ({
  tokens: tokensOf(line.words),
  order: plain(line.order),
  position: String(line.position),
  supplierItem: plain(line.supplierItem),
  item: plain(line.item),
  price: new Decimal(line.price).toNumber(),
  open: Number(line.open),
  proven: Number(line.proven),
  units: new Map([...line.units].map(([unit, holds]) => [unit, Number(holds)])),
})

/** Numbers compare without case, blanks and punctuation. */
const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .toUpperCase()
    .replace(/[^\p{L}\p{N}]/gu, '')

/** Words and figures of a line, without case and marks; single letters say nothing. */
const tokensOf = (text: string): ReadonlySet<string> =>
  new Set(
    text
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
      .filter(word => word.length > 1 || /\d/.test(word)),
  )

/** Dice's coefficient of two sets of words, by how many they share. alike(1, 2, 2) //=> 0.5 */
const alike = (same: number, a: number, b: number): number => (a === 0 || b === 0 ? 0 : (2 * same) / (a + b))
