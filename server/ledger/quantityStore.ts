import type { DocumentKind } from '#core/documents/kinds.ts'
import {
  billedQuantity,
  NO_QUANTITIES,
  provenQuantity,
  type QuantityEntry,
  type QuantityKind,
  type QuantitySums,
  realQuantities,
} from '#core/ledger/quantity.ts'
import { type LineKind, provenBy } from '#core/request/kinds.ts'
import type { GaugeJson } from '#contract/fields.ts'
import type { Read, Write } from '#server/call.ts'

interface QuantityEntryRow {
  id: bigint
  lineId: string
  kind: QuantityKind
  quantity: string
  at: string
  actorId: string
  documentKind: string
  documentId: string
  reversesId: bigint | null
}
interface QuantityBalanceRow {
  lineId: string
  kind: QuantityKind
  quantity: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    quantityEntries: QuantityEntryRow
    quantityBalances: QuantityBalanceRow
  }
}

/** The document that posts. */
export interface SourceDocument {
  readonly kind: DocumentKind | 'payment' | 'allotment' | 'upgrade'
  readonly id: string
}

/** Appends entries and brings the kept balances along, in one statement. */
export async function postQuantities(
  call: Write,
  source: SourceDocument,
  entries: readonly QuantityEntry[],
): Promise<void> {
  const real = realQuantities(entries)
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
        JSON.stringify(
          real.map(entry => ({
            line_id: entry.lineId,
            kind: entry.kind,
            quantity: entry.quantity,
            reverses_id: entry.reversesId ?? null,
          })),
        ),
      ],
    )
    .options({ name: 'post-quantities' })
}

/** Sums of lines; a line without entries has noughts. */
export type SumsOf = (lineId: string) => QuantitySums

export async function quantitySums(call: Read, lineIds: readonly string[]): Promise<SumsOf> {
  if (lineIds.length === 0) return () => NO_QUANTITIES
  const { rows } = await call.trx
    .raw<{ rows: QuantityBalanceRow[] }>(
      'select line_id, kind, quantity from quantity_balances where line_id = any(?)',
      [[...lineIds]],
    )
    .options({ name: 'quantity-sums' })
  const sums = new Map<string, Record<QuantityKind, string>>()
  for (const row of rows) {
    const own = sums.get(row.lineId) ?? { ...NO_QUANTITIES }
    own[row.kind] = row.quantity
    sums.set(row.lineId, own)
  }
  return lineId => sums.get(lineId) ?? NO_QUANTITIES
}

/** The figures that a Gauge draws: what is proven and billed is net of what went back and was credited. */
export const gauge = (
  line: { readonly id: string; readonly unit: string; readonly kind: LineKind },
  ordered: string,
  sums: QuantitySums,
): GaugeJson => {
  const by = provenBy(line.kind)
  const proven = provenQuantity(by, sums)
  return {
    lineId: line.id,
    unit: line.unit,
    ordered,
    requested: sums.requested,
    confirmed: sums.confirmed,
    despatched: sums.despatched,
    received: by === 'received' ? proven : sums.received,
    accepted: by === 'accepted' ? proven : sums.accepted,
    billed: billedQuantity(sums),
    paid: sums.paid,
  }
}
