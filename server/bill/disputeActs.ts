import type { SayInDispute } from '#contract/bill/disputes.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import type { Decision } from '#core/acts/decision.ts'
import { agreeInDispute, type DisputeNext, dropDispute, openDispute, sayInDispute } from '#core/bill/disputes.ts'
import { writeDispute } from '#server/bill/disputeStore.ts'
import { carryOut } from '#server/bill/invoiceActs.ts'
import { heldInvoice, type KnownInvoice } from '#server/bill/invoiceStore.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { obey } from '#server/documents/obey.ts'

/** Holds an invoice, the supplier's only where it is its own; decides, and writes what becomes of the dispute and the invoice. */
async function inDispute(
  call: Write,
  id: string,
  version: number,
  decide: (invoice: KnownInvoice) => Decision<DisputeNext>,
): Promise<Done> {
  const { supplierId } = call.actor
  if (supplierId !== null) found(await call.trx('invoices').where({ id, supplierId }).first('id'), 'invoice')
  const invoice = await heldInvoice(call, id, version)
  const decision = decide(invoice)
  await writeDispute(call, id, invoice.dispute, obey(decision).next)
  return await carryOut(call, invoice, decision)
}

export const open = (call: Write, id: string, version: number, text: string): Promise<Done> =>
  inDispute(call, id, version, invoice => openDispute(invoice, call.actor, text))

export const sayOn = (
  call: Write,
  id: string,
  { version, text, outcome }: BodyOf<typeof SayInDispute>,
): Promise<Done> => inDispute(call, id, version, invoice => sayInDispute(invoice, call.actor, text, outcome))

export const agree = (call: Write, id: string, version: number): Promise<Done> =>
  inDispute(call, id, version, invoice => agreeInDispute(invoice, call.actor))

export const drop = (call: Write, id: string, version: number, reason: string): Promise<Done> =>
  inDispute(call, id, version, invoice => dropDispute(invoice, call.actor, reason))
