import type { SeenContent } from '#core/decide/changes.ts'
import { seenText } from '#core/decide/seen.ts'
import type { Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { sha256 } from '#server/documents/history.ts'
import { askedFor, type KnownRequisition } from '#server/request/requisitionStore.ts'

interface SeenContentRow {
  hash: string
  content: SeenContent
}
declare module 'knex/types/tables.js' {
  interface Tables {
    seenContents: SeenContentRow
  }
}

type Content = Pick<KnownRequisition, 'row' | 'rows'>

/** What those who decide a request have in front of them now. */
export const contentOf = ({ row, rows }: Content): SeenContent => ({
  title: row.title,
  reason: row.reason,
  total: row.total.toString(),
  lines: rows.map(line => ({
    ...askedFor(line),
    id: line.id,
    baseAmount: line.baseAmount.toString(),
    gone: line.state === 'cancelled',
  })),
})

/** The hash over what is seen of a request when it is decided. */
export const seenHash = (request: Content): string => sha256(seenText(contentOf(request)))

/** Keeps what is seen now, once, under its hash. */
export async function keepSeen(call: Write, request: Content): Promise<string> {
  const hash = seenHash(request)
  await call
    .trx('seenContents')
    .insert({ hash, content: json(contentOf(request)) })
    .onConflict('hash')
    .ignore()
  return hash
}

/** What was seen, by its hashes. */
export async function seenContents(call: Read, hashes: readonly string[]): Promise<Map<string, SeenContent>> {
  if (hashes.length === 0) return new Map()
  const rows = await call.trx('seenContents').whereIn('hash', [...new Set(hashes)])
  return new Map(rows.map(row => [row.hash, row.content]))
}
