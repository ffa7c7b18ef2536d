import type { Write } from '#server/call.ts'
import { clockFor } from '#server/consent/clock.ts'
import { refreshConsent } from '#server/consent/consentStore.ts'

/** Stops the clock of a decision, while whoever takes it waits for an answer. */
export async function pauseStep(call: Write, consentId: string, stepId: string): Promise<void> {
  await call.trx('consentSteps').where({ id: stepId, pausedAt: null }).update({ pausedAt: call.now })
  await refreshConsent(call, consentId)
}

/** Lets the clocks of decisions go on: each has as many working hours left as it had. */
export async function resumeSteps(call: Write, stepIds: readonly string[]): Promise<void> {
  const steps = await call
    .trx('consentSteps')
    .whereIn('id', [...new Set(stepIds)])
    .whereNotNull('pausedAt')
    .select('id', 'consentId', 'pausedAt', 'dueAt', 'approverIds')
  const clock = await clockFor(
    call,
    steps.flatMap(step => step.approverIds.slice(0, 1)),
  )
  for (const step of steps) {
    const [who] = step.approverIds
    const left = step.dueAt === null ? null : clock.between(who, step.pausedAt!, step.dueAt)
    await call
      .trx('consentSteps')
      .where({ id: step.id })
      .update({ pausedAt: null, dueAt: left === null ? null : clock.after(who, call.now, left) })
    await refreshConsent(call, step.consentId)
  }
}
