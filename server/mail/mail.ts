import type { Message } from '#core/acts/decision.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { languageOf } from '#contract/messages/languages.ts'
import { ownMailWords } from '#contract/messages/ownWords.ts'
import { writeMail } from '#contract/messages/translate.ts'
import type { Write } from '#server/call.ts'
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

/** Writes one mail from its template into the outbox. An address that is empty gets none. */
export async function mail(
  call: Write,
  to: Reader,
  template: string,
  key: string,
  about: About,
  details: Message['details'],
  attach?: Message['attach'],
): Promise<void> {
  if (to.email === '') return
  const language = languageOf(to.language, call.house.languages)
  const own = await call
    .trx('setupEntries')
    .where({ register: 'mailTexts', code: `${template} ${language}`, open: true })
    .first<{ values: Record<string, string> } | undefined>('values')
  const said = { ...details, name: to.name, house: call.house.name }
  const written = writeMail(template, language, said, ownMailWords(own?.values))
  await post(call, { kind: 'mail', key, payload: { to: to.email, ...written, attach }, document: about })
}

/** Tells everybody what an act says to them, each in their language. */
export async function say(call: Write, messages: readonly Message[], about: About): Promise<void> {
  for (const message of messages) {
    const readers = await recipients(call, message.to)
    for (const [index, reader] of readers.entries()) {
      const key = index === 0 ? message.key : `${message.key}:${reader.email}`
      await mail(call, reader, message.template, key, about, message.details, message.attach)
    }
  }
}
