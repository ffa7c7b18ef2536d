import { createHash, randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import type { Permission } from '#contract/permissions.ts'
import { type Actor, dayOf, type House } from '#server/call.ts'
import { readHouse, UNNAMED } from '#server/house/house.ts'
import { SESSION_HOURS } from '#server/http/cookies.ts'

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex')

/** Starts a session; only the hash of its token is kept. */
export async function openSession(db: Knex, personId: string, now: string): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  await db('sessions').insert({
    tokenHash: hashOf(token),
    personId,
    createdAt: now,
    expiresAt: new Date(Date.parse(now) + SESSION_HOURS * 3_600_000).toISOString(),
  })
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
  standIns: { personId: string; fromDay: string; toDay: string }[]
  house: House | null
}

const ACTOR = `
  select person.id, person.name, person.email, person.realm, person.supplier_id, person.locale, person.time_zone,
    coalesce(array(select distinct role from person_roles where person_id = person.id), '{}') as roles,
    coalesce(array(select distinct unnest(permissions) from person_roles join roles on roles.code = person_roles.role where person_id = person.id
      union select unnest(permissions) from supplier_roles where id = person.supplier_role_id
      union select unnest(permissions) from roles where code = 'supplierAdministrator' and person.supplier_administrator
      union select 'supplierPages.use' where person.realm = 'supplier'), '{}') as permissions,
    coalesce(array(select cost_centre from person_roles where person_id = person.id and cost_centre is not null union select code from cost_centres where holder_id = person.id), '{}') as cost_centres,
    (select coalesce(json_agg(json_build_object('personId', person_id, 'fromDay', from_day, 'toDay', to_day)), '[]') from stand_ins where stand_in_id = person.id) as stand_ins,
    (select value from settings where key = 'house') as house
  from people person`

/** A person as an actor, in the house whose day it is. */
function toActor(row: ActorRow, now: string): { actor: Actor; house: House } {
  const { permissions, standIns, house: set, ...person } = row
  const house = set ?? UNNAMED
  const today = dayOf(now, house.zone)
  const standsInFor = standIns.filter(one => one.fromDay <= today && today <= one.toDay).map(one => one.personId)
  return { actor: { ...person, rights: new Set(permissions), standsInFor }, house }
}

/** Whose session a token is: an active person's, not expired; and whose house it is. */
export async function findSession(
  db: Knex,
  token: string | undefined,
  now: string,
): Promise<{ actor: Actor | undefined; house: House }> {
  if (!token) return { actor: undefined, house: await readHouse(db) }
  const { rows } = await db
    .raw<{ rows: ActorRow[] }>(
      `${ACTOR} join sessions on sessions.person_id = person.id where sessions.token_hash = ? and sessions.expires_at > ? and person.active`,
      [hashOf(token), now],
    )
    .options({ name: 'find-session' })
  return rows[0] ? toActor(rows[0], now) : { actor: undefined, house: await readHouse(db) }
}

/** The person as an actor, for jobs, the demo loader and commands. */
export async function getActor(db: Knex, personId: string, now: string): Promise<Actor> {
  const { rows } = await db.raw<{ rows: ActorRow[] }>(`${ACTOR} where person.id = ?`, [personId])
  if (!rows[0]) throw new Error(`There is no person ${personId}.`)
  return toActor(rows[0], now).actor
}
