/**
 * The assignment of rows to columns with the largest sum of gains, each row and each column at most once; a row may stay without one. Shortest augmenting
 * paths with potentials (Jonker and Volgenant, Computing 38, 1987), over the pairs that have a gain at all.
 *
 * assign([new Map([[0, 9], [1, 8]]), new Map([[0, 9]])], 2) //=> [1, 0]
 */
export function assign(gains: readonly ReadonlyMap<number, number>[], columns: number): (number | null)[] {
  const rows = gains.length
  const most = Math.max(0, ...gains.flatMap(row => [...row.values()]))
  // each row may stay alone at no gain: a column of its own, behind the real ones
  const cost = (row: number): [number, number][] => [...[...gains[row]!].map(([column, gain]): [number, number] => [column, most - gain]), [columns + row, most]] // prettier-ignore
  const edges = Array.from({ length: rows }, (_, row) => cost(row))
  const rowOf = new Map<number, number>()
  const columnOf: (number | null)[] = Array.from({ length: rows }, () => null)
  const rowPotential = new Float64Array(rows)
  const columnPotential = new Map<number, number>()
  for (let start = 0; start < rows; start++) augment(start)
  return columnOf.map(column => (column === null || column >= columns ? null : column))

  function augment(start: number): void {
    const distance = new Map<number, number>()
    const from = new Map<number, number>()
    const done = new Set<number>()
    const seenRows: number[] = []
    let row = start
    let base = 0
    for (;;) {
      seenRows.push(row)
      for (const [column, price] of edges[row]!) {
        if (done.has(column)) continue
        const length = base + price - rowPotential[row]! - (columnPotential.get(column) ?? 0)
        if (length < (distance.get(column) ?? Infinity)) {
          distance.set(column, length)
          from.set(column, row)
        }
      }
      let next = -1
      let least = Infinity
      for (const [column, length] of distance)
        if (!done.has(column) && (length < least || (length === least && column < next))) {
          next = column
          least = length
        }
      done.add(next)
      base = least
      const taken = rowOf.get(next)
      if (taken !== undefined) {
        row = taken
        continue
      }
      settle(next, least, start, distance, from, done, seenRows)
      return
    }
  }

  function settle(
    end: number,
    length: number,
    start: number,
    distance: Map<number, number>,
    from: Map<number, number>,
    done: Set<number>,
    seenRows: readonly number[],
  ): void {
    // prettier-ignore
    for (const column of done) columnPotential.set(column, (columnPotential.get(column) ?? 0) + Math.min(0, distance.get(column)! - length)) // prettier-ignore
    for (const row of seenRows) rowPotential[row]! += row === start ? length : length - distance.get(columnOf[row]!)!
    let column = end
    for (;;) {
      const row = from.get(column)!
      const before = columnOf[row] ?? null
      columnOf[row] = column
      rowOf.set(column, row)
      if (row === start) return
      column = before!
    }
  }
}
