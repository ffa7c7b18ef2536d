import { secondYes, type Consent, type NewConsent } from '#core/consent/consent.ts'
import { minor } from '#core/money/amount.ts'
import type { PayableFacts, PaymentFacts, RunFacts } from '#core/pay/facts.ts'
import { runQuestion } from '#core/pay/proposeRun.ts'

/** A question as it stands after it was asked. */
export const asked = (question: NewConsent, askedBy: string): Consent => ({
  id: 'consent',
  purpose: question.purpose,
  documentKind: question.documentKind,
  documentId: question.documentId,
  askedBy,
  state: 'open',
  amount: null,
  currency: null,
  steps: question.steps.map((step, index) => ({
    ...step,
    id: `step${index + 1}`,
    state: step.stage === question.steps[0]!.stage ? 'open' : 'later',
    who: 'somebody else',
  })),
})

export const payable = (changed: Partial<PayableFacts> = {}): PayableFacts => ({
  invoiceId: 'i1',
  number: 'I-1',
  supplierId: 's1',
  supplier: 'Nordhavn',
  supplierState: 'active',
  method: '',
  dueOn: '2026-06-01',
  amount: minor(59_500),
  currency: 'EUR',
  baseAmount: minor(59_500),
  account: { id: 'a1', iban: 'NL91ABNA0417164300', bic: '', holder: 'Nordhavn', state: 'proven' },
  refusedWith: null,
  disputed: false,
  ...changed,
})

export const payment = (changed: Partial<PaymentFacts> = {}): PaymentFacts => ({
  id: 'p1',
  runId: 'r1',
  runNumber: 'P-1',
  invoiceId: 'i1',
  invoiceNumber: 'I-1',
  supplierId: 's1',
  supplier: 'Nordhavn',
  supplierState: 'active',
  supplierNumber: 'N-1',
  issueDate: '2026-05-01',
  iban: 'NL91ABNA0417164300',
  holder: 'Nordhavn',
  accountState: 'proven',
  amount: minor(59_500),
  currency: 'EUR',
  endToEndId: 'E1',
  state: 'sent',
  paidOn: null,
  lines: [{ orderLineId: 'line1', quantity: '4' }],
  ...changed,
})

export const run = (changed: Partial<RunFacts> = {}): RunFacts => ({
  id: 'r1',
  number: 'P-1',
  state: 'proposed',
  executeOn: '2026-06-02',
  proposedBy: 'ada',
  payments: [payment({ state: 'proposed' }), payment({ id: 'p2', endToEndId: 'E2', state: 'proposed' })],
  approval: asked(runQuestion('r1', 'ada'), 'ada'),
  recall: null,
  ...changed,
})

export const recallAsked = (by = 'ada'): Consent =>
  asked(
    secondYes(
      { purpose: 'recall', documentKind: 'paymentRun', documentId: 'r1', reason: 'Wrong file.' },
      'payment.approve',
      [by],
    ),
    by,
  )
