import type { RevisionAttached } from '#core/acts/decision.ts'
import { agreementsToWatch, watchAgreement } from '#server/agreements/watchAgreements.ts'
import { resumeWindDowns, windDownJob } from '#server/agreements/windDownActs.ts'
import { readAnswer } from '#server/decide/replyActs.ts'
import { readInvoiceMail } from '#server/bill/mailActs.ts'
import { postUntouched } from '#server/bill/postUntouched.ts'
import { watchHolds } from '#server/bill/watchHolds.ts'
import { selfBill } from '#server/bill/selfBill.ts'
import { watchDecisions } from '#server/decide/watch.ts'
import { remindOfWaiting } from '#server/decide/remindActs.ts'
import { tidyFiles } from '#server/files/fileStore.ts'
import { writeOrderPdf } from '#server/formats/orderPdf.ts'
import type { OrderDocument } from '#server/formats/ublOrder.ts'
import { writeUblOrderCancellation, writeUblRevision } from '#server/formats/ublOrderChange.ts'
import { measureStages } from '#server/insight/stageValues.ts'
import { failLost, runLongJob } from '#server/jobs/longJobs.ts'
import { inTransaction, type JobParts, outside, settingOf } from '#server/jobs/parts.ts'
import type { Jobs } from '#server/jobs/worker.ts'
import { sendDigests } from '#server/mail/digest.ts'
import { type Attachment, type MailParts, mailSender } from '#server/mail/sendMail.ts'
import { orderDocument } from '#server/order/orderDocument.ts'
import { type Senders, sendOutgoing, sweepOutbox } from '#server/outbox/send.ts'
import { bankSender, fetchBankAnswers } from '#server/pay/bankTransfer.ts'
import { remindOfArrivals } from '#server/receive/arrivalActs.ts'
import { remindOfCertificates } from '#server/source/certificateActs.ts'
import { refreshSignals, suppliersToWatch } from '#server/source/signals.ts'
import { fetchRates } from '#server/setup/rateService.ts'
import { watchEvents } from '#server/source/watchEvents.ts'
import { beginPrices } from '#server/request/priceStore.ts'
import { resumePaused } from '#server/source/supplierActs.ts'
import { markBounced } from '#server/source/supplierRefresh.ts'

const mailParts: MailParts = {
  documents: async (call, attach) => {
    const documents: { document: OrderDocument; cancelled: string | undefined }[] = []
    for (const { orderId, revision, cancelled } of [attach].flat() as RevisionAttached[])
      documents.push({ document: await orderDocument(call, orderId, revision), cancelled })
    return async () =>
      (await Promise.all(documents.map(one => filesOf(one.document, one.cancelled, call.today)))).flat()
  },
  bounced: markBounced,
}

/** What goes with a mail about an order: the order on paper and as data, or that it is cancelled. */
async function filesOf(document: OrderDocument, cancelled: string | undefined, today: string): Promise<Attachment[]> {
  const name = `${document.number}-r${document.revision}`
  const xml = (content: string, ending = '') => ({
    filename: `${name}${ending}.xml`,
    content,
    contentType: 'application/xml',
  })
  if (cancelled !== undefined) return [xml(writeUblOrderCancellation(document, cancelled, today), '-cancelled')]
  return [{ filename: `${name}.pdf`, content: await writeOrderPdf(document) }, xml(writeUblRevision(document))]
}

/** How each kind of thing in the outbox leaves. */
export const senders: Senders = { mail: mailSender(mailParts), bankFile: bankSender }

/** What is done once a night: pauses that end, certificates, requests that wait long, signals of every supplier that is watched. */
export async function nightly(parts: JobParts): Promise<void> {
  await inTransaction(parts, resumePaused)
  await inTransaction(parts, remindOfCertificates)
  await inTransaction(parts, remindOfWaiting)
  await inTransaction(parts, remindOfArrivals)
  const agreements = await agreementsToWatch(outside(parts, await settingOf(parts)))
  for (const id of agreements) await inTransaction(parts, call => watchAgreement(call, id))
  await inTransaction(parts, resumeWindDowns)
  const ids = await suppliersToWatch(outside(parts, await settingOf(parts)))
  for (const id of ids) await inTransaction(parts, call => refreshSignals(call, id))
}

/** Deletes what nobody needs any more. */
export async function tidyUp(parts: JobParts): Promise<void> {
  await parts.db('sessions').where('expiresAt', '<', parts.clock()).delete()
  await parts.db.raw(`delete from request_keys where created_at < now() - interval '3 days'`)
  await parts.db.raw(`delete from sign_in_tries where last_at < now() - interval '2 days'`)
  await parts.db('oneTimeLinks').where('expiresAt', '<', parts.clock()).delete()
  await parts.db.raw(`delete from mails_in where received_at < now() - interval '90 days'`)
  await inTransaction(parts, tidyFiles)
}

export const JOBS: Jobs = {
  sendOutgoing: (parts, { id }) => sendOutgoing(parts, senders, id),
  fetchBankAnswers: parts => fetchBankAnswers(parts),
  sweepOutbox: parts => sweepOutbox(parts),
  failLost: parts => failLost(parts),
  measureStages: parts => inTransaction(parts, measureStages),
  sendDigests: parts => inTransaction(parts, sendDigests),
  fetchRates: (parts, { id }) => fetchRates(parts, id === 'asked'),
  beginPrices: parts => inTransaction(parts, beginPrices),
  watchDecisions: parts => watchDecisions(parts),
  watchEvents: parts => watchEvents(parts),
  postUntouched: parts => postUntouched(parts),
  selfBill: parts => selfBill(parts),
  watchHolds: parts => watchHolds(parts),
  readAnswer: (parts, { id }) => readAnswer(parts, id),
  readInvoiceMail: (parts, { id }) => readInvoiceMail(parts, id),
  tidyUp: parts => tidyUp(parts),
  nightly: parts => nightly(parts),
  windDown: (parts, { id }) => windDownJob(parts, id),
  runLongJob: (parts, { id }) => runLongJob(parts, id),
}

/** When jobs start by themselves. */
export const CRONTAB = `* * * * * sweepOutbox
* * * * * failLost
* * * * * measureStages
* * * * * beginPrices
* * * * * watchEvents
* * * * * postUntouched
* * * * * selfBill
*/5 * * * * sendDigests
*/3 * * * * watchDecisions
*/5 * * * * watchHolds
* * * * * fetchBankAnswers ?jobKey=fetch&max=3
40 15 * * 1-5 fetchRates ?max=3
17 * * * * tidyUp
10 0 * * * nightly ?fill=1d
`
