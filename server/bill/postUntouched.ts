import { CREDIT_GROUPS } from '#core/bill/creditStates.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { isUntouched, READY_TO_POST } from '#core/bill/untouched.ts'
import { RuleBroken } from '#core/reasons.ts'
import { postNote } from '#server/bill/creditActs.ts'
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
  const notes = await parts.db('creditNotes').join('invoices', 'invoices.id', 'credit_notes.invoice_id').where({ issuer: 'supplier' }).whereIn('creditNotes.state', [...CREDIT_GROUPS.waiting]).whereIn('invoices.state', [...INVOICE_GROUPS.posted]).orderBy('creditNotes.receivedAt').select<{ id: string; version: number }[]>('credit_notes.id', 'credit_notes.version') // prettier-ignore
  const acts = [
    ...ids.map(id => (call: Write) => postOne(call, id)),
    ...notes.map(
      ({ id, version }) =>
        (call: Write) =>
          giveBack(call, id, version),
    ),
  ]
  let posted = 0
  for (const act of acts) {
    try {
      if (await inTransaction(parts, act)) posted++
    } catch (error) {
      if (!(error instanceof RuleBroken)) throw error
    }
  }
  return posted
}

/** What a supplier gives back of what is in the books takes nobody's word. */
async function giveBack(call: Write, id: string, version: number): Promise<boolean> {
  await postNote(asHouse(call), id, version)
  return true
}

async function postOne(call: Write, id: string): Promise<boolean> {
  const invoice = await heldInvoice(call, id)
  if (!isUntouched(invoice)) return false
  await post(asHouse(call), id, invoice.row.version)
  return true
}

/** The house posts: the account of its jobs has no rights of its own. */
const asHouse = (call: Write): Write => writing(call.trx, { ...call, actor: { ...call.actor, rights: new Set(['invoice.write' as const]) } }) // prettier-ignore
