import type { Message } from '#core/acts/decision.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { languageOf } from '#contract/messages/languages.ts'
import type { MailWords } from '#contract/messages/mails.ts'
import { ownMailWords } from '#contract/messages/ownWords.ts'
import { writeMail } from '#contract/messages/translate.ts'
import type { Write } from '#server/call.ts'
import { mailTiming, type MailWish } from '#core/people/mailTiming.ts'
import { putAside } from '#server/mail/digestStore.ts'
import { recipients } from '#server/mail/recipients.ts'
import { post } from '#server/outbox/post.ts'

/** The document that a mail is about. */
export interface About {
  readonly kind: DocumentKind
  readonly id: string
}

/** Somebody who is written to, and the language (or locale) that they read. */
export interface Reader {
  readonly name: string
  readonly email: string
  readonly language: string
}
/** Somebody of the team, who says when they want to be written to about the work. */
export interface TeamReader extends Reader {
  readonly personId: string
  readonly zone: string
  readonly wish: MailWish
}

/** A mail from its template in the reader's language, in the house's own words where it has them. */
async function compose(call: Write, to: Reader, template: string, details: Message['details']): Promise<MailWords> {
  const language = languageOf(to.language, call.house.languages)
  const own = await call
    .trx('setupEntries')
    .where({ register: 'mailTexts', code: `${template} ${language}`, open: true })
    .first<{ values: Record<string, string> } | undefined>('values')
  const said = { ...details, name: to.name, house: call.house.name }
  return writeMail(template, language, said, ownMailWords(own?.values))
}

/** Writes one mail from its template into the outbox. An address that is empty gets none. */
export async function mail(
  call: Write,
  to: Reader,
  template: string,
  key: string,
  about: About,
  details: Message['details'],
  extra: Pick<Message, 'attach' | 'answerTo'> & { readonly notBefore?: string } = {},
): Promise<void> {
  if (to.email === '') return
  const written = await compose(call, to, template, details)
  const { notBefore, attach, answerTo } = extra
  const payload = { to: to.email, ...written, attach, answerTo }
  await post(call, { kind: 'mail', key, payload, document: about, notBefore })
}

/** Tells everybody what an act says to them, each in their language, and those of the team when they want to be told. */
export async function say(call: Write, messages: readonly Message[], about: About): Promise<void> {
  for (const message of messages) {
    const readers = await recipients(call, message.to)
    for (const [index, reader] of readers.entries()) {
      const key = index === 0 ? message.key : `${message.key}:${reader.email}`
      if ('personId' in reader) await tell(call, reader, { ...message, key }, about)
      else await mail(call, reader, message.template, key, about, message.details, message)
    }
  }
}

async function tell(call: Write, reader: TeamReader, message: Message, about: About): Promise<void> {
  const timing = mailTiming(reader.wish, call.now, reader.zone)
  if (!timing) return
  const { template, key, details } = message
  if (!timing.together)
    return await mail(call, reader, template, key, about, details, { ...message, notBefore: timing.at })
  const { subject } = await compose(call, reader, template, details)
  const text = details.yes ? (await compose(call, reader, 'account.digestDecision', details)).text : ''
  const path = String(details.path ?? '')
  await putAside(call, { personId: reader.personId, key, due: timing.at, subject, path, text })
}
