/** Rows by what they have in common, each group in the order of the rows. */
export function groupBy<T, K>(rows: readonly T[], keyOf: (row: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>()
  for (const row of rows) {
    const key = keyOf(row)
    const own = groups.get(key)
    if (own) own.push(row)
    else groups.set(key, [row])
  }
  return groups
}

export const byId = <T extends { readonly id: string }>(rows: readonly T[]): Map<string, T> =>
  new Map(rows.map(row => [row.id, row]))

/** The ids among some values, each once. */
export const someIds = (values: readonly (string | null | undefined)[]): string[] => [
  ...new Set(values.filter((value): value is string => typeof value === 'string' && value !== '')),
]
