import { type Buy, buyPart } from '#core/build/buyPart.ts'
import { goodsCost } from '#core/build/offers.ts'
import { MOST_STEPS, needAt } from '#core/build/need.ts'
import type { Choice, NoPrice, ReadyBuild, ReadyPart } from '#core/build/prepareBuild.ts'

/** What is bought of one part. Quantities are in steps of the choice, money in the costing currency's smallest unit. */
export interface CostedPart {
  /** Which of its choices is taken; -1 where none can be. */
  readonly choice: number
  /** All that is needed, before what lies in the house. */
  readonly need: number
  readonly fromStock: number
  readonly buys: readonly Buy[]
  readonly quantity: number
  readonly cost: number
  readonly noPrice: NoPrice | null
}

export interface CostedBuild {
  readonly builds: number
  readonly parts: readonly CostedPart[]
  readonly total: bigint
  readonly unpriced: number
}

/** What one choice for a part comes to; null where it cannot be had. */
export function buyChoice(choice: Choice, builds: number): Omit<CostedPart, 'choice' | 'noPrice'> | null {
  const need = needAt(choice.need, builds)
  const fromStock = Math.min(need, choice.need.nearly.onHand)
  const buys = need === Infinity ? null : buyPart(choice.buyable, need - fromStock)
  if (!buys) return null
  let [quantity, cost] = [0, 0]
  for (const one of buys) [quantity, cost] = [quantity + one.quantity, cost + one.cost]
  return Number.isSafeInteger(cost) ? { need, fromStock, buys, quantity, cost } : null
}

/** What one part comes to: its own item, or one that may take its place where the rule for that lets it. */
export function costPart(part: ReadyPart, builds: number, whereCheaper: boolean): CostedPart {
  let best: CostedPart | undefined
  for (const [choice, one] of part.choices.entries()) {
    if (best && !whereCheaper) break
    const bought = buyChoice(one, builds)
    if (bought && (!best || bought.cost < best.cost)) best = { choice, ...bought, noPrice: null }
  }
  if (best) return best
  const need = part.choices[0] ? needAt(part.choices[0].need, builds) : 0
  return { choice: -1, need, fromStock: 0, buys: [], quantity: 0, cost: 0, noPrice: whyNothing(part, need) }
}

function whyNothing(part: ReadyPart, need: number): NoPrice {
  if (part.without !== null) return part.without
  if (need === Infinity) return 'tooMuch'
  if (part.limits.stockedOnly) return 'stock'
  return part.limits.excess ? 'tooMuch' : 'excess'
}

/** What a number of builds costs to buy: every part once, its cost rounded once, and their sum. Parts without a price are counted, not guessed. */
export function costBuild(ready: ReadyBuild, builds: number): CostedBuild {
  const whereCheaper = ready.settings.alternates === 'whereCheaper'
  const parts = ready.parts.map(part => costPart(part, builds, whereCheaper))
  let [total, sum, unpriced] = [0n, 0, 0]
  for (const part of parts) {
    if (part.noPrice !== null) unpriced++
    sum += part.cost
    if (sum > MOST_STEPS) [total, sum] = [total + BigInt(sum), 0]
  }
  return { builds, parts, total: total + BigInt(sum), unpriced }
}

/** Bought beyond what is needed, in steps. */
export const excessOf = (part: CostedPart): number => Math.max(0, part.quantity - (part.need - part.fromStock))

/** What the excess of a part is worth at the prices paid for its goods, rounded once, half away from zero. */
export function excessValue(part: CostedPart): number {
  const excess = excessOf(part)
  if (excess === 0) return 0
  const goods = part.buys.reduce((sum, one) => sum + goodsCost(one.prepared, one.quantity), 0)
  return Number((2n * BigInt(goods) * BigInt(excess) + BigInt(part.quantity)) / (2n * BigInt(part.quantity)))
}
