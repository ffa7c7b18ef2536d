import { table } from '#core/text/table.ts'

/** What an answer by mail says. */
export interface MailReply {
  readonly answer: 'approve' | 'reject' | 'ask'
  /** What stands after the first word: the reason, or the question. */
  readonly words: string
}

type Words = Readonly<Record<string, MailReply['answer']>>

/** First words and what they mean, by language. English is read in every language. */
const WORDS = table<Readonly<Record<string, Words>>>({
  en: table<Words>({
    yes: 'approve',
    approve: 'approve',
    approved: 'approve',
    no: 'reject',
    reject: 'reject',
    rejected: 'reject',
    question: 'ask',
  }),
  de: table<Words>({
    ja: 'approve',
    genehmigt: 'approve',
    genehmigen: 'approve',
    nein: 'reject',
    abgelehnt: 'reject',
    ablehnen: 'reject',
    frage: 'ask',
  }),
})

/** Letters of an answer that are read; nobody says more in a mail that decides something. */
const MOST_LETTERS = 2000
const MOST_LINES = 200

/** Where the mail that is answered begins, as mail programs write it: what follows is not the answer. */
const QUOTES: readonly RegExp[] = [
  /^>/,
  /^\s*-{2,}\s*(original message|ursprüngliche nachricht|forwarded message|weitergeleitete nachricht)/i,
  /^\s*_{5,}\s*$/,
  /^\s*(on|am)\b.{0,200}\b(wrote|schrieb)\b.{0,100}:\s*$/i,
  /^\s*(from|von|sent|gesendet):\s/i,
]
/** What stands above a signature (RFC 3676, 4.3: a line of two dashes and a space). */
const SIGNATURE = /^-- ?$/

/**
 * Reads an answer from a mail's text: its first word says what is decided; what was quoted and the signature are not read. Nothing where the
 * first word says nothing.
 *
 * readReply('No, too dear this year.\n\n> Approve: …', 'en') //=> { answer: 'reject', words: 'too dear this year.' }
 */
export function readReply(text: string, language: string): MailReply | null {
  const own = ownPart(text)
  const first = /^[\s"'„“”*]*([\p{L}]+)[\s"'“”*,.;:!–-]*/u.exec(own)
  if (!first) return null
  const word = first[1]!.toLowerCase()
  const answer = WORDS[language.slice(0, 2)]?.[word] ?? WORDS['en']?.[word]
  return answer === undefined ? null : { answer, words: own.slice(first[0].length).trim() }
}

/** What somebody wrote themselves: the lines before what they quote and before their signature. */
function ownPart(text: string): string {
  const lines = text.replace(/\r\n?/g, '\n').split('\n').slice(0, MOST_LINES)
  const joined = lines.map((line, at) => (wraps(line) ? `${line} ${lines[at + 1] ?? ''}` : line))
  const end = lines.findIndex(
    (line, at) => SIGNATURE.test(line) || QUOTES.some(one => one.test(line) || one.test(joined[at]!)),
  )
  return (end === -1 ? lines : lines.slice(0, end)).join('\n').trim().slice(0, MOST_LETTERS)
}
/** "On Tuesday, … wrote:" is often broken over two lines. */
const wraps = (line: string): boolean => /^\s*(on|am)\b/i.test(line) && !line.trim().endsWith(':')

/** What was found out about a mail that answers. */
export interface ReceivedMail {
  readonly from: string
  readonly text: string
  /** A program answered, not a person (RFC 3834). */
  readonly automatic: boolean
}

/** Why a mail is not taken as an answer, or the answer. */
export type Received = { readonly ok: true; readonly reply: MailReply } | { readonly ok: false; readonly why: string }

/** Judges a mail that came to the address of one decision: only the person whom it was sent to answers it. */
export function judgeMail(mail: ReceivedMail, person: { readonly email: string; readonly language: string }): Received {
  if (mail.automatic) return { ok: false, why: 'way.automatic' }
  if (mail.from.trim().toLowerCase() !== person.email.trim().toLowerCase()) return { ok: false, why: 'way.otherSender' }
  const reply = readReply(mail.text, person.language)
  if (!reply) return { ok: false, why: 'way.unread' }
  if (reply.answer !== 'approve' && reply.words.length < 3)
    return { ok: false, why: reply.answer === 'ask' ? 'way.noQuestion' : 'way.noReason' }
  return { ok: true, reply }
}
