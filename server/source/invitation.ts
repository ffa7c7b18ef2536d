import { hashOf, newToken } from '#server/people/tokens.ts'

/** Days for which an invitation can be used. */
export const INVITATION_DAYS = 14

const inDays = (now: string, days: number): string => new Date(Date.parse(now) + days * 86_400_000).toISOString()

/** A link that works once: its token is sent, only its hash is kept. */
export function newInvitation(now: string): { token: string; hash: string; expires: string } {
  const token = newToken(24)
  return { token, hash: hashOf(token), expires: inDays(now, INVITATION_DAYS) }
}
