import type { QueryOf, ResponseOf } from '#contract/endpoint.ts'
import type { DecisionItem, ReadMyDecisions } from '#contract/decide/endpoints.ts'
import { reaches } from '#core/acts/actor.ts'
import { CONSENT_PURPOSES } from '#core/consent/consent.ts'
import { deskKeysOf } from '#core/consent/desk.ts'
import { stillTheirs } from '#core/consent/stalled.ts'
import { urgency } from '#core/desk/entry.ts'
import { available } from '#core/ledger/budget.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import type { Because } from '#core/rules/path.ts'
import { may, type Read } from '#server/call.ts'
import { consentsById, type KeptConsent, type KeptStep, originOfStep } from '#server/consent/consentStore.ts'
import { MINE_TO_DECIDE, mineToDecide } from '#server/consent/mine.ts'
import { groupBy } from '#server/database/rows.ts'
import { deskRows } from '#server/desk/desk.ts'
import { accountLabel, budgetSums } from '#server/ledger/budgetStore.ts'
import { personNames } from '#server/people/peopleStore.ts'

type Answer = ResponseOf<typeof ReadMyDecisions>
type Part = QueryOf<typeof ReadMyDecisions>['part']

/** Things of one part that are told at once. */
const PAGE = 60

/** A decision by its question and its step, or by its place among those that stand on Desks. */
interface Found {
  readonly consentId: string
  readonly stepId?: string
  readonly place?: number
}

/** What there is to decide for this person, what costs most to leave first. */
export async function readMyDecisions(call: Read, { part, from }: QueryOf<typeof ReadMyDecisions>): Promise<Answer> {
  const open = await openOnes(call)
  const coming = await stepsWhere(call, `c.state = 'open' and c.purpose = 'approval' and s.state = 'later' and ${MINE_TO_DECIDE}`, mineToDecide(call, 'approval'), 'c.asked_at') // prettier-ignore
  const stalled = may(call, 'requisition.passOn') ? await stepsWhere(call, `c.state = 'open' and s.stall is not null`, {}, 's.opened_at') : [] // prettier-ignore
  const parts: Record<Part, () => Promise<readonly Found[]>> = {
    mine: () => Promise.resolve(open.mine),
    standIn: () => Promise.resolve(open.standIn),
    coming: () => Promise.resolve(coming),
    stalled: () => Promise.resolve(stalled),
    decided: () =>
      stepsWhere(call, 's.decided_by = :me and s.stood_from is null', { me: call.actor.id }, 's.decided_at desc'),
  }
  const all = await parts[part]()
  return {
    counts: {
      mine: open.mine.length,
      standIn: open.standIn.length,
      coming: coming.length,
      stalled: stalled.length,
    },
    total: all.length,
    items: await itemsOf(call, all.slice(from, from + PAGE)),
  }
}

/** What waits now, from the table of what waits for whom: one's own, and what is nobody's of one's own but somebody's whom one stands in for. */
async function openOnes(call: Read): Promise<{ mine: Found[]; standIn: Found[] }> {
  const rows = await deskRows(call, deskKeysOf(CONSENT_PURPOSES))
  const own = new Set(call.actor.standsInFor.map(one => `person:${one.id}`))
  const things = [...groupBy(rows, row => `${row.documentId} ${row.key} ${row.place}`).values()]
    .map(some => ({ row: some[0]!, mine: some.some(row => !own.has(row.audience)) }))
    .sort((a, b) => (urgency(a.row) < urgency(b.row) ? -1 : 1))
  const found = (mine: boolean): Found[] =>
    things.filter(one => one.mine === mine).map(({ row }) => ({ consentId: row.documentId, place: row.place }))
  return { mine: found(true), standIn: found(false) }
}

/** Most steps that are looked at for one part. */
const MOST = 5000
async function stepsWhere(
  call: Read,
  condition: string,
  bindings: Record<string, unknown>,
  order: string,
): Promise<Found[]> {
  const { rows } = await call.trx.raw<{ rows: { consentId: string; stepId: string }[] }>(
    `select s.consent_id, s.id as step_id from consent_steps s join consents c on c.id = s.consent_id where ${condition} order by ${order}, s.id limit ${MOST}`,
    bindings as Record<string, string[]>,
  )
  return rows
}

async function itemsOf(call: Read, found: readonly Found[]): Promise<DecisionItem[]> {
  const consents = await consentsById(call, [...new Set(found.map(one => one.consentId))])
  const steps = found.flatMap(one => {
    const consent = consents.get(one.consentId)
    const step = consent && stepAt(consent, one)
    return step ? [{ consent, step }] : []
  })
  const requests = await aboutRequests(call, steps.filter(one => one.consent.purpose === 'approval').map(one => one.consent.documentId)) // prettier-ignore
  const names = await personNames(call, steps.flatMap(({ consent, step }) => [consent.askedBy, ...namedIn(step), ...inPlaceOf(call, consent, step)])) // prettier-ignore
  return steps.map(({ consent, step }) => toItem(call, consent, step, requests, names))
}

/** Open steps that stand on the Desk of those whom they ask, in the order in which they stand there. */
const waitsForThem = ({ state, stall }: KeptStep): boolean => state === 'open' && (stall === null || stillTheirs(stall))

const stepAt = (consent: KeptConsent, { stepId, place }: Found): KeptStep | undefined =>
  stepId === undefined ? consent.kept.filter(waitsForThem)[place ?? 0] : consent.kept.find(step => step.id === stepId)

/** In whose place this person decides a step; nobody where it asks them themselves. */
function inPlaceOf(call: Read, consent: KeptConsent, step: KeptStep): string[] {
  if (step.decidedBy !== null) return step.onBehalfOf === null ? [] : [step.onBehalfOf]
  if (step.approverIds.includes(call.actor.id)) return []
  const about = { kind: consent.purpose, amount: consent.amount, currency: consent.currency }
  const one = call.actor.standsInFor.find(other => step.approverIds.includes(other.id) && reaches(other, about))
  return one ? [one.id] : []
}

const becauseOf = (step: KeptStep): [string, Because][] => Object.entries(originOfStep(step).because)
const namedIn = (step: KeptStep): string[] =>
  becauseOf(step).flatMap(([, because]) => ('personId' in because ? [because.personId] : []))

function toItem(
  call: Read,
  consent: KeptConsent,
  step: KeptStep,
  requests: ReadonlyMap<string, AboutRequest>,
  names: ReadonlyMap<string, string>,
): DecisionItem {
  const { about } = consent
  const request = requests.get(consent.documentId)
  const [inPlace] = inPlaceOf(call, consent, step)
  const because = new Map(becauseOf(step)).get(inPlace ?? call.actor.id)
  const { rules } = originOfStep(step)
  const theirs = step.approverIds.includes(call.actor.id) || inPlace !== undefined
  return {
    id: step.id,
    purpose: consent.purpose,
    consentId: consent.id,
    consentVersion: consent.version,
    documentId: consent.documentId,
    version: consent.purpose === 'approval' && step.state === 'open' ? (request?.version ?? null) : null,
    path: about.path,
    number: about.number,
    title: about.title,
    askedBy: names.get(consent.askedBy) ?? '',
    amount: consent.amount === null || about.currency === null ? null : formatAmount(consent.amount, about.currency),
    currency: about.currency,
    needBy: about.needBy,
    since: step.openedAt ?? consent.askedAt,
    dueAt: step.pausedAt === null ? step.dueAt : null,
    paused: step.pausedAt !== null,
    stall: step.stall,
    waitsFor: theirs && step.state === 'open' ? '' : step.who,
    inPlaceOf: inPlace === undefined ? null : (names.get(inPlace) ?? ''),
    byRule: rules.length > 0,
    because: (rules.length > 0 ? rules : [{ name: step.label, costCentre: null }])
      .filter(rule => rule.name !== '')
      .map(rule => ({
        rule: rule.name,
        costCentre: rule.costCentre,
        why: because?.kind ?? 'rule',
        of: because && 'personId' in because ? (names.get(because.personId) ?? '') : '',
      })),
    budget: budgetFor(request, rules),
    lines: request?.lines ?? null,
    later: consent.kept.filter(one => one.state === 'later').length,
    outcome: step.decidedAt === null ? null : step.state,
    decidedAt: step.decidedAt,
  }
}

interface AboutRequest {
  readonly version: number
  readonly lines: number
  /** What is left on the accounts that pay, the least first. */
  readonly budgets: readonly (NonNullable<DecisionItem['budget']> & { readonly costCentre: string })[]
}

/** The account with least left of the cost centres because of which somebody is asked; of all that pay, where a rule asks whatever pays. */
function budgetFor(
  request: AboutRequest | undefined,
  rules: readonly { readonly costCentre: string | null }[],
): DecisionItem['budget'] {
  const centres = new Set(rules.map(rule => rule.costCentre))
  const found = request?.budgets.find(one => centres.has(null) || centres.has(one.costCentre)) ?? request?.budgets[0]
  if (!found) return null
  const { costCentre: _centre, ...budget } = found
  return budget
}

/** Requests with the account that has least left of those that pay for them; what waits is reserved already. */
async function aboutRequests(call: Read, ids: readonly string[]): Promise<Map<string, AboutRequest>> {
  if (ids.length === 0) return new Map()
  const heads = await call
    .trx('requisitions')
    .whereIn('id', [...ids])
    .select('id', 'version', 'lines')
  const { rows } = await call.trx.raw<{
    rows: {
      requisitionId: string
      id: string
      costCentre: string
      naturalAccount: string
      fiscalYear: number
      project: string | null
    }[]
  }>(
    `select distinct l.requisition_id, a.id, a.cost_centre, a.natural_account, a.fiscal_year, a.project
     from requisition_lines l join line_splits s on s.requisition_line_id = l.id join budget_accounts a on a.id = s.account_id where l.requisition_id = any(?)`,
    [[...ids]],
  )
  const sums = await budgetSums(call, [...new Set(rows.map(row => row.id))])
  const accounts = groupBy(rows, row => row.requisitionId)
  return new Map(
    heads.map(({ id, version, lines }) => {
      const own = (accounts.get(id) ?? []).map(account => ({ account, left: available(sums.get(account.id)!) }))
      const budgets = own
        .sort((a, b) => (a.left < b.left ? -1 : 1))
        .map(({ account, left }) => ({
          costCentre: account.costCentre,
          accountId: account.id,
          label: accountLabel(account),
          left: formatAmount(minor(left), call.base),
          currency: call.base,
        }))
      return [id, { version, lines, budgets }]
    }),
  )
}
