import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { LISTS } from '#contract/api/endpoints.ts'
import type { AskedJson, ChangeView, KeepView, ReadViewAudience, ReadViews } from '#contract/lists/views.ts'
import type { Permission } from '#contract/permissions.ts'
import type { ColumnLook } from '#core/lists/looks.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, may, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'

interface SavedViewRow {
  id: string
  list: string
  name: string
  ownerId: string
  asked: AskedJson
  columns: ColumnLook[]
  roles: string[]
  people: string[]
  version: number
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    savedViews: SavedViewRow
  }
}

/** Views of one person and one list, at most: more are not found again. */
const MOST_VIEWS = 60

/** The right that a list takes. @throws RuleBroken list.unknown, right.missing */
function needList(call: Read, name: string): Permission {
  const list = LISTS.get(name)
  if (!list) throw new RuleBroken(stop('list.unknown', { list: name }))
  const permission = list.page.permission as Permission
  if (!may(call, permission)) throw new RuleBroken(stop('right.missing', { permission }))
  return permission
}

/** Views that are this person's, or shared with them or with a role of theirs. */
const SEEN = '(saved_views.owner_id = :me or :me = any(saved_views.people) or saved_views.roles && :roles::text[])'

export async function readViews(call: Read, list: string): Promise<ResponseOf<typeof ReadViews>> {
  needList(call, list)
  const rows = await call
    .trx('savedViews')
    .join('people', 'people.id', 'savedViews.ownerId')
    .where({ list })
    .whereRaw(SEEN, { me: call.actor.id, roles: [...call.actor.roles] })
    .orderByRaw('saved_views.owner_id <> ?, lower(saved_views.name)', [call.actor.id])
    .limit(MOST_VIEWS * 4)
    .select<(SavedViewRow & { owner: string })[]>('savedViews.*', 'people.name as owner')
  const start = await call
    .trx('preferences')
    .where({ personId: call.actor.id, key: 'start', subject: list })
    .first('value')
  return {
    views: rows.map(({ id, name, owner, ownerId, asked, columns, roles, people, version }) => {
      const mine = ownerId === call.actor.id
      // whom else it is shared with is the owner's business
      return { id, name, owner, mine, asked, columns, version, roles: mine ? roles : [], people: mine ? people : [] }
    }),
    start: (start?.value as string | undefined) ?? null,
  }
}

export async function readAudience(call: Read, list: string): Promise<ResponseOf<typeof ReadViewAudience>> {
  const permission = needList(call, list)
  const roles = await call.trx('roles').whereRaw('? = any(permissions)', [permission]).orderBy('code').select('code')
  const people = await call
    .trx('people')
    .where({ active: true, realm: 'team' })
    .whereNot({ id: call.actor.id })
    .whereRaw('exists (select 1 from person_roles where person_id = people.id and role = any(?))', [
      roles.map(role => role.code),
    ])
    .orderBy('name')
    .select('id', 'name')
  return { roles: roles.map(role => role.code), people }
}

export async function keepView(call: Write, list: string, body: BodyOf<typeof KeepView>): Promise<Done> {
  needList(call, list)
  const own = await call.trx('savedViews').where({ list, ownerId: call.actor.id }).select('name')
  if (own.length >= MOST_VIEWS) throw new RuleBroken(stop('view.tooMany', { most: MOST_VIEWS }))
  refuseName(own, body.name)
  const [row] = await call
    .trx('savedViews')
    .insert({ list, ownerId: call.actor.id, changedAt: call.now, ...written(body) })
    .returning(['id', 'version'])
  return row!
}

function refuseName(others: readonly { name: string }[], name: string): void {
  if (others.some(one => one.name.toLowerCase() === name.toLowerCase()))
    throw new RuleBroken(stop('view.nameTaken', { name }, { place: 'name' }))
}

const written = ({ name, asked, columns, roles, people }: BodyOf<typeof KeepView>) => ({
  name,
  asked: json(asked),
  columns: json(columns),
  roles,
  people,
})

/** A view is changed by its owner alone; whoever else sees it keeps one of their own. */
async function ownView(call: Write, id: string): Promise<SavedViewRow> {
  const row = await call.trx('savedViews').where({ id, ownerId: call.actor.id }).forNoKeyUpdate().first()
  return found(row, 'view')
}

export async function changeView(call: Write, id: string, body: BodyOf<typeof ChangeView>): Promise<Done> {
  const row = await ownView(call, id)
  needList(call, row.list)
  if (row.version !== body.version) throw new RuleBroken(stop('view.changed', { name: row.name }))
  const others = await call
    .trx('savedViews')
    .where({ list: row.list, ownerId: call.actor.id })
    .whereNot({ id })
    .select('name')
  refuseName(others, body.name)
  const version = row.version + 1
  await call
    .trx('savedViews')
    .where({ id })
    .update({ ...written(body), version, changedAt: call.now })
  return { id, version }
}

export async function dropView(call: Write, id: string): Promise<Record<string, never>> {
  const row = await ownView(call, id)
  await call.trx('savedViews').where({ id }).delete()
  await call
    .trx('preferences')
    .where({ key: 'start', subject: row.list, value: json(id) })
    .delete()
  return {}
}
