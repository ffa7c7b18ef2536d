import { createHmac, randomBytes, randomUUID, timingSafeEqual } from 'node:crypto'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'

/** A way to decide one step out of one mail. */
export interface WayRow {
  id: string
  consentId: string
  stepId: string
  personId: string
  /** What its tokens are signed with. */
  secret: string
  /** The hash over what was in the mail. */
  seenHash: string
  createdAt: string
  expiresAt: string
  usedAt: string | null
  usedAs: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    decisionWays: WayRow
  }
}

/** What a token of a way offers first: a link that says yes, one that says no, the address to which an answer goes. */
export type WayKind = 'y' | 'n' | 'm'

/** A mail address takes 64 letters before its @ (RFC 5321, 4.5.3.1.1): what is left of a hash there. */
const SIGNATURE_LETTERS = 20
export const MAIL_PREFIX = 'decide+'

const signature = (secret: string, id: string, kind: WayKind): string =>
  createHmac('sha256', secret).update(`${id} ${kind}`).digest('hex').slice(0, SIGNATURE_LETTERS)

/** A token: which way, what it offers, and the signature over both. It tells nothing by itself. */
export const tokenOf = (way: Pick<WayRow, 'id' | 'secret'>, kind: WayKind): string =>
  `${way.id.replaceAll('-', '')}-${kind}-${signature(way.secret, way.id, kind)}`

export const isToken = (text: string): boolean => /^[0-9a-f]{32}-[ynm]-[0-9a-f]{20}$/.test(text)

/** Makes a way for one person and one step. */
export async function newWay(
  call: Write,
  way: Pick<WayRow, 'consentId' | 'stepId' | 'personId' | 'seenHash' | 'expiresAt'>,
): Promise<WayRow> {
  const row: WayRow = {
    ...way,
    id: randomUUID(),
    secret: randomBytes(24).toString('hex'),
    createdAt: call.now,
    usedAt: null,
    usedAs: null,
  }
  await call.trx('decisionWays').insert(row)
  return row
}

/**
 * The way that a token belongs to, and what it offers.
 *
 * @throws RuleBroken way.unknown: it was altered, or there never was such a way
 */
export async function wayOf(call: Read, token: string): Promise<{ way: WayRow; kind: WayKind }> {
  const text = token.toLowerCase()
  if (!isToken(text)) throw new RuleBroken(stop('way.unknown'))
  const [hex, kind, signed] = text.split('-') as [string, WayKind, string]
  const id = hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5')
  const way = await call.trx('decisionWays').where({ id }).first()
  if (!way || !timingSafeEqual(Buffer.from(signature(way.secret, id, kind)), Buffer.from(signed)))
    throw new RuleBroken(stop('way.unknown'))
  return { way, kind }
}

/** Uses a way up. Two at once: the second finds it used. @throws RuleBroken way.used */
export async function useWay(call: Write, id: string, as: string): Promise<void> {
  const used = await call.trx('decisionWays').where({ id, usedAt: null }).update({ usedAt: call.now, usedAs: as })
  if (used !== 1) throw new RuleBroken(stop('way.used', { at: call.now }))
}
