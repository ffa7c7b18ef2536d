import type { Knex } from 'knex'

/** What handhelds did: each act once by its key, with what became of it. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table handheld_acts (
      key uuid primary key, device_id uuid not null, sequence int not null, person_id uuid not null references people (id), sent_by uuid not null references people (id), made_at timestamptz not null, arrived_at timestamptz not null,
      order_id uuid not null references orders (id), act jsonb not null, state text not null check (state in ('taken', 'settle', 'dropped')), number text not null default '', reasons jsonb not null default '[]',
      receipt_id uuid references receipts (id), settled_by uuid references people (id), settled_at timestamptz, settle_reason text not null default '');
    create index handheld_acts_to_settle on handheld_acts (arrived_at) where state = 'settle';
    create index items_gtin on items (lpad(gtin, 14, '0')) where gtin <> '';
    create index items_lower_number on items (lower(number));
    create index items_lower_maker on items (lower(maker_number)) where maker_number <> '';
    create index offers_lower_item on offers (lower(supplier_item)) where supplier_item <> '';
    create index order_lines_by_item on order_lines (item_id) where item_id is not null and not settled;
    create index orders_lower_number on orders (lower(number));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
