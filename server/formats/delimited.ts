import { RuleBroken, stop } from '#core/reasons.ts'
import { delimiterOf, MOST_ROWS, parseStrictly } from '#server/formats/cells.ts'
import { decodeDelimited } from '#server/formats/text.ts'

export interface Table {
  readonly rows: Record<string, string>[]
  readonly delimiter: string
  readonly encoding: string
}

/**
 * Reads a delimited file (RFC 4180): comma, semicolon or tab, quoted line breaks, any line ending. The first row names the columns;
 * unknown names and rows of another length are refused.
 *
 * @throws RuleBroken import.notATable | import.columns | import.tooManyRows | xml.encoding
 */
export function readTable(bytes: Buffer, known: readonly string[], needed: readonly string[], most = MOST_ROWS): Table {
  const { text, encoding } = decodeDelimited(bytes)
  const delimiter = delimiterOf(text)
  const rows = parseStrictly(text, delimiter)
  const head = rows.shift()?.map(name =>
    name
      .trim()
      .toLowerCase()
      .replace(/[\s-]+/g, '_'),
  )
  if (!head || head.every(name => name === ''))
    throw new RuleBroken(stop('import.notATable', { fault: 'the file is empty', line: 1 }))
  const unknown = head.filter(name => !known.includes(name))
  const missing = needed.filter(name => !head.includes(name))
  if (unknown.length > 0 || missing.length > 0)
    throw new RuleBroken(
      stop('import.columns', {
        unknown: unknown.join(', ').slice(0, 100),
        missing: missing.join(', '),
        known: known.join(', '),
      }),
    )
  if (rows.length > most) throw new RuleBroken(stop('import.tooManyRows', { limit: most }))
  return {
    rows: rows.map(cells => Object.fromEntries(head.map((name, index) => [name, cells[index] ?? '']))),
    delimiter,
    encoding,
  }
}
