import { createHash } from 'node:crypto'
import type { Deed } from '#core/acts/decision.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { historyText, storedFacts } from '#core/ledger/canonical.ts'
import type { Read, Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { tellChanged } from '#server/news/tell.ts'

interface HistoryRow {
  documentId: string
  sequence: number
  documentKind: DocumentKind
  at: string
  actorId: string
  onBehalfOfId: string | null
  channel: string
  action: string
  changes: unknown
  reason: string | null
  previousHash: string
  hash: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    history: HistoryRow
  }
}

export interface Happening extends Partial<Deed> {
  readonly kind: DocumentKind
  readonly id: string
  readonly action: string
  /** In whose place the actor acted. */
  readonly onBehalfOf?: string | null
}

export const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex')

/**
 * Writes one record of a document's history, chained by hash to the one before, and tells the pages that show it at commit. The hash is taken
 * over what is stored. The caller holds the document's row, so that two records never get one number.
 */
export async function record(call: Write, happening: Happening): Promise<void> {
  const last = await call
    .trx('history')
    .where({ documentId: happening.id })
    .orderBy('sequence', 'desc')
    .first('sequence', 'hash')
  const facts = storedFacts({
    documentId: happening.id,
    sequence: (last?.sequence ?? 0) + 1,
    at: call.now,
    actorId: call.actor.id,
    onBehalfOfId: happening.onBehalfOf ?? null,
    channel: call.channel,
    action: happening.action,
    changes: happening.changes ?? {},
    reason: happening.reason ?? null,
    previousHash: last?.hash ?? '',
  })
  await call.trx
    .raw(
      `insert into history (document_id, sequence, document_kind, at, actor_id, on_behalf_of_id, channel, action, changes, reason, previous_hash, hash)
       values (?, ?, ?, ?, ?, ?, ?, ?, ?::jsonb, ?, ?, ?)`,
      [
        facts.documentId,
        facts.sequence,
        happening.kind,
        facts.at,
        facts.actorId,
        facts.onBehalfOfId,
        facts.channel,
        facts.action,
        JSON.stringify(facts.changes),
        facts.reason,
        facts.previousHash,
        sha256(historyText(facts)),
      ],
    )
    .options({ name: 'record-history' })
  await tellChanged(call, [{ kind: happening.kind, id: happening.id }])
}

/** First records of many new documents at once, as an import makes them. */
export async function recordFirst(
  call: Write,
  kind: DocumentKind,
  ids: readonly string[],
  action: string,
): Promise<void> {
  const rows = ids.map(documentId => {
    const facts = storedFacts({
      documentId,
      sequence: 1,
      at: call.now,
      actorId: call.actor.id,
      onBehalfOfId: null,
      channel: call.channel,
      action,
      changes: {},
      reason: null,
      previousHash: '',
    })
    return { ...facts, documentKind: kind, changes: '{}', hash: sha256(historyText(facts)) }
  })
  await insertMany(call.trx, 'history', rows)
}

/** Who changed a document last and how, for whoever saves on top of it. */
export const lastChange = (call: Read, id: string): Promise<{ name: string; at: string; action: string } | undefined> =>
  call
    .trx('history')
    .join('people', 'people.id', 'history.actorId')
    .where({ documentId: id })
    .orderBy('sequence', 'desc')
    .first<{ name: string; at: string; action: string } | undefined>('people.name', 'history.at', 'history.action')
