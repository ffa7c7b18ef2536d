import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type ConsentNext, endConsent, openSteps } from '#core/consent/consent.ts'
import type { EditPolicy } from '#core/consent/settings.ts'
import { standsFor, type TakenStep } from '#core/decide/askAgain.ts'
import { changeMails } from '#core/decide/changeMails.ts'
import type { Change } from '#core/decide/changes.ts'
import { waitingMails, whyNotDecideRequisition } from '#core/decide/decideRequisition.ts'
import type { SeenStep } from '#core/decide/stillStands.ts'
import { leadTo } from '#core/ledger/quantity.ts'
import { type Reason, stop, stops } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { plainWords } from '#core/request/personalFee.ts'
import { reservationEntries, withQuantities } from '#core/request/reservation.ts'
import type { PathStep } from '#core/rules/path.ts'

/** What stands in the way of changing a request by somebody who decides it: it is not theirs to decide, or the house does not want it. */
export const whyNotEditWhileDeciding = (request: RequisitionFacts, actor: ActorFacts, policy: EditPolicy): Reason[] => {
  const against = whyNotDecideRequisition(request, actor)
  return against.length > 0 || policy.byDeciders ? against : [stop('decide.noEditing', {}, { clearedBy: ['steward'] })]
}

/** A step of the question as it stands. */
interface AskedStep {
  readonly state: string
  readonly rules: readonly { readonly name: string; readonly costCentre: string | null }[]
}

/** What a request is after somebody who decides it changed it, and what that means. */
export interface Edited {
  /** It as it would be. */
  readonly after: RequisitionFacts
  /** Its version then, by which what is sent about it is told apart from what was sent before. */
  readonly version: number
  readonly changes: readonly Change[]
  /** The lines that this person decides. */
  readonly own: ReadonlySet<string>
  readonly reasons: readonly Reason[]
  /** The way by the rules of today, and which decisions stand for the request as it would be. */
  readonly path: readonly PathStep[]
  readonly standing: readonly SeenStep[]
  readonly asked: readonly AskedStep[]
}

export interface EditedNext {
  /** Null: the question stays as it is; nobody is asked again. */
  readonly asks: {
    readonly ends: ConsentNext
    readonly round: number
    readonly stands: readonly (TakenStep | null)[]
  } | null
}

/**
 * Somebody who decides a request changes its lines, or refuses some of them: what is requested and reserved follows; whoever approved
 * before is asked again only where the policy says so, or where the rules now ask somebody more. The requester is told, and those who
 * approved unless the policy keeps quiet; those who decide now get a mail whose links fit what it is now.
 */
export function editWhileDeciding(
  request: RequisitionFacts,
  edited: Edited,
  actor: ActorFacts,
  reason: string,
  policy: EditPolicy,
): Decision<EditedNext> {
  const against = [...whyNotEditWhileDeciding(request, actor, policy), ...wrong(edited, reason)]
  if (against.length > 0) return refused(against)
  const { after, version, changes, path, standing, asked } = edited
  const quantity = after.lines.flatMap(line =>
    leadTo(line, 'requested', line.state === 'cancelled' ? '0' : line.quantity),
  )
  const stands = path.map(step => standsFor(step, standing))
  const ofRound = standing.filter(step => step.round === request.round).length
  const same = sameWay(path, stands, asked, ofRound)
  const round = same ? request.round : request.round + 1
  const open = openSteps(request.consent!).map(step => step.id)
  return done<EditedNext>(
    { asks: same ? null : { ends: endConsent(request.consent!, 'dropped'), round, stands } },
    {
      action: 'linesChanged',
      changes: { changes: recorded(after, changes), asked: stands.filter(one => one === null).length },
      reason,
    },
    {
      quantity,
      budget: reservationEntries(withQuantities(after.lines, quantity)),
      says: [
        ...changeMails(after, version, { standing, changes }, policy, actor, reason),
        ...(same ? waitingMails({ ...after, consent: request.consent }, open, round, `:${version}`) : []),
      ],
    },
  )
}

/** Changes as the history keeps them, for all who read it: what a personal fee is for stays out. */
function recorded(request: RequisitionFacts, changes: readonly Change[]) {
  const lines = new Map(request.lines.map(line => [line.id, line]))
  return changes.map(({ lineId, key, before, after }) => {
    const line = lines.get(lineId ?? '')
    const secret = line?.kind === 'personalFee'
    return { line: line ? plainWords(line) : '', key, ...(secret ? {} : { before, after }) }
  })
}

function wrong({ after, changes, own, reasons }: Edited, reason: string): Reason[] {
  if (after.lines.every(line => line.state === 'cancelled')) return [stop('decide.allRefused')]
  const foreign = changes.filter(change => change.lineId !== null && !own.has(change.lineId))
  return [
    ...(changes.length === 0 ? [stop('decide.nothingChanged')] : []),
    ...foreign.map(change => stop('decide.lineNotYours', { line: change.line })),
    ...stops(reasons),
    ...(saysWhy(reason) ? [] : [stop('decide.noReason', {}, { place: 'reason' })]),
  ]
}

const keyOf = ({ rules }: Pick<AskedStep, 'rules'>): string =>
  rules
    .map(rule => `${rule.name} ${rule.costCentre ?? ''}`)
    .sort()
    .join('|')

/** Whether the way to come is the one that is open: every decision of this round stands (`still` of them do), and the same rules ask for the rest. */
function sameWay(
  path: readonly PathStep[],
  stands: readonly (TakenStep | null)[],
  asked: readonly AskedStep[],
  still: number,
): boolean {
  const taken = asked.filter(step => step.state === 'approved').length
  if (taken > still) return false
  const left = asked.filter(step => ['open', 'later', 'skipped'].includes(step.state) && step.rules.length > 0)
  const wanted = path.filter((step, index) => stands[index] === null && step.rules.length > 0)
  return JSON.stringify(left.map(keyOf).sort()) === JSON.stringify(wanted.map(keyOf).sort())
}
