import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import {
  type ChangeAwardPlan,
  PlanSoFar,
  type ReadAwardPlan,
  type ReadPlanProgress,
  type RecheckAwardPlan,
} from '#contract/award/plans.ts'
import { withTerms } from '#core/award/eventFacts.ts'
import { whyNotPlan, whyNotTerms } from '#core/award/whyNotPlan.ts'
import { planAgain } from '#core/award/planAgain.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { whyNotPropose } from '#core/source/askAward.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { refuse } from '#server/documents/obey.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { leaveDesk, readJob, startJob, stopJob } from '#server/jobs/longJobs.ts'
import { documentTopic, tell } from '#server/news/tell.ts'
import { heldEvent, knownEvent } from '#server/source/eventStore.ts'
import { type AwardPlanRunRow, factsOf, planOf, runsOf } from '#server/award/planStore.ts'

type Plan = ResponseOf<typeof ReadAwardPlan>

/** Wishes and terms of an event, what it is planned with, and the newest computation. */
export async function readAwardPlan(call: Read, id: string): Promise<Plan> {
  await needVisible(call, 'event', id)
  const event = await knownEvent(call, id)
  const { facts, all } = await factsOf(call, event)
  const plan = await planOf(call, id)
  const [run, ...earlier] = await runsOf(call, id, 4)
  const names = new Map(all.suppliers.map(one => [one.supplierId, one.name]))
  const reasons = whyNotPlan(event, all.answers.size, call.now)
  const best = earlier.find(one => one.outcome)?.outcome?.rows.find(row => row.key === 'best')
  return {
    reasons: reasonsJson(reasons),
    version: plan.version,
    number: event.number,
    title: event.title,
    currency: event.currency,
    ratesOn: all.ratesOn,
    mayPlan: call.actor.rights.has('event.write') && reasons.length === 0,
    mayPropose: reasons.length === 0 && whyNotPropose(event, call.actor, call.now).length === 0,
    eventVersion: event.row.version,
    wishes: plan.wishes as Plan['wishes'],
    terms: plan.terms as Plan['terms'],
    lines:
      reasons.length > 0
        ? []
        : all.comparison.lines.map(({ line }) => ({
            id: line.id,
            position: line.position,
            description: line.description,
            quantity: line.quantity,
            unit: line.unit,
            incumbentId: facts.lines.find(one => one.id === line.id)?.incumbentId ?? null,
          })),
    suppliers:
      reasons.length > 0
        ? []
        : facts.suppliers.map(({ id: supplierId, country, score, isNew }) => ({
            id: supplierId,
            name: names.get(supplierId) ?? '',
            country,
            score,
            isNew,
          })),
    bids:
      reasons.length > 0
        ? []
        : facts.bids.map(({ lineId, supplierId, tiers, capacity, leadDays }) => ({
            lineId,
            supplierId,
            unitCost: tiers[0]!.unitCost,
            capacity,
            leadDays,
          })),
    run: run && reasons.length === 0 ? await runJson(call, run, JSON.stringify(withTerms(facts, plan.terms))) : null,
    before: best ? { cost: best.cost, shares: best.shares.map(one => ({ ...one })) } : null,
  }
}

async function runJson(call: Read, run: AwardPlanRunRow, factsNow: string): Promise<Plan['run']> {
  const job = found(await call.trx('longJobs').where({ id: run.jobId }).first(), 'longJob')
  const by = await call.trx('people').where({ id: run.byId }).first('name')
  return {
    id: run.id,
    state: job.state,
    jobId: job.id,
    failure: job.failure,
    by: by?.name ?? '',
    at: run.at,
    seconds: run.seconds === null ? null : Number(run.seconds),
    outcome: run.outcome as NonNullable<Plan['run']>['outcome'],
    wishes: run.wishes as Plan['wishes'],
    outdated: sorted(run.facts) !== sorted(JSON.parse(factsNow)),
  }
}

/** How far the newest computation of an event is, and what it has so far. */
export async function readPlanProgress(call: Read, id: string): Promise<ResponseOf<typeof ReadPlanProgress>> {
  await needVisible(call, 'event', id)
  const [run] = await runsOf(call, id, 1)
  const job = await readJob(call, found(run, 'plan').jobId)
  const soFar = PlanSoFar.safeParse(job.result)
  return { job, soFar: soFar.success ? soFar.data : null }
}

/** The same text for the same facts, whatever order their parts were kept in. */
const sorted = (value: unknown): string =>
  JSON.stringify(value, (_key, one: unknown) =>
    one !== null && typeof one === 'object' && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).sort(([a], [b]) => (a < b ? -1 : 1)))
      : one,
  )

/** Keeps wishes and terms, and computes anew with what is known now; a computation that still runs is ended. */
export async function changeAwardPlan(call: Write, id: string, body: BodyOf<typeof ChangeAwardPlan>): Promise<Done> {
  const event = await heldEvent(call, id)
  const { facts, all } = await factsOf(call, event)
  refuse([...whyNotPlan(event, all.answers.size, call.now), ...whyNotTerms(facts, body.terms)])
  const plan = await planOf(call, id)
  if (plan.version !== body.version) throw new RuleBroken(stop('plan.changed'))
  const kept = {
    wishes: json(body.wishes) as never,
    terms: json(body.terms) as never,
    changedBy: call.actor.id,
    changedAt: call.now,
  }
  const version = plan.version + 1
  await call
    .trx('awardPlans')
    .insert({ eventId: id, version, ...kept })
    .onConflict('eventId')
    .merge({ version, ...kept })
  const [running] = await runsOf(call, id, 1)
  if (running) await stopJob(call, running.jobId)
  const runId = randomUUID()
  const job = await startJob(call, 'awardPlan', { runId })
  await leaveDesk(call, job.id)
  await call.trx('awardPlanRuns').insert({
    id: runId,
    eventId: id,
    jobId: job.id,
    facts: json(withTerms(facts, body.terms)) as never,
    wishes: kept.wishes,
    outcome: null,
    byId: call.actor.id,
    at: call.now,
    seconds: null,
  })
  await tell(call, [documentTopic(id)])
  return { id, version }
}

export async function stopAwardPlan(call: Write, id: string): Promise<{ stopped: boolean }> {
  await needVisible(call, 'event', id)
  const [run] = await runsOf(call, id, 1)
  return { stopped: run ? await stopJob(call, run.jobId) : false }
}

/** Adds the newest plans up again from what they were made of, with code that shares nothing with what found them. */
export async function recheckAwardPlan(call: Read, id: string): Promise<ResponseOf<typeof RecheckAwardPlan>> {
  await needVisible(call, 'event', id)
  const runs = await runsOf(call, id, 4)
  const run = found(runs.find(one => one.outcome), 'plan') // prettier-ignore
  return { plans: planAgain(run.facts, run.wishes, run.outcome!) }
}
