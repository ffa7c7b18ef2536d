import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { INCOMPLETE } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import type { Write } from '#server/call.ts'
import { kindTopic, tell } from '#server/news/tell.ts'

const VALUES = `
  select 'source' as stage, 0::bigint as amount
  union all select 'request', coalesce(sum(total), 0)::bigint from requisitions where state = any(:drafts)
  union all select 'decide', coalesce(sum(total), 0)::bigint from requisitions where state = any(:deciding)
  union all select 'order', (coalesce((select sum(base_amount) from requisition_lines where state = 'toBuy'), 0) + coalesce((select sum(base_total) from orders where state = 'draft'), 0))::bigint
  union all select 'receive', coalesce(sum(base_total), 0)::bigint from orders where state = any(:live) and receive_extent = any(:incomplete)
  union all select 'bill', coalesce(sum(base_payable), 0)::bigint from invoices where state = any(:waiting)
  union all select 'pay', coalesce(sum(base_payable - base_set_off), 0)::bigint from invoices where state = any(:owed)`

/** Measures the open value of each stage: too much to add up whenever somebody looks, so it is done every minute. */
export async function measureStages(call: Write): Promise<void> {
  const { rowCount } = await call.trx.raw<{ rowCount: number }>(
    `insert into stage_values (stage, amount, measured_at) select stage, amount, :now from (${VALUES}) as measured
     on conflict (stage) do update set amount = excluded.amount, measured_at = excluded.measured_at where stage_values.amount <> excluded.amount`,
    {
      now: call.now,
      drafts: [...REQUISITION_GROUPS.drafts],
      deciding: [...REQUISITION_GROUPS.deciding],
      live: [...ORDER_GROUPS.live],
      incomplete: [...INCOMPLETE],
      waiting: [...INVOICE_GROUPS.waiting],
      owed: [...INVOICE_GROUPS.owed],
    },
  )
  if (rowCount > 0) await tell(call, [kindTopic('stageValues')])
}
