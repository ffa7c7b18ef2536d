import type { ListPage, ListRow } from '#contract/fields.ts'
import type { TableColumn } from '#web/shared/table/table.ts'
import { day, label, words } from '#web/shared/words.ts'

const TIME_TONES: Readonly<Record<string, string>> = { late: 'tone-stop', tight: 'tone-attention' }

/** A cell's value as it is read: days as days, codes in words. */
export function cellText(key: string, value: string): string {
  if (key === 'routes')
    return value
      .split(', ')
      .map(route => label('route', route))
      .join(', ')
  if (key === 'inTime') return label('risk', value)
  return /^\d{4}-\d\d-\d\d$/.test(value) ? day(value) : label('state', value)
}

/** All columns that a list has: its own between what every document has. */
export function listColumns(page: Pick<ListPage, 'columns' | 'asks'>): TableColumn<ListRow>[] {
  const ordered = new Set(page.asks.map(ask => ask.key))
  const own = page.columns.map((column): TableColumn<ListRow> => ({
    key: column.key,
    label: label('column', column.key),
    ordered: column.ordered,
    ...(column.numeric
      ? { figure: true, text: row => row.cells[column.key] ?? '' }
      : { text: row => cellText(column.key, row.cells[column.key] ?? '') }),
    ...(column.key === 'inTime' ? { tone: row => TIME_TONES[row.cells.inTime ?? ''] ?? '' } : {}),
  }))
  return [
    { key: 'number', label: label('column', 'number'), text: row => row.number },
    { key: 'title', label: label('column', 'title'), text: row => row.what ?? row.title, wide: true, strong: true },
    ...own,
    {
      key: 'amount',
      label: 'Amount',
      figure: true,
      ordered: ordered.has('amount'),
      text: row => row.amount ?? '',
      unit: row => row.currency ?? '',
    },
    {
      key: 'state',
      label: label('column', 'state'),
      ordered: ordered.has('state'),
      text: row => words(row.note) || label('state', row.state),
      tone: row => `tone-${row.tone}`,
    },
  ]
}
