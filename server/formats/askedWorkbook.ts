import exceljs from 'exceljs'
import type { AnswerContent } from '#core/source/answer.ts'
import { SHEET_ANSWER, SHEET_ASKED, sheetColumns, sheetKey, sheetRows } from '#core/source/answerSheet.ts'
import { askedLines, type EventFacts } from '#core/source/event.ts'
import { unitLabel } from '#core/units/units.ts'
import { harmless } from '#server/formats/cells.ts'

/** What is asked as a workbook: what each line is, and beside it what the supplier fills in; the answer so far stands in it. */
export async function writeAskedWorkbook(event: EventFacts, answer: AnswerContent): Promise<Buffer> {
  const book = new exceljs.Workbook()
  const sheet = book.addWorksheet(event.number.replace(/[*?:\\/[\]]/g, '-'), { views: [{ state: 'frozen', xSplit: 3, ySplit: 1 }] }) // prettier-ignore
  const columns = sheetColumns(event)
  sheet.addRow([...SHEET_ASKED, ...columns.map(one => one.heading), SHEET_ANSWER]).font = { bold: true }
  const answers = new Map(answer.lines.map(line => [line.lineId, line]))
  for (const line of askedLines(event)) {
    const own = answers.get(line.id)
    const given = columns.map(({ field }) => {
      if (!own) return ''
      if (typeof field === 'object') return own.components[field.component] ?? ''
      if (field === 'declined') return own.declined ? 'yes' : ''
      return String(own[field] ?? '')
    })
    sheet.addRow([
      sheetKey(event, line.id),
      line.position,
      harmless(line.description),
      line.quantity,
      unitLabel(line.unit),
      line.needBy ?? '',
      ...given.map(harmless),
    ])
  }
  for (const row of sheetRows(event))
    sheet.addRow([row.key, '', harmless(row.what), '', '', '', ...columns.map(() => ''), harmless(row.read(answer))])
  sheet.getColumn(1).hidden = true
  sheet.getColumn(3).width = 44
  sheet.getColumn(SHEET_ASKED.length + columns.length + 1).width = 30
  for (let at = SHEET_ASKED.length + 1; at <= SHEET_ASKED.length + columns.length; at++) sheet.getColumn(at).width = 14
  return Buffer.from(await book.xlsx.writeBuffer())
}
