import { addDays } from '#core/calendar/days.ts'
import { DAY_LINK_DAYS } from '#core/order/dayLink.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { hashOf, newToken } from '#server/people/tokens.ts'

interface LinkRow {
  tokenHash: string
  orderId: string
  revision: number
  endsAt: string
  usedAt: string | null
  createdAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    dayLinks: LinkRow
  }
}

/** A link by which the supplier says new days; earlier ones of the order end with it. Only the hash of its token is kept. */
export async function newDayLink(
  call: Write,
  order: { readonly id: string; readonly revision: number },
): Promise<string> {
  const token = newToken(24)
  await call.trx('dayLinks').where({ orderId: order.id, usedAt: null }).delete()
  await call.trx('dayLinks').insert({
    tokenHash: hashOf(token),
    orderId: order.id,
    revision: order.revision,
    endsAt: `${addDays(call.today, DAY_LINK_DAYS)}T23:59:59Z`,
    createdAt: call.now,
  })
  return token
}

/** The link of a token. @throws RuleBroken link.unknown */
export async function dayLinkOf(call: Read, token: string): Promise<LinkRow> {
  const link = await call
    .trx('dayLinks')
    .where({ tokenHash: hashOf(token) })
    .first()
  if (!link) throw new RuleBroken(stop('link.unknown'))
  return link
}
