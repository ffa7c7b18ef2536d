import type { DeskItem } from '#contract/people/endpoints.ts'
import type { Permission } from '#contract/permissions.ts'
import { formatAmount } from '#core/money/amount.ts'
import { type Call, may } from '#server/call.ts'

/** One kind of thing that waits: for whom, and how to find it. Every row names what decides. */
interface Waiting {
  readonly key: string
  readonly stage: string
  readonly act: string
  readonly tone: DeskItem['tone']
  readonly needs: Permission | null
  readonly sql: string
  readonly path: (id: string) => string
}

interface Row {
  id: string
  amount: bigint | null
  currency: string | null
  since: string
  needBy: string | null
  number: string
  title: string
  who: string | null
  extra: string | null
}

const COLUMNS = 'id, amount, currency, since, need_by, number, title, who, extra'

const WAITING: readonly Waiting[] = [
  {
    key: 'decide',
    stage: 'decide',
    act: 'decide',
    tone: 'attention',
    needs: null,
    path: id => `/decide/${id}`,
    sql: `select r.id, r.total as amount, :base as currency, s.opened_at as since, r.need_by, r.number, r.title, p.name as who, coalesce(s.cost_centre, s.rule_name) as extra from approval_steps s join requisitions r on r.id = s.requisition_id and r.round = s.round join people p on p.id = r.requester_id where s.approver_id = :me and s.state = 'open' and r.state = 'waiting'`,
  },
  {
    key: 'returned',
    stage: 'request',
    act: 'mend',
    tone: 'attention',
    needs: null,
    path: id => `/request/${id}`,
    sql: `select r.id, r.total as amount, :base as currency, r.changed_at as since, r.need_by, r.number, r.title, null as who, (select reason from approval_steps s where s.requisition_id = r.id and s.round = r.round and s.state = 'returned' limit 1) as extra from requisitions r where r.requester_id = :me and r.state = 'returned'`,
  },
  {
    key: 'draft',
    stage: 'request',
    act: 'submit',
    tone: 'plain',
    needs: null,
    path: id => `/request/${id}`,
    sql: `select r.id, r.total as amount, :base as currency, r.changed_at as since, r.need_by, r.number, coalesce(nullif(r.title, ''), r.number) as title, null as who, null as extra from requisitions r where r.requester_id = :me and r.state = 'draft' and r.lines > 0`,
  },
  {
    key: 'acceptWork',
    stage: 'receive',
    act: 'accept',
    tone: 'plain',
    needs: null,
    path: id => `/receive/${id}`,
    sql: `select distinct on (o.id) o.id, o.total as amount, o.currency, o.issued_at as since, l.need_by, o.number, l.description as title, sup.name as who, null as extra from orders o join order_lines l on l.order_id = o.id and l.kind = 'fixedPriceWork' join requisition_lines rl on rl.id = l.requisition_line_id join requisitions r on r.id = rl.requisition_id join suppliers sup on sup.id = o.supplier_id where r.requester_id = :me and o.state in ('issued', 'acknowledged') and l.need_by <= :today::date + 3 and coalesce((select quantity from quantity_balances where line_id = l.id and kind = 'accepted'), 0) < l.quantity`,
  },
  {
    key: 'toBuy',
    stage: 'order',
    act: 'buy',
    tone: 'plain',
    needs: 'order.write',
    path: () => '/order/to-buy',
    sql: `select r.id, sum(l.base_amount)::bigint as amount, :base as currency, r.decided_at as since, min(l.need_by) as need_by, r.number, r.title, p.name as who, count(*)::text as extra from requisition_lines l join requisitions r on r.id = l.requisition_id join people p on p.id = r.requester_id where l.state = 'toBuy' group by r.id, p.name`,
  },
  {
    key: 'answer',
    stage: 'order',
    act: 'answer',
    tone: 'attention',
    needs: 'order.write',
    path: id => `/order/${id}`,
    sql: `select o.id, o.total as amount, o.currency, a.at as since, o.need_by, o.number, o.title, s.name as who, jsonb_array_length(a.differences)::text as extra from order_responses a join orders o on o.id = a.order_id join suppliers s on s.id = o.supplier_id where a.state = 'waiting'`,
  },
  {
    key: 'issue',
    stage: 'order',
    act: 'issue',
    tone: 'plain',
    needs: 'order.write',
    path: id => `/order/${id}`,
    sql: `select o.id, o.total as amount, o.currency, o.created_at as since, o.need_by, o.number, o.title, s.name as who, null as extra from orders o join suppliers s on s.id = o.supplier_id where o.state = 'draft' and o.buyer_id = :me`,
  },
  {
    key: 'late',
    stage: 'order',
    act: 'chase',
    tone: 'stop',
    needs: 'order.write',
    path: id => `/order/${id}`,
    sql: `select o.id, o.total as amount, o.currency, o.need_by::timestamptz as since, o.need_by, o.number, o.title, s.name as who, (:today::date - o.need_by)::text as extra from orders o join suppliers s on s.id = o.supplier_id where o.state in ('issued', 'acknowledged') and o.receive_extent in ('none', 'part') and o.need_by < :today and o.buyer_id = :me`,
  },
  {
    key: 'expected',
    stage: 'receive',
    act: 'receive',
    tone: 'plain',
    needs: 'delivery.receive',
    path: id => `/receive/${id}`,
    sql: `select o.id, null::bigint as amount, null as currency, o.issued_at as since, o.need_by, o.number, o.title, s.name as who, a.name as extra from orders o join suppliers s on s.id = o.supplier_id left join addresses a on a.id = o.address_id where o.state in ('issued', 'acknowledged') and o.receive_extent in ('none', 'part') and o.need_by <= :today::date + 2 and exists (select 1 from order_lines where order_id = o.id and kind = 'goods')`,
  },
  {
    key: 'hold',
    stage: 'bill',
    act: 'clear',
    tone: 'stop',
    needs: 'hold.clear',
    path: id => `/bill/${id}`,
    sql: `select distinct on (i.id) i.id, h.amount, i.currency, h.opened_at as since, i.due_on as need_by, i.number, s.name || ', ' || i.supplier_number as title, s.name as who, h.kind as extra from invoice_holds h join invoices i on i.id = h.invoice_id join suppliers s on s.id = i.supplier_id where h.ended_at is null and h.cleared_by = any(:roles) and i.state = 'onHold'`,
  },
  {
    key: 'post',
    stage: 'bill',
    act: 'post',
    tone: 'plain',
    needs: 'invoice.write',
    path: id => `/bill/${id}`,
    sql: `select i.id, i.gross as amount, i.currency, i.received_at as since, i.due_on as need_by, i.number, s.name || ', ' || i.supplier_number as title, s.name as who, null as extra from invoices i join suppliers s on s.id = i.supplier_id where i.state = 'matched'`,
  },
  {
    key: 'approveRun',
    stage: 'pay',
    act: 'approve',
    tone: 'attention',
    needs: 'payment.approve',
    path: id => `/pay/${id}`,
    sql: `select r.id, r.base_total as amount, :base as currency, r.created_at as since, r.execute_on as need_by, r.number, 'Payment run of ' || r.execute_on as title, p.name as who, r.payments::text as extra from payment_runs r join people p on p.id = r.proposed_by where r.state = 'proposed' and r.proposed_by <> :me`,
  },
  {
    key: 'due',
    stage: 'pay',
    act: 'propose',
    tone: 'plain',
    needs: 'payment.propose',
    path: () => '/pay?list=payables&view=due',
    sql: `select i.id, i.gross as amount, i.currency, i.posted_at as since, i.due_on as need_by, i.number, s.name || ', ' || i.supplier_number as title, s.name as who, null as extra from invoices i join suppliers s on s.id = i.supplier_id where i.state = 'cleared' and i.due_on <= :today and not exists (select 1 from payments p where p.invoice_id = i.id and p.state = 'refused')`,
  },
  {
    key: 'refused',
    stage: 'pay',
    act: 'see',
    tone: 'stop',
    needs: 'payment.propose',
    path: id => `/bill/${id}`,
    sql: `select i.id, i.gross as amount, i.currency, i.changed_at as since, i.due_on as need_by, i.number, s.name || ', ' || i.supplier_number as title, s.name as who, (select bank_reason from payments p where p.invoice_id = i.id and p.state = 'refused' limit 1) as extra from invoices i join suppliers s on s.id = i.supplier_id where i.state = 'cleared' and exists (select 1 from payments p where p.invoice_id = i.id and p.state = 'refused')`,
  },
  {
    key: 'prove',
    stage: 'source',
    act: 'prove',
    tone: 'attention',
    needs: 'supplier.prove',
    path: id => `/source/${id}`,
    sql: `select s.id, null::bigint as amount, null as currency, a.changed_at as since, null::date as need_by, s.number, s.name as title, p.name as who, right(a.iban, 4) as extra from supplier_bank_accounts a join suppliers s on s.id = a.supplier_id join people p on p.id = a.changed_by where a.state = 'unproven' and a.changed_by <> :me`,
  },
  {
    key: 'agree',
    stage: 'source',
    act: 'see',
    tone: 'attention',
    needs: 'supplier.agree',
    path: id => `/source/agreements/${id}`,
    sql: `select a.id, null::bigint as amount, null as currency, a.asked_at as since, null::date as need_by, '' as number, case a.kind when 'bar' then 'to bar ' || s.name else 'two records with one number, ' || (a.subject -> 'supplier' ->> 'name') end as title, p.name as who, null as extra from agreements a join people p on p.id = a.asked_by left join suppliers s on s.id = a.supplier_id where a.state = 'waiting' and a.asked_by <> :me`,
  },
  {
    key: 'proposed',
    stage: 'source',
    act: 'see',
    tone: 'plain',
    needs: 'supplier.write',
    path: id => `/source/onboardings/${id}`,
    sql: `select o.id, null::bigint as amount, null as currency, o.created_at as since, null::date as need_by, o.number, s.name as title, p.name as who, null as extra from onboardings o join suppliers s on s.id = o.supplier_id join people p on p.id = o.by_id where o.state = 'proposed'`,
  },
  {
    key: 'answersIn',
    stage: 'source',
    act: 'see',
    tone: 'plain',
    needs: 'supplier.write',
    path: id => `/source/onboardings/${id}`,
    sql: `select o.id, null::bigint as amount, null as currency, o.submitted_at as since, null::date as need_by, o.number, s.name as title, null as who, null as extra from onboardings o join suppliers s on s.id = o.supplier_id where o.state = 'submitted'`,
  },
  {
    key: 'onboardingDecide',
    stage: 'source',
    act: 'decide',
    tone: 'attention',
    needs: null,
    path: id => `/source/onboardings/${id}`,
    sql: `select distinct on (o.id) o.id, null::bigint as amount, null as currency, o.changed_at as since, null::date as need_by, o.number, s.name as title, null as who, case when d.category = '' then '' else ', ' || d.category end as extra from onboarding_decisions d join onboardings o on o.id = d.onboarding_id join suppliers s on s.id = o.supplier_id where d.state = 'open' and o.state = 'deciding' and (d.person_id = :me or (d.office = 'finance' and 'financeController' = any(:roles)))`,
  },
  {
    key: 'revision',
    stage: 'source',
    act: 'see',
    tone: 'attention',
    needs: 'supplier.write',
    path: id => `/source/${id}`,
    sql: `select s.id, null::bigint as amount, null as currency, min(r.at) as since, null::date as need_by, s.number, s.name as title, null as who, count(*)::text as extra from supplier_revisions r join suppliers s on s.id = r.supplier_id where r.state = 'waiting' group by s.id`,
  },
  {
    key: 'certificateEnds',
    stage: 'source',
    act: 'see',
    tone: 'attention',
    needs: 'supplier.write',
    path: id => `/source/${id}`,
    sql: `select s.id, null::bigint as amount, null as currency, (c.valid_to - 60)::timestamptz as since, c.valid_to as need_by, s.number, s.name as title, null as who, c.kind as extra from supplier_certificates c join suppliers s on s.id = c.supplier_id where c.state = 'current' and c.valid_to < :today::date + 30 and s.state in ('active', 'paused') and (s.owner_id is null or s.owner_id = :me)`,
  },
  {
    key: 'bounced',
    stage: 'source',
    act: 'see',
    tone: 'attention',
    needs: 'supplier.write',
    path: id => `/source/${id}`,
    sql: `select s.id, null::bigint as amount, null as currency, min(a.bounced_at) as since, null::date as need_by, s.number, s.name as title, null as who, string_agg(distinct a.email, ', ') as extra from supplier_addresses a join suppliers s on s.id = a.supplier_id where a.bounced_at is not null and s.state in ('active', 'paused') group by s.id`,
  },
  {
    key: 'longJob',
    stage: 'source',
    act: 'see',
    tone: 'plain',
    needs: 'supplier.write',
    path: id => `/source/jobs/${id}`,
    sql: `select j.id, null::bigint as amount, null as currency, j.created_at as since, null::date as need_by, '' as number, case j.kind when 'duplicates' then 'Search for duplicates' else 'Import of suppliers' end as title, null as who, case j.state when 'running' then j.done || ' of ' || j.total when 'done' then 'done' when 'failed' then 'failed' else 'starts soon' end as extra from long_jobs j where j.by_id = :me and not j.seen`,
  },
  {
    key: 'question',
    stage: 'request',
    act: 'answer',
    tone: 'attention',
    needs: null,
    path: id => `/request/${id}`,
    sql: `select distinct on (r.id) r.id, r.total as amount, :base as currency, q.asked_at as since, r.need_by, r.number, r.title, p.name as who, q.question as extra from request_questions q join requisitions r on r.id = q.requisition_id join people p on p.id = q.asked_by where q.answered_at is null and r.requester_id = :me order by r.id, q.asked_at`,
  },
  {
    key: 'transfer',
    stage: 'decide',
    act: 'decide',
    tone: 'attention',
    needs: 'budget.transfer',
    path: () => '/insight/transfers',
    sql: `select t.id, t.amount, :base as currency, t.asked_at as since, null::date as need_by, t.number, a.cost_centre || ' / ' || a.natural_account || ' to ' || b.cost_centre || ' / ' || b.natural_account as title, p.name as who, t.reason as extra from budget_transfers t join budget_accounts a on a.id = t.from_id join budget_accounts b on b.id = t.to_id join people p on p.id = t.asked_by
      where t.state = 'waiting' and t.asked_by <> :me and (exists (select 1 from person_roles pr join roles on roles.code = pr.role where pr.person_id = :me and 'budget.write' = any(permissions)) or exists (select 1 from cost_centres c where c.code = a.cost_centre and c.holder_id = :me) or exists (select 1 from person_roles pr where pr.person_id = :me and pr.cost_centre = a.cost_centre))`,
  },
  {
    key: 'stalled',
    stage: 'decide',
    act: 'passOn',
    tone: 'stop',
    needs: 'requisition.passOn',
    path: id => `/decide/${id}`,
    sql: `select r.id, r.total as amount, :base as currency, s.opened_at as since, r.need_by, r.number, r.title, a.name as who, s.rule_name as extra from approval_steps s join people a on a.id = s.approver_id and not a.active join requisitions r on r.id = s.requisition_id and r.round = s.round where s.state = 'open' and r.state = 'waiting'`,
  },
]

const PER_KIND = 40

/** What waiting costs: late needs first, then what is needed soonest, then the oldest. */
const urgency = (item: DeskItem): string => `${item.tone === 'stop' ? 0 : 1} ${item.needBy ?? '9999-12-31'} ${item.since}`

/** Everything that waits for this person, over all stages, the dearest to leave first. */
export async function readDesk(call: Call): Promise<{ items: DeskItem[] }> {
  const mine = WAITING.filter(kind => kind.needs === null || may(call, kind.needs))
  const items = await Promise.all(mine.map(async kind => (await rowsOf(call, kind)).map(row => toItem(kind, row))))
  return { items: items.flat().sort((a, b) => (urgency(a) < urgency(b) ? -1 : 1)) }
}

async function rowsOf(call: Call, kind: Waiting): Promise<Row[]> {
  const { rows } = (await call.trx.raw(`select ${COLUMNS} from (${kind.sql}) waiting order by need_by nulls last, since limit ${PER_KIND}`, {
    me: call.actor.id,
    base: call.base,
    today: call.today,
    roles: [...call.actor.roles],
  })) as { rows: Row[] }
  return rows
}

function toItem(kind: Waiting, row: Row): DeskItem {
  return {
    key: `${kind.key}:${row.id}`,
    stage: kind.stage,
    path: kind.path(row.id),
    act: kind.act,
    tone: kind.tone,
    amount: row.amount === null || row.currency === null ? null : formatAmount(row.amount, row.currency),
    currency: row.currency,
    since: row.since,
    needBy: row.needBy,
    sentence: { code: `desk.${kind.key}`, details: { number: row.number, title: row.title, who: row.who ?? '', extra: row.extra ?? '', needBy: row.needBy ?? '' } },
  }
}

const OPEN = `
  select 'source' as stage, 0::bigint as open union all
  select 'request', coalesce(sum(total) filter (where state in ('draft', 'returned')), 0)::bigint from requisitions where state in ('draft', 'returned') union all
  select 'decide', coalesce(sum(total), 0)::bigint from requisitions where state = 'waiting' union all
  select 'order', coalesce((select sum(base_amount) from requisition_lines where state = 'toBuy'), 0)::bigint + coalesce((select sum(base_total) from orders where state = 'draft'), 0)::bigint union all
  select 'receive', coalesce(sum(base_total), 0)::bigint from orders where state in ('issued', 'acknowledged') and receive_extent in ('none', 'part') union all
  select 'bill', coalesce(sum(base_gross), 0)::bigint from invoices where state in ('read', 'onHold', 'matched') union all
  select 'pay', coalesce(sum(base_gross), 0)::bigint from invoices where state in ('cleared', 'scheduled')`

/** Counts for the Course: how many things wait for this person in each stage, and the open value there. */
export async function readCounts(call: Call): Promise<{ desk: number; stages: { stage: string; waiting: number; open: string }[]; currency: string }> {
  const mine = WAITING.filter(kind => kind.needs === null || may(call, kind.needs))
  const [counts, open] = await Promise.all([
    Promise.all(mine.map(async kind => ({ stage: kind.stage, count: (await rowsOf(call, kind)).length }))),
    call.trx.raw(OPEN) as Promise<{ rows: { stage: string; open: bigint }[] }>,
  ])
  return {
    desk: counts.reduce((sum, one) => sum + one.count, 0),
    currency: call.base,
    stages: open.rows.map(row => ({
      stage: row.stage,
      waiting: counts.filter(one => one.stage === row.stage).reduce((sum, one) => sum + one.count, 0),
      open: formatAmount(row.open, call.base),
    })),
  }
}
