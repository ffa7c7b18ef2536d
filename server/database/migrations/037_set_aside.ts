import type { Knex } from 'knex'

/** What came and nobody ordered, as far as the dock could see. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create sequence aside_numbers start 101;
    create table set_asides (
      id uuid primary key, number text not null unique, state text not null check (state in ('waiting', 'linked', 'gaveBack', 'settled')), description text not null, quantity numeric(18,6) not null check (quantity > 0),
      unit text not null, place_id uuid not null references addresses (id), bin text not null, supplier_id uuid references suppliers (id), marks text not null, note text not null, buyer_id uuid references people (id),
      receipt_id uuid references receipts (id), outcome text not null default '', by_id uuid not null references people (id), version int not null default 1, created_at timestamptz not null, changed_at timestamptz not null);
    create index set_asides_waiting on set_asides (created_at) where state = 'waiting';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
