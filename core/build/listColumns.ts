import { isGtin } from '#core/text/gs1.ts'
import { plainLetters } from '#core/source/names.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { unitFrom } from '#core/build/listUnits.ts'

/** What a column of a parts list can say. */
export const LIST_FIELDS = [
  'level',
  'parent',
  'number',
  'description',
  'quantity',
  'unit',
  'maker',
  'makerNumber',
  'gtin',
  'places',
  'onHand',
  'remarks',
] as const
export type ListField = (typeof LIST_FIELDS)[number]

/** Which column a field is read from; a field that is not there is missing. */
export type ListColumns = Readonly<Partial<Record<ListField, number>>>

/** Headings that people write, without marks and in small letters, in the languages that the house's suppliers and designers write. */
const HEADINGS: Readonly<Record<ListField, string>> = {
  level: 'level|lvl|lev|ebene|stufe|niveau|niva|tier|depth|indent',
  parent:
    'parent|parent number|parent part|assembly|assembly number|used in|belongs to|baugruppe|samenstelling|ensemble|parent item',
  number:
    'number|part number|part no|part nr|part|item number|item no|item nr|article|article number|artikel|artikelnummer|teilenummer|teile nr|onderdeelnummer|reference|ref no|reference article|code|stock code|our number|id',
  description:
    'description|part description|name|part name|designation|title|what|bezeichnung|benennung|beschreibung|omschrijving|benaming|libelle|beskrivelse|benevnelse|text',
  quantity:
    'quantity|qty|qty per|qty per build|quantity per build|quantity per|qty each|amount|count|pcs|no off|number off|menge|anzahl|stuckzahl|aantal|hoeveelheid|quantite|qte|antall|mengde|per build|needed',
  unit: 'unit|uom|unit of measure|einheit|me|eenheid|unite|enhet|units',
  maker: 'maker|manufacturer|mfr|mfg|make|brand|hersteller|fabrikant|fabricant|produsent',
  makerNumber:
    'maker number|maker no|maker part number|maker s number|manufacturer part number|manufacturer part|mfr part number|mfr part no|mfr no|mpn|manufacturer number|hersteller nr|herstellernummer|hersteller teilenummer|fabrikantnummer|typ|type|model',
  gtin: 'gtin|ean|barcode|gtin 13|ean 13|upc',
  places:
    'places|designators|designator|reference designator|reference designators|ref des|refdes|position|positions|pos|location|where|einbauort|plaats|repere|posisjon',
  onHand: 'on hand|in stock|stock|in house|we have|bestand|lager|voorraad|en stock|pa lager',
  remarks: 'remarks|remark|notes|note|comment|comments|bemerkung|bemerkungen|opmerking|opmerkingen|remarque|merknad',
}
const NAMES: Readonly<Record<ListField, ReadonlySet<string>>> = Object.fromEntries(
  Object.entries(HEADINGS).map(([field, names]) => [field, new Set(names.split('|'))]),
) as never

const plain = (text: string): string =>
  plainLetters(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

/** What a heading says; undefined where it is none that is known. headingField('Qty. per build') //=> 'quantity' */
export function headingField(text: string): ListField | undefined {
  const words = plain(text)
  if (words === '') return undefined
  return LIST_FIELDS.find(field => NAMES[field].has(words))
}

export interface FoundColumns {
  readonly columns: ListColumns
  /** Rows before the first line: titles and headings. */
  readonly firstRow: number
  /** What the columns are called, one or two rows of headings together. */
  readonly headings: readonly string[]
}

/** Rows from the top among which headings are looked for. */
const LOOKED_AT = 30
const FEWEST = 2

/**
 * Finds the columns of a parts list: first by the row with most known headings (and a second one below it), then by what stands in the columns. A list
 * without headings is read by its content alone.
 */
export function findColumns(grid: readonly (readonly string[])[]): FoundColumns {
  const known = grid.slice(0, LOOKED_AT).map(row => new Set(row.flatMap(cell => headingField(cell) ?? [])).size)
  const most = Math.max(0, ...known)
  const at = most >= FEWEST ? known.indexOf(most) : -1
  const width = Math.max(0, ...grid.map(row => row.length))
  const cells = (row: number): string[] =>
    Array.from({ length: width }, (_one, column) => grid[row]?.[column]?.trim() ?? '')
  const second = at >= 0 && isSecondHeading(cells(at), cells(at + 1))
  const headings =
    at < 0 ? [] : cells(at).map((cell, column) => [cell, second ? cells(at + 1)[column] : ''].filter(Boolean).join(' '))
  const firstRow = at < 0 ? 0 : at + (second ? 2 : 1)
  const columns: Partial<Record<ListField, number>> = {}
  const fieldsOf = (column: number): (ListField | undefined)[] => [
    headingField(headings[column] ?? ''),
    headingField(cells(at)[column]!),
    ...(second ? [headingField(cells(at + 1)[column]!)] : []),
  ]
  if (at >= 0)
    for (let column = 0; column < width; column++)
      for (const field of fieldsOf(column))
        if (field !== undefined && columns[field] === undefined && !Object.values(columns).includes(column))
          columns[field] = column
  return { columns: withContent(columns, grid.slice(firstRow), width), firstRow, headings }
}

const isFigure = (text: string): boolean => {
  const read = readTypedNumber(text)
  return read.ok || read.ambiguous !== undefined
}

/** A second row of headings has no figures, and says units in brackets or goes on with headings. */
const isSecondHeading = (first: readonly string[], second: readonly string[]): boolean =>
  second.some(cell => cell !== '') &&
  !second.some(isFigure) &&
  second.every(
    (cell, column) =>
      cell === '' ||
      headingField(cell) !== undefined ||
      headingField(`${first[column]} ${cell}`) !== undefined ||
      /^[[(].*[\])]$/.test(cell),
  )

/** Columns that no heading names, by what stands in most of their cells. */
function withContent(known: ListColumns, rows: readonly (readonly string[])[], width: number): ListColumns {
  const columns = { ...known }
  const free = (): number[] =>
    Array.from({ length: width }, (_one, column) => column).filter(column => !Object.values(columns).includes(column))
  const given = (column: number): string[] =>
    rows
      .slice(0, 200)
      .map(row => row[column]?.trim() ?? '')
      .filter(Boolean)
  const most = (column: number, test: (text: string) => boolean): boolean => {
    const cells = given(column)
    return cells.length > 0 && cells.filter(test).length >= cells.length * MOST_SHARE
  }
  const take = (field: ListField, test: (text: string) => boolean): void => {
    if (columns[field] !== undefined) return
    const found = free().find(column => most(column, test))
    if (found !== undefined) columns[field] = found
  }
  take('gtin', text => isGtin(text.replace(/\s/g, '')))
  take('unit', text => !isFigure(text) && unitFrom(text) !== undefined)
  if (columns.description === undefined) {
    const wordy = free()
      .map(column => ({
        column,
        letters:
          given(column).reduce((sum, text) => sum + text.replace(/[^\p{L} ]/gu, '').length, 0) /
          Math.max(1, given(column).length),
      }))
      .sort((a, b) => b.letters - a.letters)[0]
    if (wordy && wordy.letters >= WORDY) columns.description = wordy.column
  }
  take('number', text => /\d/.test(text) && /^[\p{L}\p{N}._/-]{3,40}$/u.test(text) && !/^\d{1,3}([.,]\d+)?$/.test(text))
  take('quantity', text => isFigure(text.replace(/\s*\p{L}+\.?$/u, '')))
  return columns
}
const MOST_SHARE = 0.7
/** Letters that a description has in the mean at the least. */
const WORDY = 6
