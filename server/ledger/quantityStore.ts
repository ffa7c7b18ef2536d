import { type QuantityKind, type QuantitySums, QUANTITY_KINDS } from '#core/ledger/quantity.ts'
import type { GaugeJson } from '#contract/fields.ts'
import type { Call } from '#server/call.ts'

export interface NewQuantity {
  readonly lineId: string
  readonly kind: QuantityKind
  readonly quantity: string
  readonly reversesId?: string | null
}

export interface SourceDocument {
  readonly kind: string
  readonly id: string
}

/** Appends entries and brings the kept balances along, in one statement. */
export async function postQuantities(call: Call, source: SourceDocument, entries: readonly NewQuantity[]): Promise<void> {
  const real = entries.filter(entry => Number(entry.quantity) !== 0)
  if (real.length === 0) return
  await call.trx
    .raw(
      `with posted as (
       insert into quantity_entries (line_id, kind, quantity, at, actor_id, document_kind, document_id, reverses_id)
       select line_id, kind, quantity, ?, ?, ?, ?, reverses_id from jsonb_to_recordset(?::jsonb) as entry (line_id uuid, kind text, quantity numeric, reverses_id bigint)
       returning line_id, kind, quantity)
     insert into quantity_balances (line_id, kind, quantity) select line_id, kind, sum(quantity) from posted group by line_id, kind order by line_id, kind
     on conflict (line_id, kind) do update set quantity = quantity_balances.quantity + excluded.quantity`,
      [
        call.now,
        call.actor.id,
        source.kind,
        source.id,
        JSON.stringify(real.map(entry => ({ line_id: entry.lineId, kind: entry.kind, quantity: entry.quantity, reverses_id: entry.reversesId ?? null }))),
      ],
    )
    .options({ name: 'post-quantities' })
}

const NOTHING = Object.fromEntries(QUANTITY_KINDS.map(kind => [kind, '0'])) as QuantitySums

/** Sums per line; a line without entries has noughts. */
export async function quantitySums(call: Call, lineIds: readonly string[]): Promise<(lineId: string) => QuantitySums> {
  if (lineIds.length === 0) return () => NOTHING
  const rows = (await call
    .trx('quantityBalances')
    .whereIn('lineId', [...lineIds])
    .select('lineId', 'kind', 'quantity')) as { lineId: string; kind: QuantityKind; quantity: string }[]
  const sums = new Map<string, Record<QuantityKind, string>>()
  for (const row of rows) {
    const own = sums.get(row.lineId) ?? { ...NOTHING }
    own[row.kind] = row.quantity
    sums.set(row.lineId, own)
  }
  return lineId => sums.get(lineId) ?? NOTHING
}

/** How far requested lines have come on the orders that they are on: their own figures, with what stands on those orders' lines. */
export async function sumsThroughOrders(call: Call, lineIds: readonly string[]): Promise<(lineId: string) => QuantitySums> {
  if (lineIds.length === 0) return () => NOTHING
  const { rows } = (await call.trx.raw(
    `select line_id, kind, trim_scale(quantity)::text as quantity from quantity_balances where line_id = any(:ids) and kind in ('requested', 'ordered')
     union all select ol.requisition_line_id, b.kind, trim_scale(sum(b.quantity))::text from order_lines ol join orders o on o.id = ol.order_id join quantity_balances b on b.line_id = ol.id
     where ol.requisition_line_id = any(:ids) and o.state not in ('draft', 'cancelled') and b.kind not in ('requested', 'ordered') group by 1, 2`,
    { ids: [...lineIds] },
  )) as { rows: { lineId: string; kind: QuantityKind; quantity: string }[] }
  const sums = new Map<string, Record<QuantityKind, string>>()
  for (const row of rows) sums.set(row.lineId, { ...(sums.get(row.lineId) ?? NOTHING), [row.kind]: row.quantity })
  return lineId => sums.get(lineId) ?? NOTHING
}

/** The figures a Gauge draws. */
export function gauge(lineId: string, unit: string, ordered: string, sums: QuantitySums): GaugeJson {
  return {
    lineId,
    unit,
    ordered,
    requested: sums.requested,
    confirmed: sums.confirmed,
    despatched: sums.despatched,
    received: sums.received,
    accepted: sums.accepted,
    billed: sums.billed,
    paid: sums.paid,
  }
}
