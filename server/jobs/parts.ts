import type { Knex } from 'knex'
import { type Channel, dayOf, type Read, reading, type Setting, type Write, writing } from '#server/call.ts'
import type { Settings } from '#server/configuration.ts'
import { readHouse } from '#server/house/house.ts'
import { getActor } from '#server/people/sessions.ts'

export interface JobParts {
  readonly db: Knex
  readonly settings: Settings
  readonly clock: () => string
  /** A failure with its cause, for those who run the program. */
  readonly log: (message: string, details: unknown) => void
}

/** The account that jobs act under; it can sign in nowhere. */
export const SYSTEM_PERSON = '00000000-0000-4000-8000-000000000001'

/** In whose name, when and where a job acts. */
export async function settingOf(
  parts: Pick<JobParts, 'db' | 'clock'>,
  personId = SYSTEM_PERSON,
  channel: Channel = 'job',
): Promise<Setting> {
  const now = parts.clock()
  const house = await readHouse(parts.db)
  const actor = await getActor(parts.db, personId, now)
  return { actor, house, now, today: dayOf(now, house.zone), channel, base: house.base }
}

/** Does something in a short transaction of its own. */
export async function inTransaction<T>(
  parts: Pick<JobParts, 'db' | 'clock'>,
  work: (call: Write) => Promise<T>,
): Promise<T> {
  const setting = await settingOf(parts)
  return await parts.db.transaction(trx => work(writing(trx, setting)))
}

/** Reads without a transaction, so that nothing is held while a job computes. */
export const outside = (parts: Pick<JobParts, 'db'>, setting: Setting): Read => reading(parts.db, setting)
