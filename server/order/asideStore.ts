import { randomUUID } from 'node:crypto'
import type { Read, Write } from '#server/call.ts'

interface AsideRow {
  id: string
  orderId: string
  lineId: string | null
  text: string
  source: 'buyer' | 'reminder' | 'supplier'
  byId: string | null
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    orderAsides: AsideRow
  }
}

/** What was said about an order or a line of it while it was followed. */
export async function addAsides(
  call: Write,
  orderId: string,
  asides: readonly Pick<AsideRow, 'lineId' | 'source' | 'text'>[],
): Promise<void> {
  if (asides.length === 0) return
  await call
    .trx('orderAsides')
    .insert(asides.map(one => ({ ...one, id: randomUUID(), orderId, byId: call.actor.id, at: call.now })))
}

export interface Aside {
  readonly orderId: string
  readonly position: number | null
  readonly text: string
  readonly source: AsideRow['source']
  readonly by: string
  readonly at: string
}

/** The same, newest first. */
export async function asidesOf(call: Read, orderIds: readonly string[], most: number): Promise<Aside[]> {
  const { rows } = await call.trx
    .raw<{ rows: Aside[] }>(
      `select a.order_id, l.position, a.text, a.source, coalesce(p.name, '') as by, a.at from (
         select *, row_number() over (partition by order_id order by at desc, id) as nth from order_asides where order_id = any(?)) a
       left join order_lines l on l.id = a.line_id left join people p on p.id = a.by_id where a.nth <= ? order by a.at desc`,
      [[...orderIds], most],
    )
    .options({ name: 'order-asides' })
  return rows
}
