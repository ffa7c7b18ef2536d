import { createHash, randomBytes } from 'node:crypto'

/** Days for which an invitation can be used. */
export const INVITATION_DAYS = 14

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex')

const inDays = (now: string, days: number): string => new Date(Date.parse(now) + days * 86_400_000).toISOString()

/** A link that works once: its token is sent, only its hash is kept. */
export function newInvitation(now: string): { token: string; hash: string; expires: string } {
  const token = randomBytes(24).toString('base64url')
  return { token, hash: hashOf(token), expires: inDays(now, INVITATION_DAYS) }
}
