import { stringify } from 'csv-stringify/sync'
import type { QueryOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvidence } from '#contract/decide/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import type { ConsentPurpose } from '#core/consent/consent.ts'
import { type DutiesDone, separation, timeByDecider } from '#core/decide/separation.ts'
import { DOCUMENT_KINDS } from '#core/documents/kinds.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { RULED_PURPOSES } from '#core/rules/limits.ts'
import type { Read } from '#server/call.ts'
import type { StepOrigin } from '#server/consent/consentStore.ts'
import { byId } from '#server/database/rows.ts'
import { seesAll, visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { harmless } from '#server/formats/cells.ts'
import { writeEvidencePdf } from '#server/formats/evidencePdf.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { readSetting } from '#server/house/house.ts'
import { personNames } from '#server/people/peopleStore.ts'

export type Evidence = ResponseOf<typeof ReadEvidence>
type Period = QueryOf<typeof ReadEvidence>

/** Decisions that a page shows; the files hold all up to the most. */
const SHOWN = 500
const MOST = 20_000

interface DecisionRow {
  id: string
  path: string
  at: string
  number: string
  title: string
  requester: string
  total: bigint | null
  decider: string
  inPlaceOf: string | null
  channel: string | null
  state: string
  reason: string | null
  label: string
  why: Partial<StepOrigin>
  ruleVersion: number | null
  seenHash: string | null
  hours: number | null
}

/** @throws RuleBroken evidence.period */
function bindingsOf(call: Read, { fromDay, toDay }: Period, limit: number) {
  if (toDay < fromDay) throw new RuleBroken(stop('evidence.period', {}, { place: 'toDay' }))
  return { ...visibleBindings(call), from: fromDay, until: addDays(toDay, 1), limit, zone: call.house.zone }
}

/** Decisions about requests, and about everything else that rules can decide, the last first. */
async function decisionsIn(call: Read, period: Period, limit: number): Promise<DecisionRow[]> {
  const all = [...(await aboutRequests(call, period, limit)), ...(await aboutOthers(call, period, limit))]
  return all.sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : a.id < b.id ? -1 : 1)).slice(0, limit)
}

const RULE_VERSION = `(select max(v.number) from rules r join rule_sets v on v.id = r.set_id where r.id in (select (one ->> 'ruleId')::uuid from jsonb_array_elements(coalesce(s.why -> 'rules', '[]')) one)) as rule_version`
const STEP = `s.channel, s.state, s.reason, s.label, s.why, s.seen_hash, extract(epoch from s.decided_at - s.opened_at)::float8 / 3600 as hours, ${RULE_VERSION}`
const WITHIN = `s.stood_from is null and s.decided_at >= (:from::date)::timestamp at time zone :zone and s.decided_at < (:until::date)::timestamp at time zone :zone`

async function aboutRequests(call: Read, period: Period, limit: number): Promise<DecisionRow[]> {
  const { rows } = await call.trx.raw<{ rows: DecisionRow[] }>(
    `select s.id, '/decide/' || requisitions.id as path, s.decided_at as at, requisitions.number, requisitions.title, q.name as requester, requisitions.total, d.name as decider, b.name as in_place_of, ${STEP}
     from consent_steps s join consents c on c.id = s.consent_id and c.purpose = 'approval' join requisitions on requisitions.id = c.document_id
     join people q on q.id = requisitions.requester_id join people d on d.id = s.decided_by left join people b on b.id = s.on_behalf_of
     where ${WITHIN} and ${visibleSql(call, 'requisition', 'requisitions')} order by s.decided_at desc, s.id limit :limit`,
    bindingsOf(call, period, limit) as never,
  )
  return rows
}

/** Kinds of question beside requests that rules can decide. */
const OTHERS = (Object.keys(RULED_PURPOSES) as ConsentPurpose[]).filter(purpose => purpose !== 'approval')

/** Seen by those who see all such documents, and by who asked, was asked or decided. */
async function aboutOthers(call: Read, period: Period, limit: number): Promise<DecisionRow[]> {
  const { rows } = await call.trx.raw<{ rows: DecisionRow[] }>(
    `select s.id, c.about ->> 'path' as path, s.decided_at as at, c.about ->> 'number' as number, c.about ->> 'title' as title, q.name as requester, (c.about ->> 'amount')::bigint as total, d.name as decider, b.name as in_place_of, ${STEP}
     from consent_steps s join consents c on c.id = s.consent_id and c.purpose = any(:others)
     join people q on q.id = c.asked_by join people d on d.id = s.decided_by left join people b on b.id = s.on_behalf_of
     where ${WITHIN} and (c.document_kind = any(:kinds) or c.asked_by = :me or s.decided_by = :me or :me = any(s.approver_ids)) order by s.decided_at desc, s.id limit :limit`,
    {
      ...bindingsOf(call, period, limit),
      others: OTHERS,
      kinds: DOCUMENT_KINDS.filter(kind => seesAll(call, kind)),
    } as never,
  )
  return rows
}

/** Who asked for, decided, received and paid each request that was submitted in a time. */
async function dutiesIn(call: Read, period: Period) {
  const { rows } = await call.trx.raw<{
    rows: {
      id: string
      number: string
      title: string
      requested: string[]
      decided: string[]
      received: string[]
      paid: string[]
    }[]
  }>(
    `with asked as (select requisitions.id, requisitions.number, requisitions.title, requisitions.requester_id from requisitions
         where submitted_at >= (:from::date)::timestamp at time zone :zone and submitted_at < (:until::date)::timestamp at time zone :zone and ${visibleSql(call, 'requisition', 'requisitions')} limit :limit),
       bought as (select distinct a.id, o.id as line_id, o.order_id from asked a join requisition_lines l on l.requisition_id = a.id join order_lines o on o.requisition_line_id = l.id)
     select a.id, a.number, a.title, array[a.requester_id] as requested,
       array(select distinct s.decided_by from consents c join consent_steps s on s.consent_id = c.id where c.document_id = a.id and c.purpose = 'approval' and s.state = 'approved' and s.decided_by is not null) as decided,
       array(select distinct r.by_id from bought b join receipt_lines rl on rl.order_line_id = b.line_id join receipts r on r.id = rl.receipt_id and r.state = 'posted' where b.id = a.id) as received,
       array(select distinct who from bought b join invoice_lines il on il.order_line_id = b.line_id join payments p on p.invoice_id = il.invoice_id and p.state in ('sent', 'accepted', 'paid') join payment_runs pr on pr.id = p.run_id,
         lateral unnest(array[pr.proposed_by, pr.approved_by]) who where b.id = a.id and who is not null) as paid
     from asked a order by a.number`,
    bindingsOf(call, period, MOST) as never,
  )
  return rows
}

export async function readEvidence(call: Read, period: Period, limit = SHOWN): Promise<Evidence> {
  const all = await decisionsIn(call, period, MOST)
  const duties = await dutiesIn(call, period)
  const exceptions = separation(
    duties.map(({ id, requested, decided, received, paid }): DutiesDone => ({
      id,
      by: { requested, decided, received, paid },
    })),
  )
  const purchases = byId(duties)
  const names = await personNames(
    call,
    exceptions.map(one => one.personId),
  )
  return {
    currency: call.base,
    decisions: all.slice(0, limit).map(row => ({
      id: row.id,
      at: row.at,
      number: row.number,
      title: row.title,
      path: row.path,
      requester: row.requester,
      amount: row.total === null ? null : formatAmount(minor(row.total), call.base),
      decider: row.decider,
      inPlaceOf: row.inPlaceOf,
      channel: row.channel ?? 'web',
      outcome: row.state,
      reason: row.reason ?? '',
      rules:
        (row.why.rules ?? []).map(rule => [rule.name, rule.costCentre].filter(Boolean).join(', ')).join('; ') ||
        row.label,
      ruleVersion: row.ruleVersion,
      seen: row.seenHash,
      hours: row.hours === null ? null : Math.round(row.hours * 10) / 10,
    })),
    more: Math.max(0, all.length - limit),
    times: timeByDecider(all.flatMap(row => (row.hours === null ? [] : [{ decider: row.decider, hours: row.hours }]))),
    purchases: duties.length,
    exceptions: exceptions.map(one => ({
      id: one.id,
      number: purchases.get(one.id)!.number,
      title: purchases.get(one.id)!.title,
      path: `/request/${one.id}`,
      person: names.get(one.personId) ?? '',
      duties: [...one.duties],
    })),
  }
}

const COLUMNS = ['kind', 'at', 'number', 'title', 'requester', 'amount', 'currency', 'person', 'in_place_of', 'channel', 'did', 'reason', 'rules', 'rule_version', 'seen_sha256', 'hours'] // prettier-ignore

/** All decisions of a time as a CSV file (RFC 4180), and as rows of another kind whoever did more than one thing about one purchase. */
export async function evidenceCsv(call: Read, period: Period): Promise<FileAnswer> {
  const { decisions, exceptions, currency } = await readEvidence(call, period, MOST)
  const rows = [
    ...decisions.map(one => ['decision', one.at, one.number, one.title, one.requester, one.amount ?? '', one.amount === null ? '' : currency, one.decider, one.inPlaceOf ?? '', one.channel, one.outcome, one.reason, one.rules, one.ruleVersion ?? '', one.seen ?? '', one.hours ?? '']), // prettier-ignore
    ...exceptions.map(one => ['exception', '', one.number, one.title, '', '', '', one.person, '', '', one.duties.join(' and '), '', '', '', '', '']), // prettier-ignore
  ]
  const text = stringify([COLUMNS, ...rows.map(row => row.map(cell => harmless(String(cell))))], { bom: true, record_delimiter: 'windows' }) // prettier-ignore
  return {
    name: `decisions-${period.fromDay}-${period.toDay}.csv`,
    mediaType: 'text/csv; charset=utf-8',
    bytes: Buffer.from(text),
  }
}

/** The same as a printed report. */
export async function evidencePdf(call: Read, period: Period): Promise<FileAnswer> {
  const evidence = await readEvidence(call, period, 2000)
  const house = { name: call.house.name, logo: (await readSetting(call, 'logo')) ?? null }
  const bytes = await writeEvidencePdf(evidence, period, house)
  return { name: `decisions-${period.fromDay}-${period.toDay}.pdf`, mediaType: 'application/pdf', bytes, inline: true }
}
