import { randomUUID } from 'node:crypto'
import type { AddressInfo } from 'node:net'
import { SMTPServer } from 'smtp-server'
import { json } from '#server/database/json.ts'
import type { JobParts } from '#server/jobs/parts.ts'
import { hashOf } from '#server/people/tokens.ts'

interface MailInRow {
  id: string
  /** Says which mail it is, however often it is delivered. */
  messageKey: string
  receivedAt: string
  recipient: string
  /** Its beginning, until it was read. */
  raw: Buffer | null
  /** What became of it; null: not read yet. */
  outcome: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    mailsIn: MailInRow
  }
}

declare module '#server/house/house.ts' {
  interface SettingValues {
    /** Whether answers by mail are taken: only then do mails offer it. */
    mailIn: boolean
  }
}

/** Notes whether answers by mail are taken. */
export const noteMailIn = (db: JobParts['db'], taken: boolean): Promise<unknown> =>
  db('settings')
    .insert({ key: 'mailIn', value: json(taken) })
    .onConflict('key')
    .merge()

/** What is kept of an answer: it stands at the beginning of its mail, and what hangs on it is not wanted. Of a mail with invoices all is. */
const KEPT_BYTES = 256 * 1024
/** The mailbox that invoices are sent to. */
export const INVOICES_TO = 'invoices@'
const isInvoices = (address: string): boolean => address.toLowerCase().startsWith(INVOICES_TO)
/** The largest mail that is taken at all; its size is told to whoever sends (RFC 1870). */
const MOST_BYTES = 25 * 1024 * 1024
const MOST_RECIPIENTS = 10

export interface MailIn {
  readonly port: number
  readonly stop: () => Promise<void>
}

/**
 * Takes mails for the addresses that answers go to, by SMTP from the house's own mail server (RFC 5321). A mail is kept before it is
 * acknowledged and read by a job; the same mail delivered again is the same.
 */
export async function startMailIn(
  parts: Pick<JobParts, 'db' | 'clock' | 'log'>,
  prefix: string,
  port: number,
  host = '127.0.0.1',
): Promise<MailIn> {
  // prettier-ignore
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: MOST_BYTES,
    logger: false,
    socketTimeout: 30_000,
    onRcptTo: (address, session, done) => {
      const ours = address.address.toLowerCase().startsWith(prefix) || isInvoices(address.address)
      const many = session.envelope.rcptTo.length >= MOST_RECIPIENTS
      done(ours && !many ? null : Object.assign(new Error(many ? '5.5.3 Too many recipients' : '5.1.1 There is no such mailbox'), { responseCode: 550 })) // prettier-ignore
    },
    onData: (stream, session, done) => {
      const some: Buffer[] = []
      let bytes = 0
      const most = session.envelope.rcptTo.some(to => isInvoices(to.address)) ? MOST_BYTES : KEPT_BYTES
      stream.on('data', (part: Buffer) => {
        if (bytes < most) some.push(part.subarray(0, most - bytes))
        bytes += part.length
      })
      stream.on('end', () => {
        if (stream.sizeExceeded)
          return done(Object.assign(new Error('5.3.4 The mail is too large'), { responseCode: 552 }))
        const raw = Buffer.concat(some)
        const kept = session.envelope.rcptTo.map(to => keep(parts, to.address.toLowerCase(), isInvoices(to.address) ? raw : raw.subarray(0, KEPT_BYTES)))
        void Promise.all(kept).then(
          () => done(null),
          (error: unknown) => {
            parts.log('a mail could not be kept', error)
            done(Object.assign(new Error('4.3.0 Try again later'), { responseCode: 451 }))
          },
        )
      })
    },
  })
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, host, resolve)
  })
  server.on('error', error => parts.log('the mail server', error))
  await noteMailIn(parts.db, true)
  return {
    port: (server.server.address() as AddressInfo).port,
    stop: () => new Promise(resolve => server.close(() => resolve())),
  }
}

const messageId = (raw: Buffer): string =>
  /^message-id:\s*(\S+)/im.exec(raw.subarray(0, 16_000).toString('latin1'))?.[1] ?? hashOf(raw.toString('latin1'))

async function keep(parts: Pick<JobParts, 'db' | 'clock'>, recipient: string, raw: Buffer): Promise<void> {
  const id = randomUUID()
  await parts.db.transaction(async trx => {
    const rows = await trx('mailsIn')
      .insert({
        id,
        messageKey: hashOf(`${recipient} ${messageId(raw)}`),
        receivedAt: parts.clock(),
        recipient,
        raw,
        outcome: null,
      }) // prettier-ignore
      .onConflict('messageKey')
      .ignore()
      .returning('id')
    if (rows.length > 0)
      await trx.raw(`select graphile_worker.add_job(?, json_build_object('id', ?::text), max_attempts => 8)`, [isInvoices(recipient) ? 'readInvoiceMail' : 'readAnswer', id]) // prettier-ignore
  })
}
