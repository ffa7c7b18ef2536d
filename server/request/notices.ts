import { randomUUID } from 'node:crypto'
import type { BodyOf, QueryOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListNotices, NoticeJson, SaveNotice } from '#contract/request/forms.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { isShown } from '#core/request/notices.ts'
import { type Call, type Done, found, guardVersion, need } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'

interface NoticeRow {
  id: string
  title: string
  body: string
  fromDay: string
  toDay: string
  costCentres: string[]
  categories: string[]
  suppliers: string[]
  at: string
  version: number
  withdrawnAt: string | null
  by: string
  read: boolean
  supplierNames: string[]
}

/** What purchasing wants said, here and now: running, meant for this person's cost centres, and about what is looked at. */
export async function listNotices(call: Call, query: QueryOf<typeof ListNotices>): Promise<ResponseOf<typeof ListNotices>> {
  const rows = (await call
    .trx('purchaseNotices as notice')
    .join('people', 'people.id', 'notice.byId')
    .joinRaw('left join notice_reads as seen on seen.notice_id = notice.id and seen.person_id = ?', [call.actor.id])
    .orderBy('notice.at', 'desc')
    .limit(300)
    .select(
      'notice.id',
      'title',
      'body',
      'fromDay',
      'toDay',
      'costCentres',
      'categories',
      'suppliers',
      'notice.at',
      'notice.version',
      'withdrawnAt',
      'people.name as by',
      call.trx.raw('seen.person_id is not null as read'),
      call.trx.raw('array(select name from suppliers where suppliers.id = any(notice.suppliers) order by name) as supplier_names'),
    )) as NoticeRow[]
  if (query.all === 'yes') {
    need(call, 'notice.write')
    return { notices: rows as unknown as NoticeJson[] }
  }
  const centres = await centresOf(call)
  const facts = { today: call.today, costCentres: centres, categories: split(query.categories), suppliers: split(query.suppliers) }
  const shown = rows.filter(row => row.withdrawnAt === null && isShown({ ...row, from: row.fromDay, to: row.toDay }, facts))
  return { notices: shown.slice(0, 20) as unknown as NoticeJson[] }
}

const split = (text: string | undefined): string[] => (text ?? '').split('|').filter(Boolean)

/** Cost centres that a person holds, is limited to, or asked for within the last year. */
async function centresOf(call: Call): Promise<string[]> {
  const { rows } = (await call.trx.raw(
    `select distinct a.cost_centre as code from requisitions r join requisition_lines l on l.requisition_id = r.id, jsonb_array_elements(l.splits) s join budget_accounts a on a.id = (s ->> 'accountId')::uuid where r.requester_id = ? and r.created_at > ?::timestamptz - interval '1 year'`,
    [call.actor.id, call.now],
  )) as { rows: { code: string }[] }
  return [...new Set([...call.actor.costCentres, ...rows.map(row => row.code)])]
}

export async function saveNotice(call: Call, body: BodyOf<typeof SaveNotice>): Promise<Done> {
  const { id, version, ...content } = body
  if (content.toDay < content.fromDay) throw new RuleBroken(stop('notice.days', {}, { place: 'toDay' }))
  if (id === null) {
    const fresh = randomUUID()
    await call.trx('purchaseNotices').insert({ id: fresh, ...content, byId: call.actor.id, at: call.now })
    await record(call, { kind: 'notice', id: fresh, action: 'created' })
    return { id: fresh, version: 1 }
  }
  const row = found((await call.trx('purchaseNotices').where({ id }).forUpdate().first()) as NoticeRow | undefined, 'notice')
  await guardVersion(call, row, version)
  await call
    .trx('purchaseNotices')
    .where({ id })
    .update({ ...content, version: version + 1, at: call.now, byId: call.actor.id })
  await call.trx('noticeReads').where({ noticeId: id }).delete()
  await record(call, { kind: 'notice', id, action: 'changed' })
  return { id, version: version + 1 }
}

export async function endNotice(call: Call, id: string, version: number): Promise<Done> {
  const row = found((await call.trx('purchaseNotices').where({ id }).forUpdate().first()) as NoticeRow | undefined, 'notice')
  await guardVersion(call, row, version)
  await call
    .trx('purchaseNotices')
    .where({ id })
    .update({ withdrawnAt: call.now, version: version + 1 })
  await record(call, { kind: 'notice', id, action: 'withdrawn' })
  return { id, version: version + 1 }
}

/** A note that was read is not shown again to this person, unless it is changed. */
export async function markNoticeRead(call: Call, id: string): Promise<{ id: string }> {
  found(await call.trx('purchaseNotices').where({ id }).first('id'), 'notice')
  await call.trx('noticeReads').insert({ noticeId: id, personId: call.actor.id, at: call.now }).onConflict(['noticeId', 'personId']).ignore()
  return { id }
}
