import { type Reason, stop } from '#core/reasons.ts'
import type { EventKind, InLanguages } from '#core/source/eventKind.ts'

export const MESSAGE_MOMENTS = ['beforeOpening', 'beforeEnd', 'atEnd'] as const
export const MESSAGE_READERS = ['silent', 'answering', 'everybody'] as const

/** A mail that goes out by itself while suppliers are asked. */
export interface EventMessage {
  readonly key: string
  readonly moment: (typeof MESSAGE_MOMENTS)[number]
  /** Hours before that moment; nothing counts them at the end itself. */
  readonly hours: number
  /** Those who have said nothing yet, those who have answered, or all who have not declined. */
  readonly to: (typeof MESSAGE_READERS)[number]
  readonly words: InLanguages
}

/** What a message looks at to know whether it is time. Instants as ISO text. */
export interface MessageTimes {
  readonly opensAt: string | null
  readonly endsAt: string | null
  /** Since when suppliers know these times: what should have been said before is not said any more. */
  readonly since: string
  /** Keys of the messages that have gone out for these times. */
  readonly sent: readonly string[]
}

const HOUR = 3_600_000

/**
 * The messages whose time has come, in the order of their moments. One that was missed (the server stood still) still goes out as long as
 * what it speaks of lies ahead; one of before the end was moved does not come after.
 */
export const dueMessages = (
  messages: readonly EventMessage[],
  { opensAt, endsAt, since, sent }: MessageTimes,
  at: string,
): EventMessage[] =>
  messages
    .flatMap(message => {
      const about = message.moment === 'atEnd' ? null : message.moment === 'beforeEnd' ? endsAt : opensAt
      if (about === null || sent.includes(message.key)) return []
      const moment = Date.parse(about) - message.hours * HOUR
      const now = Date.parse(at)
      return moment > Date.parse(since) && moment <= now && now < Date.parse(about) ? [{ message, moment }] : []
    })
    .sort((one, other) => one.moment - other.moment)
    .map(({ message }) => message)

/** Whether it only brings to mind that an answer is missing: that needs no words of one's own. */
export const isReminder = (message: Pick<EventMessage, 'moment' | 'to'>): boolean =>
  message.moment === 'beforeEnd' && message.to === 'silent'

/** What stands against the messages of a kind: nothing in them, in German alone, or of an opening that quote requests do not have. */
export const checkMessages = ({ format, messages }: Pick<EventKind, 'format' | 'messages'>): Reason[] =>
  messages.flatMap((message, index) => {
    const at = (field: string) => ({ place: `messages.${index}.${field}` })
    const english = (message.words.en ?? '').trim()
    return [
      ...(english === '' && ((message.words.de ?? '').trim() !== '' || !isReminder(message))
        ? [stop('kind.messageWords', {}, at('words'))]
        : []),
      ...(message.moment === 'beforeOpening' && format === 'quotes'
        ? [stop('kind.messageOpening', {}, at('moment'))]
        : []),
      ...(message.moment !== 'atEnd' && message.hours < 1 ? [stop('kind.messageHours', {}, at('hours'))] : []),
    ]
  })
