import { documentKind, type DocumentKind } from '#core/documents/kinds.ts'
import type { Write } from '#server/call.ts'

/** The next number of a kind of document, with its letter. */
export async function nextNumber(call: Write, kind: DocumentKind): Promise<string> {
  const { letter, numbers } = documentKind(kind)
  const { rows } = await call.trx.raw<{ rows: [{ number: string }] }>(`select ? || nextval(?::regclass) as number`, [
    `${letter}-`,
    numbers,
  ])
  return rows[0].number
}
