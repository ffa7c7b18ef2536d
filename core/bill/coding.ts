import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { InvoiceFacts, InvoiceLine } from '#core/bill/facts.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import type { LineSplit } from '#core/ledger/commitments.ts'
import { lineAmount, amountToDecimal, minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import type { NewOrder, NewOrderLine } from '#core/order/draftOrders.ts'
import type { ChargeItem } from '#core/order/charges.ts'
import type { OrderLine } from '#core/order/facts.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { checkSplits } from '#core/request/splits.ts'
import { isIn } from '#core/states.ts'

/** Lines of an invoice that nobody ordered. */
export const looseLines = (invoice: Pick<InvoiceFacts, 'lines'>): InvoiceLine[] =>
  invoice.lines.filter(line => line.orderLineId === null)

/** An order that was written for an invoice, as far as it stands. */
export interface WrittenAfter {
  readonly number: string
  readonly state: string
  /** Those who pay said no. */
  readonly refused: boolean
}

/** What stands against saying who pays for what nobody ordered: nothing is loose, it is said already, or the bill is over. */
export function whyNotCode(invoice: InvoiceFacts, written: WrittenAfter | null, actor: ActorFacts): Reason[] {
  return [
    ...needsRight(actor, 'invoice.write'),
    ...(isIn(INVOICE_GROUPS.waiting, invoice.state) && looseLines(invoice).length > 0
      ? []
      : [stop('code.nothingLoose')]),
    ...(written?.state === 'draft' && !written.refused ? [stop('code.there', { number: written.number })] : []),
  ]
}

/**
 * The order that is written afterwards for what was billed without one: its lines as they are billed, so that they agree to the cent, each with who pays
 * for it. It needs no proof; whether it may be is decided as for every order that nobody requested.
 *
 * `coded`: the accounts by line. Charges of the document are the order's where nothing of it was ordered before.
 */
export function orderFor(
  invoice: InvoiceFacts,
  written: WrittenAfter | null,
  coded: ReadonlyMap<string, readonly LineSplit[]>,
  actor: ActorFacts,
): Decision<NewOrder> {
  const loose = looseLines(invoice)
  const against = [
    ...whyNotCode(invoice, written, actor),
    ...loose.flatMap(line =>
      checkSplits('share', coded.get(line.id) ?? [], { amount: '', quantity: '' }, line.position),
    ),
  ]
  if (against.length > 0) return refused(against)
  const lines = loose.map(line => orderedAs(line, invoice, coded.get(line.id)!))
  const chargeItems = loose.length === invoice.lines.length ? chargesAs(invoice) : []
  const charges = sumMinor(chargeItems.length > 0 ? [invoice.charges] : [])
  const total = minor(sumMinor(lines.map(line => line.amount)) + charges)
  const order: NewOrder = {
    title: `${invoice.supplier}, ${invoice.supplierNumber}`,
    charges,
    chargeItems,
    supplierId: invoice.supplierId,
    supplierName: invoice.supplier,
    currency: invoice.currency,
    rate: invoice.rate,
    agreement: '',
    direct: true,
    addressId: null,
    needBy: null,
    total,
    baseTotal: toBase(total, invoice.currency, invoice.rate, invoice.base),
    lines,
    from: [],
  }
  return done(order, { action: 'coded', changes: { lines: lines.length } })
}

/** At its own price where that gives its net, else its net for its quantity: allowances on the line are in the price. */
function orderedAs(line: InvoiceLine, invoice: InvoiceFacts, splits: readonly LineSplit[]): NewOrderLine {
  const { quantity, price, priceBase, net } = line
  const { currency } = invoice
  const asBilled = lineAmount({ quantity, price, priceBase, currency }) === net
  const figures = asBilled ? { price, priceBase } : { price: amountToDecimal(net, currency).toString(), priceBase: quantity } // prettier-ignore
  return {
    requisitionLineId: null,
    kind: 'goods',
    itemId: null,
    description: line.description,
    quantity,
    unit: line.unit,
    ...figures,
    amount: net,
    baseAmount: toBase(net, currency, invoice.rate, invoice.base),
    needBy: null,
    addressId: null,
    proof: 'none',
    details: {},
    incoterm: null,
    incotermPlace: '',
    overReceiptPercent: 0,
    splits,
  }
}

const chargesAs = ({ charges }: InvoiceFacts): ChargeItem[] =>
  charges === 0n
    ? []
    : [{ kind: charges > 0n ? 'other' : 'discount', words: '', percent: null, amount: minor(charges > 0n ? charges : -charges), splits: [] }] // prettier-ignore

/** Which line of the order written afterwards each loose line is: those with the same words and money, each once, in their order. */
export function writtenLinks(
  invoice: Pick<InvoiceFacts, 'lines'>,
  lines: readonly Pick<OrderLine, 'id' | 'description' | 'amount'>[],
): { readonly lineId: string; readonly orderLineId: string }[] {
  const left = [...lines]
  return looseLines(invoice).flatMap(line => {
    const at = left.findIndex(one => one.description === line.description && one.amount === line.net)
    return at < 0 ? [] : [{ lineId: line.id, orderLineId: left.splice(at, 1)[0]!.id }]
  })
}

/** Who paid for a line that was billed before, the latest first. */
export interface PaidBefore {
  readonly description: string
  readonly splits: readonly LineSplit[]
}

/** Words of a line without figures: a month or a number changes from bill to bill. likeWords('Rent 11/2026') //=> 'rent' */
const likeWords = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^\p{L}]+/gu, ' ')
    .trim()

/**
 * Who likely pays for a line: as the last one of the supplier with the same words but figures, else as its last one at all; empty where none is known.
 *
 * likelyPayers({ description: 'Rent 12/2026' }, [{ description: 'Rent 11/2026', splits }]) //=> { splits, because: 'words' }
 */
export function likelyPayers(
  line: Pick<InvoiceLine, 'description'>,
  before: readonly PaidBefore[],
): { readonly splits: readonly LineSplit[]; readonly because: 'words' | 'supplier' | 'nothing' } {
  const same = before.find(one => likeWords(one.description) === likeWords(line.description))
  if (same) return { splits: same.splits, because: 'words' }
  return before[0] ? { splits: before[0].splits, because: 'supplier' } : { splits: [], because: 'nothing' }
}
