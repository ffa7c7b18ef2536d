import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ConcludeInspection } from '#contract/receive/inspections.ts'
import { concludeInspection, inspectionMail } from '#core/receive/inspection.ts'
import { found, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { say } from '#server/mail/mail.ts'
import { heldOrder } from '#server/order/orderStore.ts'
import { clearInspectionDesk, debitText, inspectionFacts } from '#server/receive/inspectionStore.ts'
import { nextDebit } from '#server/receive/returnStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Says which of the goods are good: their bills, what goes back and the supplier follow. */
export async function conclude(
  call: Write,
  id: string,
  { version, ...finding }: BodyOf<typeof ConcludeInspection>,
): Promise<ResponseOf<typeof ConcludeInspection>> {
  const { orderId } = found(await call.trx('inspections').where({ id }).first('orderId'), 'inspection')
  const order = await heldOrder(call, orderId)
  const row = await hold(call, 'inspection', id, version)
  const part = found(await call.trx('receiptLines').where({ id: row.receiptLineId }).first(), 'receipt')
  const facts = inspectionFacts(row, part)
  const decided = obey(concludeInspection(facts, order, finding, call.actor))
  const { state, deduction } = decided.next
  // entries are its receipt's: taken back with it
  await postLedgers(call, { kind: 'receipt', id: row.receiptId }, decided)
  const debit = { debitNumber: deduction ? await nextDebit(call) : null, debitNet: deduction?.net ?? 0n }
  const written = { ...finding, deductPercent: finding.deductPercent || '0', readings: json(finding.readings) }
  const done = await move(call, 'inspection', row, { ...written, ...debit, state, byId: call.actor.id, decidedAt: call.now }, decided.did) // prettier-ignore
  await move(call, 'order', order.row, {}, decided.did)
  await clearInspectionDesk(call, id)
  if (state !== 'passed' || deduction)
    await say(call, [inspectionMail(order, facts, finding, debitText(debit, order.currency))], { kind: 'order', id: orderId }) // prettier-ignore
  await refreshThread(call, { orderIds: [orderId] })
  return { ...done, state, debitNumber: debit.debitNumber }
}
