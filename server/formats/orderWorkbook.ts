import exceljs from 'exceljs'
import { ACT_WORDS, KEY_HEADING, rowKey, WORKBOOK_HEADINGS } from '#core/order/workbookReading.ts'
import { WORKBOOK_FIELDS, type WorkbookField, type WorkbookValues } from '#core/order/workbook.ts'
import { tidy } from '#core/money/decimal.ts'
import { unitLabel } from '#core/units/units.ts'
import { harmless } from '#server/formats/cells.ts'

/** A line as it stands in a workbook. */
export interface WorkbookLine {
  readonly lineId: string
  readonly order: string
  readonly position: number
  readonly supplier: string
  readonly what: string
  readonly unit: string
  readonly currency: string
  readonly received: string
  readonly billed: string
  readonly state: string
  readonly values: WorkbookValues
  readonly may: readonly WorkbookField[]
}
export interface WorkbookContent {
  readonly id: string
  readonly lines: readonly WorkbookLine[]
  readonly buyers: readonly string[]
  readonly places: readonly string[]
  readonly madeBy: string
  readonly madeOn: string
}

const FACTS = ['Order', 'Line', 'Supplier', 'What', 'Unit', 'Currency', 'Received', 'Billed', 'State'] as const
const WIDTHS = [0, 11, 6, 26, 38, 10, 9, 10, 10, 13, 11, 12, 12, 28, 12, 22, 18]
const TINT = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFFBF3DF' } } as const
const HEAD = { type: 'pattern', pattern: 'solid', fgColor: { argb: 'FFEFE7D6' } } as const
const EXPLAINED = [
  'Change what is tinted. Everything else is locked: it is there to be read.',
  'Rows may be sorted, filtered and left out; a row that is not there is not changed. Columns may be moved, not renamed.',
  'Days are written as 2026-12-31. A quantity of 0 cancels a line of an issued order.',
  'Do: cancel the line, close the order, or cancel the order. One row of an order is enough for its order.',
  'Give the file back under Order, Workbook. What it would change is shown first; nothing is changed before you say so.',
]

/** A number as a number where it loses nothing by it, else as text. */
const figure = (text: string): number | string => (String(Number(text)) === tidy(text) ? Number(text) : text)

function cellOf(field: WorkbookField, value: string): string | number | Date {
  if (value === '') return ''
  if (field === 'quantity' || field === 'price') return figure(value)
  return field === 'needBy' || field === 'promised' ? new Date(`${value}T00:00:00Z`) : harmless(value)
}

/** Lines of orders as a workbook: what may be changed is open and tinted, the rest is locked; a second sheet explains. */
export async function writeOrderWorkbook(content: WorkbookContent): Promise<Uint8Array> {
  const book = new exceljs.Workbook()
  const sheet = book.addWorksheet('Lines', { views: [{ state: 'frozen', xSplit: 3, ySplit: 1 }] })
  const headings = [KEY_HEADING, ...FACTS, ...WORKBOOK_FIELDS.map(field => WORKBOOK_HEADINGS[field])]
  const head = sheet.addRow(headings)
  head.font = { bold: true }
  head.eachCell(cell => {
    cell.fill = HEAD
  })
  for (const [at, width] of WIDTHS.entries()) sheet.getColumn(at + 1).width = width || 10
  sheet.getColumn(1).hidden = true
  const first = FACTS.length + 2
  const last = content.lines.length + 1
  for (const line of content.lines) {
    const facts = [line.order, line.position, harmless(line.supplier), harmless(line.what), unitLabel(line.unit), line.currency, figure(line.received), figure(line.billed), line.state] // prettier-ignore
    const row = sheet.addRow([rowKey(content.id, line.lineId), ...facts, ...WORKBOOK_FIELDS.map(field => cellOf(field, line.values[field]))]) // prettier-ignore
    for (const [at, field] of WORKBOOK_FIELDS.entries()) {
      const cell = row.getCell(first + at)
      if (field === 'needBy' || field === 'promised') cell.numFmt = 'yyyy-mm-dd'
      if (!line.may.includes(field)) continue
      cell.fill = TINT
      cell.protection = { locked: false }
    }
  }
  validate(sheet, first, last, content)
  sheet.autoFilter = { from: { row: 1, column: 1 }, to: { row: Math.max(1, last), column: headings.length } }
  await sheet.protect('', { sort: true, autoFilter: true, formatColumns: true, formatRows: true, selectLockedCells: true, selectUnlockedCells: true }) // prettier-ignore
  const how = book.addWorksheet('How to')
  how.getColumn(1).width = 110
  for (const text of [...EXPLAINED, `Made by ${content.madeBy} on ${content.madeOn}, ${content.lines.length} lines.`])
    how.addRow([text])
  const names = book.addWorksheet('Lists', { state: 'veryHidden' })
  for (let at = 0; at < Math.max(content.buyers.length, content.places.length); at++)
    names.addRow([harmless(content.buyers[at] ?? ''), harmless(content.places[at] ?? '')])
  return new Uint8Array(await book.xlsx.writeBuffer())
}

/** The types of the package know rules of single cells only. */
type Ranged = exceljs.Worksheet & {
  readonly dataValidations: { readonly add: (range: string, rule: exceljs.DataValidation) => void }
}

/** What a spreadsheet refuses at once: figures below zero, days that are none, names and acts that are not on the list. */
function validate(
  sheet: exceljs.Worksheet,
  first: number,
  last: number,
  { buyers, places }: Pick<WorkbookContent, 'buyers' | 'places'>,
): void {
  const rules: Readonly<Record<WorkbookField, exceljs.DataValidation>> = {
    quantity: { type: 'decimal', operator: 'greaterThanOrEqual', formulae: [0], allowBlank: false, showErrorMessage: true, error: 'A quantity is zero or more.' }, // prettier-ignore
    price: { type: 'decimal', operator: 'greaterThanOrEqual', formulae: [0], allowBlank: false, showErrorMessage: true, error: 'A price is zero or more.' }, // prettier-ignore
    needBy: { type: 'date', operator: 'greaterThan', formulae: [new Date('2000-01-01T00:00:00Z')], allowBlank: true, showErrorMessage: true, error: 'A day, such as 2026-12-31.' }, // prettier-ignore
    promised: { type: 'date', operator: 'greaterThan', formulae: [new Date('2000-01-01T00:00:00Z')], allowBlank: true, showErrorMessage: true, error: 'A day, such as 2026-12-31.' }, // prettier-ignore
    buyer: { type: 'list', formulae: [`Lists!$A$1:$A$${Math.max(1, buyers.length)}`], allowBlank: false, showErrorMessage: true, error: 'Choose a buyer from the list.' }, // prettier-ignore
    place: { type: 'list', formulae: [`Lists!$B$1:$B$${Math.max(1, places.length)}`], allowBlank: true, showErrorMessage: true, error: 'Choose a place from the list.' }, // prettier-ignore
    act: { type: 'list', formulae: [`"${Object.values(ACT_WORDS).join(',')}"`], allowBlank: true, showErrorMessage: true, error: 'Choose from the list.' }, // prettier-ignore
  }
  if (last < 2) return
  const { dataValidations } = sheet as Ranged
  for (const [at, field] of WORKBOOK_FIELDS.entries()) {
    const column = sheet.getColumn(first + at).letter
    dataValidations.add(`${column}2:${column}${last}`, rules[field])
  }
}
