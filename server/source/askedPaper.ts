import type { ResponseOf } from '#contract/endpoint.ts'
import type { LookAtAnswerFile, ReadAsked } from '#contract/source/asked.ts'
import { languageOf } from '#contract/messages/languages.ts'
import { readAnswerSheet, type SheetRead } from '#core/source/answerSheet.ts'
import { readQuotation } from '#core/formats/quotationAnswer.ts'
import type { Read } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { ownContent, ownFile } from '#server/files/fileActs.ts'
import { writeAskedPdf } from '#server/formats/askedPdf.ts'
import { writeAskedWorkbook } from '#server/formats/askedWorkbook.ts'
import { writeUblRequest } from '#server/formats/ublRequest.ts'
import { readSetting } from '#server/house/house.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { readAsked, readBehalf } from '#server/source/askedSheet.ts'
import { momentText } from '#server/source/eventMailStore.ts'
import { knownEvent } from '#server/source/eventStore.ts'

type Asked = ResponseOf<typeof ReadAsked>

async function paper(call: Read, asked: Asked, format: 'xlsx' | 'pdf' | 'xml'): Promise<FileAnswer> {
  const event = await knownEvent(call, asked.id)
  const name = `${asked.number}.${format}`
  if (format === 'xml')
    return {
      name,
      mediaType: 'application/xml',
      bytes: Buffer.from(writeUblRequest(asked, (event.sentAt ?? call.now).slice(0, 10))),
    }
  if (format === 'xlsx')
    return {
      name,
      mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      bytes: await writeAskedWorkbook(event, asked.answer),
    }
  const row = event.rows.find(one => one.supplierId === asked.supplierId)
  const language = languageOf(row?.language ?? 'en', call.house.languages)
  const logo = (await readSetting(call, 'logo')) ?? null
  return {
    name,
    mediaType: 'application/pdf',
    bytes: await writeAskedPdf(asked, { name: call.house.name, logo }, language, momentText(event.endsAt, event.zone)),
    inline: true,
  }
}

/** What the supplier of whoever asks is asked, as a file. */
export const askedPaper = async (call: Read, id: string, format: 'xlsx' | 'pdf' | 'xml'): Promise<FileAnswer> =>
  await paper(call, await readAsked(call, id), format)

/** The same for us, as one supplier gets it. */
export const eventPaper = async (
  call: Read,
  id: string,
  invitedId: string,
  format: 'pdf' | 'xml',
): Promise<FileAnswer> => await paper(call, await readBehalf(call, id, invitedId), format)

/** Reads a filled workbook or a UBL quotation beside the answer so far; nothing is kept. */
export async function lookAtFile(call: Read, id: string, fileId: string): Promise<ResponseOf<typeof LookAtAnswerFile>> {
  const asked = await readAsked(call, id)
  const event = await knownEvent(call, id)
  const file = await ownFile(call, fileId)
  const bytes = new Uint8Array(await ownContent(call, fileId))
  let read: SheetRead
  if (file.mediaType === 'application/xml')
    read = readQuotation(event, asked.answer, await compute('quotationOf', { bytes }), asked.currency)
  else {
    const { headings, rows } = await compute('cellsOf', { bytes })
    read = readAnswerSheet(event, asked.answer, headings, rows)
  }
  return {
    answer: { ...asked.answer, ...read.answer, lines: read.answer.lines.map(line => ({ ...line })), alternatives: [...read.answer.alternatives], ownLines: [...read.answer.ownLines], fileIds: [...read.answer.fileIds], lump: { ...read.answer.lump } }, // prettier-ignore
    differences: read.differences.slice(0, 500),
    left: read.left.slice(0, 500).map(({ row, reason }) => ({ row, code: reason.code, details: reason.details })),
  }
}
