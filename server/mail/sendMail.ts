import nodemailer, { type SendMailOptions, type TransportOptions } from 'nodemailer'
import type { Read, Write } from '#server/call.ts'
import type { Settings } from '#server/configuration.ts'
import { readSetting } from '#server/house/house.ts'
import type { MailPayload, Outgoing } from '#server/outbox/post.ts'
import type { Sender } from '#server/outbox/send.ts'

export interface Attachment {
  readonly filename: string
  readonly content: string | Buffer
  readonly contentType?: string
}

/** What the stages add to mails. */
export interface MailParts {
  /** Documents that go along: what is read now, written when the mail leaves. */
  readonly documents: (call: Read, attach: NonNullable<MailPayload['attach']>) => Promise<() => Promise<Attachment[]>>
  /** An address does not exist: whoever it belongs to is told. */
  readonly bounced: (call: Write, email: string, why: string) => Promise<void>
}

const payloadOf = (row: Outgoing): MailPayload => row.payload as MailPayload

/** The receiving server says for good that there is no such address (RFC 5321, 4.2.1: replies 5yz). */
const isBounce = (error: unknown): error is Error & { responseCode: number } => {
  const code = (error as { responseCode?: number }).responseCode
  return code !== undefined && code >= 550 && code <= 559
}

/** How mails leave. */
export const mailSender = (added: MailParts): Sender => ({
  before: async (call, row) => {
    const { attach, answerTo, ...mail } = payloadOf(row)
    const sender = await readSetting(call, 'mailSender')
    const from = sender?.name || call.house.name
    const attachments = attach ? await added.documents(call, attach) : () => Promise.resolve([])
    return async ({ settings }) =>
      sendMail(settings, {
        from: { name: from, address: settings.mailFrom },
        ...(answerTo
          ? { replyTo: `${answerTo}@${settings.mailFrom.split('@')[1] ?? ''}` }
          : sender?.replyTo
            ? { replyTo: sender.replyTo }
            : {}),
        to: mail.to,
        subject: mail.subject,
        text: withAddress(mail.text, settings.publicUrl),
        attachments: await attachments(),
        messageId: `<${row.id}@ivory-order.example>`,
      })
  },
  refused: async (call, row, error) => {
    if (!isBounce(error)) return false
    await added.bounced(call, payloadOf(row).to, error.message.slice(0, 300))
    return true
  },
})

const TIMEOUTS = { connectionTimeout: 5000, greetingTimeout: 5000, socketTimeout: 10_000 }

async function sendMail(settings: Settings, mail: SendMailOptions): Promise<void> {
  const transport = nodemailer.createTransport({ url: settings.smtpUrl, ...TIMEOUTS } as TransportOptions)
  try {
    await transport.sendMail(mail)
  } finally {
    transport.close()
  }
}

/** Paths in a mail become addresses. */
const withAddress = (text: string, publicUrl: string): string =>
  text.replaceAll(/(^|\s)(\/[a-z]+\/[\w/-]+)/g, (_, space: string, path: string) => `${space}${publicUrl}${path}`)
