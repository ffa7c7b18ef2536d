import { readBankMessage } from '#core/formats/bankAnswers.ts'
import { readReferenceRates } from '#core/formats/referenceRates.ts'
import { readUblInvoice } from '#core/formats/ublInvoice.ts'
import { readUblQuotation } from '#core/formats/ublQuotation.ts'
import { match, type Match, type Party, ready } from '#core/source/match.ts'
import { readCells } from '#server/formats/cells.ts'
import { readTable } from '#server/formats/delimited.ts'
import { type NamedDay, readHolidays } from '#server/formats/icalendar.ts'
import { decodeXml } from '#server/formats/text.ts'

/** How alike one party is to each of others. */
export function matchAll({ party, others }: { party: Party; others: readonly Party[] }): Match[] {
  const mine = ready(party)
  return others.map(other => match(mine, ready(other)))
}

/** The cells of a spreadsheet or delimited file. */
export const cellsOf = ({ bytes }: { bytes: Uint8Array }): ReturnType<typeof readCells> => readCells(Buffer.from(bytes))

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

/** What a UBL invoice says. */
export const invoiceOf = ({ bytes }: { bytes: Uint8Array }): ReturnType<typeof readUblInvoice> =>
  readUblInvoice(xmlText(bytes))

/** What a UBL quotation says. */
export const quotationOf = ({ bytes }: { bytes: Uint8Array }): ReturnType<typeof readUblQuotation> =>
  readUblQuotation(xmlText(bytes))

/** What a message of a bank says. */
export const bankMessageOf = ({ bytes }: { bytes: Uint8Array }): ReturnType<typeof readBankMessage> =>
  readBankMessage(xmlText(bytes))
