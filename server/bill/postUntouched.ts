import { isUntouched, READY_TO_POST } from '#core/bill/untouched.ts'
import { RuleBroken } from '#core/reasons.ts'
import { post } from '#server/bill/invoiceActs.ts'
import { heldInvoice } from '#server/bill/invoiceStore.ts'
import { billingSettings } from '#server/bill/settingStore.ts'
import { type Write, writing } from '#server/call.ts'
import { inTransaction, type JobParts } from '#server/jobs/parts.ts'

/** Asks for what agrees to be posted soon, not only at the next full minute. */
export const postSoon = async (call: Write): Promise<void> =>
  void (await call.trx.raw(`select graphile_worker.add_job('postUntouched', '{}'::json, job_key => 'post-untouched', max_attempts => 3)`)) // prettier-ignore

/** Posts what agrees and nobody had to say a word about, each by itself, where the house says so. One that cannot be posted now waits for a person. */
export async function postUntouched(parts: JobParts): Promise<number> {
  if (!(await billingSettings({ trx: parts.db })).postUntouched) return 0
  const ids = await parts.db('invoices').whereIn('state', [...READY_TO_POST]).orderBy('receivedAt').pluck<string[]>('id') // prettier-ignore
  let posted = 0
  for (const id of ids) {
    try {
      if (await inTransaction(parts, call => postOne(call, id))) posted++
    } catch (error) {
      if (!(error instanceof RuleBroken)) throw error
    }
  }
  return posted
}

async function postOne(call: Write, id: string): Promise<boolean> {
  const invoice = await heldInvoice(call, id)
  if (!isUntouched(invoice)) return false
  // the house posts: the account of its jobs has no rights of its own
  const house = writing(call.trx, { ...call, actor: { ...call.actor, rights: new Set(['invoice.write' as const]) } })
  await post(house, id, invoice.row.version)
  return true
}
