import type { Knex } from 'knex'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { hashOf, newToken } from '#server/people/tokens.ts'

export type LinkPurpose = 'first' | 'invitation' | 'reset'
interface LinkRow {
  tokenHash: string
  personId: string | null
  purpose: LinkPurpose
  createdAt: string
  expiresAt: string
  usedAt: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    oneTimeLinks: LinkRow
  }
}

/** Hours for which each kind of link can be used. */
const HOURS: Readonly<Record<LinkPurpose, number>> = { first: 24, invitation: 14 * 24, reset: 1 }

/** A link that works once; it ends earlier ones of the same person and purpose. Only the hash of its token is kept. */
export async function newLink(db: Knex, purpose: LinkPurpose, personId: string | null, now: string): Promise<string> {
  const token = newToken(24)
  await db('oneTimeLinks').where({ purpose, personId, usedAt: null }).delete()
  await db('oneTimeLinks').insert({
    tokenHash: hashOf(token),
    personId,
    purpose,
    createdAt: now,
    expiresAt: new Date(Date.parse(now) + HOURS[purpose] * 3_600_000).toISOString(),
    usedAt: null,
  })
  return token
}

export interface OpenLink {
  readonly purpose: LinkPurpose
  readonly personId: string | null
  readonly until: string
}

/**
 * What a link opens.
 *
 * @throws RuleBroken link.unknown | link.used | link.expired
 */
export async function openLink(call: Read, token: string): Promise<OpenLink> {
  const link = await call
    .trx('oneTimeLinks')
    .where({ tokenHash: hashOf(token) })
    .first()
  if (!link) throw new RuleBroken(stop('link.unknown'))
  if (link.usedAt !== null) throw new RuleBroken(stop('link.used'))
  if (link.expiresAt < call.now) throw new RuleBroken(stop('link.expired'))
  return { purpose: link.purpose, personId: link.personId, until: link.expiresAt }
}

/** Uses a link up. Two at once: the second finds it used. */
export async function useLink(call: Write, token: string): Promise<OpenLink> {
  const link = await openLink(call, token)
  const used = await call
    .trx('oneTimeLinks')
    .where({ tokenHash: hashOf(token), usedAt: null })
    .update({ usedAt: call.now })
  if (used !== 1) throw new RuleBroken(stop('link.used'))
  return link
}
