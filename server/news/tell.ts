import type { DocumentKind } from '#core/documents/kinds.ts'
import type { Write } from '#server/call.ts'

/** The channel on which server processes hear what changed. */
export const CHANNEL = 'ivory'

export interface Changed {
  readonly kind: DocumentKind | 'job'
  readonly id: string
  /** The supplier whose people may hear of it too. */
  readonly company?: string | null
}

/** What pages can ask to hear of: one document, the documents of a kind, what waits for an audience. */
export const documentTopic = (id: string): string => `document:${id}`
export const kindTopic = (kind: string): string => `kind:${kind}`
export const deskTopic = (audience: string): string => `desk:${audience}`
/** What ends streams: a session that ended, a person whose rights changed. Nobody can ask for these. */
export const sessionTopic = (sessionId: string): string => `session:${sessionId}`
export const personTopic = (personId: string): string => `person:${personId}`
/** A topic as a supplier's people hear it: only those of that company. */
export const companyTopic = (supplierId: string, topic: string): string => `company:${supplierId}:${topic}`

/** Longest payload that PostgreSQL takes with a notification, less some room (8000 bytes). */
const MOST_BYTES = 7000

/** Tells every server process which topics have news, when the transaction commits. The same news twice in it is told once. */
export async function tell(call: Write, topics: readonly string[]): Promise<void> {
  const parts: string[][] = [[]]
  let size = 2
  for (const topic of new Set(topics)) {
    if (size + topic.length + 3 > MOST_BYTES) {
      parts.push([])
      size = 2
    }
    parts.at(-1)!.push(topic)
    size += topic.length + 3
  }
  for (const part of parts)
    if (part.length > 0)
      await call.trx.raw('select pg_notify(?, ?)', [CHANNEL, JSON.stringify(part)]).options({ name: 'tell-news' })
}

/** Tells of documents that changed: to pages that show them, and to lists of their kind. */
export const tellChanged = (call: Write, documents: readonly Changed[]): Promise<void> =>
  tell(
    call,
    documents.flatMap(({ kind, id, company }) => {
      const topics = [documentTopic(id), kindTopic(kind)]
      return company ? [...topics, ...topics.map(topic => companyTopic(company, topic))] : topics
    }),
  )
