import type { Knex } from 'knex'

/**
 * Lines that come in several deliveries, with what the supplier promised for which day. From here on an order is needed by the first day by which something
 * that has not come is needed: what came in meanwhile no longer makes an order late.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table order_lines add column schedule jsonb not null default '[]', add column promised_parts jsonb not null default '[]';
    update orders o set need_by = next.day from (
      select order_id, coalesce(min(need_by) filter (where quantity > 0 and proof <> 'none' and quantity > proven), min(need_by)) as day
      from order_lines group by order_id) next where next.order_id = o.id and next.day is distinct from o.need_by;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
