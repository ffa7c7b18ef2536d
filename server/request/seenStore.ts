import { seenText } from '#core/decide/seen.ts'
import { sha256 } from '#server/documents/history.ts'
import { askedFor, type KnownRequisition } from '#server/request/requisitionStore.ts'

/** The hash over what is seen of a request when it is decided. */
export const seenHash = ({ row, rows }: Pick<KnownRequisition, 'row' | 'rows'>): string =>
  sha256(seenText({ title: row.title, reason: row.reason, total: row.total.toString(), lines: rows.map(askedFor) }))
