import type { StepJson } from '#contract/fields.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import type { Path, PathStep } from '#core/rules/path.ts'
import type { KeptConsent, StepOrigin } from '#server/consent/consentStore.ts'

/** How a step came about, as it is kept beside it. Who was left out by its rules stands with it. */
export const originOf = (step: PathStep, path: Pick<Path, 'leftOut'>): StepOrigin => ({
  rules: step.rules.map(rule => ({ ...rule, measured: rule.measured.toString() })),
  because: Object.fromEntries(step.approvers.map(one => [one.personId, one.because])),
  lineIds: step.lineIds,
  hours: step.hours,
  leftOut: path.leftOut.filter(one => step.rules.some(rule => rule.name === one.rule)),
})

/** The same as pages show it, with names. */
export const whyJson = (
  base: string,
  why: Partial<StepOrigin>,
  names: ReadonlyMap<string, string>,
): Pick<StepJson, 'rules' | 'leftOut' | 'lineIds'> => ({
  rules: (why.rules ?? []).map(rule => ({
    name: rule.name,
    costCentre: rule.costCentre,
    measured: rule.measured === null ? null : formatAmount(minor(BigInt(rule.measured)), base),
    evidence: rule.evidence.map(one => ({ ...one, values: [...one.values] })),
  })),
  leftOut: (why.leftOut ?? []).map(one => ({ name: names.get(one.personId) ?? '', rule: one.rule, why: one.why })),
  lineIds: why.lineIds ? [...why.lineIds] : null,
})

/** Steps as the Sheet shows them: whom each asks and why, who decided it, and whether it waits on nobody who is there. */
export const stepsJson = (consent: KeptConsent | null, base: string, names: ReadonlyMap<string, string>): StepJson[] =>
  (consent?.kept ?? []).map(step => {
    const why: Partial<StepOrigin> = step.why
    return {
      id: step.id,
      stage: step.stage,
      approvers: step.people.map(person => {
        const because = why.because?.[person.id] ?? { kind: 'rule' as const }
        const of = 'personId' in because ? (names.get(because.personId) ?? '') : ''
        return { id: person.id, name: person.name, because: because.kind, of }
      }),
      ...whyJson(base, why, names),
      state: step.state,
      stalled: step.stall !== null,
      stall: step.stall,
      openedAt: step.openedAt,
      dueAt: step.pausedAt === null ? step.dueAt : null,
      paused: step.pausedAt !== null,
      channel: step.channel,
      inPlaceOf: step.inPlaceOf,
      decidedBy: step.decidedBy !== null && !step.approverIds.includes(step.decidedBy) ? step.decider : null,
      decidedAt: step.decidedAt,
      reason: step.reason,
    }
  })

/** Everybody whom the origins of a question's steps name. */
export const namedIn = (consent: KeptConsent | null): string[] =>
  (consent?.kept ?? []).flatMap(step => {
    const why: Partial<StepOrigin> = step.why
    return [
      ...Object.values(why.because ?? {}).flatMap(one => ('personId' in one ? [one.personId] : [])),
      ...(why.leftOut ?? []).map(one => one.personId),
    ]
  })
