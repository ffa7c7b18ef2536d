import type { Knex } from 'knex'
import type { Permission } from '#contract/permissions.ts'
import { type AwayTime, inPlaceOf } from '#core/consent/standIns.ts'
import { minor } from '#core/money/amount.ts'
import { type Actor, dayOf, type House, type Read, type Write } from '#server/call.ts'

import { readHouse, SIGN_IN, UNNAMED } from '#server/house/house.ts'
import { SESSION_HOURS } from '#server/http/cookies.ts'
import { CHANNEL, personTopic, sessionTopic } from '#server/news/tell.ts'
import { hashOf, newToken } from '#server/people/tokens.ts'

/** From where a session was opened. */
export interface Origin {
  readonly agent: string
  readonly network: string
}

/** Starts a session; only the hash of its token is kept. One that is not `proven` waits for a second factor and opens nothing until then. */
export async function openSession(
  db: Knex,
  personId: string,
  now: string,
  origin: Origin,
  proven = true,
): Promise<string> {
  const token = newToken(32)
  await db('sessions').insert({
    tokenHash: hashOf(token),
    personId,
    createdAt: now,
    seenAt: now,
    expiresAt: new Date(Date.parse(now) + SESSION_HOURS * 3_600_000).toISOString(),
    agent: origin.agent.slice(0, 200),
    network: origin.network.slice(0, 60),
    proven,
  })
  return token
}

const tell = (db: Knex, topics: readonly string[]): Promise<unknown> =>
  db.raw('select pg_notify(?, ?)', [CHANNEL, JSON.stringify(topics)])

/** Ends a session, and with it the streams that were opened in it. */
export async function closeSession(db: Knex, token: string): Promise<void> {
  const [row] = (await db('sessions')
    .where({ tokenHash: hashOf(token) })
    .delete()
    .returning('id')) as { id: string }[]
  if (row) await tell(db, [sessionTopic(row.id)])
}

/** Ends sessions of a person: all, all but one, or one. Says how many. */
export async function endSessions(
  call: Pick<Read, 'trx'>,
  personId: string,
  which: { readonly but?: string | undefined; readonly only?: string } = {},
): Promise<number> {
  const rows = (await call
    .trx('sessions')
    .where({ personId })
    .modify(query => {
      if (which.but !== undefined) void query.whereNot({ tokenHash: hashOf(which.but) })
      if (which.only !== undefined) void query.where({ id: which.only })
    })
    .delete()
    .returning('id')) as { id: string }[]
  if (rows.length > 0)
    await tell(
      call.trx,
      rows.map(row => sessionTopic(row.id)),
    )
  return rows.length
}

/** Ends the streams of a person, whose rights are not what they were; their pages ask again with those that they have. */
export const endStreams = (call: Write, personId: string): Promise<unknown> => tell(call.trx, [personTopic(personId)])

/** A session whose second factor is still to come, and whose it is. */
export interface PendingSession {
  readonly personId: string
  readonly secondFactor: string | null
}

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
  /** Away times in which this person stands in, and those of whose stand-ins they are. */
  awayTimes: (Omit<AwayTime, 'amountLimit'> & { amountLimit: string | null; rights: string[] })[]
  house: House | null
}

const ACTOR_COLUMNS = `
  person.id, person.name, person.email, person.realm, person.supplier_id, person.locale, person.time_zone,
    coalesce(array(select distinct role from person_roles where person_id = person.id), '{}') as roles,
    coalesce(array(select distinct unnest(permissions) from person_roles join roles on roles.code = person_roles.role where person_id = person.id
      union select unnest(permissions) from supplier_roles where id = person.supplier_role_id
      union select unnest(permissions) from roles where code = 'supplierAdministrator' and person.supplier_administrator
      union select 'supplierPages.use' where person.realm = 'supplier'), '{}') as permissions,
    coalesce(array(select cost_centre from person_roles where person_id = person.id and cost_centre is not null union select code from cost_centres where holder_id = person.id), '{}') as cost_centres,
    (select coalesce(json_agg(json_build_object('id', t.id, 'personId', t.person_id, 'standInId', t.stand_in_id, 'fromDay', t.from_day, 'toDay', t.to_day, 'kinds', t.kinds, 'amountLimit', t.amount_limit::text, 'away', t.away,
      'rights', array(select distinct unnest(permissions) from person_roles join roles on roles.code = person_roles.role where person_roles.person_id = t.person_id)) order by t.from_day, t.id), '[]')
      from away_times t join people principal on principal.id = t.person_id and principal.active
      where t.stand_in_id = person.id or t.stand_in_id in (select s.person_id from away_times s where s.stand_in_id = person.id)) as away_times,
    (select value from settings where key = 'house') as house`
const ACTOR = `select ${ACTOR_COLUMNS} from people person`
const SESSION = `select ${ACTOR_COLUMNS}, session.id as session_id, session.proven, session.seen_at, person.second_factor,
    coalesce((select (value ->> 'idleMinutes')::int from settings where key = 'signIn'), ${SIGN_IN.idleMinutes}) as idle_minutes
  from people person join sessions session on session.person_id = person.id where session.token_hash = ? and session.expires_at > ? and person.active`
type SessionRow = ActorRow & {
  sessionId: string
  proven: boolean
  seenAt: string
  secondFactor: string | null
  idleMinutes: number
}

/** A person as an actor, in the house whose day it is. */
function toActor(row: ActorRow, now: string): { actor: Actor; house: House } {
  const { permissions, awayTimes, house: set, ...person } = row
  const house = set ?? UNNAMED
  const times = awayTimes.map(one => ({
    ...one,
    amountLimit: one.amountLimit === null ? null : minor(BigInt(one.amountLimit)),
  }))
  const rights = new Map(awayTimes.map(one => [one.personId, new Set(one.rights)]))
  const standsInFor = inPlaceOf(times, row.id, dayOf(now, house.zone), house.base).map(one => ({
    ...one,
    rights: rights.get(one.id)!,
  }))
  return { actor: { ...person, rights: new Set(permissions), standsInFor }, house }
}

/** Seconds between two notes of when a session was last seen: finer is not needed, and would write with every reading. */
const NOTE_SEEN = 60

export interface Found {
  readonly actor: Actor | undefined
  readonly house: House
  readonly sessionId?: string
  readonly pending?: PendingSession
}

/** Whose session a token is: an active person's, not expired, not idle for too long, its second factor proven; and whose house it is. */
export async function findSession(db: Knex, token: string | undefined, now: string): Promise<Found> {
  if (!token) return { actor: undefined, house: await readHouse(db) }
  const { rows } = await db.raw<{ rows: SessionRow[] }>(SESSION, [hashOf(token), now]).options({ name: 'find-session' })
  const row = rows[0]
  const idle = row ? (Date.parse(now) - Date.parse(row.seenAt)) / 1000 : 0
  if (!row || idle > row.idleMinutes * 60) return { actor: undefined, house: await readHouse(db) }
  const { sessionId, proven, secondFactor, seenAt: _seen, idleMinutes: _idle, ...person } = row
  const { actor, house } = toActor(person, now)
  if (!proven) return { actor: undefined, house, pending: { personId: actor.id, secondFactor } }
  if (idle > NOTE_SEEN) await noteSeen(db, sessionId, now)
  return { actor, house, sessionId }
}

/** When a session was last used; a reading goes on without it where the database cannot write it now. */
async function noteSeen(db: Knex, id: string, now: string): Promise<void> {
  if (db.isTransaction) return
  await db('sessions')
    .where({ id })
    .update({ seenAt: now })
    .catch(() => undefined)
}

/** Whether a session is this one. */
export const isToken = (row: { readonly tokenHash: string }, token: string | undefined): boolean =>
  token !== undefined && row.tokenHash === hashOf(token)

/** The person as an actor, for jobs, the demo loader and commands. */
export async function getActor(db: Knex, personId: string, now: string): Promise<Actor> {
  const { rows } = await db.raw<{ rows: ActorRow[] }>(`${ACTOR} where person.id = ?`, [personId])
  if (!rows[0]) throw new Error(`There is no person ${personId}.`)
  return toActor(rows[0], now).actor
}
