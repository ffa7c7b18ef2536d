import type { ResponseOf } from '#contract/endpoint.ts'
import type { DeskItem, ReadCounts, ReadDesk } from '#contract/desk/endpoints.ts'
import { deskKeysOf } from '#core/consent/desk.ts'
import { audiencesOf, DESK_KEYS, forPerson, STAGES, urgency } from '#core/desk/entry.ts'
import { formatAmount } from '#core/money/amount.ts'
import type { Read } from '#server/call.ts'
import type { DeskRow } from '#server/desk/deskStore.ts'
import { withinLimit } from '#server/people/stoodFor.ts'

/** Entries that a Desk shows of one kind; the counts count all. */
const PER_KIND = 40

const WAITS = 'from_day <= :today and not (:me = any(not_for))'
/** How far an audience is this person's: for which things, up to which amount. */
const WITHIN = `(a.keys is null or key = any(string_to_array(a.keys, ','))) and ${withinLimit('a.most', 'a.unit', 'amount', 'currency')}`
const AUDIENCES = 'unnest(:mine::text[], :keysOf::text[], :most::bigint[], :unit::text[]) as a (name, keys, most, unit)'
/** What narrows the entries of this person's audiences. */
const MINE_TOO = `exists (select 1 from ${AUDIENCES} where a.name = audience and ${WITHIN}) and ${WAITS}`
/** The first part is what an index finds. */
const MINE = `audience = any(:mine::text[]) and ${MINE_TOO}`

/** Everything that waits for this person, over all stages, the dearest to leave first, and what they put off. */
export async function readDesk(call: Read): Promise<ResponseOf<typeof ReadDesk>> {
  const { rows } = await call.trx
    .raw<{ rows: DeskRow[] }>(
      `select * from (
         select *, row_number() over (partition by key order by need_by nulls last, since) as turn from (
           select distinct on (document_id, key, place) first.* from ${AUDIENCES}, unnest(:keys::text[]) as k (name), lateral (
             select * from desk_entries where audience = a.name and key = k.name and ${WITHIN} and ${WAITS} order by need_by nulls last, since limit ${PER_KIND}) first
           order by document_id, key, place, audience = any(:others), audience) mine) waiting
       where turn <= ${PER_KIND}`,
      { ...bindings(call), keys: [...DESK_KEYS] },
    )
    .options({ name: 'desk-items' })
  const put = await putOff(call)
  const names = await namesOf(call)
  const items = rows.map(row => toItem(row, names))
  return {
    items: items.filter(item => !put.has(item.key)).sort((a, b) => (urgency(a) < urgency(b) ? -1 : 1)),
    later: items
      .filter(item => put.has(item.key))
      .map(({ key, path, sentence }) => ({ key, path, sentence, until: put.get(key)! }))
      .sort((a, b) => (a.until < b.until ? -1 : 1)),
  }
}

/** What waits for this person of some keys, all of it, once for each audience that they belong to. */
export async function deskRows(call: Read, keys: readonly string[]): Promise<DeskRow[]> {
  const { rows } = await call.trx
    .raw<{ rows: DeskRow[] }>(`select * from desk_entries where key = any(:keys) and ${MINE}`, {
      ...bindings(call),
      keys: [...keys],
    })
    .options({ name: 'desk-rows' })
  return rows
}

const keyOf = (row: Pick<DeskRow, 'key' | 'place' | 'documentId'>): string =>
  `${row.key}:${row.place === 0 ? '' : `${row.place}:`}${row.documentId}`

/** What this person has put off, with the day until when. */
async function putOff(call: Read): Promise<Map<string, string>> {
  const rows = await call.trx('putOff').where({ personId: call.actor.id }).where('until', '>', call.today)
  return new Map(rows.map(row => [keyOf(row), row.until]))
}

/** Those in whose place this person acts today, by the audience that is theirs. */
async function namesOf(call: Read): Promise<Map<string, string>> {
  if (call.actor.standsInFor.length === 0) return new Map()
  const ids = call.actor.standsInFor.map(one => one.id)
  const people = await call.trx('people').whereIn('id', ids).select('id', 'name')
  return new Map(people.map(person => [forPerson(person.id), person.name]))
}

function bindings(call: Read) {
  const audiences = audiencesOf(call.actor)
  return {
    mine: audiences.map(one => one.name),
    own: audiences.flatMap(one => (one.stoodFor === null ? [one.name] : [])),
    others: audiences.flatMap(one => (one.stoodFor === null ? [] : [one.name])),
    keysOf: audiences.map(({ stoodFor }) => (stoodFor?.kinds ? deskKeysOf(stoodFor.kinds).join(',') : null)),
    most: audiences.map(({ stoodFor }) => stoodFor?.limit?.amount ?? null),
    unit: audiences.map(({ stoodFor }) => stoodFor?.limit?.currency ?? null),
    today: call.today,
    me: call.actor.id,
  }
}

const toItem = (row: DeskRow, names: ReadonlyMap<string, string>): DeskItem => ({
  key: keyOf(row),
  documentKind: row.documentKind,
  documentId: row.documentId,
  standsInFor: names.get(row.audience) ?? null,
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
    putOff: { personId: string; documentId: string; key: string; place: number; until: string }
    stageValues: { stage: string; amount: bigint; measuredAt: string }
  }
}

/** Counts for the Course: how many things wait for this person in each stage, in one query, and the open value there as last measured. */
export async function readCounts(call: Read): Promise<ResponseOf<typeof ReadCounts>> {
  const { rows } = await call.trx
    .raw<{ rows: { stage: string; waiting: number | null; amount: bigint | null }[] }>(
      `select coalesce(w.stage, v.stage) as stage, w.waiting, v.amount from (
         select stage, sum(waiting)::int as waiting from (
           select own.stage, own.waiting from unnest(:own::text[]) as a (name), lateral (
             select stage, count(*) as waiting from desk_entries where audience = a.name and plain and from_day <= :today group by stage) own
           union all
           select stage, count(distinct (document_id, key, place)) from desk_entries where ((audience = any(:own) and not plain) or audience = any(:others)) and ${MINE_TOO} group by stage
           union all
           select stage, -count(distinct (document_id, key, place)) from put_off p join desk_entries using (document_id, key, place)
             where p.person_id = :me::uuid and p.until > :today and ${MINE} group by stage) counted
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
