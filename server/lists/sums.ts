import type { ListSums } from '#contract/lists/list.ts'
import type { ListQuery } from '#contract/fields.ts'
import { readGroups } from '#core/lists/groups.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import type { Read } from '#server/call.ts'
import { asksOf, filtered, type ListColumn, type ListDefinition } from '#server/lists/list.ts'

/** Groups that are shown: whoever has more narrows the list first. */
const MOST_GROUPS = 500

/** What a list shows, counted and added up, for each value of the columns that it is grouped by. */
export async function listSums<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  query: ListQuery & { group?: string | undefined },
): Promise<ListSums> {
  const columns = new Map(
    asksOf(definition, call).flatMap(one => (one.sql === undefined ? [] : [[one.key, one] as const])),
  )
  const by = readGroups(query.group ?? '', [...columns.values()])
  const summed = definition.columns.filter(one => one.summed && one.sql !== undefined)
  const rows = filtered(definition, call, query)
  const values = by.map((key, index) => `${valueSql(columns.get(key)!)} as value_${index}`)
  const figures = summed.map((one, index) => `coalesce(sum(${one.sql}), 0)::text as figure_${index}`)
  const amount = definition.amount === undefined ? 'null' : `coalesce(sum(${definition.amount}), 0)::bigint`
  void rows
    .clearSelect()
    .select(...[...values, 'count(*)::int as count', `${amount} as amount`, ...figures].map(sql => call.trx.raw(sql)))
    .limit(MOST_GROUPS + 1)
  if (by.length > 0) {
    const places = by.map((_, index) => String(index + 1))
    void rows.groupByRaw(places.join(', ')).orderByRaw(places.map(place => `${place} nulls last`).join(', '))
  }
  const found = (await rows) as Record<string, string | number | bigint | null>[]
  return {
    by,
    groups: found.slice(0, MOST_GROUPS).map(row => ({
      values: by.map((_, index) => row[`value${index}`] as string | null),
      count: row.count as number,
      amount: row.amount === null ? null : formatAmount(minor(row.amount as bigint), call.base),
      figures: summed.map((one, index) => ({ key: one.key, sum: String(row[`figure${index}`]) })),
    })),
    more: found.length > MOST_GROUPS,
    currency: call.base,
  }
}

const valueSql = ({ sql, type }: ListColumn): string =>
  type === 'date' ? `to_char((${sql})::date, 'YYYY-MM')` : `nullif((${sql})::text, '')`
