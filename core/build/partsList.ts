/** One line of a parts list, as it was taken over. Lines are told by their place, from zero. */
export interface PartLine {
  /** Place of the assembly that it is part of; null at the top. */
  readonly parent: number | null
  readonly number: string
  readonly maker: string
  readonly makerNumber: string
  readonly gtin: string
  readonly description: string
  /** How many one of its assembly takes, of `unit`; null where the list does not say. */
  readonly quantity: string | null
  readonly unit: string
  /** Reference designators or positions, as written. */
  readonly places: string
  readonly remarks: string
  /** The item that it is; null where none is found (yet). */
  readonly itemId: string | null
}

const tidyText = (text: string): string => text.trim().toLowerCase().replace(/\s+/g, ' ')

/** What a line is bought under: its item, else its number, its maker's number, its words. Lines of one key are bought together. */
export function partKey(line: Pick<PartLine, 'itemId' | 'number' | 'maker' | 'makerNumber' | 'description'>): string {
  if (line.itemId !== null) return `item ${line.itemId}`
  if (line.number.trim() !== '') return `number ${tidyText(line.number)}`
  if (line.makerNumber.trim() !== '') return `maker ${tidyText(line.maker)} ${tidyText(line.makerNumber)}`
  return `words ${tidyText(line.description)}`
}

/** What a line is called where one name has to do. */
export const lineName = (line: Pick<PartLine, 'number' | 'makerNumber' | 'description'>): string =>
  line.description.trim() || line.number.trim() || line.makerNumber.trim()
