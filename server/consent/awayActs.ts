import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadAway, SaveAway } from '#contract/consent/endpoints.ts'
import { NOT_YOURS } from '#core/acts/decision.ts'
import { whyNotAway } from '#core/consent/standIns.ts'
import { formatAmount, parseAmount } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, may, type Read, type Write } from '#server/call.ts'
import { type AwayTimeRow, refreshAskedOf } from '#server/consent/consentStore.ts'
import { byId } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { refuse } from '#server/documents/obey.ts'
import { SYSTEM_PERSON } from '#server/jobs/parts.ts'
import { endStreams } from '#server/people/sessions.ts'

const ALL_OF_THEM = 'requisition.passOn'

/** Those of the team whose accounts are open. */
const team = (call: Read): Promise<{ id: string; name: string }[]> =>
  call
    .trx('people')
    .where({ realm: 'team', active: true })
    .whereNot({ id: SYSTEM_PERSON })
    .orderBy('name')
    .select('id', 'name')

export async function readAway(call: Read): Promise<ResponseOf<typeof ReadAway>> {
  const me = call.actor.id
  const rows = (await call
    .trx('awayTimes')
    .where('toDay', '>=', call.today)
    .modify(query => {
      if (!may(call, ALL_OF_THEM)) void query.whereRaw('? in (person_id, stand_in_id)', [me])
    })
    .orderBy(['fromDay', 'id'])) as AwayTimeRow[]
  const people = await team(call)
  const names = byId(
    await call.trx('people').whereIn('id', [...new Set(rows.flatMap(row => [row.personId, row.standInId ?? row.personId]))]).select('id', 'name'), // prettier-ignore
  )
  const named = (id: string): { id: string; name: string } => ({ id, name: names.get(id)?.name ?? '' })
  return {
    currency: call.base,
    times: rows.map(row => ({
      id: row.id,
      version: row.version,
      person: named(row.personId),
      standIn: row.standInId === null ? null : named(row.standInId),
      fromDay: row.fromDay,
      toDay: row.toDay,
      kinds: [...row.kinds],
      limit: row.amountLimit === null ? null : formatAmount(row.amountLimit, call.base),
      away: row.away,
      note: row.note,
    })),
    people: people.map(({ id, name }) => ({ id, label: name })),
  }
}

/** Enters or changes when somebody is away and who decides in their place: one's own, or as a steward anybody's. */
export async function saveAway(call: Write, id: string, body: BodyOf<typeof SaveAway>): Promise<Done> {
  mustBeOwn(call, body.personId)
  // one entry at a time for the whole team: circles and chains go through several people
  await call.trx.raw(`select pg_advisory_xact_lock(hashtext('away_times'))`)
  const before = await call.trx('awayTimes').where({ id }).first()
  if ((before?.version ?? 0) !== body.version) throw new RuleBroken(stop('away.changed'))
  if (before) mustBeOwn(call, before.personId)
  await hold(call, 'person', body.personId)
  const able = new Set((await team(call)).map(one => one.id))
  const time: AwayTimeRow = {
    id,
    personId: body.personId,
    standInId: body.standInId,
    fromDay: body.fromDay,
    toDay: body.toDay,
    kinds: body.kinds,
    amountLimit: body.limit === null ? null : parseAmount(body.limit, call.base),
    away: body.away,
    note: body.note.trim(),
    version: body.version + 1,
    changedAt: call.now,
  }
  const others = await call.trx('awayTimes').where('toDay', '>=', call.today)
  refuse(whyNotAway(time, others, one => able.has(one), call.today))
  await call
    .trx('awayTimes')
    .insert({ ...time, kinds: [...time.kinds] })
    .onConflict('id')
    .merge()
  await record(call, {
    kind: 'person',
    id: body.personId,
    action: before ? 'awayChanged' : 'awayEntered',
    changes: { ...(before ? { before: shown(call, before) } : {}), after: shown(call, time) },
  })
  await follow(call, [before, time])
  return { id, version: time.version }
}

export async function endAway(call: Write, id: string): Promise<Record<string, never>> {
  await call.trx.raw(`select pg_advisory_xact_lock(hashtext('away_times'))`)
  const before = found(await call.trx('awayTimes').where({ id }).first(), 'awayTime')
  mustBeOwn(call, before.personId)
  await hold(call, 'person', before.personId)
  await call.trx('awayTimes').where({ id }).delete()
  await record(call, { kind: 'person', id: before.personId, action: 'awayEnded', changes: { before: shown(call, before) } }) // prettier-ignore
  await follow(call, [before])
  return {}
}

/** @throws RuleBroken right.notYours */
function mustBeOwn(call: Read, personId: string): void {
  if (personId !== call.actor.id && !may(call, ALL_OF_THEM)) throw new RuleBroken(NOT_YOURS)
}

const shown = (call: Read, { standInId, fromDay, toDay, kinds, amountLimit, away, note }: AwayTimeRow) => ({
  standInId,
  fromDay,
  toDay,
  kinds: [...kinds],
  limit: amountLimit === null ? null : formatAmount(amountLimit, call.base),
  away,
  note,
})

/** What waits for somebody stands on other Desks now. */
async function follow(call: Write, times: readonly (AwayTimeRow | undefined)[]): Promise<void> {
  const known = times.filter(one => one !== undefined)
  for (const id of new Set(known.map(one => one.personId))) await refreshAskedOf(call, id)
  for (const id of new Set(known.flatMap(one => one.standInId ?? []))) await endStreams(call, id)
}
