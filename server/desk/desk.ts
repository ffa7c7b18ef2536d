import type { ResponseOf } from '#contract/endpoint.ts'
import type { DeskItem, ReadCounts } from '#contract/people/endpoints.ts'
import { audiencesOf, DESK_KEYS, STAGES, urgency } from '#core/desk/entry.ts'
import { formatAmount } from '#core/money/amount.ts'
import type { Read } from '#server/call.ts'
import type { DeskRow } from '#server/desk/deskStore.ts'

/** Entries that a Desk shows of one kind; the counts count all. */
const PER_KIND = 40

const WAITS = 'from_day <= :today and not (:me = any(not_for))'
const MINE = `audience = any(:mine) and ${WAITS}`

/** Everything that waits for this person, over all stages, the dearest to leave first. */
export async function readDesk(call: Read): Promise<{ items: DeskItem[] }> {
  const { rows } = await call.trx
    .raw<{ rows: DeskRow[] }>(
      `select * from (
         select *, row_number() over (partition by key order by need_by nulls last, since) as turn from (
           select distinct on (document_id, key, place) first.* from unnest(:mine::text[]) as a (name), unnest(:keys::text[]) as k (name), lateral (
             select * from desk_entries where audience = a.name and key = k.name and ${WAITS} order by need_by nulls last, since limit ${PER_KIND}) first
           order by document_id, key, place, audience) mine) waiting
       where turn <= ${PER_KIND}`,
      { ...bindings(call), keys: [...DESK_KEYS] },
    )
    .options({ name: 'desk-items' })
  const items = rows.map(toItem)
  return { items: items.sort((a, b) => (urgency(a) < urgency(b) ? -1 : 1)) }
}

const bindings = (call: Read): { mine: string[]; today: string; me: string } => ({
  mine: audiencesOf(call.actor),
  today: call.today,
  me: call.actor.id,
})

const toItem = (row: DeskRow): DeskItem => ({
  key: `${row.key}:${row.place === 0 ? '' : `${row.place}:`}${row.documentId}`,
  stage: row.stage,
  path: row.path,
  act: row.act,
  tone: row.tone,
  amount: row.amount === null || row.currency === null ? null : formatAmount(row.amount, row.currency),
  currency: row.currency,
  since: row.since,
  needBy: row.needBy,
  sentence: {
    code: `desk.${row.key}`,
    details: { who: '', extra: '', needBy: row.needBy ?? '', number: '', title: '', ...row.details },
  },
})

declare module 'knex/types/tables.js' {
  interface Tables {
    stageValues: { stage: string; amount: bigint; measuredAt: string }
  }
}

/** Counts for the Course: how many things wait for this person in each stage, in one query, and the open value there as last measured. */
export async function readCounts(call: Read): Promise<ResponseOf<typeof ReadCounts>> {
  const { rows } = await call.trx
    .raw<{ rows: { stage: string; waiting: number | null; amount: bigint | null }[] }>(
      `select coalesce(w.stage, v.stage) as stage, w.waiting, v.amount from (
         select stage, sum(waiting)::int as waiting from (
           select own.stage, own.waiting from unnest(:mine::text[]) as a (name), lateral (
             select stage, count(*) as waiting from desk_entries where audience = a.name and plain and from_day <= :today group by stage) own
           union all
           select stage, count(distinct (document_id, key, place)) from desk_entries where ${MINE} and not plain group by stage) counted
         group by stage) w
       full join stage_values v on v.stage = w.stage`,
      bindings(call),
    )
    .options({ name: 'desk-counts' })
  const byStage = new Map(rows.map(row => [row.stage, row]))
  return {
    desk: rows.reduce((sum, row) => sum + (row.waiting ?? 0), 0),
    currency: call.base,
    stages: STAGES.map(stage => ({
      stage,
      waiting: byStage.get(stage)?.waiting ?? 0,
      open: formatAmount(byStage.get(stage)?.amount ?? 0n, call.base),
    })),
  }
}
