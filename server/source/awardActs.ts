import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AnswerAward, ProposeAward, TryAward } from '#contract/source/comparing.ts'
import { answerConsent } from '#core/consent/consent.ts'
import { formatAmount, minor, type Minor, roundAmount } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import { RuleBroken } from '#core/reasons.ts'
import { partFacts } from '#core/rules/facts.ts'
import { type Award, awardable, awardQuestion, proposeAward as decidePropose, takeBackAward } from '#core/source/askAward.ts' // prettier-ignore
import { type AwardableLine, type LineShare, unitCost } from '#core/source/award.ts'
import { whoCounts } from '#core/source/compareAnswers.ts'
import { withAbove } from '#core/source/categories.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { ask, latestConsent, settleConsent } from '#server/consent/consentStore.ts'
import { byId, groupBy } from '#server/database/rows.ts'
import { json } from '#server/database/json.ts'
import { obey } from '#server/documents/obey.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { baseRate } from '#server/house/rates.ts'
import { say } from '#server/mail/mail.ts'
import { type Decided, ruled } from '#server/rules/ruledStore.ts'
import { parentCategories } from '#server/source/categoryStore.ts'
import { compared } from '#server/source/comparisonStore.ts'
import { endNow, moveEvent } from '#server/source/eventActs.ts'
import { log } from '#server/source/eventLogStore.ts'
import { heldEvent, type KeptAward, type KnownEvent, knownEvent } from '#server/source/eventStore.ts'

/** What can be awarded: lines with the offers that count. */
async function awardableLines(call: Read, event: KnownEvent): Promise<AwardableLine[]> {
  const { comparison, suppliers, answers } = await compared(call, event)
  return awardable(comparison, whoCounts(comparison, suppliers), (supplierId, lineId) => {
    const { minimum = '', multiple = '' } = answers.get(supplierId)?.lines.find(one => one.lineId === lineId) ?? {}
    return { minimum, multiple }
  })
}

const kept = ({ cost, above, ...award }: Award): KeptAward => ({ ...award, cost: cost.toString(), above: above.toString() }) // prettier-ignore

/** Proposes who gets what, and asks those whom the rules name; where they name nobody, the award stands. */
export async function proposeAward(call: Write, id: string, body: BodyOf<typeof ProposeAward>): Promise<Done> {
  let event = await heldEvent(call, id, body.version)
  const lines = await awardableLines(call, event)
  const { next, did } = obey(decidePropose(event, lines, body.shares, body.reason, call.actor, call.now))
  if (event.state === 'asking') {
    await endNow(call, event)
    event = await knownEvent(call, id)
  }
  const { question, origins } = await ruled(call, awardQuestion(event, body.reason), await decidedAward(call, event, lines, body.shares)) // prettier-ignore
  const award = json(kept(next.award))
  await log(call, event, { action: 'awardProposed', details: { cost: next.award.cost.toString(), shares: body.shares.length }, reason: body.reason }) // prettier-ignore
  if (question.steps.length === 0) return await moveEvent(call, event, { state: 'awarded', award, awardId: null }, did)
  const asked = await ask(call, question, await aboutAward(call, event, next.award.cost, body.reason), { origins })
  return await moveEvent(call, event, { state: 'deciding', award, awardId: asked.id }, did)
}

async function aboutAward(call: Read, event: KnownEvent, cost: Minor, reason: string) {
  const rate = await baseRate(call, event.currency)
  return {
    number: event.number,
    title: event.title,
    who: call.actor.name,
    extra: reason,
    amount: toBase(cost, event.currency, rate, call.base),
    currency: call.base,
    needBy: event.lines.map(line => line.needBy).filter(Boolean).sort()[0] ?? null, // prettier-ignore
    path: pathOf('event', event.id),
  }
}

/** What an award would cost, what stands against it and who would decide, before anything is proposed. */
export async function tryAward(
  call: Read,
  id: string,
  body: BodyOf<typeof TryAward>,
): Promise<ResponseOf<typeof TryAward>> {
  const event = await knownEvent(call, id)
  const lines = await awardableLines(call, event)
  const decision = decidePropose(event, lines, body.shares, body.reason, call.actor, call.now)
  if (!decision.ok) return { reasons: reasonsJson(decision.reasons), cost: null, above: null, deciders: [] }
  const { question } = await ruled(call, awardQuestion(event, body.reason), await decidedAward(call, event, lines, body.shares)) // prettier-ignore
  const people = question.steps.flatMap(step =>
    step.asked.flatMap(one => (one.kind === 'person' ? [one.personId] : [])),
  )
  const names = await call.trx('people').whereIn('id', people).orderBy('name').pluck<string[]>('name')
  const { cost, above } = decision.next.award
  return { reasons: [], cost: formatAmount(cost, event.currency), above: formatAmount(above, event.currency), deciders: names } // prettier-ignore
}

/** An award as rules see it: what each supplier gets of each line, at landed cost in the base currency. */
async function decidedAward(
  call: Read,
  event: KnownEvent,
  lines: readonly AwardableLine[],
  shares: readonly LineShare[],
): Promise<Decided> {
  const rate = await baseRate(call, event.currency)
  const costs = byId([...lines])
  const parents = await parentCategories(call)
  const suppliers = byId(await call.trx('suppliers').whereIn('id', shares.map(one => one.supplierId)).select('id', 'number', 'state')) // prettier-ignore
  const asked = byId([...event.lines])
  const accounts = await accountsOf(call, event)
  const decided = shares.map(share => {
    const line = asked.get(share.lineId)!
    const cost = unitCost(costs.get(share.lineId)!, share.supplierId, share.quantity).times(share.quantity)
    const amount = toBase(roundAmount(cost, event.currency), event.currency, rate, call.base)
    const { number, state } = suppliers.get(share.supplierId)!
    const account = accounts.get(line.id)
    return {
      id: `${share.lineId} ${share.supplierId}`,
      facts: { ...(line.category === '' ? {} : { category: withAbove(line.category, parents) }), supplier: number, supplierState: state }, // prettier-ignore
      parts: [{ amount, facts: partFacts(account) }],
      amount,
    }
  })
  return {
    kind: 'award',
    requesterId: call.actor.id,
    total: minor(decided.reduce((sum, one) => sum + one.amount, 0n)),
    lines: decided.map(({ amount: _amount, ...line }) => line),
  }
}

interface Account {
  readonly costCentre: string
  readonly account: string
  readonly project: string | null
}
/** The account of each line: its own, or the first that its request is charged to. */
async function accountsOf(call: Read, event: KnownEvent): Promise<Map<string, Account>> {
  const { rows } = await call.trx.raw<{ rows: (Account & { id: string })[] }>(
    `select l.id, a.cost_centre, a.natural_account as account, a.project from event_lines l
     join budget_accounts a on a.id = coalesce(l.account_id, (select p.account_id from line_splits p where p.requisition_line_id = l.requisition_line_id order by p.account_id limit 1)) where l.event_id = ?`,
    [event.id],
  )
  return new Map([...groupBy(rows, row => row.id)].map(([id, [first]]) => [id, first!]))
}

/** One of those who decide says yes or no; or whoever proposed it takes it back. */
export async function answerAward(call: Write, id: string, body: BodyOf<typeof AnswerAward>): Promise<Done> {
  await needVisible(call, 'event', id)
  const event = await heldEvent(call, id, body.version)
  const consent = event.row.awardId === null ? null : await latestConsent(call, id, 'award')
  if (body.answer === 'takeBack') {
    const { next, did } = obey(takeBackAward(event, consent, call.actor, body.reason))
    if (next.consent && consent) await settleConsent(call, consent, next.consent)
    await log(call, event, { action: 'awardTakenBack', reason: body.reason })
    return await moveEvent(call, event, { state: next.state }, did)
  }
  const question = found(consent, 'decision')
  const answered = answerConsent(question, call.actor, body.answer, body.reason)
  if (!answered.ok) throw new RuleBroken(answered.reasons)
  await settleConsent(call, question, answered.next)
  const ends = answered.next.state !== 'open'
  const yes = body.answer === 'approve'
  await log(call, event, { action: yes ? 'awardApproved' : 'awardRefused', reason: body.reason })
  if (ends) await tellProposer(call, event, question.askedBy, yes, body.reason)
  const did = { action: yes ? (ends ? 'approve' : 'decided') : 'refuse', changes: { rule: answered.step.label }, reason: body.reason || null } // prettier-ignore
  return await moveEvent(call, event, ends ? { state: yes ? 'awarded' : 'over' } : {}, did)
}

const tellProposer = (call: Write, event: KnownEvent, to: string, yes: boolean, reason: string): Promise<void> =>
  say(
    call,
    [
      {
        template: yes ? 'event.award.approved' : 'event.award.refused',
        to: { kind: 'person', id: to },
        key: `award:${event.row.awardId}`,
        details: {
          number: event.number,
          title: event.title,
          by: call.actor.name,
          reason,
          path: pathOf('event', event.id),
        },
      },
    ],
    { kind: 'event', id: event.id },
  )
