import { createServer, type IncomingMessage, type Server } from 'node:http'
import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises'
import { createHash, randomUUID } from 'node:crypto'
import { join } from 'node:path'
import { type AddressObject, simpleParser } from 'mailparser'
import nodemailer from 'nodemailer'
import { SMTPServer } from 'smtp-server'

/** Faults that a test or a person can set while it runs. */
export interface MailFaults {
  /** Refuse every connection's mail with a temporary error. */
  down: boolean
  /** Addresses that do not exist, beside all that begin with `gone.`: mail to them is refused for good. */
  unknown: Set<string>
  /** Take the mail but break the connection before saying so. */
  forgetToAnswer: number
}

export interface MailServer {
  readonly smtpPort: number
  readonly httpPort: number
  readonly faults: MailFaults
  readonly count: () => Promise<number>
  readonly stop: () => Promise<void>
}

/**
 * A small mail server: takes mail by SMTP, keeps one file per message identification (so a message sent twice is there once) and shows
 * the mailbox over HTTP. What is addressed to `decide+…` or `invoices@…` is brought to the port `onwards` by SMTP, again and again until it is taken.
 */
export async function startMailServer(
  folder: string,
  ports: { smtp: number; http: number; onwards?: number },
): Promise<MailServer> {
  await mkdir(folder, { recursive: true })
  const faults: MailFaults = { down: false, unknown: new Set(), forgetToAnswer: 0 }
  const courier = ports.onwards ? new Courier(ports.onwards) : undefined
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: 40 * 1024 * 1024,
    logger: false,
    onRcptTo: (address, _session, done) => {
      const unknown =
        faults.unknown.has(address.address.toLowerCase()) || address.address.toLowerCase().startsWith('gone.')
      done(
        unknown
          ? Object.assign(new Error(`5.1.1 There is no mailbox ${address.address}`), { responseCode: 550 })
          : null,
      )
    },
    onData: (stream, session, done) => {
      const parts: Buffer[] = []
      stream.on('data', (part: Buffer) => parts.push(part))
      stream.on('end', () => {
        if (faults.down)
          return done(Object.assign(new Error('The mail server is resting, try again later'), { responseCode: 451 }))
        const forget = faults.forgetToAnswer > 0
        if (forget) faults.forgetToAnswer--
        const message = Buffer.concat(parts)
        const further = session.envelope.rcptTo
          .map(to => to.address)
          .filter(to => ['decide+', 'invoices@'].some(mailbox => to.toLowerCase().startsWith(mailbox)))
        const from = session.envelope.mailFrom ? session.envelope.mailFrom.address : ''
        if (further.length > 0 && courier) courier.take({ from, to: further, message })
        void keep(folder, message).then(
          () =>
            done(
              forget
                ? Object.assign(new Error('Something broke after the mail was taken'), { responseCode: 451 })
                : null,
            ),
          done,
        )
      })
    },
  })
  const web = createServer((request, response) => {
    const to = new URL(request.url ?? '/', 'http://x').searchParams.get('to') ?? ''
    const work = request.method === 'POST' ? answered(folder, smtpAddress(), request) : listMails(folder, to).then(mails => ({ mails })) // prettier-ignore
    void work.then(
      said => response.writeHead(200, { 'content-type': 'application/json' }).end(JSON.stringify(said)),
      () => response.writeHead(500).end(),
    )
  })
  const smtpAddress = (): number => smtpPort
  const smtpPort = await new Promise<number>((resolve, reject) => {
    smtp.on('error', reject)
    const listening = smtp.listen(ports.smtp, '127.0.0.1', () =>
      resolve((listening.address() as { port: number }).port),
    )
  })
  const httpPort = await listen(web, ports.http)
  return {
    smtpPort,
    httpPort,
    faults,
    count: async () => (await readdir(folder)).filter(name => name.endsWith('.eml')).length,
    stop: async () => {
      courier?.stop()
      await new Promise<void>(resolve => smtp.close(() => resolve()))
      await new Promise(resolve => {
        web.closeAllConnections()
        web.close(resolve)
      })
    },
  }
}

interface Letter {
  readonly from: string
  readonly to: readonly string[]
  readonly message: Buffer
}

/** Milliseconds between two tries to bring a mail on. */
const AGAIN = 2000

/** Brings mails on to another server; what it does not take now is brought again. */
class Courier {
  private readonly waiting: Letter[] = []
  private timer: NodeJS.Timeout | undefined
  private stopped = false
  constructor(private readonly port: number) {}

  take(letter: Letter): void {
    this.waiting.push(letter)
    if (this.waiting.length === 1) void this.bring()
  }
  stop(): void {
    this.stopped = true
    clearTimeout(this.timer)
  }
  private async bring(): Promise<void> {
    const transport = nodemailer.createTransport({ host: '127.0.0.1', port: this.port, ignoreTLS: true })
    while (this.waiting.length > 0 && !this.stopped) {
      const { from, to, message } = this.waiting[0]!
      try {
        await transport.sendMail({ envelope: { from, to: [...to] }, raw: message })
        this.waiting.shift()
      } catch (error) {
        if (((error as { responseCode?: number }).responseCode ?? 0) >= 500) this.waiting.shift()
        else {
          this.timer = setTimeout(() => void this.bring(), AGAIN)
          return
        }
      }
    }
    transport.close()
  }
}

export const listen = (server: Server, port: number): Promise<number> =>
  new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => resolve((server.address() as { port: number }).port))
  })

async function keep(folder: string, message: Buffer): Promise<void> {
  const id = /^message-id:\s*(\S+)/im.exec(message.subarray(0, 8000).toString('latin1'))?.[1] ?? String(message.length)
  await writeWhole(join(folder, `${createHash('sha256').update(id).digest('hex').slice(0, 24)}.eml`), message)
}

/** Writes a file so that it is there whole or not at all, whenever we are stopped. */
export async function writeWhole(path: string, content: string | Buffer): Promise<void> {
  const part = `${path}.${randomUUID()}.part`
  await writeFile(part, content)
  await rename(part, path)
}

/** Sends an answer to one of the mails, as its reader's mail program would: quoted below, to where answers go. */
async function answered(folder: string, port: number, request: IncomingMessage): Promise<object> {
  const parts: Buffer[] = []
  for await (const part of request) parts.push(part as Buffer)
  const { id, text } = JSON.parse(Buffer.concat(parts).toString('utf8')) as { id: string; text: string }
  if (!/^[0-9a-f]+$/.test(id)) throw new Error('There is no such mail.')
  const mail = await simpleParser(await readFile(join(folder, `${id}.eml`)))
  const address = (one: AddressObject | AddressObject[] | undefined): string => [one].flat()[0]?.value[0]?.address ?? ''
  const transport = nodemailer.createTransport({ host: '127.0.0.1', port, ignoreTLS: true })
  await transport.sendMail({
    from: address(mail.to),
    to: address(mail.replyTo) || address(mail.from),
    subject: `Re: ${mail.subject ?? ''}`,
    inReplyTo: mail.messageId ?? '',
    text: `${text}\n\nOn ${(mail.date ?? new Date(0)).toUTCString()}, ${address(mail.from)} wrote:\n${(mail.text ?? '').replaceAll(/^/gm, '> ')}`,
  })
  transport.close()
  return {}
}

async function listMails(folder: string, to: string) {
  const names = (await readdir(folder)).filter(name => name.endsWith('.eml'))
  const mails = await Promise.all(
    names.map(async name => {
      const parsed = await simpleParser(await readFile(join(folder, name))).catch(() => undefined)
      if (!parsed) return []
      const address = Array.isArray(parsed.to) ? parsed.to.map(one => one.text).join(', ') : (parsed.to?.text ?? '')
      const mail = {
        id: name.slice(0, -4),
        from: parsed.from?.text ?? '',
        replyTo: parsed.replyTo?.text ?? '',
        to: address,
        subject: parsed.subject ?? '',
        text: parsed.text ?? '',
        at: (parsed.date ?? new Date(0)).toISOString(),
        attachments: parsed.attachments.map(one => ({ name: one.filename ?? '', size: one.size })),
      }
      return [mail]
    }),
  )
  return mails
    .flat()
    .filter(mail => mail.to.toLowerCase().includes(to.toLowerCase()))
    .sort((a, b) => (a.at < b.at ? 1 : -1))
    .slice(0, 300)
}
