import { type Logger, pino } from 'pino'

/** What must never stand in a log. */
const SECRETS = ['password', 'token', 'cookie', 'authorization', 'secret', 'code', '*.password', '*.token', '*.cookie', '*.secret', '*.authorization'] // prettier-ignore

let logger: Logger | undefined

/** The log of this process, as lines of JSON; LOG_LEVEL says from which level on. */
export const log = (): Logger =>
  (logger ??= pino({ level: process.env.LOG_LEVEL ?? 'info', redact: { paths: SECRETS, censor: '…' } }))
