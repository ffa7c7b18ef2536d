import { createHash } from 'node:crypto'
import { historyText } from '#core/ledger/canonical.ts'
import type { DocumentKind } from '#contract/files/endpoints.ts'
import type { Call } from '#server/call.ts'

export interface Happening {
  readonly kind: DocumentKind | 'rule' | 'person' | 'questionnaire' | 'form' | 'notice' | 'address' | 'repeatList' | 'budgetAccount' | 'budgetTransfer' | 'budgetYear'
  readonly id: string
  readonly action: string
  readonly changes?: unknown
  readonly reason?: string | null
}

export const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex')

/**
 * Writes one record of a document's history, chained by hash to the one before, and tells every server process about it at commit.
 * The caller holds the document's row, so that two records never get one number.
 */
export async function record(call: Call, happening: Happening): Promise<void> {
  const last = (await call.trx('history').where({ documentId: happening.id }).orderBy('sequence', 'desc').first('sequence', 'hash')) as
    { sequence: number; hash: string } | undefined
  const facts = {
    documentId: happening.id,
    sequence: (last?.sequence ?? 0) + 1,
    at: call.now,
    actorId: call.actor.id,
    onBehalfOfId: null,
    channel: call.channel,
    action: happening.action,
    changes: JSON.parse(JSON.stringify(happening.changes ?? {})) as unknown,
    reason: happening.reason ?? null,
    previousHash: last?.hash ?? '',
  }
  const news = JSON.stringify({ kind: happening.kind, id: happening.id })
  await call.trx
    .raw(
      `insert into history (document_id, sequence, document_kind, at, actor_id, on_behalf_of_id, channel, action, changes, reason, previous_hash, hash)
     select ?, ?, ?, ?, ?, null, ?, ?, ?::jsonb, ?, ?, ? from (select pg_notify('ivory', ?)) as told`,
      [
        facts.documentId,
        facts.sequence,
        happening.kind,
        facts.at,
        facts.actorId,
        facts.channel,
        facts.action,
        JSON.stringify(facts.changes),
        facts.reason,
        facts.previousHash,
        sha256(historyText(facts)),
        news,
      ],
    )
    .options({ name: 'record-history' })
}
