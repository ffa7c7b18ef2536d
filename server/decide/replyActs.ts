import { languageOf } from '#contract/messages/languages.ts'
import { writeCode } from '#contract/messages/translate.ts'
import { judgeMail, type ReceivedMail } from '#core/decide/mailReply.ts'
import { RuleBroken } from '#core/reasons.ts'
import { type Write, writing } from '#server/call.ts'
import { MAIL_PREFIX } from '#server/consent/ways.ts'
import { decideByWay, openWay, type WayAnswer } from '#server/decide/wayActs.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import { mail } from '#server/mail/mail.ts'
import { readMail } from '#server/mail/readMail.ts'

/**
 * Reads one answer that came by mail and does what it says, once, in one transaction. Whoever was asked is told politely what was done or why
 * not; an address that is not theirs is told nothing.
 */
export async function readAnswer(parts: JobParts, id: string): Promise<void> {
  const row = await parts.db('mailsIn').where({ id, outcome: null }).first('raw', 'recipient')
  if (!row?.raw) return
  const received = await readMail(row.raw)
  const token = row.recipient.split('@')[0]!.slice(MAIL_PREFIX.length)
  const outcome = await inTransaction(parts, async call => {
    const taken = received ? await take(call, id, token, received) : 'unreadable'
    await call.trx('mailsIn').where({ id }).update({ outcome: taken, raw: null })
    return taken
  })
  if (outcome === 'way.unknown') parts.log('an answer by mail belongs to no decision', { id })
}

async function take(call: Write, id: string, token: string, received: ReceivedMail): Promise<string> {
  try {
    const opened = await openWay(call, token)
    const { person } = opened
    const judged = judgeMail(received, { email: person.email, language: person.locale })
    if (!judged.ok) {
      if (judged.why !== 'way.automatic') await tellNot(call, id, opened, { code: judged.why, details: { from: received.from } }) // prettier-ignore
      return judged.why
    }
    const { answer, words: said } = judged.reply
    return await decided(call, id, token, answer, said, opened)
  } catch (error) {
    if (error instanceof RuleBroken) return error.reasons[0]!.code
    throw error
  }
}

type Opened = Awaited<ReturnType<typeof openWay>>

async function decided(
  call: Write,
  id: string,
  token: string,
  answer: WayAnswer,
  said: string,
  opened: Opened,
): Promise<string> {
  try {
    // what is refused in the middle is taken back, and what is told of it stays
    await call.trx.transaction(trx => decideByWay(writing(trx, call), token, answer, said))
  } catch (error) {
    if (!(error instanceof RuleBroken)) throw error
    await tellNot(call, id, opened, error.reasons[0]!)
    return error.reasons[0]!.code
  }
  const { number, title } = opened.request
  await tell(call, opened, 'decision.taken', id, { number, title, [answer]: 1, inPlace: '' })
  return answer
}

async function tellNot(
  call: Write,
  id: string,
  opened: Opened,
  reason: { code: string; details: Readonly<Record<string, string | number>> },
): Promise<void> {
  const why = writeCode(reason.code, languageOf(opened.person.locale, call.house.languages), reason.details)
  const { number, title } = opened.request
  await tell(call, opened, 'decision.notTaken', id, { number, title, why })
}

const tell = (
  call: Write,
  { person, request }: Opened,
  template: string,
  id: string,
  details: Record<string, string | number>,
) =>
  mail(
    call,
    { name: person.name, email: person.email, language: person.locale },
    template,
    `answered:${id}`,
    { kind: 'requisition', id: request.id },
    { ...details, path: `/decide/${request.id}` },
  )
