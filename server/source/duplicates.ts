import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { DecidePair, ReadPairs } from '#contract/source/duplicates.ts'
import { type Match, match, PROBABLY, ready } from '#core/source/match.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Call, found } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { readFacts, matchReasons, shortlist, type SupplierFacts, toCandidate } from '#server/source/findSuppliers.ts'

const BATCH = 200
const SHOWN = 60

/** Compares every record with those that its name, numbers, account and domain lead to, and keeps each new pair that is probably one supplier. */
export async function searchDuplicates(call: Call, progress: (done: number, total: number) => Promise<void>): Promise<{ compared: number; found: number }> {
  const { rows } = (await call.trx.raw("select count(*)::int as total from suppliers where merged_into is null and state <> 'closed'")) as { rows: [{ total: number }] }
  const total = rows[0].total
  let compared = 0
  let new_ = 0
  for (let after = '00000000-0000-0000-0000-000000000000'; ;) {
    const ids = (
      (await call.trx('suppliers').where('id', '>', after).whereNull('mergedInto').whereNot({ state: 'closed' }).orderBy('id').limit(BATCH).select('id')) as { id: string }[]
    ).map(row => row.id)
    if (ids.length === 0) break
    after = ids.at(-1)!
    for (const facts of await readFacts(call, ids)) {
      new_ += await pairsOf(call, facts)
      await progress(++compared, total)
    }
  }
  return { compared, found: new_ }
}

/** Every pair is met from both of its sides; it is written from the lower one only. */
async function pairsOf(call: Call, facts: SupplierFacts): Promise<number> {
  const others = (await shortlist(call, facts)).filter(id => id > facts.id)
  if (others.length === 0) return 0
  const mine = ready(facts)
  const pairs = (await readFacts(call, others))
    .filter(other => other.state !== 'closed')
    .map(other => ({ other, found: match(mine, ready(other)) }))
    .filter(one => one.found.percent >= PROBABLY || one.found.shared.length > 0)
  if (pairs.length === 0) return 0
  const inserted = (await call
    .trx('supplierPairs')
    .insert(
      pairs.map(({ other, found: how }) => ({
        lowId: facts.id,
        highId: other.id,
        percent: how.percent,
        reasons: JSON.stringify(matchReasons(how)),
        state: 'open',
        foundAt: call.now,
      })),
    )
    .onConflict(['lowId', 'highId'])
    .ignore()
    .returning('lowId')) as unknown[]
  return inserted.length
}

interface PairRow {
  lowId: string
  highId: string
  percent: number
  reasons: ResponseOf<typeof ReadPairs>['pairs'][number]['reasons']
  state: 'open' | 'different' | 'merged'
  decidedBy: string | null
  reason: string | null
}

/** Pairs in one state, the surest first, each with both records side by side. */
export async function readPairs(call: Call, state: PairRow['state']): Promise<Omit<ResponseOf<typeof ReadPairs>, 'job'>> {
  const rows = (await call
    .trx('supplierPairs as pair')
    .leftJoin('people', 'people.id', 'pair.decidedBy')
    .where('pair.state', state)
    .orderBy([{ column: 'percent', order: 'desc' }, 'lowId', 'highId'])
    .limit(SHOWN + 1)
    .select('lowId', 'highId', 'percent', 'reasons', 'pair.state', 'people.name as decidedBy', 'reason')) as PairRow[]
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
      ? [{ a: toCandidate(a, nothing), b: toCandidate(b, nothing), percent: row.percent, reasons: row.reasons, state: row.state, decidedBy: row.decidedBy, reason: row.reason }]
      : []
  })
  return { pairs, more: Math.max(0, rows.length - SHOWN) }
}

/** Merged records too: their pairs are shown under "merged". */
async function readAll(call: Call, ids: readonly string[]): Promise<SupplierFacts[]> {
  const standing = await readFacts(call, ids)
  const gone = (await call
    .trx('suppliers')
    .whereIn('id', [...ids])
    .whereNotNull('mergedInto')
    .select('id', 'number', 'name', 'state')) as { id: string; number: string; name: string; state: string }[]
  return [
    ...standing,
    ...gone.map(({ name, ...row }) => ({ ...row, names: [name], tradeNames: [], country: '', postalCode: '', city: '', street: '', identifiers: [], ibans: [], domains: [] })),
  ]
}

/** Remembers that two records are different suppliers, or opens the question again. */
export async function decidePair(call: Call, body: BodyOf<typeof DecidePair>): Promise<{ id: string; version: number }> {
  const [lowId, highId] = [body.aId, body.bId].sort() as [string, string]
  if (lowId === highId) throw new RuleBroken(stop('merge.itself'))
  if (body.different && body.reason.trim().length < 3) throw new RuleBroken(stop('merge.whyDifferent', {}, { place: 'reason' }))
  const pair = found((await call.trx('supplierPairs').where({ lowId, highId }).forNoKeyUpdate().first()) as PairRow | undefined, 'pair')
  if (pair.state === 'merged') throw new RuleBroken(stop('merge.pairMerged'))
  await call
    .trx('supplierPairs')
    .where({ lowId, highId })
    .update(
      body.different
        ? { state: 'different', decidedBy: call.actor.id, decidedAt: call.now, reason: body.reason }
        : { state: 'open', decidedBy: null, decidedAt: null, reason: null },
    )
  for (const id of [lowId, highId]) {
    await call.trx('suppliers').where({ id }).forNoKeyUpdate().first('id')
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
export async function latestSearch(call: Call): Promise<string | null> {
  const row = (await call.trx('longJobs').where({ kind: 'duplicates' }).orderBy('createdAt', 'desc').first('id')) as { id: string } | undefined
  return row?.id ?? null
}
