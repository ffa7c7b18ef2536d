import { en } from '#contract/messages/en.ts'

/** A language's words: message code to text with {details}. */
export type Messages = Readonly<Record<string, string>>

/**
 * The words of a code, with its details put in. An unknown code is shown as it is, so that nothing is ever blank; a test keeps the table complete.
 *
 * say('order.superseded', { revision: 0, current: 2 }) //=> 'Revision 0 was replaced by revision 2: open that one.'
 */
export function say(
  code: string,
  details: Readonly<Record<string, string | number>> = {},
  messages: Messages = en,
): string {
  const template = messages[code] ?? code
  return template
    .replace(/\{(\w+)\}/g, (_, name: string) => String(details[name] ?? ''))
    .replace(/\s+([.,;:])/g, '$1')
    .trim()
}
