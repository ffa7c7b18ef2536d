import type { Knex } from 'knex'

export interface Size {
  readonly lines: number
  readonly orders: number
  readonly suppliers: number
}

export const FULL: Size = { lines: 200_000, orders: 50_000, suppliers: 5_000 }
export const SMALL: Size = { lines: 4_000, orders: 1_000, suppliers: 100 }

/**
 * Fills a database that holds the demo with many more documents, in SQL: it is measured against, not worked with. Five lines a
 * requisition, four order lines an order, half of the orders received.
 */
export async function fill(db: Knex, size: Size): Promise<void> {
  const requisitions = Math.ceil(size.lines / 5)
  await db.raw(`
    insert into suppliers (id, number, name, search_name, match_key, search, kind, state, currency, terms, created_at, changed_at)
      select gen_random_uuid(), 'S-X9' || n, 'Supplier ' || md5(n::text), 'supplier ' || md5(n::text), md5(n::text), 'supplier ' || md5(n::text) || ' s-9' || n, 'company', 'active', 'EUR', '{"days": 30, "from": "invoice"}', now(), now() from generate_series(1, ${size.suppliers}) n`)
  await db.raw(`
    insert into requisitions (id, number, title, state, reason, requester_id, total, need_by, lines, created_at, submitted_at, decided_at, changed_at, search)
      select gen_random_uuid(), 'R-9' || n, 'Request ' || n, 'ordered', '', p.id, 50000, current_date + (n % 200), 5, now() - n * interval '1 minute', now(), now(), now(), lower('R-9' || n || ' request ' || n || ' pump valve salt')
      from generate_series(1, ${requisitions}) n, (select id from people where name like 'Joren%') p`)
  await db.raw(`
    insert into requisition_lines (id, requisition_id, position, kind, description, quantity, unit, price, price_base, currency, amount, base_amount, supplier_id, need_by, state, proof)
      select gen_random_uuid(), r.id, k, 'goods', 'Line ' || k || ' of ' || r.number, 10, 'C62', 10, 1, 'EUR', 10000, 10000, null, r.need_by, 'bought', 'count'
      from requisitions r, generate_series(1, 5) k where r.number like 'R-9%'`)
  await db.raw(`
    insert into line_splits (requisition_line_id, position, account_id, share)
      select l.id, 1, a.id, 1 from requisition_lines l join requisitions r on r.id = l.requisition_id, (select id from budget_accounts order by id limit 1) a where r.number like 'R-9%'`)
  await db.raw(`
    insert into orders (id, number, title, state, supplier_id, buyer_id, currency, rate, total, base_total, receive_extent, bill_extent, need_by, created_at, issued_at, changed_at, search)
      select gen_random_uuid(), 'O-9' || n, 'Order ' || n, case n % 3 when 0 then 'issued' when 1 then 'acknowledged' else 'closed' end, s.id, p.id, 'EUR', 1, 40000, 40000, case when n % 2 = 0 then 'full' else 'none' end, 'none', current_date + (n % 200), now() - n * interval '2 minutes', now(), now(), lower('O-9' || n || ' order ' || n || ' ' || s.name)
      from generate_series(1, ${size.orders}) n join lateral (select id, name from suppliers where number = 'S-X9' || (1 + n % ${size.suppliers})) s on true, (select id from people where name like 'Pilar%') p`)
  await db.raw(`
    insert into order_lines (id, order_id, position, requisition_line_id, kind, description, quantity, unit, price, price_base, amount, base_amount, need_by)
      select gen_random_uuid(), o.id, k, null, 'goods', 'Line ' || k || ' of ' || o.number, 10, 'C62', 10, 1, 10000, 10000, o.need_by from orders o, generate_series(1, 4) k where o.number like 'O-9%'`)
  await db.raw(`
    insert into quantity_balances (line_id, kind, quantity) select l.id, done.kind, 10 from order_lines l join orders o on o.id = l.order_id, unnest(case when o.receive_extent = 'full' then array['ordered', 'confirmed', 'received'] else array['ordered', 'confirmed'] end) as done (kind) where o.number like 'O-9%'`)
  await db.raw(`
    insert into desk_entries (document_kind, document_id, key, place, audience, plain, stage, act, tone, since, need_by, path, details)
      select 'order', gen_random_uuid(), 'late', 0, 'person:' || p.id, true, (array['order', 'receive', 'bill', 'pay'])[1 + n % 4], 'chase', 'attention', now() - n * interval '1 minute', current_date, '/order', '{}'
      from generate_series(1, ${size.lines}) n join (select id, row_number() over (order by name like 'Pilar%' desc, id) as turn, count(*) over () as people from people where realm = 'team') p on p.turn = 1 + n % p.people`)
  await db.raw('vacuum analyze')
}
