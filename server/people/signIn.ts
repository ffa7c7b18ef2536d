import { hash, verify } from '@node-rs/argon2'
import { rateLimit, type Options, type Store } from 'express-rate-limit'
import type { Knex } from 'knex'
import { RuleBroken, stop } from '#core/reasons.ts'

/** argon2id with the smallest parameters that OWASP names (19 MiB, two passes); 2 stands for "id" in the package's table. */
const HASH = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const

export const hashPassword = (password: string): Promise<string> => hash(password, HASH)

let decoy: Promise<string> | undefined

/**
 * Checks an address and a password. An unknown address takes as long as a wrong password, and both say the same.
 *
 * @throws RuleBroken session.wrong
 */
export async function checkPassword(db: Knex, email: string, password: string): Promise<string> {
  const person = await db('people')
    .whereRaw('lower(email) = ?', [email.trim().toLowerCase()])
    .where({ active: true })
    .whereNotNull('passwordHash')
    .first<{ id: string; passwordHash: string } | undefined>('id', 'passwordHash')
  const right = await verify(person?.passwordHash ?? (await (decoy ??= hashPassword('nobody has this'))), password)
  if (!person || !right) throw new RuleBroken(stop('session.wrong'))
  return person.id
}

/** Counts in the database, so that the limit holds across server processes. */
class DatabaseCounts implements Store {
  private windowMs = 60_000
  constructor(private readonly db: Knex) {}
  init(options: Options): void {
    this.windowMs = options.windowMs
  }
  async increment(key: string): Promise<{ totalHits: number; resetTime: Date }> {
    const { rows } = (await this.db.raw(
      `insert into rate_limits (key, hits, resets_at) values (?, 1, now() + ? * interval '1 millisecond')
       on conflict (key) do update set hits = case when rate_limits.resets_at < now() then 1 else rate_limits.hits + 1 end, resets_at = case when rate_limits.resets_at < now() then excluded.resets_at else rate_limits.resets_at end
       returning hits, resets_at`,
      [key, this.windowMs],
    )) as { rows: { hits: number; resetsAt: string }[] }
    return { totalHits: rows[0]!.hits, resetTime: new Date(rows[0]!.resetsAt) }
  }
  async decrement(key: string): Promise<void> {
    await this.db('rateLimits').where({ key }).decrement('hits', 1)
  }
  async resetKey(key: string): Promise<void> {
    await this.db('rateLimits').where({ key }).delete()
  }
}

/** Ten failed tries in five minutes per address and network. */
export const signInLimit = (db: Knex): ReturnType<typeof rateLimit> =>
  rateLimit({
    windowMs: 300_000,
    limit: 10,
    store: new DatabaseCounts(db),
    skipSuccessfulRequests: true,
    legacyHeaders: false,
    standardHeaders: 'draft-7',
    validate: false,
    skip: request => request.method !== 'POST',
    keyGenerator: request =>
      `sign-in ${request.ip} ${String((request.body as { email?: unknown } | undefined)?.email ?? '')
        .trim()
        .toLowerCase()
        .slice(0, 100)}`,
    handler: (_request, response) => {
      response.status(429).json({ reasons: [stop('session.tooMany', { minutes: 5 })] })
    },
  })
