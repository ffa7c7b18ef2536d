import type { ImportResult } from '#contract/files/endpoints.ts'
import type { Reason } from '#core/reasons.ts'
import type { Table } from '#server/formats/delimited.ts'

export interface RowFaults {
  readonly row: number
  readonly reasons: readonly Reason[]
}

const SHOWN = 500

export function importResult(table: Table, faults: readonly RowFaults[], loaded: boolean): ImportResult {
  const all = faults.flatMap(fault =>
    fault.reasons.map(reason => ({
      row: fault.row,
      place: reason.place?.split('.').at(-1) ?? '',
      code: reason.code,
      details: { ...reason.details },
    })),
  )
  const bad = new Set(faults.map(fault => fault.row)).size
  return {
    rows: table.rows.length,
    good: table.rows.length - bad,
    loaded: loaded ? table.rows.length : 0,
    faults: all.slice(0, SHOWN),
    faultCount: all.length,
    delimiter: { ',': 'comma', ';': 'semicolon', '\t': 'tab' }[table.delimiter] ?? table.delimiter,
    encoding: table.encoding,
  }
}

/** Walks rows and lets other requests through every thousand, so that a long file does not hold the event loop. */
export async function* slices<T>(rows: readonly T[]): AsyncGenerator<{ row: T; index: number }> {
  for (const [index, row] of rows.entries()) {
    if (index % 1000 === 999) await new Promise(resolve => setImmediate(resolve))
    yield { row, index }
  }
}
