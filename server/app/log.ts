import { type Logger, pino } from 'pino'

/** What must never stand in a log. */
const SECRETS = ['password', 'token', 'cookie', 'authorization', 'secret', 'code', '*.password', '*.token', '*.cookie', '*.secret', '*.authorization'] // prettier-ignore

let logger: Logger | undefined

/** The log of this process, as lines of JSON; LOG_LEVEL says from which level on: every request in production, faults elsewhere. */
export const log = (): Logger =>
  (logger ??= pino({
    level: process.env.LOG_LEVEL ?? (process.env.NODE_ENV === 'production' ? 'info' : 'warn'),
    redact: { paths: SECRETS, censor: '…' },
  }))
