import { createHash, randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import type { Permission } from '#contract/permissions.ts'
import type { Actor } from '#server/call.ts'

const HOURS = 12
const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex')

export const sessionCookie = (token: string, secure: boolean): string =>
  `ivory_session=${token}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${HOURS * 3600}${secure ? '; Secure' : ''}`
export const clearedSessionCookie = (): string => 'ivory_session=; Path=/; HttpOnly; SameSite=Strict; Max-Age=0'

/** Starts a session; only the hash of its token is kept. */
export async function openSession(db: Knex, personId: string, now: string): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  await db('sessions').insert({ tokenHash: hashOf(token), personId, createdAt: now, expiresAt: new Date(Date.parse(now) + HOURS * 3_600_000).toISOString() })
  return token
}

export const closeSession = (db: Knex, token: string): Promise<number> =>
  db('sessions')
    .where({ tokenHash: hashOf(token) })
    .delete()

interface ActorRow {
  id: string
  name: string
  email: string
  realm: 'team' | 'supplier'
  supplierId: string | null
  locale: string
  timeZone: string
  roles: string[]
  permissions: Permission[]
  costCentres: string[]
}

const ACTOR = `
  select person.id, person.name, person.email, person.realm, person.supplier_id, person.locale, person.time_zone,
    coalesce(array(select distinct role from person_roles where person_id = person.id), '{}') as roles,
    coalesce(array(select distinct unnest(permissions) from person_roles join roles on roles.code = person_roles.role where person_id = person.id
      union select unnest(permissions) from supplier_roles where id = person.supplier_role_id
      union select unnest(permissions) from roles where code = 'supplierAdministrator' and person.supplier_administrator
      union select 'supplierPages.use' where person.realm = 'supplier'), '{}') as permissions,
    coalesce(array(select cost_centre from person_roles where person_id = person.id and cost_centre is not null union select code from cost_centres where holder_id = person.id), '{}') as cost_centres
  from people person`

const toActor = (row: ActorRow): Actor => ({ ...row, permissions: new Set(row.permissions) })

/** Whose session a token is: an active person's, not expired. */
export async function findSession(db: Knex, token: string | undefined, now: string): Promise<Actor | undefined> {
  if (!token) return undefined
  const { rows } = (await db
    .raw(`${ACTOR} join sessions on sessions.person_id = person.id where sessions.token_hash = ? and sessions.expires_at > ? and person.active`, [hashOf(token), now])
    .options({ name: 'find-session' })) as { rows: ActorRow[] }
  return rows[0] && toActor(rows[0])
}

/** The person as an actor, for jobs, the demo loader and commands. */
export async function getActor(db: Knex, personId: string): Promise<Actor> {
  const { rows } = (await db.raw(`${ACTOR} where person.id = ?`, [personId])) as { rows: ActorRow[] }
  if (!rows[0]) throw new Error(`There is no person ${personId}.`)
  return toActor(rows[0])
}
