import { DOCUMENT_KINDS, documentKind, isDocumentKind } from '#core/documents/kinds.ts'
import type { Read } from '#server/call.ts'
import { seesAll, visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { documentTopic } from '#server/news/tell.ts'

const DOCUMENT = documentTopic('')
const KIND = /^kind:(.*)$/

/** Of the topics that somebody of the team asks for, those that they may hear of: documents that they may open, kinds of which they may open some. */
export async function heardBy(call: Read, topics: readonly string[]): Promise<string[]> {
  if (call.actor.realm === 'supplier') return [...topics]
  const asked = topics.filter(topic => topic.startsWith(DOCUMENT)).map(topic => topic.slice(DOCUMENT.length))
  const open = await openIds(call, asked.filter(isUuid))
  return topics.filter(topic =>
    topic.startsWith(DOCUMENT) ? open.has(topic.slice(DOCUMENT.length)) : seesSome(call, KIND.exec(topic)?.[1]),
  )
}

/** Rows that are known by their name alone. */
const WITHOUT_ID: ReadonlySet<string> = new Set(['settings', 'supplyCategories'])

const isUuid = (text: string): boolean => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(text)

function seesSome(call: Read, kind: string | undefined): boolean {
  if (kind === undefined || !isDocumentKind(kind)) return true
  return seesAll(call, kind) || Object.keys(documentKind(kind).seenBy).length > 0
}

/** Those of some ids that belong to a document which this person may open, of whatever kind. */
async function openIds(call: Read, ids: readonly string[]): Promise<Set<string>> {
  if (ids.length === 0) return new Set()
  const ways = DOCUMENT_KINDS.filter(kind => !WITHOUT_ID.has(documentKind(kind).rows)).map(kind => {
    const rows = documentKind(kind).rows.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)
    return `select document.id from ${rows} document where document.id = any(:ids) and ${visibleSql(call, kind, 'document')}`
  })
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(ways.join(' union all '), {
    ids: [...ids],
    ...visibleBindings(call),
  })
  return new Set(rows.map(row => row.id))
}
