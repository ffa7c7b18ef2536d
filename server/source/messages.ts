import type { SUPPLIER_MESSAGES } from '#contract/source/company.ts'
import type { Call } from '#server/call.ts'
import { mail, type MailPayload } from '#server/outbox/post.ts'

export type SupplierMessage = (typeof SUPPLIER_MESSAGES)[number]

/** Who gets a kind of message at a supplier: the addresses chosen for it that have not bounced, else the contact who has that role, else the first with an address. */
export async function recipients(call: Call, supplierId: string, message: SupplierMessage): Promise<{ name: string; email: string }[]> {
  const chosen = (await call.trx('supplierAddresses').where({ supplierId, message }).whereNull('bouncedAt').orderBy('email').select('email')) as { email: string }[]
  const contacts = (await call
    .trx('supplierContacts')
    .where({ supplierId })
    .whereNot({ email: '' })
    .orderByRaw('(? = any(roles)) desc, position', [message])
    .limit(50)
    .select('name', 'email')) as { name: string; email: string }[]
  if (chosen.length === 0) return contacts.slice(0, 1)
  const names = new Map(contacts.map(contact => [contact.email.toLowerCase(), contact.name]))
  return chosen.map(({ email }) => ({ email, name: names.get(email.toLowerCase()) ?? contacts[0]?.name ?? '' }))
}

/** Mails a supplier at every address that gets this kind of message. `text` is written with the name of who reads it. */
export async function mailSupplier(
  call: Call,
  supplierId: string,
  message: SupplierMessage,
  key: string,
  document: { kind: string; id: string },
  payload: Omit<MailPayload, 'to' | 'text'> & { text: (name: string) => string },
): Promise<void> {
  for (const [index, to] of (await recipients(call, supplierId, message)).entries())
    await mail(call, index === 0 ? key : `${key}:${to.email}`, document, { ...payload, to: to.email, text: payload.text(to.name) })
}
