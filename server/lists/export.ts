import { PassThrough, pipeline, Readable } from 'node:stream'
import { stringify } from 'csv-stringify'
import exceljs from 'exceljs'
import type { ListQuery, ListRow } from '#contract/fields.ts'
import type { Read } from '#server/call.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { type ListDefinition, listRows } from '#server/lists/list.ts'

/**
 * Exactly what a list shows, as a file. Texts that a spreadsheet would run as a formula get an apostrophe in front. The first rows are read
 * before anything is answered, so that what cannot be exported is refused and not begun.
 */
export async function exportList<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  query: ListQuery,
  format: 'csv' | 'xlsx',
  name: string,
): Promise<FileAnswer> {
  const head = ['number', 'title', 'state', ...definition.columns.map(column => column.key), 'amount', 'currency']
  const cells = (row: ListRow): string[] =>
    [
      row.number,
      row.title,
      row.state,
      ...definition.columns.map(column => row.cells[column.key] ?? ''),
      row.amount ?? '',
      row.currency ?? '',
    ].map(harmless)
  const rows = await begun(listRows(definition, call, query))
  const stamp = `${name}-${call.today}.${format}`
  if (format === 'csv')
    return { name: stamp, mediaType: 'text/csv; charset=utf-8', bytes: csvStream(head, rows, cells) }
  return {
    name: stamp,
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    bytes: xlsxStream(head, rows, cells),
  }
}

/** Rows of which the first has been read already. */
async function begun<T>(rows: AsyncGenerator<T>): Promise<AsyncGenerator<T>> {
  const first = await rows.next()
  return (async function* () {
    if (first.done) return
    yield first.value
    yield* rows
  })()
}

const harmless = (text: string): string => (/^[=@\t\r]|^[+-](?![\d.]+$)/.test(text) ? `'${text}` : text)

function csvStream(
  head: readonly string[],
  rows: AsyncIterable<ListRow>,
  cells: (row: ListRow) => string[],
): PassThrough {
  async function* records(): AsyncGenerator<string[]> {
    yield [...head]
    for await (const row of rows) yield cells(row)
  }
  // an error, or a reader that goes away, ends all three
  return pipeline(
    Readable.from(records()),
    stringify({ bom: true, record_delimiter: 'windows' }),
    new PassThrough(),
    () => undefined,
  )
}

function xlsxStream(
  head: readonly string[],
  rows: AsyncIterable<ListRow>,
  cells: (row: ListRow) => string[],
): PassThrough {
  const out = new PassThrough()
  void (async () => {
    try {
      const book = new exceljs.stream.xlsx.WorkbookWriter({ stream: out })
      const sheet = book.addWorksheet('List')
      sheet.addRow([...head]).commit()
      for await (const row of rows) {
        if (out.destroyed) return
        sheet.addRow(cells(row)).commit()
      }
      await book.commit()
    } catch (error) {
      out.destroy(error as Error)
    }
  })()
  return out
}
