import { createRequire } from 'node:module'
import { hash, verify } from '@node-rs/argon2'
import type { Knex } from 'knex'
import { type PasswordOwner, whyNotPassword } from '#core/people/password.ts'
import { FORGOTTEN_AFTER, FREE_TRIES, waitAfter } from '#core/people/signInDelay.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { refuse } from '#server/documents/obey.ts'

/** argon2id with the smallest parameters that OWASP names (19 MiB, two passes); 2 stands for "id" in the package's table. */
const HASH = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const

export const hashPassword = (password: string): Promise<string> => hash(password.normalize('NFC'), HASH)

let common: ReadonlySet<string> | undefined
/** Passwords that many people use, from the package's list; it is large, and loaded when the first one is chosen. */
function commonPasswords(): ReadonlySet<string> {
  const { dictionary } = createRequire(import.meta.url)('@zxcvbn-ts/language-common') as {
    dictionary: { passwords: string[] }
  }
  return (common ??= new Set(dictionary.passwords))
}

/**
 * The hash of a password that somebody chooses.
 *
 * @throws RuleBroken password.short | password.long | password.blank | password.common | password.own
 */
export async function chosenPassword(password: string, owner: PasswordOwner): Promise<string> {
  refuse(whyNotPassword(password, owner, commonPasswords()))
  return await hashPassword(password)
}

let decoy: Promise<string> | undefined

export interface Known {
  readonly id: string
  readonly secondFactor: string | null
}

/**
 * Checks an address and a password. An unknown address takes as long as a wrong password, and both say the same.
 *
 * @throws RuleBroken session.wrong
 */
export async function checkPassword(db: Knex, email: string, password: string): Promise<Known> {
  const person = await db('people')
    .whereRaw('lower(email) = ?', [email.trim().toLowerCase()])
    .where({ active: true })
    .whereNotNull('passwordHash')
    .first<(Known & { passwordHash: string }) | undefined>('id', 'passwordHash', 'secondFactor')
  const kept = person?.passwordHash ?? (await (decoy ??= hashPassword('nobody has this')))
  const right = await verify(kept, password.normalize('NFC'))
  if (!person || !right) throw new RuleBroken(stop('session.wrong'))
  return { id: person.id, secondFactor: person.secondFactor }
}

interface TryRow {
  key: string
  failures: number
  lastAt: string
  until: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    signInTries: TryRow
  }
}

/** Whose tries are counted together. */
export interface Counted {
  readonly account: string
  readonly network: string
}

/**
 * Counts a try before it is made, so that many at once are counted too, and refuses it while its account or its network has to wait. The counts
 * are in the database and hold for all server processes.
 *
 * @throws RuleBroken session.tooMany with the seconds that are left
 */
export async function countTry(db: Knex, { account, network }: Counted): Promise<void> {
  await db.transaction(async trx => {
    for (const [kind, name] of [
      ['account', account.trim().toLowerCase().slice(0, 200)],
      ['network', network],
    ] as const)
      await countOne(trx, `${kind} ${name}`, FREE_TRIES[kind])
  })
}

async function countOne(trx: Knex, key: string, free: number): Promise<void> {
  const { rows } = await trx.raw<{ rows: { failures: number; left: number; forgotten: boolean }[] }>(
    `insert into sign_in_tries (key, failures, last_at) values (:key, 0, clock_timestamp()) on conflict (key) do update set key = excluded.key
     returning failures, coalesce(ceil(extract(epoch from until - clock_timestamp())), 0)::int as left, last_at < clock_timestamp() - :forgotten * interval '1 second' as forgotten`,
    { key, forgotten: FORGOTTEN_AFTER },
  )
  const { failures, left, forgotten } = rows[0]!
  if (left > 0) throw new RuleBroken(stop('session.tooMany', { seconds: left }))
  const next = forgotten ? 1 : failures + 1
  await trx.raw(
    `update sign_in_tries set failures = :next, last_at = clock_timestamp(), until = clock_timestamp() + :wait * interval '1 second' where key = :key`,
    { key, next, wait: waitAfter(next, free) },
  )
}

/** A right try: the account begins anew, the network gets this one back and no more, so that nobody clears it with an account of their own. */
export async function forgiveTries(db: Knex, { account, network }: Counted): Promise<void> {
  await db('signInTries')
    .where({ key: `account ${account.trim().toLowerCase().slice(0, 200)}` })
    .delete()
  await db('signInTries')
    .where({ key: `network ${network}` })
    .update({
      failures: db.raw('greatest(failures - 1, 0)') as never,
      until: db.raw('case when failures - 1 > ? then until end', [FREE_TRIES.network]) as never,
    })
}
