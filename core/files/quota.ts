import { type Reason, stop } from '#core/reasons.ts'

/** Megabytes that one person, and one company's people together, may send in a day; what is under way counts. */
export const QUOTA_MB = { person: 1000, company: 2000 } as const

/** Bytes that were sent in the last day, or are being sent. */
export interface Sent {
  readonly own: number
  /** By all people of the supplier; null for the team. */
  readonly company: number | null
}

/** What stands against taking in `size` bytes more. */
export function whyNotSend(sent: Sent, size: number): Reason[] {
  const over = (sum: number, limit: number): boolean => sum + size > limit * 1024 * 1024
  if (over(sent.own, QUOTA_MB.person)) return [stop('file.quota', { who: 'you', limit: `${QUOTA_MB.person} MB` })]
  return sent.company !== null && over(sent.company, QUOTA_MB.company)
    ? [stop('file.quota', { who: 'your company', limit: `${QUOTA_MB.company} MB` })]
    : []
}
