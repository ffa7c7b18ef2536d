import { type Minor, minor } from '#core/money/amount.ts'
import type { Read } from '#server/call.ts'

/** What had come in and was not billed at the end of a day, by line of an order and account, the most first. */
export async function accruedByLine(
  call: Read,
  on: string,
): Promise<{ lineId: string; accountId: string; amount: Minor }[]> {
  const { rows } = await call.trx.raw<{ rows: { lineId: string; accountId: string; amount: bigint }[] }>(
    `select e.line_id, e.account_id, sum(e.amount)::bigint as amount from budget_entries e
     where e.kind = 'accrued' and e.at < ((:on::date + 1)::timestamp at time zone :zone) group by 1, 2 having sum(e.amount) <> 0 order by 3 desc, 1, 2`,
    { on, zone: call.house.zone },
  )
  return rows.map(row => ({ ...row, amount: minor(row.amount) }))
}

/** What had come in and was not billed at the end of a day, by account, in the base currency. */
export async function accruedByAccount(call: Read, on: string): Promise<{ account: string; amount: Minor }[]> {
  const { rows } = await call.trx.raw<{ rows: { account: string; amount: bigint }[] }>(
    `select concat_ws(' · ', a.cost_centre, a.natural_account, a.project) as account, sum(e.amount)::bigint as amount from budget_entries e join budget_accounts a on a.id = e.account_id
     where e.kind = 'accrued' and e.at < ((:on::date + 1)::timestamp at time zone :zone) group by 1 having sum(e.amount) <> 0 order by 1`,
    { on, zone: call.house.zone },
  )
  return rows.map(({ account, amount }) => ({ account, amount: minor(amount) }))
}
