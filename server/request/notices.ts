import { randomUUID } from 'node:crypto'
import type { BodyOf, QueryOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListNotices, NoticeJson, SaveNotice } from '#contract/request/forms.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { isShown } from '#core/request/notices.ts'
import { type Done, found, need, type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'

interface NoticeRow {
  id: string
  title: string
  body: string
  fromDay: string
  toDay: string
  costCentres: string[]
  categories: string[]
  suppliers: string[]
  byId: string
  at: string
  version: number
  withdrawnAt: string | null
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    purchaseNotices: NoticeRow
    noticeReads: { noticeId: string; personId: string; at: string }
  }
}

/** What purchasing wants said, here and now: running, meant for this person's cost centres, and about what is looked at. */
export async function listNotices(
  call: Read,
  query: QueryOf<typeof ListNotices>,
): Promise<ResponseOf<typeof ListNotices>> {
  const rows = await call
    .trx('purchaseNotices as notice')
    .join('people', 'people.id', 'notice.byId')
    .joinRaw('left join notice_reads as seen on seen.notice_id = notice.id and seen.person_id = ?', [call.actor.id])
    .orderBy('notice.at', 'desc')
    .limit(300)
    .select<NoticeJson[]>(
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
      call.trx.raw(
        'array(select name from suppliers where suppliers.id = any(notice.suppliers) order by name) as supplier_names',
      ),
    )
  if (query.all === 'yes') {
    need(call, 'notice.write')
    return { notices: rows }
  }
  const centres = await centresOf(call)
  const facts = {
    today: call.today,
    costCentres: centres,
    categories: split(query.categories),
    suppliers: split(query.suppliers),
  }
  const shown = rows.filter(
    row => row.withdrawnAt === null && isShown({ ...row, from: row.fromDay, to: row.toDay }, facts),
  )
  return { notices: shown.slice(0, 20) }
}

const split = (text: string | undefined): string[] => (text ?? '').split('|').filter(Boolean)

/** Cost centres that a person holds, is limited to, or asked for within the last year. */
async function centresOf(call: Read): Promise<string[]> {
  const { rows } = await call.trx.raw<{ rows: { code: string }[] }>(
    `select distinct a.cost_centre as code from requisitions r join requisition_lines l on l.requisition_id = r.id join line_splits s on s.requisition_line_id = l.id join budget_accounts a on a.id = s.account_id where r.requester_id = ? and r.created_at > ?::timestamptz - interval '1 year'`,
    [call.actor.id, call.now],
  )
  return [...new Set([...call.actor.costCentres, ...rows.map(row => row.code)])]
}

export async function saveNotice(call: Write, body: BodyOf<typeof SaveNotice>): Promise<Done> {
  const { id, version, ...content } = body
  if (content.toDay < content.fromDay) throw new RuleBroken(stop('notice.days', {}, { place: 'toDay' }))
  if (id === null) {
    const fresh = randomUUID()
    await call.trx('purchaseNotices').insert({ id: fresh, ...content, byId: call.actor.id, at: call.now })
    await record(call, { kind: 'notice', id: fresh, action: 'created' })
    return { id: fresh, version: 1 }
  }
  const row = await hold(call, 'notice', id, version)
  await call.trx('noticeReads').where({ noticeId: id }).delete()
  const columns = { ...content, at: call.now, byId: call.actor.id }
  return await move(call, 'notice', row, columns, { action: 'changed', changes: {}, reason: null })
}

export async function endNotice(call: Write, id: string, version: number): Promise<Done> {
  const row = await hold(call, 'notice', id, version)
  const did = { action: 'withdrawn', changes: {}, reason: null }
  return await move(call, 'notice', row, { withdrawnAt: call.now }, did)
}

/** A note that was read is not shown again to this person, unless it is changed. */
export async function markNoticeRead(call: Write, id: string): Promise<{ id: string }> {
  found(await call.trx('purchaseNotices').where({ id }).first('id'), 'notice')
  await call
    .trx('noticeReads')
    .insert({ noticeId: id, personId: call.actor.id, at: call.now })
    .onConflict(['noticeId', 'personId'])
    .ignore()
  return { id }
}
