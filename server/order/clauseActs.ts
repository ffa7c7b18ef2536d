import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListClauses, SaveClause } from '#contract/order/clauses.ts'
import { whyNotClause } from '#core/order/clauses.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { refuse } from '#server/documents/obey.ts'
import { versionOf } from '#server/order/clauseStore.ts'

export async function listClauses(call: Read): Promise<ResponseOf<typeof ListClauses>> {
  const { rows } = await call.trx.raw<{ rows: (Parameters<typeof versionOf>[0] & { by: string; orders: number })[] }>(
    `select v.*, p.name as by, (select count(*)::int from orders o where o.clauses @> jsonb_build_array(jsonb_build_object('clauseId', v.clause_id::text, 'version', v.version))) as orders
     from clause_versions v join people p on p.id = v.by_id join clauses c on c.id = v.clause_id order by c.name, c.id, v.version desc`,
  )
  const ids = [...new Set(rows.map(row => row.clauseId))]
  const clauses = ids.map(id => ({
    id,
    versions: rows
      .filter(row => row.clauseId === id)
      .map(({ by, orders, ...row }) => {
        const { clauseId: _id, categories, countries, ...version } = versionOf(row)
        return { ...version, categories: [...categories], countries: [...countries], by, at: row.at, orders }
      }),
  }))
  return { clauses, languages: [...call.house.languages] }
}

/** Writes the next version of a clause. Two people who write at once: the second is told that there is another version. */
export async function saveClause(
  call: Write,
  { id, seen, ...wanted }: BodyOf<typeof SaveClause>,
): Promise<{ id: string; version: number }> {
  const clauseId = id ?? randomUUID()
  if (id === null) await call.trx('clauses').insert({ id: clauseId, name: wanted.name, version: 1 })
  const head = found(await call.trx('clauses').where({ id: clauseId }).forUpdate().first(), 'clause')
  const rows = await call.trx('clauseVersions').where({ clauseId }).orderBy('version', 'desc')
  const before = rows[0] ? versionOf(rows[0]) : null
  if ((before?.version ?? 0) !== seen) throw new RuleBroken(stop('clause.changed', { version: before?.version ?? 0 }))
  const categories = new Set(await call.trx('supplyCategories').pluck<string[]>('name'))
  refuse(whyNotClause(wanted, before, { today: call.today, first: call.house.languages[0] ?? '', categories }))
  const version = seen + 1
  const { from, text, ...rest } = wanted
  await call.trx('clauseVersions').insert({ clauseId, version, ...rest, fromDay: from, text: json(text), byId: call.actor.id, at: call.now }) // prettier-ignore
  await call.trx('clauses').where({ id: clauseId }).update({ name: wanted.name, version: head.version + (id === null ? 0 : 1) }) // prettier-ignore
  await record(call, {
    kind: 'clause',
    id: clauseId,
    action: id === null ? 'created' : 'changed',
    changes: { after: { version, ...wanted } },
  })
  return { id: clauseId, version }
}
