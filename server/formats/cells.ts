import { Readable } from 'node:stream'
import { parse } from 'csv-parse/sync'
import exceljs from 'exceljs'
import { RuleBroken, stop } from '#core/reasons.ts'
import { decodeDelimited } from '#server/formats/text.ts'

/** A file of rows: its headings and what stands below them, all as text. */
export interface Cells {
  readonly headings: string[]
  readonly rows: string[][]
  readonly format: string
}

/** Most rows that one file may have, and what is read of it while a person waits. */
export const MOST_ROWS = 200_000
export const MOST_ROWS_AT_ONCE = 20_000
const MOST_COLUMNS = 200

/**
 * Reads a workbook (its first sheet) or a delimited file (RFC 4180: comma, semicolon or tab), told apart by their content. `days`: a day in a workbook is told from
 * a figure, which takes longer.
 *
 * @throws RuleBroken import.notATable | import.tooManyRows | import.tooManyColumns | xml.encoding
 */
export async function readCells(bytes: Buffer, days = false): Promise<Cells> {
  const { rows, format } = isZipped(bytes) ? await workbookRows(bytes, days) : delimitedRows(bytes)
  const headings = rows.shift()?.map(text => text.trim()) ?? []
  if (headings.every(text => text === ''))
    throw new RuleBroken(stop('import.notATable', { fault: 'the file is empty', line: 1 }))
  if (headings.length > MOST_COLUMNS) throw new RuleBroken(stop('import.tooManyColumns', { limit: MOST_COLUMNS }))
  if (rows.length > MOST_ROWS) throw new RuleBroken(stop('import.tooManyRows', { limit: MOST_ROWS }))
  return { headings, rows: rows.filter(row => row.some(cell => cell.trim() !== '')), format }
}

/**
 * Reads every cell of a workbook's first sheet, of a delimited file or of what was pasted, titles and empty rows too; rows may be of different length.
 *
 * @throws RuleBroken import.notATable | import.tooManyRows | import.tooManyColumns | xml.encoding
 */
export async function readGrid(bytes: Buffer): Promise<string[][]> {
  const rows = isZipped(bytes) ? (await workbookRows(bytes, true)).rows : looseRows(bytes)
  if (rows.length > MOST_ROWS) throw new RuleBroken(stop('import.tooManyRows', { limit: MOST_ROWS }))
  if (rows.some(row => row.length > MOST_COLUMNS)) throw new RuleBroken(stop('import.tooManyColumns', { limit: MOST_COLUMNS })) // prettier-ignore
  return rows
}

function looseRows(bytes: Buffer): string[][] {
  const { text } = decodeDelimited(bytes)
  const lines = text.split(/\r?\n/).slice(0, LOOKED_AT)
  // a title has none of them: the row with most parts tells
  const most = (mark: string): number => Math.max(...lines.map(line => line.split(mark).length))
  const delimiter = ['\t', ';', ','].reduce((best, mark) => (most(mark) > most(best) ? mark : best))
  return parseLoosely(text, delimiter)
}
const LOOKED_AT = 50

function parseLoosely(text: string, delimiter: string): string[][] {
  try {
    return parse(text, { delimiter, bom: true, relax_column_count: true, relax_quotes: true, skip_empty_lines: false, max_record_size: 200_000 }) as string[][] // prettier-ignore
  } catch (error) {
    throw new RuleBroken(stop('import.notATable', { fault: (error as Error).message.slice(0, 160), line: 0 }), { cause: error }) // prettier-ignore
  }
}

const isZipped = (bytes: Buffer): boolean => bytes.subarray(0, 4).equals(Buffer.from([0x50, 0x4b, 3, 4]))

/** The delimiter that splits the first line into most parts. */
export const delimiterOf = (text: string): string => {
  const firstLine = text.slice(0, 4000).split(/\r?\n/)[0] ?? ''
  return [';', '\t', ','].reduce(
    (best, mark) => (firstLine.split(mark).length > firstLine.split(best).length ? mark : best),
    ',',
  )
}

function delimitedRows(bytes: Buffer): { rows: string[][]; format: string } {
  const { text, encoding } = decodeDelimited(bytes)
  const delimiter = delimiterOf(text)
  return {
    rows: parseStrictly(text, delimiter),
    format: `${{ ',': 'comma', ';': 'semicolon', '\t': 'tab' }[delimiter] ?? delimiter}, ${encoding}`,
  }
}

export function parseStrictly(text: string, delimiter: string): string[][] {
  try {
    return parse(text, {
      delimiter,
      bom: true,
      skip_empty_lines: true,
      relax_column_count: false,
      max_record_size: 200_000,
    }) as string[][]
  } catch (error) {
    const fault = error as { message?: string; lines?: number }
    throw new RuleBroken(
      stop('import.notATable', { fault: (fault.message ?? '').slice(0, 160), line: fault.lines ?? 0 }),
      { cause: error },
    )
  }
}

/**
 * Up to this size a workbook is read whole: the package loses entries of a file now and then where it reads it as a stream that arrives at once. Larger ones
 * are fed to it in small pieces, which it can follow, and one whose sheet is lost is refused.
 */
const READ_WHOLE = 4_000_000
const PIECE = 512

/** `days`: styles are read too, by which a day is told from a figure; a workbook that is read whole tells them anyway. */
async function workbookRows(bytes: Buffer, days = false): Promise<{ rows: string[][]; format: string }> {
  const rows: string[][] = []
  let width = 0
  const take = (row: Pick<exceljs.Row, 'cellCount' | 'values'>): void => {
    if (row.cellCount > MOST_COLUMNS + 1) throw new RuleBroken(stop('import.tooManyColumns', { limit: MOST_COLUMNS }))
    const values = Array.from((row.values as unknown[]).slice(1), cellText)
    width = Math.max(width, values.length)
    rows.push(values)
    if (rows.length > MOST_ROWS + 1) throw new RuleBroken(stop('import.tooManyRows', { limit: MOST_ROWS }))
  }
  try {
    await (bytes.length > READ_WHOLE ? streamed(bytes, days, take) : whole(bytes, take))
  } catch (error) {
    if (error instanceof RuleBroken) throw error
    throw new RuleBroken(stop('import.notATable', { fault: 'this is not a workbook that can be read', line: 0 }), {
      cause: error,
    })
  }
  for (const row of rows) while (row.length < width) row.push('')
  return { rows, format: 'workbook' }
}

type Taken = (row: Pick<exceljs.Row, 'cellCount' | 'values'>) => void

async function whole(bytes: Buffer, take: Taken): Promise<void> {
  const book = new exceljs.Workbook()
  await book.xlsx.load(bytes as never)
  book.worksheets[0]?.eachRow({ includeEmpty: false }, take)
}

async function streamed(bytes: Buffer, days: boolean, take: Taken): Promise<void> {
  const pieces = function* (): Generator<Buffer> {
    for (let at = 0; at < bytes.length; at += PIECE) yield bytes.subarray(at, at + PIECE)
  }
  const reader = new exceljs.stream.xlsx.WorkbookReader(
    Readable.from(pieces()) as never,
    {
      sharedStrings: 'cache',
      hyperlinks: 'ignore',
      styles: days ? 'cache' : 'ignore',
      worksheets: 'emit',
      entries: 'ignore',
    } as never,
  )
  for await (const sheet of reader) {
    for await (const row of sheet) take(row)
    return
  }
  throw new Error('The workbook has no sheet.')
}

/** What a person sees in the cell. A formula counts as what it came to. */
function cellText(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (typeof value === 'string') return value
  if (typeof value === 'number' || typeof value === 'boolean') return String(value)
  if (value instanceof Date) return value.toISOString().slice(0, 10)
  const rich = value as { text?: string; richText?: { text: string }[]; result?: unknown }
  if (rich.richText) return rich.richText.map(part => part.text).join('')
  if (rich.text !== undefined) return String(rich.text)
  return 'result' in rich ? cellText(rich.result) : ''
}

/** A text that a spreadsheet would run as a formula gets an apostrophe in front. */
export const harmless = (text: string): string => (/^[=@\t\r]|^[+-](?![\d.]+$)/.test(text) ? `'${text}` : text)
