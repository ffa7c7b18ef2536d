import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { whyNotEdit } from '#core/request/submitRequisition.ts'
import type { Path } from '#core/rules/path.ts'

/** Somebody whom a requester names. */
export interface NamedDecider {
  readonly id: string
  readonly name: string
  /** Their account is open, and their roles allow them to decide. */
  readonly able: boolean
}

/** Whom a requester chose for rules that let them, and whom they want to decide, too. */
export interface ChosenDeciders {
  readonly chosen: Readonly<Record<string, string>>
  readonly added: readonly string[]
}

/**
 * A requester says, before submitting, who of several decides where a rule leaves that open, and who decides beside those whom rules ask:
 * never oneself, nobody who may not decide, and only where the house allows adding. Nobody whom a rule asks can be taken away so.
 */
export function chooseDeciders(
  request: Pick<RequisitionFacts, 'state' | 'requesterId'>,
  wanted: ChosenDeciders,
  choices: Path['choices'],
  people: ReadonlyMap<string, NamedDecider>,
  actor: ActorFacts,
  byHand: boolean,
): Decision<ChosenDeciders> {
  const against = whyNotEdit(request, actor)
  if (against.length > 0) return refused(against)
  const added = [...new Set(wanted.added)]
  const reasons: Reason[] = [
    ...Object.entries(wanted.chosen).flatMap(([ruleId, personId]) => {
      const choice = choices.find(one => one.ruleId === ruleId)
      return choice?.personIds.includes(personId) ? [] : [stop('decide.notAmong', { rule: choice?.rule ?? '' })]
    }),
    ...(added.length > 0 && !byHand ? [stop('decide.noAdding', {}, { clearedBy: ['steward'] })] : []),
    ...(added.includes(request.requesterId) ? [stop('decide.own')] : []),
    ...added
      .filter(id => !people.get(id)?.able)
      .map(id => stop('decide.withoutRight', { person: people.get(id)?.name ?? '' })),
  ]
  if (reasons.length > 0) return refused(reasons)
  return done<ChosenDeciders>(
    { chosen: wanted.chosen, added },
    { action: 'decidersChosen', changes: { added: added.map(id => people.get(id)!.name) } },
  )
}
