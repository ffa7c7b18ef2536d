import { documentKind, type DocumentKind, isDocumentKind } from '#core/documents/kinds.ts'
import { type NumberRange, numberText, plainRange } from '#core/documents/numbers.ts'
import type { Read, Write } from '#server/call.ts'

/** The next number of a kind of document, as the house writes it. */
export async function nextNumber(call: Write, kind: DocumentKind): Promise<string> {
  const { rows } = await call.trx.raw<{ rows: [{ next: string }] }>(`select nextval(?::regclass)::text as next`, [
    documentKind(kind).numbers,
  ])
  return numberText(await rangeOf(call, kind), rows[0].next)
}

async function rangeOf(call: Write, kind: DocumentKind): Promise<NumberRange> {
  const entry = await call
    .trx('setupEntries')
    .where({ register: 'numberRanges', code: kind, open: true })
    .first<{ values: Record<string, string> } | undefined>('values')
  return entry ? { prefix: entry.values.prefix!, digits: Number(entry.values.digits || 0) } : plainRange(kind)
}

/** The house's own ranges, also those that are closed: numbers were given by them. */
export async function numberRanges(call: Read): Promise<(NumberRange & { kind: DocumentKind })[]> {
  const rows = await call.trx('setupEntries').where({ register: 'numberRanges' }).select('code', 'values')
  return rows.flatMap(({ code, values }) =>
    isDocumentKind(code) ? [{ kind: code, prefix: values.prefix!, digits: Number(values.digits || 0) }] : [],
  )
}
