import { findColumns, type FoundColumns, type ListColumns, type ListField } from '#core/build/listColumns.ts'
import { unitFrom } from '#core/build/listUnits.ts'
import type { PartLine } from '#core/build/partsList.ts'
import { isDay } from '#core/calendar/days.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { check, note, type Reason, stop } from '#core/reasons.ts'

/** Lines that one list may have. */
export const MOST_PART_LINES = 20_000
const LONGEST = 300

/** A list as it was read: its lines, and what was found on the way. Rows are numbered from one, as in the file. */
export interface ReadList extends FoundColumns {
  readonly lines: readonly (PartLine & { readonly row: number; readonly onHand: string })[]
  /** Rows that are not lines, and why: a total, a repeated heading, a row without anything. */
  readonly skipped: readonly { readonly row: number; readonly why: 'total' | 'heading' | 'empty' }[]
  /** What stops (the list cannot be taken so), what should be looked at, what was taken for something. */
  readonly reasons: readonly Reason[]
}

/**
 * Reads a parts list from its cells: columns as found, or as somebody has said. Totals and repeated headings inside the table are left out; a row that
 * names no part takes it from the row above, as merged cells do. Figures take a decimal comma or point: where one figure could be two, the others of its
 * column decide, and where they do not agree it is asked for. A quantity that cannot be read leaves its line without one.
 */
export function readParts(grid: readonly (readonly string[])[], columns?: ListColumns, firstRow?: number): ReadList {
  const found = findColumns(grid)
  const use = columns ?? found.columns
  const from = firstRow ?? found.firstRow
  const cell = (row: number, field: ListField): string => {
    const at = use[field]
    return at === undefined ? '' : (grid[row]?.[at] ?? '')
  }
  const missing = whatIsMissing(use)
  if (missing.length > 0) return { ...found, columns: use, firstRow: from, lines: [], skipped: [], reasons: missing }
  const reasons: Reason[] = []
  const skipped: { row: number; why: 'total' | 'heading' | 'empty' }[] = []
  const rows: number[] = []
  for (let row = from; row < grid.length; row++) {
    const why = whySkipped(grid[row]!, row, cell, found.headings)
    if (why) skipped.push({ row: row + 1, why })
    else rows.push(row)
  }
  const mark = (field: ListField): '.' | ',' | 'both' | null => decimalMark(rows.map(row => cell(row, field)))
  const figures = { quantity: mark('quantity'), onHand: mark('onHand') }
  let above: Named | null = null
  const lines = rows.map(row => {
    const named = namedIn(row, cell)
    const taken: Named = isNamed(named) || !above ? named : above
    if (taken === above) reasons.push(note('parts.sameAsAbove', { row: row + 1 }))
    above = taken
    const { quantity, unit, faults } = quantityIn(row, cell, figures.quantity)
    reasons.push(...faults)
    const onHand = figureIn(cell(row, 'onHand'), figures.onHand)
    return {
      row: row + 1,
      ...taken,
      quantity,
      unit,
      places: cell(row, 'places').trim().slice(0, LONGEST),
      remarks: cell(row, 'remarks').trim().slice(0, LONGEST),
      itemId: null,
      parent: null,
      onHand: typeof onHand === 'string' ? onHand : '',
    }
  })
  if (lines.length > MOST_PART_LINES) reasons.unshift(stop('parts.tooMany', { most: MOST_PART_LINES }))
  if (lines.length === 0) reasons.unshift(stop('parts.none'))
  const parents = parentsOf(rows, cell, lines)
  return {
    ...found,
    columns: use,
    firstRow: from,
    lines: lines.map((line, at) => ({ ...line, parent: parents[at]! })),
    skipped,
    reasons,
  }
}

type CellOf = (row: number, field: ListField) => string
type Named = Pick<PartLine, 'number' | 'maker' | 'makerNumber' | 'gtin' | 'description'>

const whatIsMissing = (columns: ListColumns): Reason[] => [
  ...(columns.quantity === undefined ? [stop('parts.noQuantity', {}, { place: 'quantity' })] : []),
  ...(columns.number === undefined && columns.description === undefined && columns.makerNumber === undefined
    ? [stop('parts.noName', {}, { place: 'number' })]
    : []),
]

/** What a row of sums begins with, alone or with what is summed; a part may be called so with more words or by a number. */
const TOTAL =
  /^(?:grand |sub ?)?(?:totals?|sums?|summe|gesamt|gesamtsumme|zwischensumme|totaal|subtotaal|somme|total général|sum total)(?: (?:parts|pieces|quantity|qty|cost|price|amount|weight|stück|menge))?\s*:?$/i
const isTotal = (text: string): boolean => TOTAL.test(text.trim())

function whySkipped(
  cells: readonly string[],
  row: number,
  cell: CellOf,
  headings: readonly string[],
): 'total' | 'heading' | 'empty' | null {
  const given = cells.map(text => text.trim()).filter(Boolean)
  if (given.length === 0) return 'empty'
  const numbered = ['number', 'makerNumber'].some(field => {
    const text = cell(row, field as ListField).trim()
    return text !== '' && !isTotal(text)
  })
  if (!numbered && (isTotal(given[0]!) || isTotal(cell(row, 'number')) || isTotal(cell(row, 'description'))))
    return 'total'
  const again = cells.filter((text, at) => text.trim() !== '' && text.trim() === headings[at]).length
  return again > 1 && again >= given.length / 2 ? 'heading' : null
}

/** Leading blanks of a description may say how deep a line stands; they are counted before they are cut. */
const namedIn = (row: number, cell: CellOf): Named => ({
  number: cell(row, 'number').trim().slice(0, LONGEST),
  maker: cell(row, 'maker').trim().slice(0, LONGEST),
  makerNumber: cell(row, 'makerNumber').trim().slice(0, LONGEST),
  gtin: cell(row, 'gtin').replace(/\s/g, '').slice(0, 14),
  description: cell(row, 'description').trim().replace(/\s+/g, ' ').slice(0, LONGEST),
})
const isNamed = ({ number, makerNumber, description, gtin }: Named): boolean =>
  [number, makerNumber, description, gtin].some(text => text !== '')

/** How the figures of a column are written, by those that can be read in one way only; 'both' where they do not agree. */
function decimalMark(cells: readonly string[]): '.' | ',' | 'both' | null {
  const marks = new Set<string>()
  for (const text of cells) {
    const packed = text.trim().replace(/[\s\u00a0\u202f']|\p{L}+\.?$/gu, '')
    const both = /^-?\d{1,3}(?:([.,])\d{3})+([.,])\d+$/.exec(packed)
    if (both && both[1] !== both[2]) marks.add(both[2]!)
    else if (/^-?\d{1,3}([.,])\d{3}(\1\d{3})+$/.test(packed)) marks.add(packed.includes('.') ? ',' : '.')
    else {
      const single = /^-?\d+([.,])(\d+)$/.exec(packed)
      if (single && single[2]!.length !== 3) marks.add(single[1]!)
    }
  }
  return marks.size === 0 ? null : marks.size === 1 ? ([...marks][0] as '.' | ',') : 'both'
}

/** A figure as text of a decimal, or how it cannot be read. */
function figureIn(text: string, mark: '.' | ',' | 'both' | null): string | { ambiguous?: readonly [string, string] } {
  const read = readTypedNumber(text)
  if (read.ok) return isHeldDecimal(read.value) && !read.value.startsWith('-') ? read.value : {}
  if (!read.ambiguous) return {}
  if (mark === null || mark === 'both') return { ambiguous: read.ambiguous }
  const [whole, decimal] = read.ambiguous
  return text.includes(mark) ? decimal : whole
}

const NOTHING = /^(-|–|—|n\/?a|dnp|dnf)$/i

function quantityIn(
  row: number,
  cell: CellOf,
  mark: '.' | ',' | 'both' | null,
): { quantity: string | null; unit: string; faults: Reason[] } {
  const text = cell(row, 'quantity').trim()
  const at = { place: `rows.${row + 1}.quantity` }
  const [, figure = text, word = ''] = /^([-\d.,'\s\u00a0\u202f]+?)\s*(\p{L}[\p{L}³².]*)?$/u.exec(text) ?? []
  const said = cell(row, 'unit').trim() || word
  const unit = said === '' ? 'C62' : unitFrom(said)
  const faults =
    unit === undefined
      ? [check('parts.unit', { row: row + 1, unit: said.slice(0, 20) }, { place: `rows.${row + 1}.unit` })]
      : []
  const known = { unit: unit ?? 'C62' }
  if (NOTHING.test(text)) return { quantity: '0', ...known, faults }
  if (text === '')
    return { quantity: null, ...known, faults: [...faults, check('parts.noFigure', { row: row + 1 }, at)] }
  if (isDay(text.slice(0, 10)))
    return {
      quantity: null,
      ...known,
      faults: [...faults, check('parts.date', { row: row + 1, text: text.slice(0, 20) }, at)],
    }
  const read = figureIn(figure, mark)
  if (typeof read === 'string') {
    const odd = unit === undefined ? null : new Decimal(read)
    return { quantity: odd === null ? null : read, ...known, faults }
  }
  const fault = read.ambiguous
    ? check('parts.twoFigures', { row: row + 1, one: read.ambiguous[0], other: read.ambiguous[1] }, at)
    : check('parts.figure', { row: row + 1, text: text.slice(0, 20) }, at)
  return { quantity: null, ...known, faults: [...faults, fault] }
}

/** Which line each line is part of: by levels or outline numbers, by the number of its assembly, or by blanks before its words. */
function parentsOf(rows: readonly number[], cell: CellOf, lines: readonly Named[]): (number | null)[] {
  const assemblies = rows.map(row => cell(row, 'parent').trim().toLowerCase())
  if (assemblies.some(text => text !== '')) {
    const first = new Map<string, number>()
    for (const [at, line] of lines.entries()) {
      const number = line.number.toLowerCase()
      if (number !== '' && !first.has(number)) first.set(number, at)
    }
    return assemblies.map(text => first.get(text) ?? null)
  }
  const levels = rows.map(row => levelIn(cell(row, 'level')))
  const deep = levels.some(level => level !== null)
    ? levels
    : rows.map(row => blanksBefore(cell(row, 'description') || cell(row, 'number')))
  const open: { level: number; at: number }[] = []
  return deep.map((level, at) => {
    while (open.length > 0 && open.at(-1)!.level >= (level ?? 0)) open.pop()
    const parent = open.at(-1)?.at ?? null
    open.push({ level: level ?? 0, at })
    return parent
  })
}

const blanksBefore = (text: string): number => /^\s*/.exec(text)![0].length

/** How deep a line stands: 2, ..2, or 1.2.3 (three deep); null where nothing is said. */
function levelIn(text: string): number | null {
  const plain = text.trim().replace(/^[.\-+>\s]+(?=\d+$)/, '')
  if (/^\d+$/.test(plain)) return Number(plain)
  if (/^\d+([.-]\d+)+$/.test(plain)) return plain.split(/[.-]/).length
  return null
}
