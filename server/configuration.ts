import { z } from 'zod'

const Configuration = z.object({
  DATABASE_URL: z.string().min(1),
  HOST: z.string().default('127.0.0.1'),
  PORT: z.coerce.number().int().min(0).max(65535).default(0),
  TRUST_PROXY: z.string().default('loopback'),
  METRICS_TOKEN: z.string().default(''),
  OIDC_ISSUER: z.string().default(''),
  OIDC_CLIENT_ID: z.string().default(''),
  OIDC_CLIENT_SECRET: z.string().default(''),
  OIDC_NAME: z.string().default('single sign-on'),
  SMTP_URL: z.string().default('smtp://127.0.0.1:2525'),
  BANK_URL: z.string().default('http://127.0.0.1:2526'),
  RATES_URL: z.string().default(''),
  MAIL_IN_PORT: z.coerce.number().int().min(0).max(65535).default(0),
  MAILBOX_URL: z.string().default(''),
  MAIL_FROM: z.string().default('purchasing@localhost'),
  PUBLIC_URL: z.string().default(''),
})

export interface Settings {
  readonly databaseUrl: string
  /** The address to listen at. */
  readonly host: string
  readonly port: number
  /** Proxies whose word about the reader's address and protocol is taken: `loopback`, a list of networks, or how many there are. */
  readonly trustProxy: string
  readonly metricsToken: string
  /** The house's own sign-on, where it has one. */
  readonly singleSignOn: { issuer: string; clientId: string; clientSecret: string; name: string } | null
  readonly smtpUrl: string
  /** Where answers by mail come in, by SMTP from the house's own mail server; 0: they do not. */
  readonly mailInPort: number
  readonly bankUrl: string
  /** Where euro reference rates of the day are, as XML; '' where none are fetched. */
  readonly ratesUrl: string
  readonly mailboxUrl: string
  readonly mailFrom: string
  /** Where people find it, such as https://purchasing.example; mails link to it, and with https browsers are told to stay there. */
  readonly publicUrl: string
}

/** What a process is told by its environment; docs/operators.md lists it. */
export function readSettings(environment: NodeJS.ProcessEnv): Settings {
  const read = Configuration.parse(environment)
  return {
    databaseUrl: read.DATABASE_URL,
    host: read.HOST,
    port: read.PORT,
    trustProxy: read.TRUST_PROXY,
    metricsToken: read.METRICS_TOKEN,
    singleSignOn: read.OIDC_ISSUER
      ? {
          issuer: read.OIDC_ISSUER,
          clientId: read.OIDC_CLIENT_ID,
          clientSecret: read.OIDC_CLIENT_SECRET,
          name: read.OIDC_NAME,
        }
      : null,
    smtpUrl: read.SMTP_URL,
    mailInPort: read.MAIL_IN_PORT,
    bankUrl: read.BANK_URL,
    ratesUrl: read.RATES_URL,
    mailboxUrl: read.MAILBOX_URL,
    mailFrom: read.MAIL_FROM,
    publicUrl: read.PUBLIC_URL,
  }
}
