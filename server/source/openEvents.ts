import type { ResponseOf } from '#contract/endpoint.ts'
import type { ListAsked } from '#contract/source/asked.ts'
import { isOpenTo, type JoiningSupplier } from '#core/source/joinEvent.ts'
import type { Read } from '#server/call.ts'
import { type KnownEvent, knownEvents } from '#server/source/eventStore.ts'

/** How many open events a supplier is offered at once; those that end first. */
const MOST = 50

export const joiningSupplier = async (call: Read): Promise<JoiningSupplier | undefined> => {
  if (!call.actor.supplierId) return undefined
  const row = await call
    .trx('suppliers')
    .where({ id: call.actor.supplierId })
    .first('id', 'name', 'state', 'categories')
  return row && { supplierId: row.id, name: row.name, state: row.state, categories: row.categories }
}
export const asJoined = (event: KnownEvent) => ({ ...event, category: event.row.category })

/** Events that the supplier of whoever looks may take part in although nobody invited it. */
export async function openTo(call: Read): Promise<ResponseOf<typeof ListAsked>['open']> {
  const supplier = await joiningSupplier(call)
  if (!supplier) return []
  // only what can be meant is fetched, so that none is crowded out; whether it is open to this supplier says the core
  const ids = await call
    .trx('events')
    .join('eventKinds', 'eventKinds.id', 'events.kindId')
    .where('events.state', 'asking')
    .whereRaw(`(event_kinds.settings ->> 'open')::boolean`)
    .whereRaw(
      '(events.category = any(:mine) or exists (select 1 from event_lines one where one.event_id = events.id and one.category = any(:mine)))',
      { mine: [...supplier.categories] },
    )
    .whereNotExists(
      call.trx('eventSuppliers').whereRaw('event_id = events.id').where('supplierId', supplier.supplierId),
    )
    .orderBy('events.endsAt')
    .limit(MOST)
    .pluck<string[]>('events.id')
  const events = await knownEvents(call, ids)
  return events
    .filter(event => isOpenTo(asJoined(event), supplier, call.now))
    .map(({ id, number, title, kind, endsAt, opensAt, zone, lines, row }) => ({
      id,
      number,
      title,
      format: kind.format,
      category: row.category,
      endsAt,
      opensAt,
      zone,
      lines: lines.length,
    }))
}
