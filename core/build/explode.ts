import { Decimal } from '#core/money/decimal.ts'
import { type PartLine, partKey } from '#core/build/partsList.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

/** Places that one list may be taken apart into. */
const MOST_PLACES = 200_000

/** So much of a part in one build, at one place of the list. */
export interface Use {
  readonly line: number
  /** In the line's unit, for one build: the product of the quantities down to it. */
  readonly perBuild: Decimal
}

/** A part that is bought: everything that the list says of it at all its places. */
export interface NeededPart {
  readonly key: string
  readonly uses: readonly Use[]
}

export interface Exploded {
  /** In the order in which the list names them first. */
  readonly parts: readonly NeededPart[]
  /** Ways from an assembly down to itself, or up from a line to itself; nothing in them is counted. */
  readonly circles: readonly (readonly number[])[]
  /** Lines without a quantity that can be reckoned with. */
  readonly unclear: readonly number[]
}

/**
 * What one build needs of every part: an assembly that is made is taken apart down to what is bought. An assembly whose parts are listed once
 * and that is named again elsewhere is made of the same parts there. The same part at several places is one part.
 *
 * @throws RuleBroken build.tooMany where it is taken apart into more than 200 000 places
 * @param made whether a line that has parts is made of them; else it is bought whole
 */
export function explode(lines: readonly PartLine[], made: (line: number) => boolean = () => true): Exploded {
  const children = lines.map(() => [] as number[])
  const tops: number[] = []
  for (const [at, line] of lines.entries()) (line.parent === null ? tops : children[line.parent]!).push(at)
  const listed = firstListed(lines, children)
  const parts = new Map<string, Use[]>()
  const circles = parentCircles(lines)
  const unclear = new Set<number>()
  let places = 0
  const walk = (at: number, times: Decimal, way: readonly number[]): void => {
    if (++places > MOST_PLACES) throw new RuleBroken(stop('build.tooMany', { most: MOST_PLACES }))
    const line = lines[at]!
    if (line.quantity === null) {
      unclear.add(at)
      return
    }
    const perBuild = times.times(line.quantity)
    const key = partKey(line)
    const below = children[at]!.length > 0 ? at : listed.get(key)
    if (below === undefined || !made(at)) {
      const uses = parts.get(key)
      if (uses) uses.push({ line: at, perBuild })
      else parts.set(key, [{ line: at, perBuild }])
      return
    }
    const back = way.findIndex(one => partKey(lines[one]!) === key)
    if (back >= 0) {
      circles.push([...way.slice(back), at])
      return
    }
    for (const child of children[below]!) walk(child, perBuild, [...way, at])
  }
  for (const top of tops) walk(top, new Decimal(1), [])
  return { parts: [...parts].map(([key, uses]) => ({ key, uses })), circles, unclear: [...unclear] }
}

/** Lines whose way up leads back to themselves; each circle once. */
function parentCircles(lines: readonly PartLine[]): number[][] {
  const circles: number[][] = []
  const seen = new Map<number, number>()
  for (const start of lines.keys()) {
    const way: number[] = []
    let at: number | null = start
    while (at !== null && !seen.has(at)) {
      seen.set(at, start)
      way.push(at)
      at = lines[at]!.parent
    }
    if (at !== null && seen.get(at) === start) circles.push([...way.slice(way.indexOf(at)), at])
  }
  return circles
}

/** Where the parts of each assembly are listed; of several lists of one assembly the first counts. */
function firstListed(lines: readonly PartLine[], children: readonly (readonly number[])[]): Map<string, number> {
  const listed = new Map<string, number>()
  for (const [at, line] of lines.entries()) {
    const key = partKey(line)
    if (children[at]!.length > 0 && !listed.has(key)) listed.set(key, at)
  }
  return listed
}
