import { fiscalYearOf, yearGone } from '#core/calendar/days.ts'
import { may, type Read } from '#server/call.ts'
import { visibleBindings, visibleSql } from '#server/documents/visible.ts'
import { type Glance, inBase, listAt, says } from '#server/glances/glance.ts'

interface Centre {
  code: string
  name: string
  allotted: bigint
  spent: bigint
  committed: bigint
  reserved: bigint
}

/** Budgets by cost centre, beside how much of the year has gone. */
export const insightGlance: Glance = async call => {
  if (!may(call, 'budget.read')) return { says: [], parts: [] }
  const centres = await byCentre(call)
  const over = centres.filter(one => one.allotted < one.spent + one.committed + one.reserved)
  const left = centres.reduce((sum, one) => sum + one.allotted - one.spent - one.committed - one.reserved, 0n)
  return {
    says: [
      says('glance.insight.left', { amount: inBase(call, left), currency: call.base }, '/insight?view=thisYear'),
      ...(over.length > 0
        ? [says('glance.insight.over', { count: over.length, who: over.map(one => one.code).join(', ') }, null, 'stop')]
        : []),
    ],
    parts: [
      {
        kind: 'budgets',
        key: 'insight.centres',
        pace: yearGone(call.today, call.house.fiscalYearFrom),
        rows: centres.map(one => ({
          title: `${one.code} ${one.name}`,
          allotted: inBase(call, one.allotted),
          spent: inBase(call, one.spent),
          committed: inBase(call, one.committed),
          reserved: inBase(call, one.reserved),
          to: listAt('/insight', { view: 'thisYear', q: one.code.toLowerCase() }),
        })),
      },
    ],
  }
}

async function byCentre(call: Read): Promise<Centre[]> {
  const sum = (kind: string): string =>
    `coalesce(sum(b.amount) filter (where b.kind = '${kind}'), 0)::bigint as ${kind}`
  const { rows } = await call.trx.raw<{ rows: Centre[] }>(
    `select centre.code, centre.name, ${['allotted', 'spent', 'committed', 'reserved'].map(sum).join(', ')}
     from budget_accounts account join cost_centres centre on centre.code = account.cost_centre left join budget_balances b on b.account_id = account.id
     where account.fiscal_year = :year and ${visibleSql(call, 'budgetAccount', 'account')} group by centre.code, centre.name order by centre.code`,
    { year: fiscalYearOf(call.today, call.house.fiscalYearFrom), ...visibleBindings(call) },
  )
  return rows
}
