import type { Deed } from '#core/acts/decision.ts'
import { type DocumentKind, DOCUMENTS } from '#core/documents/kinds.ts'
import type { Done, Write } from '#server/call.ts'
import type { RowOf } from '#server/documents/hold.ts'
import { record } from '#server/documents/history.ts'

/**
 * Writes what became of a document in one step: its state and whatever else changed, its next version, and the record of it. The caller
 * holds the row.
 */
export async function move<K extends DocumentKind>(
  call: Write,
  kind: K,
  document: { readonly id: string; readonly version: number },
  change: Partial<RowOf<K>>,
  did: Deed & { readonly onBehalfOf?: string | null },
): Promise<Done> {
  const version = document.version + 1
  await call
    .trx(DOCUMENTS[kind].rows)
    .where({ id: document.id })
    .update({ ...change, version, changedAt: call.now } as never)
  await record(call, { kind, id: document.id, ...did })
  return { id: document.id, version }
}
