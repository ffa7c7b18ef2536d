import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadLetterhead, SaveMailSender } from '#contract/setup/letterhead.ts'
import { HOUSE_LOGO } from '#core/files/picture.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { record, sha256 } from '#server/documents/history.ts'
import { pictureOf, unreadable } from '#server/files/pictures.ts'
import { printsPicture } from '#server/formats/pdf.ts'
import { HOUSE, readSettings, writeSetting } from '#server/house/house.ts'

/** Our sign on documents, and as whom our mails come. */
export async function readLetterhead(call: Read): Promise<ResponseOf<typeof ReadLetterhead>> {
  const { logo = null, mailSender } = await readSettings(call, ['logo', 'mailSender'])
  const { name, replyTo } = mailSender ?? { name: '', replyTo: '' }
  return { logo, name, replyTo, seen: sha256(JSON.stringify({ name, replyTo })) }
}

/** Gives the house its sign, or takes it away; what printing cannot read is refused now, not when an order has to leave. */
export async function setLogo(call: Write, fileId: string | null): Promise<Record<string, never>> {
  const logo = fileId === null ? null : await pictureOf(call, fileId, HOUSE_LOGO)
  if (logo !== null && !(await printsPicture(logo))) throw unreadable()
  await writeSetting(call, 'logo', logo)
  const action = logo === null ? 'pictureTaken' : 'pictureGiven'
  await record(call, { kind: 'house', id: HOUSE, action, changes: {} })
  return {}
}

/** As whom mails come, and where answers to them go. */
export async function saveMailSender(
  call: Write,
  { seen, ...after }: BodyOf<typeof SaveMailSender>,
): Promise<Record<string, never>> {
  await call.trx.raw(`select pg_advisory_xact_lock(hashtext('mail sender'))`)
  const { name, replyTo, seen: now } = await readLetterhead(call)
  if (now !== seen) throw new RuleBroken(stop('house.changed'))
  await writeSetting(call, 'mailSender', after)
  await record(call, {
    kind: 'house',
    id: HOUSE,
    action: 'changed',
    changes: { before: { sender: name, replyTo }, after: { sender: after.name, replyTo: after.replyTo } },
  })
  return {}
}
