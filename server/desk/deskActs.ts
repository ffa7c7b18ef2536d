import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadDone } from '#contract/desk/endpoints.ts'
import { Uuid } from '#contract/fields.ts'
import { DESK_KEYS, forPerson } from '#core/desk/entry.ts'
import { whyNotPutOff } from '#core/desk/putOff.ts'
import { DOCUMENTS, type DocumentKind, documentKind } from '#core/documents/kinds.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { dayOf, type Read, type Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { refuse } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { visibleIds } from '#server/documents/visible.ts'
import { deskTopic, tell } from '#server/news/tell.ts'

/** `late:2:<id>` as it is kept. @throws RuleBroken desk.unknown */
function keyed(text: string): { key: string; place: number; documentId: string } {
  const parts = text.split(':')
  const [key = '', place, documentId] = parts.length === 3 ? parts : [parts[0], '0', parts[1]]
  if (
    !(DESK_KEYS as readonly string[]).includes(key) ||
    !Uuid.safeParse(documentId).success ||
    !/^\d{1,4}$/.test(place ?? '')
  )
    throw new RuleBroken(stop('desk.unknown', {}))
  return { key, place: Number(place), documentId: documentId! }
}

/** Puts things off until a day, or back at once. They wait on for everybody else whom they reach. */
export async function putThingsOff(
  call: Write,
  keys: readonly string[],
  until: string | null,
): Promise<Record<string, never>> {
  const things = [...new Set(keys)].map(keyed)
  if (until !== null) refuse(whyNotPutOff(until, call.today))
  const personId = call.actor.id
  await call.trx('putOff').where({ personId }).where('until', '<=', call.today).delete()
  for (const thing of things)
    if (until === null)
      await call
        .trx('putOff')
        .where({ personId, ...thing })
        .delete()
    else
      await call
        .trx('putOff')
        .insert({ personId, ...thing, until })
        .onConflict(['personId', 'documentId', 'key', 'place'])
        .merge(['until'])
  await tell(call, [deskTopic(forPerson(personId))])
  return {}
}

/** Acts that are shown of a day. */
const MOST_DONE = 60

/** What this person did today, the last first, of documents that they still see. */
export async function readDone(call: Read): Promise<ResponseOf<typeof ReadDone>> {
  const rows = await call
    .trx('history')
    .where({ actorId: call.actor.id })
    .where('at', '>=', new Date(Date.parse(call.now) - 86_400_000).toISOString())
    .orderBy('at', 'desc')
    .limit(400)
    .select('documentId', 'documentKind', 'at', 'action')
  const today = rows.filter(row => row.documentKind in DOCUMENTS && dayOf(row.at, call.house.zone) === call.today)
  const named = await namesOf(call, today)
  const done = today.flatMap(({ at, action, documentKind: kind, documentId }) => {
    const name = named.get(documentId)
    return name ? [{ at, action, kind, ...name }] : []
  })
  return { count: done.length, done: done.slice(0, MOST_DONE) }
}

type Name = { number: string; title: string; path: string }
async function namesOf(
  call: Read,
  rows: readonly { documentId: string; documentKind: DocumentKind }[],
): Promise<Map<string, Name>> {
  const names = new Map<string, Name>()
  for (const [kind, some] of groupBy(rows, row => row.documentKind)) {
    const facts = documentKind(kind)
    if (facts.letter === '') continue
    const ids = [...(await visibleIds(call, kind, [...new Set(some.map(row => row.documentId))]))]
    if (ids.length === 0) continue
    const found = (await call
      .trx(facts.rows)
      .whereIn('id', ids)
      .select({ id: 'id', title: facts.title, home: facts.home, number: 'number' })) as {
      id: string
      title: string
      home: string
      number: string
    }[]
    for (const { id, title, home, number } of found) names.set(id, { number, title, path: pathOf(kind, home) })
  }
  return names
}
