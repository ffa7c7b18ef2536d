import type { Decision } from '#core/acts/decision.ts'
import type { Consent, ConsentAnswer, ConsentNext } from '#core/consent/consent.ts'
import { decideRequisition } from '#core/decide/decideRequisition.ts'
import { passRequisition } from '#core/decide/passRequisition.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { addStanding } from '#core/ledger/commitments.ts'
import { type QuantityEntry, sumQuantities } from '#core/ledger/quantity.ts'
import { minor } from '#core/money/amount.ts'
import type { Reason } from '#core/reasons.ts'
import { actOnRequisition, type OwnAct } from '#core/request/actOnRequisition.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import type { LineState, RequisitionState } from '#core/request/states.ts'
import { submitRequisition } from '#core/request/submitRequisition.ts'
import type { PathStep } from '#core/rules/path.ts'
import { actorOf } from '#test-helpers/orderToPay.ts'
import { asked } from '#test-helpers/runs.ts'

export const INES = actorOf('ines', { rights: new Set(['requisition.write']), roles: ['requester'] })

export const pathStep = (stage: number, ...personIds: string[]): PathStep => ({
  stage,
  turn: 0,
  approvers: personIds.map(personId => ({ personId, because: { kind: 'rule' } })),
  rules: [{ ruleId: `rule${stage}`, name: `Rule ${stage}`, costCentre: null, measured: minor(0), evidence: [] }],
  lineIds: null,
  hours: null,
  stalled: false,
})

/** A request of two lines with its question and ledgers, kept in memory as the stores keep them; Ines asks. */
export class Requested {
  readonly quantities: QuantityEntry[] = []
  readonly budget: BudgetEntry[] = []
  state: RequisitionState = 'draft'
  round = 0
  remindedAt: string | null = null
  consent: Consent | null = null
  lineStates: LineState[] = ['open', 'open']

  facts(changed: Partial<RequisitionFacts> = {}): RequisitionFacts {
    return {
      id: 'r1',
      number: 'R-1',
      title: 'Pumps',
      state: this.state,
      requesterId: 'ines',
      requester: 'Ines',
      total: minor(30_000),
      base: 'EUR',
      needBy: '2026-07-01',
      round: this.round,
      remindedAt: this.remindedAt,
      consent: this.consent,
      lines: ['line1', 'line2'].map((id, index) => ({
        id,
        position: index + 1,
        requisitionId: 'r1',
        kind: 'goods' as const,
        description: `Line ${index + 1}`,
        state: this.lineStates[index]!,
        quantity: '10',
        baseAmount: minor(10_000 * (index + 1)),
        splits: [
          { accountId: 'a1', share: '1' },
          { accountId: 'a2', share: '2' },
        ],
        sums: sumQuantities(this.quantities.filter(entry => entry.lineId === id)),
        standing: addStanding(
          [],
          this.budget.filter(entry => entry.lineId === id),
        ),
      })),
      ...changed,
    }
  }

  #obey<Next>(decided: Decision<Next>, write: (next: Next) => void): Decision<Next> {
    if (decided.ok) {
      this.quantities.push(...decided.quantity)
      this.budget.push(...decided.budget)
      write(decided.next)
    }
    return decided
  }

  #answer(next: ConsentNext | null): void {
    if (!next || !this.consent) return
    const states = new Map([
      ...next.answers.map(one => [one.stepId, one.state] as const),
      ...next.opens.map(id => [id, 'open'] as const),
      ...next.drops.map(id => [id, 'dropped'] as const),
    ])
    this.consent = {
      ...this.consent,
      state: next.state,
      steps: this.consent.steps.map(step => ({ ...step, state: states.get(step.id) ?? step.state })),
    }
  }

  submit(path: readonly PathStep[], reasons: readonly Reason[] = [], why = '', actor = INES) {
    return this.#obey(
      submitRequisition(this.facts(), new Map(), { reasons, path, stands: path.map(() => false) }, actor, why),
      next => {
        this.state = next.state
        this.round = next.round
        this.consent = next.asks ? asked(next.asks, 'ines') : null
        if (next.state === 'approved') this.lineStates = ['toBuy', 'toBuy']
      },
    )
  }

  decide(by: string, answer: ConsentAnswer, reason = 'Because.') {
    return this.#obey(decideRequisition(this.facts(), actorOf(by), answer, reason), next => {
      this.state = next.state
      this.#answer(next.consent)
      this.lineStates = this.lineStates.map(() => (next.intoPool ? 'toBuy' : 'open'))
    })
  }

  /** A steward passes a step to somebody else; never to who asked. */
  pass(step: number, to: string) {
    const successor = { id: to, name: to, able: to !== 'ines' }
    const steward = actorOf('wren', { rights: new Set(['requisition.passOn']) })
    return this.#obey(passRequisition(this.facts(), `step${step + 1}`, successor, steward, 'On leave.'), next => {
      this.consent = {
        ...this.consent!,
        steps: this.consent!.steps.map(one =>
          one.id === next.stepId ? { ...one, asked: [{ kind: 'person', personId: next.personId }] } : one,
        ),
      }
    })
  }

  act(act: OwnAct, actor = INES) {
    return this.#obey(actOnRequisition(this.facts(), act, actor, ''), next => {
      this.state = next.state
      this.#answer(next.consent)
      if (next.reopensLines) this.lineStates = ['open', 'open']
    })
  }

  reserved(): bigint {
    return this.budget.reduce((sum, entry) => (entry.kind === 'reserved' ? sum + entry.amount : sum), 0n)
  }
}
