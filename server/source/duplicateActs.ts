import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { DecidePair, ReadPairs } from '#contract/source/duplicates.ts'
import { type Match, PROBABLY } from '#core/source/match.ts'
import { whyNotTellApart, whyNotItself } from '#core/source/merging.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { refuse } from '#server/documents/obey.ts'
import type { LongWork } from '#server/jobs/longJobs.ts'
import { readFacts, matchReasons, shortlist, type SupplierFacts, toCandidate } from '#server/source/findSuppliers.ts'

const BATCH = 200
const SHOWN = 60

interface FoundPair {
  readonly lowId: string
  readonly highId: string
  readonly percent: number
  readonly reasons: PairReasons
}

/**
 * Compares every record with those that its name, numbers, account and domain lead to; each new pair that is probably one supplier is then
 * kept.
 */
export const searchDuplicates: LongWork = async (call, _params, progress) => {
  const { rows } = await call.trx.raw<{ rows: [{ total: number }] }>(
    "select count(*)::int as total from suppliers where merged_into is null and state <> 'closed'",
  )
  const total = rows[0].total
  const pairs: FoundPair[] = []
  let compared = 0
  for (let after = '00000000-0000-0000-0000-000000000000'; ;) {
    const ids = await batchAfter(call, after)
    if (ids.length === 0) break
    after = ids.at(-1)!
    for (const facts of await readFacts(call, ids)) {
      pairs.push(...(await pairsOf(call, facts)))
      await progress(++compared, total)
    }
  }
  return async write => ({ compared, found: await keepPairs(write, pairs) })
}

const batchAfter = (call: Read, after: string): Promise<string[]> =>
  call
    .trx('suppliers')
    .where('id', '>', after)
    .whereNull('mergedInto')
    .whereNot({ state: 'closed' })
    .orderBy('id')
    .limit(BATCH)
    .pluck('id')

/** Every pair is met from both of its sides; it is written from the lower one only. */
async function pairsOf(call: Read, facts: SupplierFacts): Promise<FoundPair[]> {
  const ids = (await shortlist(call, facts)).filter(id => id > facts.id)
  if (ids.length === 0) return []
  const others = (await readFacts(call, ids)).filter(other => other.state !== 'closed')
  const matches = await compute('matchAll', { party: facts, others })
  return others.flatMap((other, index) => {
    const found = matches[index]!
    return found.percent >= PROBABLY || found.shared.length > 0
      ? [{ lowId: facts.id, highId: other.id, percent: found.percent, reasons: matchReasons(found) }]
      : []
  })
}

/** Keeps pairs that are not known yet. Says how many are new. */
async function keepPairs(call: Write, pairs: readonly FoundPair[]): Promise<number> {
  let fresh = 0
  for (let from = 0; from < pairs.length; from += 500) {
    const inserted = await call
      .trx('supplierPairs')
      .insert(
        pairs
          .slice(from, from + 500)
          .map(pair => ({ ...pair, reasons: json(pair.reasons), state: 'open' as const, foundAt: call.now })),
      )
      .onConflict(['lowId', 'highId'])
      .ignore()
      .returning('lowId')
    fresh += inserted.length
  }
  return fresh
}

type PairReasons = ResponseOf<typeof ReadPairs>['pairs'][number]['reasons']

interface PairRow {
  lowId: string
  highId: string
  percent: number
  reasons: PairReasons
  state: 'open' | 'different' | 'merged'
  foundAt: string
  decidedBy: string | null
  decidedAt: string | null
  reason: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    supplierPairs: PairRow
  }
}

/** Pairs in one state, the surest first, each with both records side by side. */
export async function readPairs(
  call: Read,
  state: PairRow['state'],
): Promise<Omit<ResponseOf<typeof ReadPairs>, 'job'>> {
  const rows = await call
    .trx('supplierPairs as pair')
    .leftJoin('people', 'people.id', 'pair.decidedBy')
    .where('pair.state', state)
    .orderBy([{ column: 'percent', order: 'desc' }, 'lowId', 'highId'])
    .limit(SHOWN + 1)
    .select<PairRow[]>('lowId', 'highId', 'percent', 'reasons', 'pair.state', 'people.name as decidedBy', 'reason')
  const facts = new Map(
    (
      await readAll(
        call,
        rows.flatMap(row => [row.lowId, row.highId]),
      )
    ).map(one => [one.id, one]),
  )
  const nothing: Match = { percent: 0, reasons: [], shared: [] }
  const pairs = rows.slice(0, SHOWN).flatMap(row => {
    const [a, b] = [facts.get(row.lowId), facts.get(row.highId)]
    return a && b
      ? [
          {
            a: toCandidate(a, nothing),
            b: toCandidate(b, nothing),
            percent: row.percent,
            reasons: row.reasons,
            state: row.state,
            decidedBy: row.decidedBy,
            reason: row.reason,
          },
        ]
      : []
  })
  return { pairs, more: Math.max(0, rows.length - SHOWN) }
}

/** Merged records too: their pairs are shown under "merged". */
async function readAll(call: Read, ids: readonly string[]): Promise<SupplierFacts[]> {
  const standing = await readFacts(call, ids)
  const gone = await call
    .trx('suppliers')
    .whereIn('id', [...ids])
    .whereNotNull('mergedInto')
    .select<{ id: string; number: string; name: string; state: string }[]>('id', 'number', 'name', 'state')
  return [
    ...standing,
    ...gone.map(({ name, ...row }) => ({
      ...row,
      names: [name],
      tradeNames: [],
      country: '',
      postalCode: '',
      city: '',
      street: '',
      identifiers: [],
      ibans: [],
      domains: [],
    })),
  ]
}

/** Remembers that two records are different suppliers, or opens the question again. */
export async function decidePair(
  call: Write,
  body: BodyOf<typeof DecidePair>,
): Promise<{ id: string; version: number }> {
  const [lowId, highId] = [body.aId, body.bId].sort() as [string, string]
  refuse(whyNotItself(lowId, highId))
  const pair = found(await call.trx('supplierPairs').where({ lowId, highId }).forNoKeyUpdate().first(), 'pair')
  refuse(whyNotTellApart(pair, body.different, body.reason))
  await call
    .trx('supplierPairs')
    .where({ lowId, highId })
    .update(
      body.different
        ? { state: 'different', decidedBy: call.actor.id, decidedAt: call.now, reason: body.reason }
        : { state: 'open', decidedBy: null, decidedAt: null, reason: null },
    )
  for (const id of [lowId, highId]) {
    await hold(call, 'supplier', id)
    await record(call, {
      kind: 'supplier',
      id,
      action: body.different ? 'markedDifferent' : 'pairReopened',
      changes: { other: id === lowId ? highId : lowId },
      reason: body.reason || null,
    })
  }
  return { id: lowId, version: 1 }
}

/** The latest search for duplicates, if there was any. */
export async function latestSearch(call: Read): Promise<string | null> {
  const row = await call.trx('longJobs').where({ kind: 'duplicates' }).orderBy('createdAt', 'desc').first('id')
  return row?.id ?? null
}
