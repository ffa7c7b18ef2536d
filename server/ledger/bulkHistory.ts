import { historyText } from '#core/ledger/canonical.ts'
import type { Call } from '#server/call.ts'
import { sha256 } from '#server/ledger/history.ts'

/** First records of many new documents at once, as an import makes them. */
export async function insertHistory(call: Call, kind: 'supplier', ids: readonly string[], action: string): Promise<void> {
  const rows = ids.map(documentId => {
    const facts = { documentId, sequence: 1, at: call.now, actorId: call.actor.id, onBehalfOfId: null, channel: 'import', action, changes: {}, reason: null, previousHash: '' }
    return { ...facts, documentKind: kind, changes: '{}', hash: sha256(historyText(facts)) }
  })
  await call.trx.batchInsert('history', rows, 1000)
}
