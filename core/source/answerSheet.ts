import { isHeldDecimal } from '#core/money/decimal.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type AnswerContent, type AnswerLine, emptyLine } from '#core/source/answer.ts'
import { askedLines, type EventFacts } from '#core/source/event.ts'
import type { AskedQuestion, PriceComponent } from '#core/source/eventKind.ts'

/** A field of an answer's line that a workbook has a column for. */
export type SheetField = 'price' | 'priceBase' | 'quantity' | 'leadDays' | 'minimum' | 'note' | 'declined'

/** A column of the workbook: a field, or a component of the price. */
export interface SheetColumn {
  readonly heading: string
  readonly field: SheetField | { readonly component: string }
}

/** Headings of what a line is; none of them is filled in. */
export const SHEET_KEY = 'Key'
export const SHEET_ASKED = [SHEET_KEY, 'Line', 'What', 'Asked for', 'Unit', 'Need by'] as const

/** The columns that a supplier fills in, by what the kind of event asks. */
export const sheetColumns = (event: Pick<EventFacts, 'kind'>): SheetColumn[] => {
  const { pricing, partQuantity, components } = event.kind
  return [
    ...(pricing === 'none'
      ? []
      : ([
          { heading: 'Price', field: 'price' },
          { heading: 'Price for', field: 'priceBase' },
        ] as const)),
    ...(partQuantity ? [{ heading: 'Quantity', field: 'quantity' } as const] : []),
    ...components
      .filter(one => one.basis !== 'perLot')
      .map(one => ({ heading: one.name, field: { component: one.key } })),
    { heading: 'Lead days', field: 'leadDays' },
    { heading: 'At least', field: 'minimum' },
    { heading: 'Note', field: 'note' },
    { heading: 'Not offered', field: 'declined' },
  ]
}

/** The column that holds what is asked beside the lines: lump sums of lots, questions, days to payment. */
export const SHEET_ANSWER = 'Answer'
/** Something that is asked beside the lines: one row of the workbook, its answer in the column for it. */
export interface SheetRow {
  readonly key: string
  readonly what: string
  readonly read: (answer: AnswerContent) => string
  /** The answer with the text in it, or why it cannot stand there. */
  readonly write: (answer: AnswerContent, text: string) => AnswerContent | Reason
}

const NOTE_MOST = 4000
const figureOf = (what: string, text: string): string | Reason => {
  const number = readTypedNumber(text)
  return number.ok && isHeldDecimal(number.value) ? number.value : notRead(what, text)
}
const notRead = (what: string, text: string): Reason =>
  stop('sheet.figure', { column: what.slice(0, 40), text: text.slice(0, 20) })

/** What is asked beside the lines, row by row: lump sums lot by lot, questions, days to payment, a word. */
export const sheetRows = (event: Pick<EventFacts, 'number' | 'kind' | 'lots'>): SheetRow[] => [
  ...event.lots.flatMap(lot =>
    event.kind.components.filter(one => one.basis === 'perLot').map(one => lumpRow(event, lot, one)),
  ),
  ...event.kind.sections.flatMap(section => section.questions.map(one => questionRow(event, one))),
  {
    key: sheetKey(event, 'payment'),
    what: 'Paid so many days after delivery',
    read: answer => String(answer.paymentDays ?? ''),
    write: (answer, text) =>
      /^\d{1,3}$/.test(text)
        ? { ...answer, paymentDays: Number(text) }
        : notRead('Paid so many days after delivery', text),
  },
  {
    key: sheetKey(event, 'note'),
    what: 'A word to the buyer',
    read: answer => answer.note,
    write: (answer, text) => ({ ...answer, note: text.slice(0, NOTE_MOST) }),
  },
]

const lumpRow = (
  event: Pick<EventFacts, 'number' | 'lots'>,
  lot: EventFacts['lots'][number],
  { key, name }: PriceComponent,
): SheetRow => {
  const what = event.lots.length > 1 ? `${name}, ${lot.title}` : name
  return {
    key: sheetKey(event, `${lot.id}.${key}`),
    what,
    read: answer => answer.lump[lot.id]?.[key] ?? '',
    write: (answer, text) => {
      const value = figureOf(what, text)
      return typeof value === 'string'
        ? { ...answer, lump: { ...answer.lump, [lot.id]: { ...answer.lump[lot.id], [key]: value } } }
        : value
    },
  }
}

function questionRow(event: Pick<EventFacts, 'number'>, { key, label, kind, choices }: AskedQuestion): SheetRow {
  const known = kind === 'yesNo' ? ['yes', 'no'] : choices
  const valueOf = (text: string): string | Reason => {
    if (kind === 'number') return figureOf(label, text)
    if (kind === 'text') return text.slice(0, NOTE_MOST)
    return known.find(one => one.toLowerCase() === text.toLowerCase()) ?? notRead(label, text)
  }
  return {
    key: sheetKey(event, `question.${key}`),
    what: known.length > 0 && kind !== 'text' ? `${label} (${known.join(', ')})` : label,
    read: answer => answer.questions[key] ?? '',
    write: (answer, text) => {
      const value = valueOf(text)
      return typeof value === 'string' ? { ...answer, questions: { ...answer.questions, [key]: value } } : value
    },
  }
}

/** What tells the line of a row, and the event that it belongs to. */
export const sheetKey = (event: Pick<EventFacts, 'number'>, lineId: string): string => `${event.number}/${lineId}`

export interface SheetRead {
  readonly answer: AnswerContent
  readonly differences: readonly SheetDifference[]
  /** Rows that were not taken, with the reason. */
  readonly left: readonly { readonly row: number; readonly reason: Reason }[]
}
export interface SheetDifference {
  readonly line: string
  readonly field: string
  readonly before: string
  readonly after: string
}

/**
 * Reads a filled workbook into an answer. Rows are found by their key; what belongs to another event, to no line, or cannot be read is left and said.
 * A cell that is empty says nothing and leaves what is there.
 *
 * @throws nothing: a file without the column of keys has every row left
 */
export function readAnswerSheet(
  event: EventFacts,
  before: AnswerContent,
  headings: readonly string[],
  rows: readonly (readonly string[])[],
): SheetRead {
  const keyAt = headings.indexOf(SHEET_KEY)
  const columns = sheetColumns(event).flatMap(one => {
    const at = headings.indexOf(one.heading)
    return at < 0 ? [] : [{ ...one, at }]
  })
  const lines = new Map(askedLines(event).map(line => [sheetKey(event, line.id), line]))
  const answers = new Map(before.lines.map(line => [line.lineId, line]))
  const beside = new Map(sheetRows(event).map(one => [one.key, one]))
  const answerAt = headings.indexOf(SHEET_ANSWER)
  let whole = before
  const left: { row: number; reason: Reason }[] = []
  const differences: SheetDifference[] = []
  for (const [index, row] of rows.entries()) {
    const number = index + 2
    const key = keyAt < 0 ? '' : (row[keyAt] ?? '').trim()
    const line = lines.get(key)
    const asked = beside.get(key)
    if (asked) {
      const text = answerAt < 0 ? '' : (row[answerAt] ?? '').trim()
      const next = text === '' ? whole : asked.write(whole, text)
      if ('code' in next) left.push({ row: number, reason: next })
      else if (asked.read(next) !== asked.read(whole)) {
        differences.push({ line: asked.what, field: SHEET_ANSWER, before: asked.read(whole), after: asked.read(next) })
        whole = next
      }
      continue
    }
    if (!line) {
      left.push({ row: number, reason: whyLeft(event, key) })
      continue
    }
    let answer = answers.get(line.id) ?? emptyLine(line.id)
    for (const column of columns) {
      const text = (row[column.at] ?? '').trim()
      if (text === '') continue
      const read = readCell(answer, column, text)
      if ('reason' in read) left.push({ row: number, reason: read.reason })
      else if (read.after !== read.before) {
        answer = read.line
        differences.push({ line: line.description, field: column.heading, before: read.before, after: read.after })
      }
    }
    answers.set(line.id, answer)
  }
  return { answer: { ...whole, lines: [...answers.values()] }, differences, left }
}

function whyLeft(event: EventFacts, key: string): Reason {
  if (key === '') return stop('sheet.noKey')
  const [number = ''] = key.split('/')
  return number === event.number ? stop('sheet.noLine') : stop('sheet.otherEvent', { number: number.slice(0, 20) })
}

type CellRead = { line: AnswerLine; before: string; after: string } | { reason: Reason }
function readCell(line: AnswerLine, { field, heading }: SheetColumn, text: string): CellRead {
  if (field === 'note')
    return { line: { ...line, note: text.slice(0, 4000) }, before: line.note, after: text.slice(0, 4000) }
  if (field === 'declined') {
    const declined = !['no', 'nein', '0', 'false'].includes(text.toLowerCase())
    return { line: { ...line, declined }, before: line.declined ? 'yes' : '', after: declined ? 'yes' : '' }
  }
  const number = readTypedNumber(text)
  if (!number.ok) return { reason: stop('sheet.figure', { column: heading, text: text.slice(0, 20) }) }
  if (!isHeldDecimal(number.value))
    return { reason: stop('sheet.figure', { column: heading, text: text.slice(0, 20) }) }
  const { value } = number
  if (typeof field === 'object')
    return {
      line: { ...line, components: { ...line.components, [field.component]: value } },
      before: line.components[field.component] ?? '',
      after: value,
    }
  if (field === 'leadDays')
    return /^\d{1,4}$/.test(value)
      ? { line: { ...line, leadDays: Number(value) }, before: String(line.leadDays ?? ''), after: value }
      : { reason: stop('sheet.figure', { column: heading, text: text.slice(0, 20) }) }
  return { line: { ...line, [field]: value }, before: line[field], after: value }
}
