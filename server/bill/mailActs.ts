import { createHash } from 'node:crypto'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { languageOf } from '#contract/messages/languages.ts'
import { writeCode } from '#contract/messages/translate.ts'
import { readInvoiceFiles } from '#server/bill/takeActs.ts'
import type { Write } from '#server/call.ts'
import { storeFile } from '#server/files/fileActs.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import { mail } from '#server/mail/mail.ts'
import { type Hanging, readHanging } from '#server/mail/readMail.ts'

/** Somebody of a supplier who may send its invoices by mail. */
interface Sender {
  readonly supplierId: string
  readonly name: string
  readonly email: string
  readonly locale: string
}

/**
 * Reads the e-invoices that hang on a mail to the invoices' mailbox, each by itself. Only an address that a supplier has with us is answered: what became
 * of each document. What an unknown sender sends is left, and told nobody.
 */
export async function readInvoiceMail(parts: JobParts, id: string): Promise<void> {
  const row = await parts.db('mailsIn').where({ id, outcome: null }).first('raw')
  if (!row?.raw) return
  const received = await readHanging(row.raw)
  const outcome = await inTransaction(parts, async call => {
    const taken = received === null ? 'unreadable' : await take(call, id, received)
    await call.trx('mailsIn').where({ id }).update({ outcome: taken, raw: null })
    return taken
  })
  if (outcome === 'unknownSender') parts.log('a mail with invoices is of nobody who is known', { id })
}

async function take(
  call: Write,
  id: string,
  received: NonNullable<Awaited<ReturnType<typeof readHanging>>>,
): Promise<string> {
  const sender = await senderOf(call, received.from)
  if (!sender) return 'unknownSender'
  const fileIds: string[] = []
  for (const file of received.files) fileIds.push(await stored(call, file))
  const said = await readAll(call, sender, fileIds)
  const what = said.length > 0 ? said.join('\n') : ''
  await mail(
    call,
    { name: sender.name, email: sender.email, language: sender.locale },
    'invoice.mailRead',
    `invoices-by-mail:${id}`,
    { kind: 'supplier', id: sender.supplierId },
    {
      subject: received.subject.slice(0, 200),
      what,
      nothing: said.length === 0 ? '1' : '',
      path: '/supplier/invoices',
    },
  )
  return said.length > 0 ? 'read' : 'nothing'
}

/** What became of each document, in the sender's language. */
async function readAll(call: Write, sender: Sender, fileIds: readonly string[]): Promise<string[]> {
  const language = languageOf(sender.locale, call.house.languages)
  const { results } = await readInvoiceFiles(call, fileIds, sender.supplierId)
  return results.map(one => `${one.file}: ${one.reasons.length > 0 ? one.reasons.map(reason => writeCode(reason.code, language, reason.details)).join(' ') : `${one.theirs}, ${writeCode('supplierInvoice.taken', language, {})}`}`) // prettier-ignore
}

async function stored(call: Write, { name, bytes }: Hanging): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'invoice-mail-'))
  const path = join(folder, 'file')
  await writeFile(path, bytes)
  const upload = { path, name: name.slice(0, 200), size: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex'), drop: () => rm(folder, { recursive: true, force: true }) } // prettier-ignore
  return (await storeFile(call, { announced: bytes.length, receive: () => Promise.resolve(upload) })).id
}

/** Somebody whose address a supplier has with us: one of its people who may bill, or a contact. */
async function senderOf(call: Write, email: string): Promise<Sender | undefined> {
  if (email === '') return undefined
  const person = await call.trx('people').whereRaw('lower(email) = ?', [email]).where({ active: true }).whereNotNull('supplierId').first('supplierId', 'name', 'email', 'locale') // prettier-ignore
  if (person?.supplierId) return { supplierId: person.supplierId, name: person.name, email: person.email, locale: person.locale } // prettier-ignore
  const contact = await call.trx('supplierContacts').whereRaw('lower(email) = ?', [email]).first('supplierId', 'name', 'email', 'language') // prettier-ignore
  return contact ? { supplierId: contact.supplierId, name: contact.name, email: contact.email, locale: contact.language } : undefined // prettier-ignore
}
