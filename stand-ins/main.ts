import { join } from 'node:path'
import { startBank } from '#stand-ins/bank.ts'
import { startMailServer } from '#stand-ins/mailServer.ts'
import { startRates } from '#stand-ins/rates.ts'

const folder = process.env.STAND_INS_FOLDER ?? 'stand-ins-data'
const mail = await startMailServer(join(folder, 'mail'), {
  smtp: Number(process.env.SMTP_PORT ?? 0),
  http: Number(process.env.MAILBOX_PORT ?? 0),
  onwards: Number(process.env.MAIL_IN_PORT ?? 0),
})
const bank = await startBank(join(folder, 'bank'), Number(process.env.BANK_PORT ?? 0))
const rates = await startRates(Number(process.env.RATES_PORT ?? 0))
process.send?.({
  ready: 'stand-ins',
  smtpPort: mail.smtpPort,
  mailboxPort: mail.httpPort,
  bankPort: bank.port,
  ratesPort: rates.port,
})
const end = (): void => void Promise.all([mail.stop(), bank.stop(), rates.stop()]).then(() => process.exit(0))
process.once('disconnect', end)
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, end)
