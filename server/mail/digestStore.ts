import { randomUUID } from 'node:crypto'
import type { Write } from '#server/call.ts'

interface DigestRow {
  id: string
  personId: string
  key: string
  due: string
  subject: string
  path: string
  /** What is needed to decide it out of the mail; empty where there is nothing to decide. */
  text: string
  createdAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    mailDigest: DigestRow
  }
}

/** Puts something aside until somebody is told of all of their day; the same is put aside once. */
export async function putAside(
  call: Write,
  told: Pick<DigestRow, 'personId' | 'key' | 'due' | 'subject' | 'path' | 'text'>,
): Promise<void> {
  await call
    .trx('mailDigest')
    .insert({ ...told, id: randomUUID(), createdAt: call.now })
    .onConflict('key')
    .ignore()
}
