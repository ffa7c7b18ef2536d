import { simpleParser } from 'mailparser'
import type { ReceivedMail } from '#core/decide/mailReply.ts'

/** A file that hangs on a mail. */
export interface Hanging {
  readonly name: string
  readonly bytes: Buffer
}
/** Files of one mail that are looked at. */
const MOST_HANGING = 20

/** Who sent a mail, and the files that hang on it; nothing where it cannot be read. */
export async function readHanging(raw: Buffer): Promise<{ from: string; subject: string; files: Hanging[] } | null> {
  const parsed = await parse(raw)
  if (!parsed) return null
  return {
    from: (parsed.from?.value[0]?.address ?? '').toLowerCase(),
    subject: parsed.subject ?? '',
    files: parsed.attachments
      .slice(0, MOST_HANGING)
      .map((one, at) => ({ name: one.filename ?? `${at + 1}`, bytes: one.content })),
  }
}

/** Letters of HTML that are turned into text: an answer stands above everything that is quoted. */
const MOST_HTML = 200_000

const parse = (raw: Buffer) =>
  simpleParser(raw, { skipTextToHtml: true, skipImageLinks: true, maxHtmlLengthToParse: MOST_HTML }).catch(() => null)

/**
 * Reads a mail (RFC 5322, MIME RFC 2045): who wrote it, and its text, made from HTML where it has no other. Nothing where it cannot be read,
 * such as one of thousands of parts in each other.
 */
export async function readMail(raw: Buffer): Promise<ReceivedMail | null> {
  const parsed = await parse(raw)
  if (!parsed) return null
  const submitted = String(parsed.headers.get('auto-submitted') ?? 'no').toLowerCase()
  const precedence = String(parsed.headers.get('precedence') ?? '').toLowerCase()
  return {
    from: parsed.from?.value[0]?.address ?? '',
    text: parsed.text ?? '',
    automatic: submitted !== 'no' || ['bulk', 'auto_reply', 'junk'].includes(precedence),
  }
}
