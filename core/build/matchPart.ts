import type { PartLine } from '#core/build/partsList.ts'
import { wordLikeness } from '#core/source/likeness.ts'
import { plainLetters } from '#core/source/names.ts'
import { type PackConversion, unitsIn } from '#core/units/units.ts'

/** An item that a line may be. */
export interface MatchItem {
  readonly id: string
  readonly number: string
  readonly name: string
  readonly alsoCalled: string
  readonly maker: string
  readonly makerNumber: string
  readonly gtin: string
  readonly unit: string
  readonly packs: readonly PackConversion[]
  /** Numbers that suppliers give it. */
  readonly supplierNumbers: readonly string[]
}

/** Why an item is thought to be what a line says, or what speaks against it. */
export const MATCH_REASONS = [
  'number',
  'makerNumber',
  'gtin',
  'supplierNumber',
  'words',
  'otherSize',
  'otherMaker',
  'otherUnit',
] as const
export type MatchReason = (typeof MATCH_REASONS)[number]

export interface PartMatch {
  readonly itemId: string
  /** Likeness in per cent. */
  readonly likeness: number
  readonly reasons: readonly MatchReason[]
}

/** From here on a match is taken without asking, as long as no other is as good. */
export const SURE = 90
/** From here on it is offered. */
export const OFFERED = 40
const MOST_OFFERED = 5

const code = (text: string): string => text.toLowerCase().replace(/[\s._/-]+/g, '')
const wordsOf = (text: string): string[] =>
  plainLetters(text)
    .toLowerCase()
    .replace(/(\d)[,.](\d)/g, '$1_$2')
    .split(/[^\p{L}\p{N}_]+/u)
    .flatMap(word => word.split(/(?<=\d)(?=\p{L}{1,3}$)/u))
    .filter(Boolean)
const isSize = (word: string): boolean => /\d/.test(word)

/**
 * How alike a line and an item are: a number that agrees makes them sure (its own, its maker's, a supplier's, a GTIN), unless the maker or the kind
 * of unit is another; words are compared one by one, sizes twice as heavy and only equal (a pipe of 32 mm is none of 25 mm).
 *
 * matchPart(…'Seal ring 12 mm'…, …'Seal ring 12 mm, EPDM'…) //=> { likeness: 79, reasons: ['words'] }
 */
export function matchPart(line: PartLine, item: MatchItem): PartMatch {
  const reasons: MatchReason[] = []
  const same = (mine: string, theirs: readonly string[]): boolean =>
    code(mine).length > 2 && theirs.some(one => code(one) === code(mine))
  if (same(line.number, [item.number])) reasons.push('number')
  if (same(line.makerNumber, [item.makerNumber]) || same(line.number, [item.makerNumber])) reasons.push('makerNumber')
  if (line.gtin !== '' && line.gtin === item.gtin) reasons.push('gtin')
  if (same(line.number, item.supplierNumbers) || same(line.makerNumber, item.supplierNumbers))
    reasons.push('supplierNumber')
  const words = wordsLikeness(wordsOf(line.description), wordsOf(`${item.name} ${item.maker}`))
  const also = item.alsoCalled === '' ? words : wordsLikeness(wordsOf(line.description), wordsOf(item.alsoCalled))
  const best = also.likeness > words.likeness ? also : words
  if (best.likeness >= OFFERED / 100) reasons.push('words')
  const sure = reasons.some(one => one !== 'words')
  if (line.maker !== '' && item.maker !== '' && !alike(line.maker, item.maker)) reasons.push('otherMaker')
  if (best.otherSize && !sure) reasons.push('otherSize')
  if (unitsIn(line.unit, item.unit, item.packs) === undefined) reasons.push('otherUnit')
  const base = sure ? 0.96 + 0.04 * best.likeness : best.likeness * WORDS_ONLY
  const against = (reasons.includes('otherMaker') ? 0.25 : 0) + (reasons.includes('otherUnit') ? 0.2 : 0)
  return { itemId: item.id, likeness: Math.round(Math.max(0, base - against) * 100), reasons }
}

/** Words alone never make a match sure. */
const WORDS_ONLY = 0.89
const alike = (a: string, b: string): boolean => {
  const [mine, theirs] = [wordsOf(a), wordsOf(b)]
  return mine.some(word => theirs.some(other => wordLikeness(word, other) >= 0.85))
}

function wordsLikeness(mine: readonly string[], theirs: readonly string[]): { likeness: number; otherSize: boolean } {
  const weight = (word: string): number => (isSize(word) ? 2 : word.length <= 2 ? 0.5 : 1)
  const whole = mine.reduce((sum, word) => sum + weight(word), 0)
  if (whole === 0) return { likeness: 0, otherSize: false }
  let found = 0
  const used = new Set<number>()
  for (const word of mine) {
    let [best, at] = [0, -1]
    for (const [other, their] of theirs.entries()) {
      const likeness = used.has(other) ? 0 : wordLikeness(word, their)
      if (likeness > best) [best, at] = [likeness, other]
    }
    if (at >= 0) used.add(at)
    found += best * weight(word)
  }
  const extra = theirs.reduce((sum, word, at) => sum + (used.has(at) ? 0 : weight(word)), 0)
  const sizes = mine.filter(isSize)
  const otherSize = sizes.length > 0 && theirs.some(isSize) && sizes.every(size => !theirs.includes(size))
  return { likeness: ((2 * found) / (2 * whole + extra)) * (otherSize ? 0.6 : 1), otherSize }
}

/** What the best matches of a line come to: one that is sure, or some to choose from, the most alike first. */
export function bestMatches(
  line: PartLine,
  items: readonly MatchItem[],
): { sure: PartMatch | null; offered: PartMatch[] } {
  const offered = items
    .map(item => matchPart(line, item))
    .filter(match => match.likeness >= OFFERED)
    .sort((a, b) => b.likeness - a.likeness || (a.itemId < b.itemId ? -1 : 1))
    .slice(0, MOST_OFFERED)
  const [first, second] = offered
  const sure = first && first.likeness >= SURE && (!second || second.likeness < SURE) ? first : null
  return { sure, offered: sure ? [] : offered }
}
