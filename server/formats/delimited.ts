import { parse } from 'csv-parse/sync'
import { RuleBroken, stop } from '#core/reasons.ts'
import { decodeDelimited } from '#server/formats/text.ts'

export interface Table {
  readonly rows: Record<string, string>[]
  readonly delimiter: string
  readonly encoding: string
}

/** Most rows that one file may have. */
const MOST_ROWS = 200_000

/**
 * Reads a delimited file (RFC 4180): comma, semicolon or tab, quoted line breaks, any line ending. The first row names the columns;
 * unknown names and rows of another length are refused.
 *
 * @throws RuleBroken import.notATable | import.columns | import.tooManyRows | xml.encoding
 */
export function readTable(bytes: Buffer, known: readonly string[], needed: readonly string[]): Table {
  const { text, encoding } = decodeDelimited(bytes)
  const firstLine = text.slice(0, 4000).split(/\r?\n/)[0] ?? ''
  const delimiter = [';', '\t', ','].reduce((best, mark) => (firstLine.split(mark).length > firstLine.split(best).length ? mark : best), ',')
  const rows = parseStrictly(text, delimiter)
  const head = rows.shift()?.map(name =>
    name
      .trim()
      .toLowerCase()
      .replace(/[\s-]+/g, '_'),
  )
  if (!head || head.every(name => name === '')) throw new RuleBroken(stop('import.notATable', { fault: 'the file is empty', line: 1 }))
  const unknown = head.filter(name => !known.includes(name))
  const missing = needed.filter(name => !head.includes(name))
  if (unknown.length > 0 || missing.length > 0)
    throw new RuleBroken(stop('import.columns', { unknown: unknown.join(', ').slice(0, 100), missing: missing.join(', '), known: known.join(', ') }))
  if (rows.length > MOST_ROWS) throw new RuleBroken(stop('import.tooManyRows', { limit: MOST_ROWS }))
  return { rows: rows.map(cells => Object.fromEntries(head.map((name, index) => [name, cells[index] ?? '']))), delimiter, encoding }
}

function parseStrictly(text: string, delimiter: string): string[][] {
  try {
    return parse(text, { delimiter, bom: true, skip_empty_lines: true, relax_column_count: false, max_record_size: 200_000 }) as string[][]
  } catch (error) {
    const fault = error as { message?: string; lines?: number }
    throw new RuleBroken(stop('import.notATable', { fault: (fault.message ?? '').slice(0, 160), line: fault.lines ?? 0 }), { cause: error })
  }
}
