import { languageOf } from '#contract/messages/languages.ts'
import { whyNotJoin } from '#core/source/joinEvent.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { refuse } from '#server/documents/obey.ts'
import { companyTopic, kindTopic, tell } from '#server/news/tell.ts'
import { moveEvent } from '#server/source/eventActs.ts'
import { addInvited } from '#server/source/invitedStore.ts'
import { log } from '#server/source/eventLogStore.ts'
import { heldEvent, keepEventDesk } from '#server/source/eventStore.ts'
import { asJoined, joiningSupplier } from '#server/source/openEvents.ts'

/** Takes part in an event that stands open to all who are qualified; from then on the supplier is asked like any other. */
export async function join(call: Write, id: string): Promise<Done> {
  const event = await heldEvent(call, id)
  const supplier = found(await joiningSupplier(call), 'event')
  refuse(whyNotJoin(asJoined(event), supplier, call.now))
  await addInvited(call, event, [supplier.supplierId])
  const person = found(await call.trx('people').where({ id: call.actor.id }).first('name', 'email', 'locale'), 'person')
  await call
    .trx('eventSuppliers')
    .where({ eventId: id, supplierId: supplier.supplierId })
    .update({
      sentAt: call.now,
      personId: call.actor.id,
      contactName: person.name,
      email: person.email ?? '',
      language: languageOf(person.locale, call.house.languages),
    })
  await log(call, event, { action: 'joined', supplierId: supplier.supplierId })
  await tell(call, [companyTopic(supplier.supplierId, kindTopic('event'))])
  const done = await moveEvent(
    call,
    event,
    {},
    { action: 'joined', changes: { supplier: supplier.name }, reason: null },
  )
  await keepEventDesk(call, id)
  return done
}
