import { computeBuild } from '#core/build/computeBuild.ts'
import { costingRows } from '#core/build/costingRows.ts'
import type { BuildFacts } from '#core/build/facts.ts'
import { type BuildFigures, buildFigures } from '#core/build/figures.ts'
import type { ListColumns } from '#core/build/listColumns.ts'
import { type ReadList, readParts } from '#core/build/readParts.ts'
import type { BuildSettings, PartSettings } from '#core/build/settings.ts'
import { partsToAsk, partsToRequest, type RequestedPart } from '#core/build/turnInto.ts'
import { readBankMessage } from '#core/formats/bankAnswers.ts'
import { readReferenceRates } from '#core/formats/referenceRates.ts'
import { readUblQuotation } from '#core/formats/ublQuotation.ts'
import { match, type Match, type Party, ready } from '#core/source/match.ts'
import { readCells, readGrid } from '#server/formats/cells.ts'
import { readTable } from '#server/formats/delimited.ts'
import { type FoundInvoice, invoicesIn } from '#server/formats/invoiceFile.ts'
import { type NamedDay, readHolidays } from '#server/formats/icalendar.ts'
import { type WorkbookContent, writeOrderWorkbook } from '#server/formats/orderWorkbook.ts'
import { decodeXml } from '#server/formats/text.ts'

/** Lines of orders as a workbook. */
export const orderWorkbookOf = (content: WorkbookContent): Promise<Uint8Array> => writeOrderWorkbook(content)

/** How alike one party is to each of others. */
export function matchAll({ party, others }: { party: Party; others: readonly Party[] }): Match[] {
  const mine = ready(party)
  return others.map(other => match(mine, ready(other)))
}

/** The cells of a spreadsheet or delimited file. */
export const cellsOf = ({ bytes, days }: { bytes: Uint8Array; days?: boolean }): ReturnType<typeof readCells> =>
  readCells(Buffer.from(bytes), days)

/** The rows of a delimited file under known headings. */
export const tableOf = ({ bytes, known, needed, most }: TableAsked): ReturnType<typeof readTable> =>
  readTable(Buffer.from(bytes), known, needed, most)
interface TableAsked {
  readonly bytes: Uint8Array
  readonly known: readonly string[]
  readonly needed: readonly string[]
  readonly most?: number
}

const xmlText = (bytes: Uint8Array): string => decodeXml(Buffer.from(bytes)).text

/** The days that an iCalendar file names. */
export const holidaysOf = ({ bytes, from, to }: { bytes: Uint8Array; from: string; to: string }): NamedDay[] =>
  readHolidays(Buffer.from(bytes).toString('utf8'), from, to)

/** The rates in an XML file of euro reference rates. */
export const referenceRatesOf = ({ bytes }: { bytes: Uint8Array }): ReturnType<typeof readReferenceRates> =>
  readReferenceRates(xmlText(bytes))

/** The e-invoices in a file, and what they say. */
export const invoicesOf = ({ name, bytes }: { name: string; bytes: Uint8Array }): Promise<FoundInvoice[]> =>
  invoicesIn(name, Buffer.from(bytes))

/** What a UBL quotation says. */
export const quotationOf = ({ bytes }: { bytes: Uint8Array }): ReturnType<typeof readUblQuotation> =>
  readUblQuotation(xmlText(bytes))

/** What a message of a bank says. */
export const bankMessageOf = ({ bytes }: { bytes: Uint8Array }): ReturnType<typeof readBankMessage> =>
  readBankMessage(xmlText(bytes))

/** What a parts list says: its columns as found, or as somebody has said; and its first rows. */
export async function partsOf({ bytes, how }: PartsAsked): Promise<{ list: ReadList; examples: string[][] }> {
  const grid = await readGrid(Buffer.from(bytes))
  const list = readParts(grid, how?.columns, how?.firstRow)
  return { list, examples: grid.slice(list.firstRow, list.firstRow + EXAMPLES).map(row => row.map(cell => cell.slice(0, EXAMPLE_LENGTH))) } // prettier-ignore
}
const EXAMPLES = 6
const EXAMPLE_LENGTH = 60
interface PartsAsked {
  readonly bytes: Uint8Array
  readonly how: { readonly columns: ListColumns; readonly firstRow: number } | null
}

/** What a build comes to: its figures, its parts as people read them, what is asked for and what is requested. */
export function costingOf({ facts, settings, parts }: CostingAsked): Costed {
  const { ready, costed } = computeBuild(facts, settings, parts)
  const { each, ...figures } = buildFigures(facts, costed)
  return {
    figures: { ...figures, each: each.toFixed() },
    rows: costingRows(facts, ready, costed),
    asked: partsToAsk(facts, ready, costed),
    requested: [...partsToRequest(ready, costed).values()],
  }
}
export interface CostingAsked {
  readonly facts: BuildFacts
  readonly settings: BuildSettings
  readonly parts: Readonly<Record<string, PartSettings>>
}
/** Plain data, as it comes out of a thread. */
export interface Costed {
  readonly figures: Omit<BuildFigures, 'each'> & { readonly each: string }
  readonly rows: ReturnType<typeof costingRows>
  readonly asked: ReturnType<typeof partsToAsk>
  readonly requested: readonly (readonly RequestedPart[])[]
}
