import { fromBufferPromise, type Entry } from 'yauzl'
import type { InvoiceText } from '#core/bill/invoiceText.ts'
import { readEInvoice } from '#core/formats/eInvoice.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { decodeXml } from '#server/formats/text.ts'

/** A document that was found in a file: what it says, or why it cannot be read. */
export interface FoundInvoice {
  readonly name: string
  readonly encoding: string
  readonly invoice: InvoiceText | null
  readonly reasons: readonly Reason[]
}

/** Documents that are taken out of one ZIP, and bytes that it may unpack to: a small file can say that it holds anything. */
const MOST_ENTRIES = 500
const MOST_BYTES = 100 * 1024 * 1024

/** Every e-invoice in a file: XML, a PDF with data in it (ISO 19005-3; Factur-X 1.0, ZUGFeRD 1 and 2), or a ZIP of those. What cannot be read is said beside its name. */
export async function invoicesIn(name: string, bytes: Buffer): Promise<FoundInvoice[]> {
  if (!isZip(bytes)) return [await foundIn(name, bytes)]
  const found: FoundInvoice[] = []
  try {
    for await (const entry of entriesOf(bytes)) found.push(await foundIn(entry.name, entry.bytes, true))
  } catch (error) {
    found.push({ name, encoding: '', invoice: null, reasons: error instanceof RuleBroken ? error.reasons : [stop('bill.zipBroken', { name })] }) // prettier-ignore
  }
  return found.length > 0 ? found : [{ name, encoding: '', invoice: null, reasons: [stop('bill.zipEmpty', { name })] }]
}

async function foundIn(name: string, bytes: Buffer, inZip = false): Promise<FoundInvoice> {
  try {
    if (inZip && isZip(bytes)) throw new RuleBroken(stop('bill.zipInZip', { name }))
    const { text, encoding } = decodeXml(isPdf(bytes) ? await dataInPdf(name, bytes) : bytes)
    return { name, encoding, invoice: readEInvoice(text), reasons: [] }
  } catch (error) {
    if (!(error instanceof RuleBroken)) throw error
    return { name, encoding: '', invoice: null, reasons: error.reasons }
  }
}

const isZip = (bytes: Buffer): boolean => bytes.subarray(0, 4).equals(Buffer.from([0x50, 0x4b, 3, 4]))
/** A PDF may have a few bytes before its head (ISO 32000-1, annex H.3.4.1). */
const isPdf = (bytes: Buffer): boolean => bytes.subarray(0, 1024).includes('%PDF-')

/** Files of a ZIP, one after the other. Names that climb out of it are refused by the package; nothing is written anywhere. */
async function* entriesOf(bytes: Buffer): AsyncGenerator<{ name: string; bytes: Buffer }> {
  const zip = await fromBufferPromise(bytes)
  let count = 0
  let left = MOST_BYTES
  for await (const entry of zip.eachEntry()) {
    if (entry.fileName.endsWith('/')) continue
    if (++count > MOST_ENTRIES) throw new RuleBroken(stop('bill.zipTooLarge', { most: MOST_ENTRIES, megabytes: MOST_BYTES / 1024 / 1024 })) // prettier-ignore
    const read = await unpacked(zip, entry, left)
    left -= read.length
    yield { name: entry.fileName, bytes: read }
  }
}

async function unpacked(
  zip: Awaited<ReturnType<typeof fromBufferPromise>>,
  entry: Entry,
  left: number,
): Promise<Buffer> {
  const tooLarge = (): never => {
    throw new RuleBroken(stop('bill.zipTooLarge', { most: MOST_ENTRIES, megabytes: MOST_BYTES / 1024 / 1024 }))
  }
  if (entry.uncompressedSize > left) tooLarge()
  const parts: Buffer[] = []
  let size = 0
  for await (const part of await zip.openReadStreamPromise(entry)) {
    size += (part as Buffer).length
    if (size > left) tooLarge()
    parts.push(part as Buffer)
  }
  return Buffer.concat(parts)
}

/** Names under which invoices lie in PDFs; another XML file counts where it is the only one. */
const DATA_NAMES: ReadonlySet<string> = new Set(['factur-x.xml', 'zugferd-invoice.xml', 'xrechnung.xml'])

interface Attached {
  readonly filename: string
  readonly content?: Uint8Array
}

/** @throws RuleBroken bill.isPdf | bill.pdfTwo | bill.pdfLocked | bill.pdfBroken */
async function dataInPdf(name: string, bytes: Buffer): Promise<Buffer> {
  const attached = await attachmentsOf(name, bytes)
  const xml = attached.filter(one => /\.xml$/i.test(one.filename))
  const known = xml.filter(one => DATA_NAMES.has(one.filename.toLowerCase()))
  const wanted = known.length > 0 ? known : xml
  if (wanted.length === 0) throw new RuleBroken(stop('bill.isPdf', { name }))
  if (wanted.length > 1) throw new RuleBroken(stop('bill.pdfTwo', { name, files: wanted.map(one => one.filename).join(', ') })) // prettier-ignore
  const { content } = wanted[0]!
  if (!content || content.length === 0) throw new RuleBroken(stop('bill.pdfBroken', { name }))
  return Buffer.from(content)
}

async function attachmentsOf(name: string, bytes: Buffer): Promise<Attached[]> {
  // only where a PDF comes: it is large
  const { getDocument, VerbosityLevel } = await import('pdfjs-dist/legacy/build/pdf.mjs')
  const task = getDocument({ data: new Uint8Array(bytes), isEvalSupported: false, verbosity: VerbosityLevel.ERRORS })
  try {
    const pdf = await task.promise
    return Object.values(((await pdf.getAttachments()) as Record<string, Attached> | null) ?? {})
  } catch (error) {
    throw new RuleBroken(stop((error as Error).name === 'PasswordException' ? 'bill.pdfLocked' : 'bill.pdfBroken', { name }), { cause: error }) // prettier-ignore
  } finally {
    await task.destroy()
  }
}
