import type { StepState } from '#core/consent/consent.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** A way to decide out of a mail, as it stands. */
export interface WayFacts {
  readonly expiresAt: string
  readonly usedAt: string | null
  /** What was in the mail, and what the document says now. */
  readonly seenHash: string
  readonly hashNow: string
  readonly stepState: StepState
  /** The account of whoever got the mail is open. */
  readonly active: boolean
}

/**
 * Why a way leads nowhere any more: it was used, its time is over, somebody decided, or the document is not what it was. A way works once.
 */
export function whyNotWay(way: WayFacts, now: string): Reason[] {
  if (way.usedAt !== null) return [stop('way.used', { at: way.usedAt })]
  if (!way.active) return [stop('way.unknown')]
  if (way.stepState !== 'open') return [stop('way.decided')]
  if (way.expiresAt <= now) return [stop('way.expired', { at: way.expiresAt })]
  if (way.seenHash !== way.hashNow) return [stop('way.changed')]
  return []
}
