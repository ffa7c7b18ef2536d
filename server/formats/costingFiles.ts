import { stringify } from 'csv-stringify/sync'
import exceljs from 'exceljs'
import type { CostingRow } from '#core/build/costingRows.ts'
import { unitLabel } from '#core/units/units.ts'
import { harmless } from '#server/formats/cells.ts'
import { letterhead, padDecimals, pdfmake, QUIET } from '#server/formats/pdf.ts'

/** A costing as files have it. `notes` are in words. */
export interface CostingFile {
  readonly number: string
  readonly title: string
  readonly currency: string
  readonly builds: number
  readonly pricedOn: string
  readonly total: string
  readonly each: string
  readonly excess: string
  readonly inOn: string | null
  readonly unpriced: number
  readonly rows: readonly (Omit<CostingRow, 'notes'> & { readonly said: string })[]
}

const COLUMNS = [
  ['Part', 'text'],
  ['Number', 'text'],
  ['Per build', 'figure'],
  ['Unit', 'text'],
  ['Need', 'figure'],
  ['From stock', 'figure'],
  ['Buy', 'figure'],
  ['From', 'text'],
  ['Each', 'figure'],
  ['Amount', 'figure'],
  ['Excess', 'figure'],
  ['Excess worth', 'figure'],
  ['Lead time, days', 'figure'],
  ['Note', 'text'],
] as const

const cellsOf = (row: CostingFile['rows'][number]): string[] => [
  row.name,
  row.number,
  row.perBuild,
  unitLabel(row.unit),
  row.need,
  row.fromStock,
  row.buy,
  row.suppliers.join(', '),
  row.each,
  row.buy === '0' ? '' : row.amount,
  row.excess,
  row.excessValue,
  row.leadDays === null ? '' : String(row.leadDays),
  row.said,
]
const summary = (file: CostingFile): [string, string][] => [
  ['Build costing', `${file.number} ${file.title}`],
  ['Priced on', file.pricedOn],
  ['Builds', String(file.builds)],
  [`Total ${file.currency}`, file.total],
  [`Each build ${file.currency}`, file.each],
  [`Excess ${file.currency}`, file.excess],
  ['All in on', file.inOn ?? ''],
  ['Parts without a price', String(file.unpriced)],
]

/** Decimal points; what a spreadsheet would run as a formula gets an apostrophe in front. */
export const writeCostingCsv = (file: CostingFile): Buffer =>
  Buffer.from(
    stringify([COLUMNS.map(([name]) => name), ...file.rows.map(row => cellsOf(row).map(harmless))], {
      bom: true,
      record_delimiter: 'windows',
    }),
  )

/** Figures as figures, the sums on a sheet of their own. */
export async function writeCostingWorkbook(file: CostingFile): Promise<Buffer> {
  const book = new exceljs.Workbook()
  const parts = book.addWorksheet('Parts', { views: [{ state: 'frozen', ySplit: 1 }] })
  parts.addRow(COLUMNS.map(([name]) => name)).font = { bold: true }
  for (const row of file.rows)
    parts.addRow(
      cellsOf(row).map((text, at) => (COLUMNS[at]![1] === 'figure' && text !== '' ? Number(text) : harmless(text))),
    )
  for (const [at, [name]] of COLUMNS.entries())
    parts.getColumn(at + 1).width = Math.min(
      60,
      Math.max(name.length + 2, ...file.rows.slice(0, 200).map(row => cellsOf(row)[at]!.length + 2)),
    )
  const sums = book.addWorksheet('Sums')
  for (const row of summary(file)) sums.addRow(row.map(harmless))
  sums.getColumn(1).width = 26
  sums.getColumn(2).width = 40
  return Buffer.from(await book.xlsx.writeBuffer())
}

export function writeCostingPdf(
  file: CostingFile,
  house: { readonly name: string; readonly logo: string | null },
): Promise<Buffer> {
  const head = (...texts: string[]) =>
    texts.map((text, at) => ({
      text,
      color: QUIET,
      fontSize: 7.5,
      alignment: at > 1 && at < 7 && at !== 5 ? ('right' as const) : ('left' as const),
    }))
  const right = (text: string) => ({ text, alignment: 'right' as const })
  return pdfmake()
    .createPdf({
      info: { title: `Build costing ${file.number}` },
      pageOrientation: 'landscape',
      pageMargins: [40, 40, 40, 50],
      defaultStyle: { font: 'Roboto', fontSize: 8, color: '#1B2431', lineHeight: 1.2 },
      footer: (page, pages) => ({
        text: `Build costing ${file.number}    page ${page} of ${pages}`,
        alignment: 'right',
        margin: [40, 16],
        color: QUIET,
        fontSize: 8,
      }),
      content: [
        letterhead(house, ''),
        {
          text: `${file.currency} ${file.each} a build, ${file.currency} ${file.total} for ${file.builds}`,
          fontSize: 17,
          margin: [0, 14, 0, 2],
        },
        {
          text: `${file.number} ${file.title}, priced on ${file.pricedOn}; excess ${file.currency} ${file.excess}${file.inOn ? `; all in on ${file.inOn}` : ''}${file.unpriced > 0 ? `; without ${file.unpriced} parts that have no price` : ''}`,
          color: QUIET,
          margin: [0, 0, 0, 10],
        },
        {
          layout: 'lightHorizontalLines',
          table: {
            headerRows: 1,
            widths: ['*', 62, 42, 42, 42, 100, 52, 58, 150],
            body: [
              head('Part', 'Number', 'Per build', 'Need', 'Buy', 'From', 'Each', 'Amount', 'Note'),
              ...file.rows.map(row => [
                row.name,
                row.number,
                right(`${row.perBuild} ${unitLabel(row.unit)}`),
                right(row.need),
                right(row.buy),
                row.suppliers.join(', '),
                right(row.each === '' ? '' : padDecimals(row.each)),
                right(row.buy === '0' ? '' : row.amount),
                row.said,
              ]),
            ],
          },
        },
      ],
    })
    .getBuffer()
}
