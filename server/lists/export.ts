import { PassThrough, pipeline, Readable } from 'node:stream'
import { stringify } from 'csv-stringify'
import exceljs from 'exceljs'
import type { ListQuery, ListRow } from '#contract/fields.ts'
import type { ListSums } from '#contract/lists/list.ts'
import { COLUMNS } from '#contract/messages/columns.ts'
import { isDay } from '#core/calendar/days.ts'
import { sumTexts } from '#core/money/text.ts'
import type { Read } from '#server/call.ts'
import { harmless } from '#server/formats/cells.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { type ListDefinition, listRows } from '#server/lists/list.ts'
import { listSums } from '#server/lists/sums.ts'

type Query = ListQuery & { group?: string | undefined; columns?: string | undefined }
type Kind = 'text' | 'figure' | 'date' | 'amount'
/** A column of the file. */
interface Written {
  readonly key: string
  readonly kind: Kind
  readonly value: (row: ListRow) => string
}

/**
 * Exactly what a list shows, as a file: its columns in their order, its rows in theirs, those of a group together. Texts that a spreadsheet
 * would run as a formula get an apostrophe in front. The first rows are read before anything is answered, so that what cannot be exported is
 * refused and not begun.
 */
export async function exportList<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  query: Query,
  format: 'csv' | 'xlsx',
  name: string,
): Promise<FileAnswer> {
  const columns = writtenOf(definition, query.columns)
  const sums = query.group || format === 'xlsx' ? await listSums(definition, call, query) : undefined
  const asked =
    sums && sums.by.length > 0 ? { ...query, sort: [...sums.by, query.sort].filter(Boolean).join(',') } : query
  const rows = await begun(listRows(definition, call, asked))
  const stamp = `${name}-${call.today}.${format}`
  if (format === 'csv') return { name: stamp, mediaType: 'text/csv; charset=utf-8', bytes: csvStream(columns, rows) }
  return {
    name: stamp,
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    bytes: xlsxStream(columns, rows, sums!, call),
  }
}

/** The columns that were asked for, in their order; all of them where nothing was said. */
function writtenOf<Row>(definition: ListDefinition<Row>, wanted: string | undefined): Written[] {
  const all: Written[] = [
    { key: 'number', kind: 'text', value: row => row.number },
    { key: 'title', kind: 'text', value: row => row.what ?? row.title },
    { key: 'state', kind: 'text', value: row => row.state },
    ...definition.columns.map(({ key, type }): Written => ({
      key,
      kind: type === 'figure' ? 'figure' : type === 'date' ? 'date' : 'text',
      value: row => row.cells[key] ?? '',
    })),
    { key: 'amount', kind: 'amount', value: row => row.amount ?? '' },
    { key: 'currency', kind: 'text', value: row => row.currency ?? '' },
  ]
  const known = new Map(all.map(column => [column.key, column]))
  const chosen = (wanted ?? '').split(',').flatMap(key => known.get(key) ?? [])
  if (chosen.length === 0) return [...known.values()]
  // an amount without its currency says nothing
  return chosen.flatMap(one =>
    one.key === 'amount' ? [one, known.get('currency')!] : one.key === 'currency' ? [] : [one],
  )
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

const headOf = (columns: readonly Written[]): string[] => columns.map(column => COLUMNS[column.key] ?? column.key)

function csvStream(columns: readonly Written[], rows: AsyncIterable<ListRow>): PassThrough {
  async function* records(): AsyncGenerator<string[]> {
    yield headOf(columns)
    for await (const row of rows) yield columns.map(column => harmless(column.value(row)))
  }
  // an error, or a reader that goes away, ends all three
  return pipeline(
    Readable.from(records()),
    stringify({ bom: true, record_delimiter: 'windows' }),
    new PassThrough(),
    () => undefined,
  )
}

/** A figure as a number and a day as a day; what a spreadsheet's floating point would change stays text. */
function typed(text: string, kind: Kind): string | number | Date {
  if ((kind === 'figure' || kind === 'amount') && /^-?\d+(\.\d+)?$/.test(text) && text.replace(/\D/g, '').length <= 15)
    return Number(text)
  if (kind === 'date' && isDay(text)) return new Date(`${text}T00:00:00Z`)
  return harmless(text)
}

const FORMATS: Readonly<Record<Kind, string | undefined>> = {
  text: undefined,
  figure: '#,##0.######',
  date: 'yyyy-mm-dd',
  amount: '#,##0.00',
}

function xlsxStream(
  columns: readonly Written[],
  rows: AsyncIterable<ListRow>,
  sums: ListSums,
  call: Read,
): PassThrough {
  const out = new PassThrough()
  void (async () => {
    try {
      const book = new exceljs.stream.xlsx.WorkbookWriter({ stream: out, useStyles: true })
      const sheet = book.addWorksheet('List', { views: [{ state: 'frozen', ySplit: 1 }] })
      sheet.columns = columns.map((column, index) => ({
        header: headOf(columns)[index]!,
        width: column.key === 'title' ? 40 : 16,
        style: FORMATS[column.kind] ? { numFmt: FORMATS[column.kind]! } : {},
      }))
      sheet.getRow(1).font = { bold: true }
      for await (const row of rows) {
        if (out.destroyed) return
        sheet.addRow(columns.map(column => typed(column.value(row), column.kind))).commit()
      }
      sheet.commit()
      writeSums(book, sums, call)
      await book.commit()
    } catch (error) {
      out.destroy(error as Error)
    }
  })()
  return out
}

/** What the rows come to, group by group and in all, on a sheet of its own: rows may be in several currencies, sums are in the base one. */
function writeSums(book: exceljs.stream.xlsx.WorkbookWriter, sums: ListSums, call: Read): void {
  const sheet = book.addWorksheet('Sums')
  const figures = sums.groups[0]?.figures.map(one => one.key) ?? []
  const head = [...sums.by, 'rows', `value, ${call.base}`, ...figures].map(key => COLUMNS[key] ?? key)
  sheet.addRow(head).commit()
  const kinds = figures.map((): Kind => 'figure')
  for (const group of sums.groups)
    sheet
      .addRow([
        ...group.values.map(value => harmless(value ?? '')),
        group.count,
        ...typedAll([group.amount ?? '', ...group.figures.map(one => one.sum)], ['amount', ...kinds]),
      ])
      .commit()
  const count = sums.groups.reduce((sum, group) => sum + group.count, 0)
  const amount = sumTexts(sums.groups.map(group => group.amount ?? '0'))
  if (sums.by.length > 0)
    sheet.addRow(['All', ...sums.by.slice(1).map(() => ''), count, ...typedAll([amount], ['amount'])]).commit()
  sheet.commit()
}

const typedAll = (texts: readonly string[], kinds: readonly Kind[]) =>
  texts.map((text, index) => typed(text, kinds[index]!))
