import { authenticator } from 'otplib'
import { toDataURL } from 'qrcode'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Write } from '#server/call.ts'

/** Codes of half a minute (RFC 6238); one before and one after are taken, because clocks differ. */
const WINDOW = 1
authenticator.options = { window: WINDOW, step: 30 }

export async function newSecret(
  account: string,
  house: string,
): Promise<{ secret: string; uri: string; picture: string }> {
  const secret = authenticator.generateSecret(20)
  const uri = authenticator.keyuri(account, house || 'Ivory Order', secret)
  return { secret, uri, picture: await toDataURL(uri, { margin: 1, width: 220 }) }
}

/** The half minute of the epoch that a code belongs to, or nothing where it is none of this secret's. */
function stepOf(secret: string, code: string): number | undefined {
  const bare = code.replace(/\s/g, '')
  if (!/^\d{6}$/.test(bare)) return undefined
  const delta = authenticator.checkDelta(bare, secret)
  return delta === null ? undefined : Math.floor(Date.now() / 30_000) + delta
}

/**
 * Takes a code once: one that was used, or that is older than one that was, is none any more (RFC 6238, 5.2).
 *
 * @throws RuleBroken secondFactor.wrong
 */
export async function takeCode(call: Write, personId: string, secret: string, code: string): Promise<void> {
  const step = stepOf(secret, code)
  const taken =
    step === undefined
      ? 0
      : await call
          .trx('people')
          .where({ id: personId })
          .where('codesUsed', '<', step)
          .update({ codesUsed: step as never })
  if (taken !== 1) throw new RuleBroken(stop('secondFactor.wrong', {}, { place: 'code' }))
}
