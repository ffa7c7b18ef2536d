/** Lines of a draft as fields by name; anything that compares by its JSON. */
export interface DraftLine {
  readonly id: string
  readonly [field: string]: unknown
}
export interface Draft {
  readonly title: string
  readonly reason: string
  readonly lines: readonly DraftLine[]
}
export interface MergeNews {
  readonly kind: 'theirs' | 'yoursKept' | 'theyRemoved' | 'youRemoved'
  /** `title`, `reason`, or the id of a line. */
  readonly where: string
  readonly field: string
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

/**
 * Brings two edits of one draft together, field by field, from what both began with. What only one of them changed is taken; where both
 * changed the same field, what is typed here stays and is told. A line that one took out and the other changed stays.
 */
export function mergeDrafts<D extends Draft>(base: D, mine: D, theirs: D): { draft: D; news: MergeNews[] } {
  const news: MergeNews[] = []
  const field = (where: string, name: string, was: unknown, here: unknown, there: unknown): unknown => {
    if (same(here, there) || same(was, there)) return here
    if (same(was, here)) {
      news.push({ kind: 'theirs', where, field: name })
      return there
    }
    news.push({ kind: 'yoursKept', where, field: name })
    return here
  }
  const of = (draft: D): Map<string, DraftLine> => new Map(draft.lines.map(line => [line.id, line]))
  const [was, here, there] = [of(base), of(mine), of(theirs)]
  const order = [...mine.lines.map(line => line.id), ...theirs.lines.map(line => line.id).filter(id => !here.has(id))]
  const lines = order.flatMap((id): DraftLine[] => {
    const [before, own, other] = [was.get(id), here.get(id), there.get(id)]
    if (own && other)
      return [
        Object.fromEntries(
          [...new Set([...Object.keys(own), ...Object.keys(other)])].map(name => [
            name,
            field(id, name, before?.[name], own[name], other[name]),
          ]),
        ) as DraftLine,
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
      title: field('title', 'title', base.title, mine.title, theirs.title) as string,
      reason: field('reason', 'reason', base.reason, mine.reason, theirs.reason) as string,
      lines,
    },
    news,
  }
}
