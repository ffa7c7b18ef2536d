import type { Knex } from 'knex'

/**
 * Goods are counted in kinds: by batch, bin and condition, in another unit, with serial numbers; what they become is said by item and category. A count can
 * be taken back in part, and one above the tolerance waits for a second person.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table items add column receiving jsonb not null default '{}';
    alter table supply_categories add column receiving jsonb not null default '{}';
    alter table order_lines add column receiving jsonb not null default '{}', add column inspects boolean not null default false;
    alter table receipts drop constraint receipts_state_check,
      add constraint receipts_state_check check (state in ('asked', 'posted', 'reversed', 'refused')),
      add column source text not null default 'desk' check (source in ('desk', 'handheld', 'import', 'invoice', 'workReport')),
      add column check_reason text not null default '', add column consent_id uuid references consents (id);
    alter table receipt_lines
      add column position int not null default 1, add column entered_quantity numeric(18,6), add column entered_unit text, add column bin text not null default '', add column batch text not null default '',
      add column best_before date, add column condition text not null default 'good' check (condition in ('good', 'damaged')), add column serials text[] not null default '{}',
      add column note text not null default '', add column becomes text not null default 'counted' check (becomes in ('counted', 'stock', 'asset', 'work')), add column inspect boolean not null default false,
      add column bills_wait boolean not null default false, add column reversed numeric(18,6) not null default 0 check (reversed >= 0 and reversed <= quantity);
    update receipt_lines rl set entered_quantity = rl.quantity, entered_unit = l.unit, becomes = case when l.kind in ('goods', 'goodsByAmount') then 'counted' else 'work' end,
      reversed = case when r.state = 'reversed' then rl.quantity else 0 end
      from order_lines l, receipts r where l.id = rl.order_line_id and r.id = rl.receipt_id;
    update receipt_lines rl set position = n.position from (select id, row_number() over (partition by receipt_id order by id) as position from receipt_lines) n where n.id = rl.id;
    alter table receipt_lines alter column entered_quantity set not null, alter column entered_unit set not null;
    create index receipt_lines_of_order_line on receipt_lines (order_line_id);
    create table serials_here (key text not null primary key, serial text not null, receipt_line_id uuid not null references receipt_lines (id));
    create index serials_of_receipt_line on serials_here (receipt_line_id);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
