import { randomUUID } from 'node:crypto'
import {
  type Asked,
  type Consent,
  type ConsentNext,
  type ConsentPurpose,
  type ConsentState,
  type ConsentStep,
  endConsent,
  type NewConsent,
  nextStage,
  openSteps,
  type StepState,
} from '#core/consent/consent.ts'
import { type AskedAbout, consentDesk } from '#core/consent/desk.ts'
import type { DeskEntry } from '#core/desk/entry.ts'
import { type AwayTime, isMissing } from '#core/consent/standIns.ts'
import { ableOf, type AskedPerson, type Stall, stallOf } from '#core/consent/stalled.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import type { DecidedKind } from '#core/rules/facts.ts'
import { isBeyond, type LimitedStep, RULED_PURPOSES } from '#core/rules/limits.ts'
import type { AskingRule, Because, LeftOut } from '#core/rules/path.ts'
import { usualHours } from '#core/request/pool.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { insertMany } from '#server/database/insert.ts'
import { byId, groupBy } from '#server/database/rows.ts'
import { type Clock, clockFor } from '#server/consent/clock.ts'
import { keepDesks } from '#server/desk/deskStore.ts'

interface ConsentRow {
  id: string
  purpose: ConsentPurpose
  documentKind: string
  documentId: string
  /** What of the document it is about, where one purpose may be asked about several things of it. */
  part: string
  round: number
  state: ConsentState
  subject: Record<string, unknown>
  about: KeptAbout
  reason: string
  askedBy: string
  askedAt: string
  endedAt: string | null
  version: number
  changedAt: string
}
interface ConsentStepRow {
  id: string
  consentId: string
  stage: number
  /** In which order its steps were asked. */
  position: number
  state: StepState
  asked: Asked[]
  /** The people whom it asks by name. */
  approverIds: string[]
  notBy: string[]
  label: string
  costCentre: string | null
  why: StepOrigin | Record<string, never>
  /** Why it stands still, as last looked at. */
  stall: Stall | null
  openedAt: string | null
  /** When its time is over, and since when its clock stands. */
  dueAt: string | null
  pausedAt: string | null
  remindedAt: string | null
  lateToldAt: string | null
  decidedBy: string | null
  onBehalfOf: string | null
  decidedAt: string | null
  reason: string | null
  /** How it was decided, and what was seen then: the version of the document and the hash over its content. */
  channel: string | null
  seenVersion: number | null
  seenHash: string | null
  /** The decision of before that stands for it, in which case nobody decided it anew. */
  stoodFrom: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    consents: ConsentRow
    consentSteps: ConsentStepRow
    awayTimes: AwayTimeRow
  }
}

export interface AwayTimeRow extends AwayTime {
  note: string
  version: number
  changedAt: string
}

/** How the document reads on a Desk, kept with the question, so that it can be told again without asking its stage. */
type KeptAbout = Omit<AskedAbout, 'amount' | 'askedAt'> & { readonly amount: string | null }

/** A question as it is kept, with what it carries out and how its steps came about. */
export interface KeptConsent extends Consent {
  readonly round: number
  readonly version: number
  readonly subject: Readonly<Record<string, unknown>>
  readonly reason: string
  readonly askedAt: string
  readonly about: KeptAbout
  readonly kept: readonly KeptStep[]
}
export type KeptStep = ConsentStepRow & {
  readonly people: readonly { readonly id: string; readonly name: string }[]
  /** Whom it asks, by name. */
  readonly who: string
  /** Who decided it, by name, in whose place. */
  readonly decider: string | null
  readonly inPlaceOf: string | null
}

export type About = Omit<AskedAbout, 'askedAt'>

/** How a step came about: the rules that ask, with the facts that made them apply, and why each person is asked. */
export interface StepOrigin {
  readonly rules: readonly (Omit<AskingRule, 'measured'> & { readonly measured: string | null })[]
  readonly because: Readonly<Record<string, Because>>
  /** The lines that it decides; null: all. */
  readonly lineIds: readonly string[] | null
  readonly hours: number | null
  readonly leftOut: readonly LeftOut[]
}

const UNKNOWN_ORIGIN: StepOrigin = { rules: [], because: {}, lineIds: null, hours: null, leftOut: [] }

/** How a step came about, as far as it was kept: of the oldest ones nothing was. */
export const originOfStep = (step: Pick<ConsentStepRow, 'why'>): StepOrigin => ({ ...UNKNOWN_ORIGIN, ...step.why })

/** A question with how its document reads, and how it came about. */
export interface Asking {
  readonly question: NewConsent
  readonly about: About
  readonly round?: number
  readonly origins?: readonly StepOrigin[]
  /** For each step a decision of before that stands for it. */
  readonly stands?: readonly (KeptStep | null)[]
  readonly id?: string
}

/**
 * Asks: the first stage is open from now on, and stands on the Desk of those who may decide. One open question of a purpose for each
 * document; the database holds to that.
 */
export const ask = async (
  call: Write,
  question: NewConsent,
  about: About,
  options: Pick<Asking, 'round' | 'origins' | 'stands' | 'id'> = {},
): Promise<KeptConsent> => (await askAll(call, [{ question, about, ...options }]))[0]!

/** Asks many questions at once. */
export async function askAll(call: Write, asked: readonly Asking[]): Promise<KeptConsent[]> {
  const timed = asked.flatMap(one => (one.origins ?? []).flatMap((origin, at) => (origin.hours === null ? [] : first(one.question.steps[at]?.asked)))) // prettier-ignore
  const clock = timed.length > 0 ? await clockFor(call, timed) : undefined
  const rows = asked.map(asking => consentRows(call, asking, clock))
  await insertMany(
    call.trx,
    'consents',
    rows.map(row => row.head),
  )
  await insertMany(
    call.trx,
    'consentSteps',
    rows.flatMap(row => row.steps),
  )
  const kept = await consentsById(
    call,
    rows.map(row => row.head.id),
  )
  return await keepStanding(
    call,
    rows.map(row => kept.get(row.head.id)!),
  )
}

/** On whose clocks the time of a step is counted: the first of those whom it asks. */
const first = (asked: readonly Asked[] | undefined): string[] => approversOf(asked ?? []).slice(0, 1)

function consentRows(
  call: Write,
  { question, about, round = 1, origins = [], stands = [], id = randomUUID() }: Asking,
  clock: Clock | undefined,
) {
  const begins = nextStage(
    question.steps.map((step, index) => ({
      id: String(index),
      stage: step.stage,
      state: stands[index] ? 'approved' : 'later',
    })),
  )
  const head = {
    id,
    purpose: question.purpose,
    documentKind: question.documentKind,
    documentId: question.documentId,
    part: question.part ?? '',
    round,
    state: begins.given ? ('given' as const) : ('open' as const),
    subject: json((question.subject ?? {}) as Record<string, unknown>),
    about: json({ ...about, amount: about.amount?.toString() ?? null }),
    reason: question.reason,
    askedBy: call.actor.id,
    askedAt: call.now,
    endedAt: begins.given ? call.now : null,
    changedAt: call.now,
  }
  const steps = question.steps.map((step, index) => {
    const open = begins.opens.includes(String(index))
    const stood = stands[index]
    return {
      id: randomUUID(),
      consentId: id,
      stage: step.stage,
      position: index + 1,
      state: stood ? ('approved' as const) : open ? ('open' as const) : ('later' as const),
      asked: json([...step.asked]),
      approverIds: approversOf(step.asked),
      notBy: [...step.notBy],
      label: step.label,
      openedAt: stood ? stood.openedAt : open ? call.now : null,
      decidedBy: stood?.decidedBy ?? null,
      onBehalfOf: stood?.onBehalfOf ?? null,
      decidedAt: stood?.decidedAt ?? null,
      reason: stood?.reason ?? null,
      channel: stood?.channel ?? null,
      seenVersion: stood?.seenVersion ?? null,
      seenHash: stood?.seenHash ?? null,
      stoodFrom: stood ? (stood.stoodFrom ?? stood.id) : null,
      dueAt: open ? dueAt(clock, step.asked, call.now, origins[index]?.hours ?? null) : null,
      costCentre: origins[index]?.rules[0]?.costCentre ?? null,
      why: json(origins[index] ?? {}),
    }
  })
  return { head, steps }
}

/** When the time of a step that opens now is over. */
const dueAt = (clock: Clock | undefined, asked: readonly Asked[], at: string, hours: number | null): string | null =>
  hours === null || !clock ? null : clock.after(first(asked)[0], at, hours)

/** The people whom a step asks by name. */
const approversOf = (asked: readonly Asked[]): string[] =>
  asked.flatMap(one => (one.kind === 'person' ? [one.personId] : []))

/** Writes what became of a question, and who decided what in whose place. */
export async function settleConsent(
  call: Write,
  consent: KeptConsent,
  next: ConsentNext,
  saw?: { readonly version: number; readonly hash: string },
): Promise<KeptConsent> {
  for (const answer of next.answers)
    await call
      .trx('consentSteps')
      .where({ id: answer.stepId })
      .update({
        state: answer.state,
        decidedBy: answer.decidedBy,
        onBehalfOf: answer.onBehalfOf,
        decidedAt: call.now,
        reason: answer.reason || null,
        channel: call.channel,
        stall: null,
        ...(saw ? { seenVersion: saw.version, seenHash: saw.hash } : {}),
      })
  await openTheSteps(
    call,
    consent.kept.filter(step => next.opens.includes(step.id)),
  )
  if (next.drops.length > 0)
    await call
      .trx('consentSteps')
      .whereIn('id', [...next.drops])
      .update({ state: 'dropped', stall: null })
  await call
    .trx('consents')
    .where({ id: consent.id })
    .update({
      state: next.state,
      endedAt: next.state === 'open' ? null : call.now,
      version: consent.version + 1,
      changedAt: call.now,
    })
  if (consent.purpose === 'approval' && next.state !== 'open') await endAside(call, consent.documentId)
  return await refreshConsent(call, consent.id)
}

/** What was asked about a question itself is over with it. */
async function endAside(call: Write, documentId: string): Promise<void> {
  const aside = await latestConsent(call, documentId, 'skip')
  if (aside?.state === 'open') await settleConsent(call, aside, endConsent(aside, 'dropped'))
}

/** Opens steps: their time begins now. */
async function openTheSteps(call: Write, steps: readonly KeptStep[]): Promise<void> {
  const timed = steps.filter(step => originOfStep(step).hours !== null)
  const clock = timed.length > 0 ? await clockFor(call, timed.flatMap(step => first(step.asked))) : undefined // prettier-ignore
  for (const step of steps)
    await call
      .trx('consentSteps')
      .where({ id: step.id })
      .update({
        state: 'open',
        openedAt: call.now,
        dueAt: dueAt(clock, step.asked, call.now, originOfStep(step).hours),
      })
}

/** Skips a step: nobody decides it any more. */
export async function skipConsentStep(
  call: Write,
  consent: KeptConsent,
  stepId: string,
  next: ConsentNext,
): Promise<KeptConsent> {
  await call
    .trx('consentSteps')
    .where({ id: stepId })
    .update({ state: 'skipped', decidedAt: call.now, stall: null, channel: call.channel })
  return await settleConsent(call, consent, next)
}

/** Asks one person more, beside those who are asked now. */
export async function addConsentStep(
  call: Write,
  consent: KeptConsent,
  step: { readonly stage: number; readonly asked: Asked; readonly notBy: readonly string[]; readonly label: string },
): Promise<void> {
  const position = Math.max(0, ...consent.kept.map(one => one.position)) + 1
  const personId = step.asked.kind === 'person' ? step.asked.personId : ''
  await insertMany(call.trx, 'consentSteps', [
    {
      id: randomUUID(),
      consentId: consent.id,
      stage: step.stage,
      position,
      state: 'open',
      asked: json([step.asked]),
      approverIds: approversOf([step.asked]),
      notBy: [...step.notBy],
      label: step.label,
      openedAt: call.now,
      why: json({ rules: [], because: { [personId]: { kind: 'added' } }, lineIds: null, hours: null, leftOut: [] }),
    },
  ])
  await refreshConsent(call, consent.id)
}

/** Gives a step to another person, who is asked for the same right and has the time for it that a rule gives. */
export async function passStep(call: Write, consentId: string, stepId: string, personId: string): Promise<void> {
  const step = found(await call.trx('consentSteps').where({ id: stepId }).first('asked', 'state', 'why'), 'step')
  const before = step.asked.find(one => one.kind === 'person')
  const asked: Asked[] = [{ ...(before?.kind === 'person' ? before : { kind: 'person' }), personId }]
  const { hours } = originOfStep(step)
  const clock = hours === null ? undefined : await clockFor(call, [personId])
  const begins = {
    openedAt: call.now,
    dueAt: dueAt(clock, asked, call.now, hours),
    pausedAt: null,
    remindedAt: null,
    lateToldAt: null,
  }
  await call
    .trx('consentSteps')
    .where({ id: stepId })
    .update({ asked: json(asked), approverIds: [personId], ...(step.state === 'open' ? begins : {}) })
  await refreshConsent(call, consentId)
}

/** Gives the open and later steps that a cost centre's old holder decides for it to the new one; nobody is made to decide what is their own. */
export async function moveSteps(call: Write, costCentre: string, fromId: string, toId: string): Promise<void> {
  const rows = await call
    .trx('consentSteps')
    .join('consents', 'consents.id', 'consentSteps.consentId')
    .where({ costCentre, approverIds: [fromId] })
    .whereIn('consentSteps.state', ['open', 'later'])
    .whereNot('consents.askedBy', toId)
    .orderBy('consentSteps.id')
    .select<{ id: string; consentId: string }[]>('consentSteps.id', 'consentSteps.consentId')
  for (const { id, consentId } of rows) await passStep(call, consentId, id, toId)
}

/** Tells those who decide of the document as it is now; the question stays. */
export async function retellConsent(call: Write, consent: KeptConsent, about: Partial<About>): Promise<KeptConsent> {
  const { amount, ...rest } = about
  const told = { ...consent.about, ...rest, ...(amount === undefined ? {} : { amount: amount?.toString() ?? null }) }
  await call
    .trx('consents')
    .where({ id: consent.id })
    .update({ about: json(told) })
  return await refreshConsent(call, consent.id)
}

/** Looks at a question anew after something about it was changed. */
export async function refreshConsent(call: Write, id: string): Promise<KeptConsent> {
  return (await keepStanding(call, [(await consentsById(call, [id])).get(id)!]))[0]!
}

/** Looks anew at what stands still, and keeps that and what waits on the Desks. */
export async function keepStanding(call: Write, consents: readonly KeptConsent[]): Promise<KeptConsent[]> {
  const looked = await withStalls(call, consents)
  for (const consent of looked)
    for (const step of consent.kept.filter(one => one.stall !== one.before))
      await call.trx('consentSteps').where({ id: step.id }).update({ stall: step.stall })
  await keepConsentDesks(call, looked)
  return looked
}

/** States of steps that nobody looks at any more. */
const OVER: readonly StepState[] = ['rejected', 'returned', 'skipped', 'dropped']

/** What stands still today among questions, and what was known of that before. */
export async function withStalls(call: Read, consents: readonly KeptConsent[]) {
  const ids = consents.flatMap(one => one.kept.flatMap(step => (OVER.includes(step.state) ? [] : step.approverIds)))
  const people = await peopleAsked(call, ids)
  const times = await awayTimesOf(call, ids)
  return consents.map(consent => {
    const amount = consent.amount
    const known = (id: string): AskedPerson => {
      const person = people.get(id)
      const missing = isMissing(times, id, call.today, { kind: consent.purpose, amount })
      return { id, active: person?.active ?? false, rights: person?.rights ?? [], missing }
    }
    const limited = consent.kept.map(limitedStep)
    const kind = RULED_PURPOSES[consent.purpose]
    const limitOf = (id: string): Minor | undefined => {
      const limit = kind === undefined ? undefined : people.get(id)?.limits?.[kind]
      return limit === undefined ? undefined : minor(BigInt(limit))
    }
    const kept = consent.kept.map((step, index) => {
      const asked = new Map(step.approverIds.map(id => [id, known(id)]))
      const beyond = isBeyond(limited[index]!, limited, limitOf)
      const stall = stallOf({ ...step, beyond }, asked, step.pausedAt === null ? step.dueAt : null, call.now)
      return { ...step, before: step.stall, stall, ableIds: ableOf(step, asked) }
    })
    return { ...consent, kept }
  })
}

/** A step as limits see it. */
const limitedStep = (step: KeptStep): LimitedStep => ({
  state: step.state,
  personIds: step.approverIds,
  rules: originOfStep(step).rules.map(({ name, costCentre, measured }) => ({
    name,
    costCentre,
    measured: measured === null ? null : minor(BigInt(measured)),
  })),
})

interface AskedRow {
  readonly id: string
  readonly active: boolean
  readonly rights: string[]
  readonly limits: Readonly<Partial<Record<DecidedKind, string>>> | null
}

async function peopleAsked(call: Read, ids: readonly string[]): Promise<Map<string, AskedRow>> {
  if (ids.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: AskedRow[] }>(
      `select p.id, p.active, (select json_object_agg(l.kind, l.amount::text) from person_limits l where l.person_id = p.id) as limits,
         array(select distinct unnest(permissions) from person_roles join roles on roles.code = person_roles.role where person_roles.person_id = p.id) as rights
       from people p where p.id = any(?)`,
      [[...new Set(ids)]],
    )
    .options({ name: 'people-asked' })
  return byId(rows)
}

/** Away times of some people that are not over. */
export const awayTimesOf = (call: Read, ids: readonly string[]): Promise<AwayTimeRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : call
        .trx('awayTimes')
        .whereIn('personId', [...new Set(ids)])
        .where('toDay', '>=', call.today)
        .orderBy(['fromDay', 'id'])

/** Keeps on the Desks what waits because of questions. */
export const keepConsentDesks = (call: Write, consents: readonly KeptConsent[]): Promise<void> =>
  keepDesks(
    call,
    consents.map(consent => ({ document: { kind: 'secondYes', id: consent.id }, entries: entriesOf(consent) })),
  )

/** What waits because of a question. */
export function entriesOf(consent: KeptConsent): DeskEntry[] {
  const { about } = consent
  const stalls = new Map(consent.kept.flatMap(step => (step.stall === null ? [] : [[step.id, step.stall] as const])))
  return consentDesk(consent, { ...about, amount: consent.amount, askedAt: consent.askedAt }, stalls)
}

type StepWithNames = ConsentStepRow & {
  people: { id: string; name: string }[]
  decider: string | null
  inPlaceOf: string | null
}

/** Questions by their ids, with their steps in order. */
export async function consentsById(call: Read, ids: readonly string[]): Promise<Map<string, KeptConsent>> {
  if (ids.length === 0) return new Map()
  const heads = await call.trx('consents').whereIn('id', [...ids])
  const { rows } = await call.trx
    .raw<{ rows: StepWithNames[] }>(
      `select s.*, coalesce((select json_agg(json_build_object('id', p.id, 'name', p.name) order by p.name)
         from people p where p.id = any(s.approver_ids)), '[]') as people, d.name as decider, b.name as in_place_of from consent_steps s
       left join people d on d.id = s.decided_by left join people b on b.id = s.on_behalf_of where s.consent_id = any(?) order by s.consent_id, s.stage, s.position, s.label, s.id`,
      [[...ids]],
    )
    .options({ name: 'consent-steps' })
  const steps = groupBy(rows, row => row.consentId)
  return new Map(heads.map(head => [head.id, toConsent(head, steps.get(head.id) ?? [])]))
}

function toConsent(head: ConsentRow, rows: readonly StepWithNames[]): KeptConsent {
  const steps = rows.map((row): ConsentStep => ({
    id: row.id,
    stage: row.stage,
    state: row.state,
    asked: row.asked,
    notBy: row.notBy,
    label: row.label,
    beyond: row.stall === 'limit',
    who:
      row.people.map(person => person.name).join(', ') ||
      row.asked.map(asked => (asked.kind === 'right' ? asked.right : '')).join(', '),
  }))
  const { amount, currency } = head.about
  return {
    ...head,
    amount: amount === null ? null : minor(BigInt(amount)),
    currency,
    steps,
    kept: rows.map((row, index) => ({ ...row, who: steps[index]!.who })),
  }
}

/** The latest question of a purpose about each of some documents. */
export async function latestConsents(
  call: Read,
  documentIds: readonly string[],
  purpose: ConsentPurpose,
): Promise<Map<string, KeptConsent>> {
  if (documentIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: { id: string; documentId: string }[] }>(
      'select distinct on (document_id) id, document_id from consents where document_id = any(?) and purpose = ? order by document_id, round desc, asked_at desc',
      [[...documentIds], purpose],
    )
    .options({ name: 'latest-consents' })
  const consents = await consentsById(
    call,
    rows.map(row => row.id),
  )
  return new Map(rows.map(row => [row.documentId, consents.get(row.id)!]))
}

/** All questions of a purpose about a document, the first first. */
export async function consentsOf(call: Read, documentId: string, purpose: ConsentPurpose): Promise<KeptConsent[]> {
  const heads = await call.trx('consents').where({ documentId, purpose }).orderBy(['round', 'askedAt']).select('id')
  const ids = heads.map(head => head.id)
  const known = await consentsById(call, ids)
  return ids.map(id => known.get(id)!)
}

export const latestConsent = async (
  call: Read,
  documentId: string,
  purpose: ConsentPurpose,
): Promise<KeptConsent | null> => (await latestConsents(call, [documentId], purpose)).get(documentId) ?? null

/** Tells the Desks anew about every question that waits on a person, after their account or their rights were changed. */
export async function refreshAskedOf(call: Write, personId: string): Promise<void> {
  const rows = await call
    .trx('consentSteps')
    .whereRaw('approver_ids @> ?', [[personId]])
    .where({ state: 'open' })
    .distinct<{ consentId: string }[]>('consentId')
  for (const { consentId } of rows) await refreshConsent(call, consentId)
}

/** People whom the open steps of a question wait for, by name. */
export const waitsFor = (consent: KeptConsent | null): string[] =>
  consent === null ? [] : [...new Set(openSteps(consent).map(step => step.who))]

/** Who said no to a question, or sent it back, last, and why. */
export function lastNo(consent: KeptConsent | null): { who: string; reason: string } {
  const step = [...(consent?.kept ?? [])].reverse().find(one => one.state === 'rejected' || one.state === 'returned')
  return { who: step?.decider ?? step?.who ?? '', reason: step?.reason ?? '' }
}

/** How many hours decisions of these people usually take, from their last ones; nothing where there are too few. */
export async function usualHoursOf(call: Read, personIds: readonly string[]): Promise<number | null> {
  if (personIds.length === 0) return null
  const { rows } = await call.trx
    .raw<{ rows: { hours: number }[] }>(
      `select extract(epoch from s.decided_at - s.opened_at)::float8 / 3600 as hours from consent_steps s join consents c on c.id = s.consent_id and c.purpose = 'approval'
       where s.decided_by = any(?) and s.opened_at is not null and s.stood_from is null order by s.decided_at desc limit 20`,
      [[...personIds]],
    )
    .options({ name: 'usual-hours' })
  return usualHours(rows.map(row => row.hours))
}
