interface Known {
  readonly id: string
}
/** A draft whose lines are told apart by their ids; fields compare by their JSON. */
export interface Draft<L extends Known> {
  readonly title: string
  readonly reason: string
  readonly lines: readonly L[]
}
export interface MergeNews {
  readonly kind: 'theirs' | 'yoursKept' | 'theyRemoved' | 'youRemoved'
  /** `title`, `reason`, or the id of a line. */
  readonly where: string
  readonly field: string
}

const namesOf = <L extends object>(...lines: readonly L[]): (keyof L & string)[] =>
  [...new Set(lines.flatMap(line => Object.keys(line)))] as (keyof L & string)[]

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

/**
 * Brings two edits of one draft together, field by field, from what both began with. What only one of them changed is taken; where both
 * changed the same field, what is typed here stays and is told. A line that one took out and the other changed stays.
 */
export function mergeDrafts<L extends Known>(
  base: Draft<L>,
  mine: Draft<L>,
  theirs: Draft<L>,
): { draft: { title: string; reason: string; lines: L[] }; news: MergeNews[] } {
  const news: MergeNews[] = []
  const field = <T>(where: string, name: string, was: T | undefined, here: T, there: T): T => {
    if (same(here, there) || same(was, there)) return here
    if (same(was, here)) {
      news.push({ kind: 'theirs', where, field: name })
      return there
    }
    news.push({ kind: 'yoursKept', where, field: name })
    return here
  }
  const of = (draft: Draft<L>): Map<string, L> => new Map(draft.lines.map(line => [line.id, line]))
  const [was, here, there] = [of(base), of(mine), of(theirs)]
  const order = [...mine.lines.map(line => line.id), ...theirs.lines.map(line => line.id).filter(id => !here.has(id))]
  const lines = order.flatMap((id): L[] => {
    const [before, own, other] = [was.get(id), here.get(id), there.get(id)]
    if (own && other)
      return [
        {
          ...own,
          ...Object.fromEntries(
            namesOf(own, other).map(name => [name, field(id, name, before?.[name], own[name], other[name])]),
          ),
        },
      ]
    if (own && !other) {
      if (!before || !same(before, own)) return [own]
      news.push({ kind: 'theyRemoved', where: id, field: '' })
      return []
    }
    if (before && same(before, other)) return []
    news.push({ kind: before ? 'youRemoved' : 'theirs', where: id, field: '' })
    return [other!]
  })
  return {
    draft: {
      ...mine,
      title: field('title', 'title', base.title, mine.title, theirs.title),
      reason: field('reason', 'reason', base.reason, mine.reason, theirs.reason),
      lines,
    },
    news,
  }
}
