/** How somebody wants to see one column of a list. */
export interface ColumnLook {
  readonly key: string
  /** In pixels; null: as wide as what is in it. */
  readonly width: number | null
  readonly pinned: boolean
  readonly hidden: boolean
}

export const NARROWEST = 40
export const WIDEST = 900

const plain = (key: string): ColumnLook => ({ key, width: null, pinned: false, hidden: false })
const within = (width: number | null): number | null =>
  width === null ? null : Math.round(Math.min(WIDEST, Math.max(NARROWEST, width)))

/**
 * The columns of a list as somebody wants to see them: in their order, pinned ones first. Columns that the list has got since come where the
 * list puts them, after the one before them; what it no longer has is named. There is always one column to be seen.
 *
 * arrange([{ key: 'b', … }], ['a', 'b', 'c']).columns //=> a, b, c, where `a` was not known then
 */
export function arrange(
  wanted: readonly ColumnLook[],
  known: readonly string[],
): { columns: ColumnLook[]; lost: string[] } {
  const there = new Set(known)
  const seen = new Set<string>()
  const columns: ColumnLook[] = []
  for (const look of wanted)
    if (there.has(look.key) && !seen.has(look.key)) {
      seen.add(look.key)
      columns.push({ ...look, width: within(look.width) })
    }
  for (const [index, key] of known.entries())
    if (!seen.has(key)) {
      const before = columns.findIndex(one => one.key === known[index - 1])
      columns.splice(before + 1, 0, plain(key))
    }
  const shown = columns.some(one => !one.hidden) ? columns : columns.map(one => ({ ...one, hidden: false }))
  return {
    columns: [...shown.filter(one => one.pinned), ...shown.filter(one => !one.pinned)],
    lost: [...new Set(wanted.map(look => look.key).filter(key => !there.has(key)))],
  }
}

/** The same columns with one of them changed. */
export const changeLook = (
  looks: readonly ColumnLook[],
  key: string,
  change: Partial<Omit<ColumnLook, 'key'>>,
): ColumnLook[] => looks.map(look => (look.key === key ? { ...look, ...change } : look))

/** The same columns with one of them put some places further on, or back. It stays among the pinned ones, or among the others. */
export function moveLook(looks: readonly ColumnLook[], key: string, places: number): ColumnLook[] {
  const from = looks.findIndex(look => look.key === key)
  const one = looks[from]
  if (!one) return [...looks]
  const rest = looks.filter(look => look.key !== key)
  const pinned = rest.filter(look => look.pinned).length
  const [least, most] = one.pinned ? [0, pinned] : [pinned, rest.length]
  const to = Math.min(most, Math.max(least, from + places))
  return [...rest.slice(0, to), one, ...rest.slice(to)]
}

/** Whether two people, or one at two times, see the same columns in the same way. */
export const sameLooks = (a: readonly ColumnLook[], b: readonly ColumnLook[]): boolean =>
  a.length === b.length &&
  a.every((one, index) => {
    const other = b[index]!
    return (
      one.key === other.key && one.width === other.width && one.pinned === other.pinned && one.hidden === other.hidden
    )
  })
