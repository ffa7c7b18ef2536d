/** A column of a line table. */
export interface LineColumn {
  readonly key: string
  readonly label: string
  /** Figures: at the right, digits below digits. */
  readonly num?: boolean
  readonly quiet?: boolean
  /** Only where there is room; on a telephone it is left out. */
  readonly wide?: boolean
  /** Names the line: its cells are headings of their rows. */
  readonly names?: boolean
  /** The heading is said to those who listen and not shown. */
  readonly said?: boolean
}

/** What stands below the lines, column by column; `total` is the last word. */
export interface LineSum {
  readonly key: string
  readonly cells: Readonly<Record<string, string>>
  readonly total?: boolean
  readonly mark?: string
}

/** The cells of a sum: words run on over the empty columns after them. */
export function cellsOf(sum: LineSum, columns: readonly LineColumn[]): { column: LineColumn; span: number }[] {
  const cells: { column: LineColumn; span: number }[] = []
  for (const column of columns) {
    const last = cells.at(-1)
    const runsOn = last !== undefined && sum.cells[last.column.key] && !last.column.num && !last.column.wide
    if (runsOn && sum.cells[column.key] === undefined && !column.wide) last.span++
    else cells.push({ column, span: 1 })
  }
  return cells
}

const SIGNS = { '#': 'num', '~': 'quiet', '^': 'wide', '!': 'names', '-': 'said' } as const

/**
 * Columns from their keys and headings. Signs before a key say what the column is: `#price` holds figures, `~by` is quiet, `^gauge` is only
 * where there is room, `!name` names the line, `-acts` has a heading that is only said.
 * @example lineColumns({ '-^position': 'Position', name: 'Name', '#price': 'Price' })
 */
export const lineColumns = (headings: Readonly<Record<string, string>>): LineColumn[] =>
  Object.entries(headings).map(([signed, label]) => {
    const [, signs = '', key = ''] = /^([#~^!-]*)(.*)$/.exec(signed) ?? []
    return { key, label, ...Object.fromEntries([...signs].map(sign => [SIGNS[sign as keyof typeof SIGNS], true])) }
  })
