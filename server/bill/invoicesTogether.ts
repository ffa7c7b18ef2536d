import { TOGETHER, type TogetherAct } from '#contract/documents/together.ts'
import { differenceAmount } from '#core/bill/askClearing.ts'
import { clearable, whyNotClear } from '#core/bill/clearHold.ts'
import { whyNotPost } from '#core/bill/postInvoice.ts'
import { formatAmount, moneyText, sumMinor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { clearHold, post } from '#server/bill/invoiceActs.ts'
import { knownInvoice, type KnownInvoice, knownInvoices } from '#server/bill/invoiceStore.ts'
import { need, type Read } from '#server/call.ts'
import type { Together } from '#server/documents/together.ts'

/** Several invoices posted, or their differences accepted with one reason, each by its own rules. */
export const invoicesTogether: Together = {
  kind: 'invoice',
  acts: TOGETHER.invoice,
  look: async (call, act, ids) => {
    need(call, 'invoice.read')
    const invoices = await knownInvoices(call, ids)
    return ids
      .flatMap(id => invoices.get(id) ?? [])
      .map(invoice => ({
        id: invoice.id,
        number: invoice.number,
        title: `${invoice.supplier}, ${invoice.supplierNumber}`,
        reasons: against(call, act, invoice),
        says: {
          code: `together.invoice.${act}`,
          details: { amount: formatAmount(invoice.payable, invoice.currency), currency: invoice.currency, differences: differencesOf(call, invoice) }, // prettier-ignore
        },
      }))
  },
  run: async (call, act, id, reason, version) => {
    if (act === 'post') return await post(call, id, version ?? (await knownInvoice(call, id)).row.version)
    for (;;) {
      const invoice = await knownInvoice(call, id)
      const [next] = clearable(invoice, call.actor)
      if (!next) return
      await clearHold(call, id, next.id, invoice.row.version, reason)
    }
  },
}

function against(call: Read, act: TogetherAct, invoice: KnownInvoice): readonly Reason[] {
  if (act === 'post') return whyNotPost(invoice, call.actor)
  // the reason is asked for once it is done
  if (clearable(invoice, call.actor).length > 0) return []
  const open = invoice.holds.filter(hold => !hold.ended)
  return open.length === 0 ? [stop('bill.holdEnded')] : whyNotClear(invoice, open[0]!, call.actor)
}

/** What the differences come to that this person would accept. */
const differencesOf = (call: Read, invoice: KnownInvoice): string =>
  moneyText(sumMinor(clearable(invoice, call.actor).map(hold => differenceAmount(invoice, hold))), call.base)
