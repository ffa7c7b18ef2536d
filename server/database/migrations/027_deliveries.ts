import type { Knex } from 'knex'

/**
 * Lines that come in several deliveries, with what the supplier promised for which day; charges and discounts of an order one by one, in place of one sum, also in
 * changes that are still being written or asked about. From here on an order is needed by the first day by which something
 * that has not come is needed: what came in meanwhile no longer makes an order late.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table order_lines add column schedule jsonb not null default '[]', add column promised_parts jsonb not null default '[]';
    alter table orders add column charge_items jsonb not null default '[]';
    update orders set charge_items = jsonb_build_array(jsonb_build_object('kind', 'freight', 'words', '', 'percent', null, 'amount', charges::text, 'splits', '[]'::jsonb))
      where charges <> 0;
    update order_changes c set content = jsonb_set(content, '{wanted,charges}', case when (content #>> '{wanted,charges}')::numeric = 0 then '[]'::jsonb
      else jsonb_build_array(jsonb_build_object('kind', 'freight', 'words', '', 'percent', null, 'amount', content #>> '{wanted,charges}', 'splits', '[]'::jsonb)) end)
      where jsonb_typeof(content #> '{wanted,charges}') = 'string';
    update consents c set subject = jsonb_set(subject, '{wanted,charges}', case when (subject #>> '{wanted,charges}')::numeric = 0 then '[]'::jsonb
      else jsonb_build_array(jsonb_build_object('kind', 'freight', 'words', '', 'percent', null, 'amount', subject #>> '{wanted,charges}', 'splits', '[]'::jsonb)) end)
      where jsonb_typeof(subject #> '{wanted,charges}') = 'string';
    update orders o set need_by = next.day from (
      select order_id, coalesce(min(need_by) filter (where quantity > 0 and proof <> 'none' and quantity > proven), min(need_by)) as day
      from order_lines group by order_id) next where next.order_id = o.id and next.day is distinct from o.need_by;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
