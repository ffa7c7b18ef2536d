import type { Decision } from '#core/acts/decision.ts'
import { INVOICE_STATES, type InvoiceAction, type InvoiceState } from '#core/bill/states.ts'
import type { Consent, ConsentNext } from '#core/consent/consent.ts'
import type { BankItem, BankOutcome } from '#core/formats/bankAnswers.ts'
import type { Breach } from '#core/ledger/law.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { approveRun } from '#core/pay/approveRun.ts'
import type { AccountState, PaymentFacts, RunFacts } from '#core/pay/facts.ts'
import { paymentLaws } from '#core/pay/laws.ts'
import { proposeRun, runQuestion } from '#core/pay/proposeRun.ts'
import { askRecall, recallRun } from '#core/pay/recallRun.ts'
import { leaveRun, sendRun } from '#core/pay/sendRun.ts'
import { PAYMENT_STATES, type PaymentAction, RUN_STATES } from '#core/pay/states.ts'
import { isAnswered, takeBankMessage } from '#core/pay/takeBankMessage.ts'
import { withdrawRun } from '#core/pay/withdrawRun.ts'
import { RuleBroken } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { ADA, actorOf, TODAY } from '#test-helpers/orderToPay.ts'
import { asked, payable, payment } from '#test-helpers/runs.ts'

export const BORIS = actorOf('boris')

type Row<T> = { -readonly [Key in keyof T]: T[Key] }
type RunRow = Row<Omit<RunFacts, 'payments'>>
type Decided = Decision<unknown>

/** What really became of a payment at the bank, whatever we have been told. */
type Fate = 'waits' | 'refused' | 'booked' | 'returned' | 'stopped'

/**
 * Posted invoices, the runs that pay them and a bank that has a mind of its own, kept in memory. The bank knows each payment by its
 * end-to-end identification: handed over twice it is one. What it did and what it told are two things.
 */
export class Treasury {
  readonly invoices: { id: string; state: InvoiceState }[]
  readonly runs: RunRow[] = []
  readonly payments: Row<PaymentFacts>[] = []
  /** Quantity paid, by order line. */
  readonly paid = new Map<string, Decimal>()
  readonly fates = new Map<string, Fate>()
  /** Items that stayed open for a person. */
  open = 0
  accountState: AccountState = 'proven'
  supplierState = 'active'

  constructor(count: number) {
    this.invoices = Array.from({ length: count }, (_, index) => ({ id: `i${index + 1}`, state: 'cleared' }))
  }

  run(index: number): RunFacts {
    const row = this.runs[index]!
    return {
      ...row,
      payments: this.payments
        .filter(one => one.runId === row.id)
        .map(one => ({ ...one, accountState: this.accountState, supplierState: this.supplierState })),
    }
  }

  #write(row: RunRow, key: 'approval' | 'recall', next: ConsentNext): void {
    row[key] = { ...(row[key] as Consent), state: next.state }
  }

  #invoice(id: string, action: InvoiceAction): void {
    const invoice = this.invoices.find(one => one.id === id)!
    const moved = transition(INVOICE_STATES, 'invoice', invoice.state, action)
    if (!moved.ok) throw new RuleBroken(moved.reasons)
    invoice.state = moved.state
  }

  #payment(id: string, action: PaymentAction): void {
    const row = this.payments.find(one => one.id === id)!
    const moved = transition(PAYMENT_STATES, 'payment', row.state, action)
    if (!moved.ok) throw new RuleBroken(moved.reasons)
    row.state = moved.state
  }

  #end(ids: readonly string[], action: 'withdraw' | 'recall'): void {
    for (const id of ids) {
      this.#payment(id, action)
      this.#invoice(this.payments.find(one => one.id === id)!.invoiceId, 'unschedule')
    }
  }

  /** Proposes everything that is payable. */
  propose(actor = ADA): Decided {
    const due = this.invoices
      .filter(one => one.state === 'cleared')
      .map(one =>
        payable({
          invoiceId: one.id,
          number: one.id,
          supplierState: this.supplierState,
          account: { ...payable().account!, state: this.accountState },
        }),
      )
    const decided = proposeRun(due, TODAY, actor, TODAY)
    if (!decided.ok || decided.next.taken.length === 0) return decided
    const id = `r${this.runs.length + 1}`
    this.runs.push({
      id,
      number: `P-${this.runs.length + 1}`,
      state: 'proposed',
      executeOn: TODAY,
      proposedBy: actor.id,
      approval: asked(runQuestion(id, actor.id), actor.id),
      recall: null,
    })
    for (const one of decided.next.taken) {
      const made = this.payments.length + 1
      this.payments.push(
        payment({
          id: `p${made}`,
          endToEndId: `E${made}`,
          runId: id,
          runNumber: `P-${this.runs.length}`,
          invoiceId: one.invoiceId,
          state: 'proposed',
          lines: [{ orderLineId: one.invoiceId, quantity: '4' }],
        }),
      )
      this.#invoice(one.invoiceId, 'schedule')
    }
    return decided
  }

  approve(index: number, actor = BORIS): Decided {
    const decided = approveRun(this.run(index), actor, TODAY, true)
    if (!decided.ok) return decided
    this.runs[index]!.state = decided.next.state
    this.#write(this.runs[index]!, 'approval', decided.next.consent)
    return decided
  }

  withdraw(index: number, actor = ADA): Decided {
    const decided = withdrawRun(this.run(index), actor, 'Not today.')
    if (!decided.ok) return decided
    this.runs[index]!.state = decided.next.state
    if (decided.next.consent) this.#write(this.runs[index]!, 'approval', decided.next.consent)
    this.#end(decided.next.ends, 'withdraw')
    return decided
  }

  /** Hands the file over; `heard` says whether the bank's answer to that arrives. */
  leave(index: number, arrives: boolean, heard: boolean): Decided {
    const decided = leaveRun(this.run(index))
    if (!decided.ok) return decided
    this.runs[index]!.state = decided.next.state
    if (arrives)
      for (const one of this.run(index).payments)
        if (!this.fates.has(one.endToEndId)) this.fates.set(one.endToEndId, 'waits')
    return arrives && heard ? this.#sent(index) : decided
  }

  #sent(index: number): Decided {
    const sent = sendRun(this.run(index))
    if (!sent.ok) return sent
    this.runs[index]!.state = sent.next.state
    if (sent.next.paymentsSent) for (const one of this.run(index).payments) this.#payment(one.id, 'send')
    return sent
  }

  askRecall(index: number, actor = ADA): Decided {
    const decided = askRecall(this.run(index), actor, 'The wrong file.')
    if (decided.ok) this.runs[index]!.recall = asked(decided.next.asks, actor.id)
    return decided
  }

  /** A second person writes down what the bank says: whether it stops what it has not booked. A file that it never had never leaves. */
  answerRecall(index: number, stops: boolean, actor = BORIS): Decided {
    const run = this.run(index)
    // a bank can only say that it stops a file of which nothing is booked that we were not told of
    const untold = run.payments.some(one => this.fates.get(one.endToEndId) === 'booked' && one.state !== 'paid')
    const decided = recallRun(run, actor, stops && !untold ? 'approve' : 'reject', 'By telephone.')
    if (!decided.ok) return decided
    const row = this.runs[index]!
    row.state = decided.next.state
    this.#write(row, 'recall', decided.next.consent)
    this.#end(decided.next.ends, 'recall')
    if (decided.next.ends.length > 0)
      for (const one of run.payments)
        if ((this.fates.get(one.endToEndId) ?? 'waits') === 'waits') this.fates.set(one.endToEndId, 'stopped')
    return decided
  }

  /** The bank does something with one of the payments that it has; nothing where it has none in such a state. */
  happens(endToEndId: string, to: Exclude<Fate, 'waits' | 'stopped'>): void {
    const from = this.fates.get(endToEndId)
    if ((from === 'waits' && to !== 'returned') || (from === 'booked' && to === 'returned'))
      this.fates.set(endToEndId, to)
  }

  /** The bank tells of one payment what is true of it, or of something that is not ours; it may tell it again and again. */
  tell(endToEndId: string): void {
    const truth: Readonly<Record<Fate, readonly BankOutcome[]>> = {
      waits: ['accepted'],
      refused: ['refused'],
      booked: ['paid'],
      returned: ['paid', 'returned'],
      stopped: [],
    }
    const fate = this.fates.get(endToEndId)
    const outcomes: readonly BankOutcome[] = fate ? truth[fate] : ['paid']
    const amounts = [{ amount: formatAmount(minor(59_500), 'EUR'), currency: 'EUR' }]
    const items = outcomes.map((outcome): BankItem => ({
      level: 'payment',
      reference: fate ? endToEndId : `of others ${endToEndId}`,
      outcome,
      status: 'BOOK',
      reasonCode: outcome === 'refused' ? 'AM04' : '',
      amounts,
      date: outcome === 'returned' ? '2026-06-04' : '2026-06-03',
    }))
    // what the bank tells of, it has
    const about = fate && this.payments.find(one => one.endToEndId === endToEndId)?.runId
    const leaving = this.runs.findIndex(one => one.id === about && one.state === 'sending')
    if (leaving >= 0) this.#sent(leaving)
    const facts = this.runs.flatMap((_, index) => this.run(index).payments)
    const decided = takeBankMessage({ kind: 'camt.053', messageId: 'M', items }, facts)
    if (!decided.ok) throw new RuleBroken(decided.reasons)
    this.open += decided.next.items.filter(one => one.effect === 'open').length
    for (const entry of decided.quantity)
      this.paid.set(entry.lineId, (this.paid.get(entry.lineId) ?? new Decimal(0)).plus(entry.quantity))
    for (const move of decided.next.moves) {
      const row = this.payments.find(one => one.id === move.paymentId)!
      Object.assign(row, { state: move.state, paidOn: move.paidOn })
      if (move.invoice) this.#invoice(move.invoiceId, move.invoice)
      const run = this.runs.find(one => one.id === move.runId)!
      if (run.state === 'sent' && isAnswered(this.payments.filter(one => one.runId === run.id).map(one => one.state))) {
        const moved = transition(RUN_STATES, 'paymentRun', run.state, 'answer')
        if (moved.ok) run.state = moved.state
      }
    }
  }

  /** How often money went out for an invoice and did not come back, as the bank knows it. */
  moneyOut(invoiceId: string): number {
    return this.payments.filter(one => one.invoiceId === invoiceId && this.fates.get(one.endToEndId) === 'booked')
      .length
  }

  laws(): Breach[] {
    return this.invoices.flatMap(({ id, state }) =>
      paymentLaws({
        number: id,
        state,
        payments: this.payments.filter(one => one.invoiceId === id).map(one => one.state),
      }),
    )
  }
}
