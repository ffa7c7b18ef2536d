import { randomUUID } from 'node:crypto'
import { linkOpens, whyNotCosting, whyNotShareUntil } from '#core/build/costingActs.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import { needVisible } from '#server/documents/visible.ts'
import { documentTopic, tell } from '#server/news/tell.ts'
import { hashOf, newToken } from '#server/people/tokens.ts'

interface LinkJson {
  id: string
  endsOn: string
  by: string
  readers: string[]
}

/** Links by which a costing is read now, and who has opened them. */
export async function linksOf(call: Read, costingId: string): Promise<LinkJson[]> {
  const links = await call
    .trx('buildLinks')
    .join('people', 'people.id', 'buildLinks.byId')
    .where({ costingId })
    .orderBy('buildLinks.at')
    .select<{ id: string; endsOn: string; endedAt: string | null; by: string }[]>(
      'buildLinks.id',
      'buildLinks.endsOn',
      'buildLinks.endedAt',
      'people.name as by',
    )
  const live = links.filter(link => linkOpens(link, call.today))
  const readers = await call
    .trx('buildReaders')
    .join('people', 'people.id', 'buildReaders.personId')
    .whereIn(
      'linkId',
      live.map(link => link.id),
    )
    .orderBy('people.name')
    .select('buildReaders.linkId', 'people.name')
  const byLink = groupBy(readers as { linkId: string; name: string }[], one => one.linkId)
  return live.map(({ id, endsOn, by }) => ({ id, endsOn, by, readers: (byLink.get(id) ?? []).map(one => one.name) }))
}

/** Makes a link for colleagues. What it says is not kept: it is told once. */
export async function shareCosting(
  call: Write,
  id: string,
  { version, endsOn }: { version: number; endsOn: string },
): Promise<Done & { path: string }> {
  await needVisible(call, 'costing', id)
  const row = await hold(call, 'costing', id, version)
  refuse([...whyNotCosting(row, call.actor, 'share'), ...whyNotShareUntil(endsOn, call.today)])
  const token = newToken(24)
  await call.trx('buildLinks').insert({
    id: randomUUID(),
    costingId: id,
    tokenHash: hashOf(token),
    endsOn,
    byId: call.actor.id,
    at: call.now,
    endedAt: null,
  })
  const done = await move(call, 'costing', row, {}, { action: 'shared', changes: { until: endsOn }, reason: null })
  return { ...done, path: `/source/builds/shared/${token}` }
}

export async function endLink(call: Write, id: string, linkId: string): Promise<Done> {
  await needVisible(call, 'costing', id)
  const row = await hold(call, 'costing', id)
  refuse(whyNotCosting(row, call.actor, 'share'))
  const link = found(
    await call.trx('buildLinks').where({ id: linkId, costingId: id, endedAt: null }).first(),
    'costing',
  )
  await call.trx('buildLinks').where({ id: link.id }).update({ endedAt: call.now })
  return move(call, 'costing', row, {}, { action: 'linkEnded', changes: { until: link.endsOn }, reason: null })
}

/** Opens a link: whoever does reads the costing from now on, until the link ends. */
export async function openLink(call: Write, token: string): Promise<{ id: string }> {
  const link = await call
    .trx('buildLinks')
    .where({ tokenHash: hashOf(token) })
    .first()
  if (!link || !linkOpens(link, call.today) || call.actor.realm !== 'team') throw new RuleBroken(stop('build.linkOver'))
  const { rowCount } = await call.trx.raw<{ rowCount: number }>(
    'insert into build_readers (link_id, person_id, at) values (?, ?, ?) on conflict do nothing',
    [link.id, call.actor.id, call.now],
  )
  if (rowCount > 0) {
    await record(call, { kind: 'costing', id: link.costingId, action: 'linkOpened' })
    await tell(call, [documentTopic(link.costingId)])
  }
  return { id: link.costingId }
}
