import { join } from 'node:path'
import { startBidder } from '#stand-ins/bidder.ts'
import { startBank } from '#stand-ins/bank.ts'
import { startMailServer } from '#stand-ins/mailServer.ts'
import { startRates } from '#stand-ins/rates.ts'

/** By how much each bidder is dearer than the one before. */
const DEARER = 0.01
const folder = process.env.STAND_INS_FOLDER ?? 'stand-ins-data'
const mail = await startMailServer(join(folder, 'mail'), {
  smtp: Number(process.env.SMTP_PORT ?? 0),
  http: Number(process.env.MAILBOX_PORT ?? 0),
  onwards: Number(process.env.MAIL_IN_PORT ?? 0),
})
const bank = await startBank(join(folder, 'bank'), Number(process.env.BANK_PORT ?? 0))
const rates = await startRates(Number(process.env.RATES_PORT ?? 0))
const bidders = (process.env.BIDDERS ?? '')
  .split(' ')
  .filter(Boolean)
  .map((to, index) =>
    startBidder({
      mailbox: `http://127.0.0.1:${mail.httpPort}`,
      to,
      usual: Number(process.env.BIDDERS_USUAL ?? 0) * (1 + index * DEARER),
    }),
  )
process.send?.({
  ready: 'stand-ins',
  smtpPort: mail.smtpPort,
  mailboxPort: mail.httpPort,
  bankPort: bank.port,
  ratesPort: rates.port,
})
const end = (): void => {
  for (const one of bidders) one.stop()
  void Promise.all([mail.stop(), bank.stop(), rates.stop()]).then(() => process.exit(0))
}
process.once('disconnect', end)
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, end)
