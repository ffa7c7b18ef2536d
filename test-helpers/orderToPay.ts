import type { ActorFacts, StoodFor } from '#core/acts/actor.ts'
import type { Decision } from '#core/acts/decision.ts'
import type { CreditedInvoice, CreditFacts, CreditFigures } from '#core/bill/creditFacts.ts'
import { creditLaws } from '#core/bill/creditLaws.ts'
import { CREDIT_GROUPS, type CreditState } from '#core/bill/creditStates.ts'
import type { InvoiceFacts, InvoiceLine } from '#core/bill/facts.ts'
import { HOLD_KINDS, type HoldChange, type KeptHold } from '#core/bill/holds.ts'
import { invoiceLaws } from '#core/bill/laws.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { isBilledTooEarly, proofGone, unprovenLines } from '#core/bill/proofGone.ts'
import { type CreditEnd, type CreditNext, creditTakenBack, endCredit, postCredit } from '#core/bill/postCredit.ts'
import { type HeldUp, postInvoice } from '#core/bill/postInvoice.ts'
import { rejectInvoice } from '#core/bill/rejectInvoice.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { STRICT } from '#core/bill/tolerance.ts'
import { voidInvoice } from '#core/bill/voidInvoice.ts'
import { writeCredit, type WantedCredit } from '#core/bill/writeCredit.ts'
import { type AccountFacts, type BudgetEntry, type CheckLevel, sumBudget } from '#core/ledger/budget.ts'
import { addStanding } from '#core/ledger/commitments.ts'
import { type Breach, breach } from '#core/ledger/law.ts'
import { type QuantityEntry, sumQuantities } from '#core/ledger/quantity.ts'
import { type Minor, lineAmount, minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { answerOrder } from '#core/order/answerOrder.ts'
import { freightOf } from '#core/order/charges.ts'
import { cancelOrder } from '#core/order/cancelOrder.ts'
import type { WantedOrder } from '#core/order/changeLines.ts'
import { closeOrder } from '#core/order/closeOrder.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { issueOrder } from '#core/order/issueOrder.ts'
import { orderLaws } from '#core/order/laws.ts'
import { neededNext } from '#core/order/measures.ts'
import type { OrderNext } from '#core/order/next.ts'
import { reopenOrder } from '#core/order/reopenOrder.ts'
import { reviseOrder } from '#core/order/reviseOrder.ts'
import type { ResponseLine } from '#core/order/revision.ts'
import { sealOrder } from '#core/order/sealOrder.ts'
import { acceptAnswer, refuseAnswer } from '#core/order/settleAnswer.ts'
import { follow } from '#core/order/after.ts'
import { receiveDelivery } from '#core/receive/receiveDelivery.ts'
import { type ReceiptFacts, reverseReceipt } from '#core/receive/reverseReceipt.ts'
import { isIn } from '#core/states.ts'
import { reservationEntries } from '#core/request/reservation.ts'
import type { RequestedFacts } from '#core/request/reservation.ts'

export const TODAY = '2026-06-01'
const EVERY_RIGHT = new Set([
  'requisition.decide',
  'order.write',
  'delivery.receive',
  'invoice.write',
  'payment.propose',
  'payment.approve',
])

/** Somebody who may do everything; another one with `actorOf('other')`. */
export const actorOf = (id = 'ada', changed: Partial<ActorFacts> = {}): ActorFacts => ({
  id,
  name: id,
  rights: EVERY_RIGHT,
  roles: ['buyer', 'receiver', 'invoiceClerk', 'financeController', 'treasurer'],
  costCentres: [],
  supplierId: null,
  standsInFor: [],
  ...changed,
})
/** Somebody in whose place another decides, for everything unless said otherwise. */
export const stoodFor = (id: string, changed: Partial<StoodFor> = {}): StoodFor => ({
  id,
  rights: new Set<string>(),
  kinds: null,
  limit: null,
  ...changed,
})
export const ADA = actorOf()
export const NOBODY = actorOf('nobody', { rights: new Set(), roles: [] })

/** How a line is made; what is not said is a line of ten pieces of goods at 10.00 on one account. */
export type LineWanted = Partial<
  Pick<
    OrderLine,
    'kind' | 'proof' | 'quantity' | 'unit' | 'price' | 'priceBase' | 'overReceiptPercent' | 'splits' | 'requesterId'
  >
> & { readonly requested?: string }

interface Setting {
  readonly lines?: readonly LineWanted[]
  readonly charges?: bigint
  readonly currency?: string
  readonly rate?: string
  readonly accounts?: Readonly<Record<string, { readonly allotted: bigint; readonly level: CheckLevel }>>
}

/** One line of an invoice as it comes: which order line it bills, how much, and what for (in cents). */
export interface BilledWanted {
  readonly line: number
  readonly quantity: string
  readonly net?: bigint
}

type Row<T> = { -readonly [Key in keyof T]: T[Key] }
type LineRow = Row<Omit<OrderLine, 'sums' | 'standing'>>
type InvoiceRow = Row<
  Omit<InvoiceFacts, 'orders' | 'posted' | 'chargesBilled' | 'holds' | 'credits' | 'creditedBy'>
> & { holds: Row<KeptHold>[] }

type CreditKept = Row<CreditFigures> & { id: string; state: CreditState; invoice: number }

/**
 * An order with the request that it buys, its receipts and invoices, and both ledgers, kept in memory as the stores keep them. Facts are
 * always made anew from the ledgers, so that what the core carries along is held against what really stands there.
 */
/** How a line is to read after a change: what is not said stays. */
type LineWish = { readonly line: number } & Partial<Omit<WantedOrder['lines'][number], 'id'>>

function wishOf(lines: readonly LineWish[], position: number): Omit<LineWish, 'line'> {
  const { line: _line, ...wish } = lines.find(one => one.line === position) ?? { line: position }
  return wish
}

export class OrderToPay {
  readonly quantities: (QuantityEntry & { id: string; source: string })[] = []
  readonly budget: (BudgetEntry & { source: string })[] = []
  readonly receipts: Row<ReceiptFacts>[] = []
  readonly invoices: InvoiceRow[] = []
  readonly credits: CreditKept[] = []
  readonly #order: Row<Omit<OrderFacts, 'lines' | 'requests' | 'openInvoices'>>
  readonly #lines: LineRow[]
  readonly #requests: Row<Omit<RequestedFacts, 'sums' | 'standing'>>[]
  readonly #accounts: NonNullable<Setting['accounts']>
  #made = 0

  constructor(setting: Setting = {}) {
    const { currency = 'EUR', rate = '1' } = setting
    const wanted = setting.lines ?? [{}]
    this.#accounts = setting.accounts ?? { a1: { allotted: 10_000_000n, level: 'off' } }
    this.#order = {
      id: 'order',
      number: 'O-1',
      title: 'Pumps',
      message: '',
      state: 'draft',
      revision: 0,
      supplierId: 'supplier',
      supplier: 'Nordhavn',
      locationId: null,
      location: 'Pumpegata 1',
      buyerId: 'ada',
      currency,
      rate,
      base: 'EUR',
      charges: minor(setting.charges ?? 0n),
      chargeItems: freightOf(minor(setting.charges ?? 0n)),
      needBy: '2026-07-01',
      issuedAt: null,
      chasedAt: null,
      channel: 'mail',
      toldRevision: null,
      direct: false,
      answer: null,
      supplierReasons: [],
      agreementReasons: [],
      excess: null,
    }
    this.#lines = wanted.map((line, index) => this.#lineRow(line, index, currency, rate))
    this.#requests = wanted.map((line, index) => ({
      id: `request${index + 1}`,
      requisitionId: 'requisition',
      kind: this.#lines[index]!.kind,
      description: `Line ${index + 1}`,
      state: 'onDraftOrder',
      quantity: line.requested ?? this.#lines[index]!.quantity,
      baseAmount: toBase(
        lineAmount({ ...this.#lines[index]!, quantity: line.requested ?? this.#lines[index]!.quantity, currency }),
        currency,
        rate,
        'EUR',
      ),
      splits: this.#lines[index]!.splits,
    }))
    for (const [accountId, { allotted }] of Object.entries(this.#accounts))
      this.budget.push({ accountId, kind: 'allotted', amount: minor(allotted), source: 'year' })
    this.#post(
      'request',
      this.#requests.map(line => ({ lineId: line.id, kind: 'requested', quantity: line.quantity })),
      [],
    )
    this.#post('request', [], reservationEntries(this.order().requests))
  }

  #lineRow(wanted: LineWanted, index: number, currency: string, rate: string): LineRow {
    const line = { quantity: '10', price: '10', priceBase: '1', ...wanted }
    const amount = lineAmount({ ...line, currency })
    return {
      id: `line${index + 1}`,
      position: index + 1,
      kind: line.kind ?? 'goods',
      description: `Line ${index + 1}`,
      proof: line.proof ?? 'count',
      quantity: line.quantity,
      unit: line.unit ?? 'C62',
      price: line.price,
      priceBase: line.priceBase,
      amount,
      baseAmount: toBase(amount, currency, rate, 'EUR'),
      needBy: '2026-07-01',
      addressId: null,
      place: '',
      schedule: [],
      promisedDate: null,
      promisedParts: [],
      overReceiptPercent: line.overReceiptPercent ?? 0,
      splits: line.splits ?? [{ accountId: 'a1', share: '1' }],
      requestLineId: `request${index + 1}`,
      requesterId: line.requesterId ?? 'ada',
    }
  }

  #ledger<T extends { id: string }>(row: T) {
    return {
      ...row,
      sums: sumQuantities(this.quantities.filter(entry => entry.lineId === row.id)),
      standing: addStanding(
        [],
        this.budget.filter(
          entry => entry.lineId === row.id && ['reserved', 'committed', 'accrued'].includes(entry.kind),
        ),
      ),
    }
  }

  /** The order as the ledgers say it is. */
  order(): OrderFacts {
    const lines = this.#lines.map(line => this.#ledger(line))
    return {
      ...this.#order,
      lines,
      needBy: neededNext(lines),
      requests: this.#requests.map(line => this.#ledger(line)),
      openInvoices: this.invoices.filter(one => isIn(INVOICE_GROUPS.open, one.state)).map(one => one.number),
    }
  }

  accounts(): AccountFacts[] {
    return Object.entries(this.#accounts).map(([id, { level }]) => ({
      id,
      label: id,
      level,
      tolerancePercent: 0,
      open: true,
      sums: sumBudget(this.budget.filter(entry => entry.accountId === id)),
    }))
  }

  invoice(index: number): InvoiceFacts {
    const row = this.invoices[index]!
    const posted = this.invoices.filter(one => one !== row && isIn(INVOICE_GROUPS.posted, one.state))
    return {
      ...row,
      orders: row.lines.some(line => line.orderLineId !== null) ? [this.order()] : [],
      credits: this.#creditsOf(index, CREDIT_GROUPS.waiting),
      creditedBy: this.#creditsOf(index, CREDIT_GROUPS.standing).map(one => one.id),
      chargesBilled: sumMinor(posted.map(one => one.charges)),
      posted: {
        quantities: this.#standing(row.id),
        spent: this.#spent(row.id),
      },
    }
  }

  #creditsOf(index: number, states: readonly CreditState[]): CreditKept[] {
    return this.credits.filter(one => one.invoice === index && isIn(states, one.state))
  }

  #creditedInvoice(index: number, less?: CreditKept): CreditedInvoice {
    return { ...this.invoice(index), credited: this.#creditsOf(index, CREDIT_GROUPS.standing).filter(one => one !== less) } // prettier-ignore
  }

  /** A credit note as the ledgers say it is. */
  credit(index: number): CreditFacts {
    const row = this.credits[index]!
    const { supplierId, supplier } = this.#order
    const same = { supplierId, supplier, issuer: 'supplier' as const, issueDate: TODAY, reason: '', setOff: minor(0), setOffPaid: minor(0) } // prettier-ignore
    return { ...row, ...same, number: row.id, supplierNumber: row.id, invoice: this.#creditedInvoice(row.invoice, row), orders: [this.order()], posted: { quantities: this.#standing(row.id), spent: this.#spent(row.id) } } // prettier-ignore
  }

  /** The supplier hands a credit note in. */
  writeCredit(index: number, wanted: Partial<WantedCredit>): Decision<CreditFigures> {
    const decided = writeCredit(this.#creditedInvoice(index), { number: '1', issueDate: TODAY, charges: minor(0), lines: [], ...wanted }, TODAY) // prettier-ignore
    if (decided.ok) {
      this.credits.push({ ...decided.next, id: `C-${this.credits.length + 1}`, state: 'waiting', invoice: index })
      this.rematch()
    }
    return decided
  }

  postCredit(index: number): Decision<CreditNext> {
    const row = this.credits[index]!
    return this.#obey(postCredit(this.credit(index), ADA), row.id, next => {
      row.state = next.state
    })
  }

  endCredit(index: number, how: CreditEnd): Decision<CreditNext> {
    const row = this.credits[index]!
    return this.#obey(endCredit(this.credit(index), how, ADA, 'Wrong one.'), row.id, next => {
      row.state = next.state
    })
  }

  /** Entries of an invoice or a credit note that are not taken back. */
  #standing(source: string): { id: string; lineId: string; quantity: string }[] {
    const taken = new Set(this.quantities.map(entry => entry.reversesId))
    return this.quantities.filter(entry => entry.source === source && !entry.reversesId && !taken.has(entry.id))
  }

  #spent(source: string): BudgetEntry[] {
    const sums = new Map<string, BudgetEntry>()
    for (const { accountId, lineId, amount } of this.budget.filter(
      one => one.source === source && one.kind === 'spent',
    )) {
      const key = `${accountId} ${lineId}`
      sums.set(key, {
        accountId,
        kind: 'spent',
        amount: minor((sums.get(key)?.amount ?? 0n) + amount),
        lineId: lineId!,
      })
    }
    return [...sums.values()].filter(entry => entry.amount !== 0n)
  }

  #post(source: string, quantity: readonly QuantityEntry[], budget: readonly BudgetEntry[]): void {
    for (const entry of quantity) this.quantities.push({ ...entry, id: `q${++this.#made}`, source })
    for (const entry of budget) this.budget.push({ ...entry, source })
  }

  #obey<Next, Keep>(decided: Decision<Next, Keep>, source: string, write: (next: Next) => void): Decision<Next, Keep> {
    if (decided.ok) {
      this.#post(source, decided.quantity, decided.budget)
      write(decided.next)
      this.rematch()
    }
    return decided
  }

  #write(next: OrderNext): void {
    this.#order.state = next.state
    this.#order.revision = next.revision
    if (next.head) Object.assign(this.#order, next.head)
    for (const change of next.lines ?? [])
      Object.assign(
        this.#lines.find(line => line.id === change.id)!,
        change,
      )
    for (const { lineId, date, parts = [] } of next.promises ?? [])
      Object.assign(
        this.#lines.find(line => line.id === lineId)!,
        { promisedDate: date, promisedParts: parts },
      )
    if (next.answer) this.#order.answer = null
  }

  issue(actor = ADA, why = ''): Decision<OrderNext> {
    return this.#obey(issueOrder(this.order(), this.accounts(), actor, why), 'order', next => this.#write(next))
  }

  /** Changes some lines, and the charges. */
  revise(
    lines: readonly LineWish[],
    charges?: bigint,
    reason = 'Because it is so.',
    needRemains = true,
  ): Decision<OrderNext> {
    return this.reviseTo({ ...this.wanted(lines, charges), needRemains }, reason)
  }

  reviseTo(wanted: WantedOrder, reason = 'Because it is so.'): Decision<OrderNext> {
    return this.#obey(reviseOrder(this.order(), wanted, this.accounts(), ADA, reason), 'order', next =>
      this.#write(next),
    )
  }

  /** The order as it is, with some lines changed. */
  wanted(lines: readonly LineWish[] = [], charges?: bigint): WantedOrder {
    return {
      title: this.#order.title,
      message: this.#order.message,
      charges: charges === undefined ? this.#order.chargeItems : freightOf(minor(charges)),
      lines: this.#lines.map(({ id, position, description, quantity, price, needBy }) => ({
        id,
        description,
        needBy,
        quantity,
        price,
        ...wishOf(lines, position),
      })),
    }
  }

  promise(lines: readonly Partial<ResponseLine>[] = []): ResponseLine[] {
    return this.#lines.map(({ id, quantity, price, needBy }, index) => ({
      lineId: id,
      quantity,
      price,
      date: needBy ?? TODAY,
      ...lines[index],
    }))
  }

  answer(lines: readonly Partial<ResponseLine>[] = [], revision = this.#order.revision): Decision<OrderNext> {
    const promised = this.promise(lines)
    return this.#obey(answerOrder(this.order(), revision, promised, ADA, ''), 'order', next => {
      this.#write(next)
      if (next.given.state === 'waiting') this.#order.answer = { id: 'answer', revision, lines: promised }
    })
  }

  acceptAnswer(only?: readonly string[], reason = ''): Decision<OrderNext> {
    return this.#obey(acceptAnswer(this.order(), 'answer', this.accounts(), ADA, reason, only), 'order', next =>
      this.#write(next),
    )
  }

  refuseAnswer(): Decision<OrderNext> {
    return this.#obey(refuseAnswer(this.order(), 'answer', ADA, 'Too dear.'), 'order', next => this.#write(next))
  }

  cancel(needRemains = true): Decision<OrderNext> {
    return this.#obey(cancelOrder(this.order(), this.accounts(), ADA, 'Not wanted.', needRemains), 'order', next =>
      this.#write(next),
    )
  }

  close(): Decision<OrderNext> {
    return this.#obey(closeOrder(this.order(), ADA, ''), 'order', next => this.#write(next))
  }

  reopen(): Decision<OrderNext> {
    return this.#obey(reopenOrder(this.order(), this.accounts(), ADA, ''), 'order', next => this.#write(next))
  }

  seal(): Decision<OrderNext> {
    return this.#obey(sealOrder(this.order(), ADA, ''), 'order', next => this.#write(next))
  }

  receive(
    counts: readonly { readonly line: number; readonly quantity: string }[],
    why = 'They sent more.',
  ): Decision<unknown> {
    const lines = counts.map(({ line, quantity }) => ({ lineId: `line${line}`, quantity }))
    const id = `receipt${this.receipts.length + 1}`
    return this.#obey(
      receiveDelivery(this.order(), { receivedOn: TODAY, lines, checkReason: why }, ADA, TODAY),
      id,
      next => {
        const entries = this.quantities.filter(entry => entry.source === id)
        const parts = next.lines.map((part, index) => ({
          id: `${id}.${index + 1}`,
          lineId: part.lineId,
          left: part.quantity,
          becomes: part.becomes,
          inspected: false,
          there: part.quantity,
          pieces: [],
        }))
        this.receipts.push({ id, number: id, state: next.state, byId: ADA.id, entries, parts })
      },
    )
  }

  reverse(index: number): Decision<unknown> {
    const receipt = this.receipts[index]!
    const decided = this.#obey(
      reverseReceipt(receipt, this.order(), ADA, 'Miscounted.'),
      `${receipt.id} back`,
      next => {
        receipt.state = next.state
        receipt.parts = receipt.parts.map(part => ({ ...part, left: '0' }))
      },
    )
    for (const invoice of this.invoices.toReversed())
      if (this.order().lines.some(isBilledTooEarly)) this.#unpost(invoice)
    this.rematch()
    return decided
  }

  #unpost(row: InvoiceRow): void {
    if (!isIn(INVOICE_GROUPS.payable, row.state)) return
    const invoice = this.invoice(this.invoices.indexOf(row))
    if (unprovenLines(invoice).length === 0) return
    for (const [at, credit] of this.credits.entries()) {
      if (credit.invoice !== this.invoices.indexOf(row) || credit.state !== 'posted') continue
      const back = creditTakenBack(this.credit(at))
      this.#post(credit.id, back.quantity, back.budget)
      credit.state = 'waiting'
    }
    const { next, quantity, budget } = proofGone(this.invoice(this.invoices.indexOf(row)))
    this.#post(row.id, quantity, budget)
    row.state = next.state
  }

  /** Goods go back, or a bill is credited: no act of today posts these, but ledgers may hold them. */
  post(kind: 'returned' | 'credited', line: number, quantity: string): void {
    const outcome = follow(this.order(), [{ lineId: `line${line}`, kind, quantity }])
    this.#post(kind, outcome.quantity, outcome.budget)
    this.rematch()
  }

  /** Takes an invoice in and matches it. */
  bill(lines: readonly BilledWanted[], changed: Partial<InvoiceRow> = {}): InvoiceFacts {
    const index = this.invoices.length
    const rows = lines.map(({ line, quantity, net }, at): InvoiceLine => {
      const ordered = this.#lines[line - 1]
      const worth = ordered ? lineAmount({ ...ordered, quantity, currency: this.#order.currency }) : minor(0)
      return {
        id: `bill${index + 1}.${at + 1}`,
        position: at + 1,
        orderLineId: ordered?.id ?? null,
        description: ordered?.description ?? 'Something else',
        quantity,
        unit: ordered?.unit ?? 'C62',
        price: ordered?.price ?? '1',
        priceBase: ordered?.priceBase ?? '1',
        net: minor(net ?? worth),
        taxCategory: 'S',
        taxRate: '0',
      }
    })
    const charges = changed.charges ?? minor(0)
    const net = sumMinor([charges, ...rows.map(row => row.net)])
    this.invoices.push({
      id: `invoice${index + 1}`,
      number: `I-${index + 1}`,
      state: 'read',
      supplierId: this.#order.supplierId,
      supplier: this.#order.supplier,
      supplierNumber: `N-${index + 1}`,
      currency: this.#order.currency,
      rate: this.#order.rate,
      base: 'EUR',
      issueDate: TODAY,
      dueOn: null,
      net,
      charges,
      tax: minor(0),
      gross: net,
      prepaid: minor(0),
      rounding: minor(0),
      payable: net,
      setOff: minor(0),
      taxes: [],
      buyer: null,
      sellerCountries: ['NL'],
      iban: '',
      lines: rows,
      holds: [],
      twin: null,
      dispute: null,
      house: HOUSE,
      accounts: [],
      taxRates: [],
      tolerances: STRICT,
      ...changed,
    })
    this.rematch()
    return this.invoice(index)
  }

  /** Every invoice that waits is matched anew, as after every act that touches its orders. */
  rematch(): void {
    for (const [index, row] of this.invoices.entries()) {
      if (!isIn(INVOICE_GROUPS.waiting, row.state)) continue
      const matched = matchInvoice(this.invoice(index))
      row.state = matched.state
      this.#holds(row, matched.holds)
    }
  }

  #holds(row: InvoiceRow, { open, end }: HoldChange): void {
    for (const hold of row.holds) if (end.includes(hold.id)) hold.ended = true
    for (const hold of open)
      row.holds.push({
        ...hold,
        id: `hold${++this.#made}`,
        ended: false,
        cleared: false,
        escalated: false,
        asked: null,
      })
  }

  postInvoice(index: number): Decision<InvoiceNext, HeldUp> {
    const row = this.invoices[index]!
    const decided = postInvoice(this.invoice(index), this.accounts(), ADA, '2026-07-01')
    const posted = this.#obey(decided, row.id, next => {
      row.state = next.state
      row.dueOn = next.posts!.dueOn
      this.#holds(row, next.holds!)
    })
    if (posted.ok)
      for (const [at, credit] of this.credits.entries())
        if (credit.invoice === index && credit.state === 'waiting' && !this.postCredit(at).ok) throw new Error(`${credit.id} does not post with its invoice`) // prettier-ignore
    return posted
  }

  voidInvoice(index: number): Decision<InvoiceNext> {
    const row = this.invoices[index]!
    return this.#obey(voidInvoice(this.invoice(index), ADA, 'Wrong one.'), row.id, next => {
      row.state = next.state
    })
  }

  rejectInvoice(index: number): Decision<InvoiceNext> {
    const row = this.invoices[index]!
    return this.#obey(rejectInvoice(this.invoice(index), ADA, 'Wrong one.'), row.id, next => {
      row.state = next.state
      this.#holds(row, next.holds!)
      for (const credit of this.#creditsOf(index, CREDIT_GROUPS.waiting)) credit.state = 'rejected'
    })
  }

  /** Somebody with the right role clears every hold that a reason clears. */
  clearAll(index: number): void {
    for (const hold of this.invoices[index]!.holds)
      if (!hold.ended && HOLD_KINDS[hold.kind].byReason) Object.assign(hold, { ended: true, cleared: true })
    this.rematch()
  }

  /** Kinds of the holds that stand on an invoice, in order. */
  held(index: number): string[] {
    return this.invoices[index]!.holds.filter(hold => !hold.ended)
      .map(hold => hold.kind)
      .sort()
  }

  /** What stands on a line of one kind, over all accounts. */
  amount(kind: BudgetEntry['kind'], lineId?: string): Minor {
    return sumMinor(
      this.budget
        .filter(one => one.kind === kind && (lineId === undefined || one.lineId === lineId))
        .map(one => one.amount),
    )
  }

  /** Everything in which the books do not say what they have to. */
  laws(): Breach[] {
    const sums = ['reserved', 'committed', 'accrued', 'spent'] as const
    return [
      ...orderLaws(this.order()),
      ...this.invoices.flatMap((_, index) => invoiceLaws(this.invoice(index))),
      ...this.credits.flatMap((_, index) => creditLaws(this.credit(index))),
      ...sums
        .filter(kind => this.amount(kind) < 0n)
        .map(kind => breach('belowNothing', kind, '0', String(this.amount(kind)))),
      ...reservationEntries(this.order().requests).map(entry =>
        breach('reservedAmount', entry.lineId!, 'nothing to mend', String(entry.amount)),
      ),
    ]
  }

  /** Both ledgers as sums, for saying that nothing changed. */
  books(): string {
    const sums = new Map<string, bigint>()
    for (const { accountId, kind, lineId, amount } of this.budget) {
      const key = `${kind} ${accountId} ${lineId ?? ''}`
      sums.set(key, (sums.get(key) ?? 0n) + amount)
    }
    const money = [...sums].filter(([, sum]) => sum !== 0n).map(([key, sum]) => `${key} ${sum}`)
    const counted = this.order().lines.map(line => `${line.id} ${JSON.stringify(line.sums)}`)
    return [...money.sort(), ...counted].join('\n')
  }
}

export const HOUSE = { name: 'Ivory House', country: 'NL', vat: 'NL001234567B01' } as const
