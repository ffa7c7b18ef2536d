import type { ResponseOf } from '#contract/endpoint.ts'
import {
  type PreferenceJson,
  PreferenceJson as Preference,
  type ReadPreferences,
} from '#contract/people/preferences.ts'
import { ANY_TIME, type MailWish } from '#core/people/mailTiming.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'

declare module 'knex/types/tables.js' {
  interface Tables {
    preferences: { personId: string; key: string; subject: string; value: unknown }
  }
}

/** Things remembered of one person, at most: more than there are lists and stages to remember them of. */
const MOST = 300

/** What the interface remembers of this person; what an earlier version remembered and this one does not know is left out. */
export async function readPreferences(call: Read): Promise<ResponseOf<typeof ReadPreferences>> {
  const rows = await call
    .trx('preferences')
    .where({ personId: call.actor.id })
    .limit(MOST)
    .select('key', 'subject', 'value')
  return {
    preferences: rows.flatMap(row => {
      const known = Preference.safeParse(row)
      return known.success ? [known.data] : []
    }),
  }
}

export async function keepPreference(
  call: Write,
  { key, subject, value }: PreferenceJson,
): Promise<Record<string, never>> {
  const rows = await call.trx('preferences').where({ personId: call.actor.id }).count<{ count: string }[]>()
  if (Number(rows[0]?.count ?? 0) >= MOST) throw new RuleBroken(stop('preference.tooMany', { most: MOST }))
  await call
    .trx('preferences')
    .insert({ personId: call.actor.id, key, subject, value: json(value) })
    .onConflict(['personId', 'key', 'subject'])
    .merge(['value'])
  return {}
}

/** When somebody wants to be written to about the work: at once, where they have said nothing. */
export async function mailWish(call: Read, personId: string): Promise<MailWish> {
  const row = await call
    .trx('preferences')
    .where({ personId, key: 'mails', subject: '' })
    .first('key', 'subject', 'value')
  const known = Preference.safeParse(row)
  return known.success && known.data.key === 'mails' ? known.data.value : ANY_TIME
}
