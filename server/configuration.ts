import { z } from 'zod'

const Configuration = z.object({
  DATABASE_URL: z.string().min(1),
  PORT: z.coerce.number().int().default(0),
  IVORY_DEMO: z.string().optional(),
  SMTP_URL: z.string().default('smtp://127.0.0.1:2525'),
  BANK_URL: z.string().default('http://127.0.0.1:2526'),
  MAILBOX_URL: z.string().default(''),
  MAIL_FROM: z.string().default('purchasing@saltmere.example'),
  PUBLIC_URL: z.string().default(''),
})

export interface Settings {
  readonly databaseUrl: string
  readonly port: number
  readonly demo: boolean
  readonly smtpUrl: string
  readonly bankUrl: string
  readonly mailboxUrl: string
  readonly mailFrom: string
  readonly publicUrl: string
}

/** What a process is told by its environment; docs/operators.md lists it. */
export function readSettings(environment: NodeJS.ProcessEnv): Settings {
  const read = Configuration.parse(environment)
  return {
    databaseUrl: read.DATABASE_URL,
    port: read.PORT,
    demo: read.IVORY_DEMO === '1',
    smtpUrl: read.SMTP_URL,
    bankUrl: read.BANK_URL,
    mailboxUrl: read.MAILBOX_URL,
    mailFrom: read.MAIL_FROM,
    publicUrl: read.PUBLIC_URL,
  }
}
