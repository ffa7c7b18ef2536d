import { en } from '#contract/messages/en.ts'
import { type Details, fill } from '#contract/messages/fill.ts'

/** A language's words: message code to text with {details}. */
export type Messages = Readonly<Record<string, string>>

/** What was loaded beside the first table, by pages that nobody sees first. */
const learnt: Record<string, string> = {}
export const learn = (more: Messages): void => void Object.assign(learnt, more)

/**
 * The words of a code, with its details put in. What a language lacks is said in English, and an unknown code is shown as it is, so that nothing is ever blank; tests keep the tables complete.
 *
 * say('order.superseded', { revision: 0, current: 2 }) //=> 'Revision 0 was replaced by revision 2: open that one.'
 */
export const say = (code: string, details: Details = {}, messages: Messages = en): string =>
  fill(messages[code] ?? en[code] ?? learnt[code] ?? code, details)
    .replace(/\s+([.,;:])/g, '$1')
    .trim()
