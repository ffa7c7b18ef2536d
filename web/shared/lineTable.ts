/** A column of a line table. */
export interface LineColumn {
  readonly key: string
  readonly label: string
  /** Figures: at the right, digits below digits. */
  readonly num?: boolean
  readonly quiet?: boolean
}

/** Columns from their keys and headings: `#price` holds figures, `~by` is quiet. lineColumns({ name: 'Name', '#price': 'Price' }) */
export const lineColumns = (headings: Readonly<Record<string, string>>): LineColumn[] =>
  Object.entries(headings).map(([key, label]) => ({
    key: key.replace(/^[#~]/, ''),
    label,
    num: key.startsWith('#'),
    quiet: key.startsWith('~'),
  }))
