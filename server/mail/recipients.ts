import { LOCALES } from '#contract/account/endpoints.ts'
import { type Language, languageOf } from '#contract/messages/languages.ts'
import type { Addressee, SupplierMessage } from '#core/acts/decision.ts'
import type { Read } from '#server/call.ts'
import { mailWish } from '#server/people/preferences.ts'
import type { Reader, TeamReader } from '#server/mail/mail.ts'

/** Whom a message reaches: a person whose account is open, or those at a supplier who get this kind of message. */
export async function recipients(call: Read, to: Addressee): Promise<(Reader | TeamReader)[]> {
  if (to.kind === 'supplier') return supplierReaders(call, to.id, to.message)
  const person = await call
    .trx('people')
    .where({ id: to.id, active: true })
    .first('name', 'email', 'locale', 'timeZone', 'realm')
  if (!person) return []
  const reader = { name: person.name, email: person.email, language: person.locale }
  if (person.realm !== 'team') return [reader]
  return [{ ...reader, personId: to.id, zone: person.timeZone, wish: await mailWish(call, to.id) }]
}

/**
 * Who gets a kind of message at a supplier: the addresses chosen for it that have not bounced, else the contact who has that role, else the
 * first with an address.
 */
export async function supplierReaders(call: Read, supplierId: string, message: SupplierMessage): Promise<Reader[]> {
  const chosen = await call
    .trx('supplierAddresses')
    .where({ supplierId, message })
    .whereNull('bouncedAt')
    .orderBy('email')
    .select('email')
  const contacts = await call
    .trx('supplierContacts')
    .where({ supplierId })
    .whereNot({ email: '' })
    .orderByRaw('(? = any(roles)) desc, position', [message])
    .limit(50)
    .select('name', 'email', 'language')
  if (chosen.length === 0) return contacts.slice(0, 1)
  const known = new Map(contacts.map(contact => [contact.email.toLowerCase(), contact]))
  return chosen.map(({ email }) => {
    const contact = known.get(email.toLowerCase()) ?? contacts[0]
    return { email, name: contact?.name ?? '', language: contact?.language ?? 'en' }
  })
}

/** Somebody at a supplier whose address is known: read to in the language of their account, else as the contact with that address, else as the first. */
export async function readerAt(call: Read, supplierId: string, who: { name: string; email: string }): Promise<Reader> {
  const email = who.email.toLowerCase()
  const account = await call.trx('people').whereRaw('lower(email) = ?', [email]).first('locale')
  const contact = await call
    .trx('supplierContacts')
    .where({ supplierId })
    .orderByRaw('lower(email) = ? desc, position', [email])
    .first('language')
  return { name: who.name, email: who.email, language: account?.locale ?? contact?.language ?? 'en' }
}

/** The language of a supplier's documents: that of whoever gets its orders. */
export async function documentLanguage(call: Read, supplierId: string): Promise<Language> {
  const [first] = await supplierReaders(call, supplierId, 'orders')
  return languageOf(first?.language ?? '', call.house.languages)
}

/** How a new account at a supplier writes days and figures: by the language that its person is written to in. */
export async function localeAt(call: Read, supplierId: string, who: { name: string; email: string }): Promise<string> {
  const { language } = await readerAt(call, supplierId, who)
  return LOCALES.find(one => one.startsWith(languageOf(language, call.house.languages))) ?? LOCALES[0]
}
