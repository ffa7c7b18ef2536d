import { randomUUID } from 'node:crypto'
import type { Read, Write } from '#server/call.ts'
import { localeAt } from '#server/mail/recipients.ts'
import { hashOf, newToken } from '#server/people/tokens.ts'
import type { EventSupplierRow, KnownEvent } from '#server/source/eventStore.ts'

/** The role of those who come in by the link of a mail: they may answer, and nothing else. */
const GUEST = 'supplierAnswers'

/**
 * A link with which a supplier answers. Whoever has an account there signs in with it; for anybody else an account is made that can do nothing but
 * answer, and has no password: the link opens it. Whoever has an account without a
 * password, or one at another company, gets one beside it, so that a link never opens more than an answer.
 */
export async function newLink(
  call: Write,
  event: KnownEvent,
  one: EventSupplierRow,
): Promise<{ token: string; hash: string; personId: string }> {
  const token = newToken(24)
  return { token, hash: hashOf(token), personId: one.personId ?? (await personOf(call, event, one)) }
}

async function personOf(call: Write, event: KnownEvent, one: EventSupplierRow): Promise<string> {
  const email = one.email.toLowerCase()
  const known = await call
    .trx('people')
    .whereRaw('lower(email) = ?', [email])
    .first('id', 'supplierId', 'active', 'passwordHash')
  if (known && known.supplierId === one.supplierId && known.active && known.passwordHash !== null) return known.id
  const id = randomUUID()
  await call.trx('people').insert({
    id,
    name: one.contactName || email,
    // somebody else's address opens nothing here: the account is told apart by the event that it was made for
    email: known ? `${event.number.toLowerCase()}.${one.id.slice(0, 8)}@answers.invalid` : email,
    realm: 'supplier',
    supplierId: one.supplierId,
    locale: await localeAt(call, one.supplierId, { name: one.contactName, email }),
  })
  await call.trx('personRoles').insert({ personId: id, role: GUEST, costCentre: null })
  return id
}

/** Whose link a token is, and whether its account has a password of its own: then they sign in with that. */
export async function linked(
  call: Read,
  token: string,
): Promise<{ eventId: string; supplierId: string; personId: string; hasPassword: boolean } | undefined> {
  return await call
    .trx('eventSuppliers')
    .join('people', 'people.id', 'eventSuppliers.personId')
    .where('tokenHash', hashOf(token))
    .where('people.active', true)
    .first<{ eventId: string; supplierId: string; personId: string; hasPassword: boolean } | undefined>(
      'eventId',
      'eventSuppliers.supplierId',
      'personId',
      call.trx.raw('password_hash is not null as has_password'),
    )
}
