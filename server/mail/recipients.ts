import type { Addressee, SupplierMessage } from '#core/acts/decision.ts'
import type { Read } from '#server/call.ts'
import type { Reader } from '#server/mail/mail.ts'

const languageOf = (locale: string): string => locale.slice(0, 2)

/** Whom a message reaches: a person whose account is open, or those at a supplier who get this kind of message. */
export async function recipients(call: Read, to: Addressee): Promise<Reader[]> {
  if (to.kind === 'supplier') return supplierReaders(call, to.id, to.message)
  const person = await call.trx('people').where({ id: to.id, active: true }).first('name', 'email', 'locale')
  return person ? [{ name: person.name, email: person.email, language: languageOf(person.locale) }] : []
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
