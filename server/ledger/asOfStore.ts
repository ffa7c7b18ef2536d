import type { QuantityKind } from '#core/ledger/quantity.ts'
import type { Read } from '#server/call.ts'

/** Entries of some lines up to the end of a day, summed by kind. */
export async function entriesUntil(
  call: Read,
  lineIds: readonly string[],
  on: string,
): Promise<{ lineId: string; kind: QuantityKind; quantity: string }[]> {
  if (lineIds.length === 0) return []
  const { rows } = await call.trx.raw<{ rows: { lineId: string; kind: QuantityKind; quantity: string }[] }>(
    `select line_id, kind, sum(quantity)::text as quantity from quantity_entries where line_id = any(:ids) and at < ((:on::date + 1)::timestamp at time zone :zone) group by 1, 2`,
    { ids: [...lineIds], on, zone: call.house.zone },
  )
  return rows
}

/** Lines of orders that may have had more billed than proven at the end of a day: those of which that is so now, or that have moved since. */
export async function linesBilledOutOfStep(call: Read, on: string): Promise<string[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select l.id from order_lines l where l.billed > 0 and l.billed > l.proven
     union select e.line_id from quantity_entries e join order_lines l on l.id = e.line_id where e.at >= ((:on::date + 1)::timestamp at time zone :zone) order by 1`,
    { on, zone: call.house.zone },
  )
  return rows.map(row => row.id)
}
