import { randomUUID } from 'node:crypto'
import { found, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { supplierReaders } from '#server/mail/recipients.ts'
import type { KnownEvent } from '#server/source/eventStore.ts'
import { proposals } from '#server/source/proposalStore.ts'

/** Puts suppliers on the list of an event, each with the contact for orders and why it is proposed; who is on it stays as it is. */
export async function addInvited(call: Write, event: KnownEvent, supplierIds: readonly string[]): Promise<void> {
  const known = new Set(event.invited.map(one => one.supplierId))
  const why = new Map((await proposals(call, event)).map(one => [one.supplierId, one.reasons]))
  for (const supplierId of [...new Set(supplierIds)].filter(one => !known.has(one))) {
    const supplier = found(await call.trx('suppliers').where({ id: supplierId }).first('currency'), 'supplier')
    const [reader] = await supplierReaders(call, supplierId, 'orders')
    await call.trx('eventSuppliers').insert({
      id: randomUUID(),
      eventId: event.id,
      supplierId,
      contactName: reader?.name ?? '',
      email: reader?.email ?? '',
      language: reader?.language === 'de' ? 'de' : 'en',
      currency: supplier.currency || event.currency,
      reasons: json([...(why.get(supplierId) ?? [])]) as never,
    })
  }
}
