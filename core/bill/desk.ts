import { isAskedAbout } from '#core/bill/askClearing.ts'
import { disputeDesk } from '#core/bill/disputes.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { clearersOf } from '#core/bill/holdReminders.ts'
import { type Clearer, HOLD_KINDS } from '#core/bill/holds.ts'
import { type DeskEntry, forRight, forRole } from '#core/desk/entry.ts'

/** What is known beside the invoice: when it came, and what became of earlier payments. */
export interface InvoiceWaits {
  readonly receivedAt: string
  readonly postedAt: string | null
  readonly changedAt: string
  /** Reason of the last payment that the bank refused or returned; null where none failed. */
  readonly failedWith: string | null
}

type Common = Pick<DeskEntry, 'amount' | 'currency' | 'needBy' | 'notFor' | 'from' | 'path' | 'details'>

/** Holds that end by themselves wait for nobody here: their delivery or work waits on another Desk. */
const asksSomebody = (clearedBy: Clearer): boolean => clearedBy !== 'receiver' && clearedBy !== 'requester'

/** What waits for somebody because of an invoice: to be cleared, posted, paid, or looked at because the bank did not pay. */
export function invoiceDesk(invoice: InvoiceFacts & InvoiceWaits): DeskEntry[] {
  const { dispute } = invoice
  const common = {
    amount: invoice.payable,
    currency: invoice.currency,
    needBy: invoice.dueOn,
    notFor: [],
    from: null,
    path: `/bill/${invoice.id}`,
    details: {
      number: invoice.number,
      title: `${invoice.supplier}, ${invoice.supplierNumber}`,
      who: invoice.supplier,
    },
  }
  return [...disputeDesk(dispute, common), ...entriesBy(invoice, common)]
}

function entriesBy(invoice: InvoiceFacts & InvoiceWaits, common: Common): DeskEntry[] {
  switch (invoice.state) {
    case 'onHold':
      return holdEntries(invoice, common)
    case 'matched':
      return [
        {
          ...common,
          key: 'post',
          stage: 'bill',
          act: 'post',
          tone: 'plain',
          audiences: [forRight('invoice.write')],
          since: invoice.receivedAt,
        },
      ]
    case 'cleared':
      return invoice.failedWith === null
        ? [
            {
              ...common,
              key: 'due',
              stage: 'pay',
              act: 'propose',
              tone: 'plain',
              audiences: [forRight('payment.propose')],
              from: invoice.dueOn,
              since: invoice.postedAt ?? invoice.receivedAt,
              path: '/pay?list=payables&view=due',
            },
          ]
        : [
            {
              ...common,
              key: 'refused',
              stage: 'pay',
              act: 'see',
              tone: 'stop',
              audiences: [forRight('payment.propose')],
              since: invoice.changedAt,
              details: { ...common.details, extra: invoice.failedWith },
            },
          ]
    default:
      return []
  }
}

/** One entry for each role that can clear something, with the first of its differences. */
function holdEntries(invoice: InvoiceFacts & InvoiceWaits, common: Common): DeskEntry[] {
  // a dispute waits for the other side, or for who opened it
  const open = invoice.holds.filter(hold => !hold.ended && hold.kind !== 'dispute' && !isAskedAbout(hold) && asksSomebody(hold.clearedBy)) // prettier-ignore
  return [...new Set(open.map(hold => hold.clearedBy))].map((role): DeskEntry => {
    const own = open.filter(hold => hold.clearedBy === role)
    const first = own.find(hold => HOLD_KINDS[hold.kind].byReason) ?? own[0]!
    return {
      ...common,
      key: 'hold',
      stage: 'bill',
      act: 'clear',
      tone: 'stop',
      audiences: [...new Set(own.flatMap(clearersOf))].map(forRole),
      amount: first.amount,
      since: invoice.receivedAt,
      details: { ...common.details, extra: first.kind },
    }
  })
}
