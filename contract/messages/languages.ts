import type { MailWords } from '#contract/messages/mails.ts'
import type { Messages } from '#contract/messages/say.ts'

/** Languages in which outsiders can be written to. What a house uses of them is set in Setup; its first is for whoever reads another. */
export const LANGUAGES = ['en', 'de'] as const
export type Language = (typeof LANGUAGES)[number]

/** A language beside English: whatever outsiders read on pages, in mails and on documents. */
export interface Translation {
  /** Sentences by their code, as in en.ts. */
  readonly codes: Messages
  /** Words of pages and documents by the English ones, which stand where they are used. */
  readonly texts: Messages
  readonly mails: Readonly<Record<string, MailWords>>
  /** Words for codes by group and code, as `label` shows them. */
  readonly labels: Messages
  /** Names of units that have no sign of their own, by UN/ECE code. */
  readonly units: Messages
}

/**
 * The language that somebody is written to in: their own where the house uses it, else the house's first.
 *
 * languageOf('de-AT', ['en', 'de']) //=> 'de'; languageOf('fr-FR', ['de', 'en']) //=> 'de'
 */
export function languageOf(locale: string, used: readonly string[]): Language {
  const known = LANGUAGES.filter(one => used.includes(one))
  return known.find(one => locale.toLowerCase().startsWith(one)) ?? known[0] ?? 'en'
}
