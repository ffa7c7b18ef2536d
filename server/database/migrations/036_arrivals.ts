import type { Knex } from 'knex'

/** Goods are in, and whoever asked for them says whether they have them. Only the hash of the token of a mail's link is kept. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table arrivals (
      id uuid primary key, state text not null check (state in ('asked', 'confirmed', 'inPart', 'damaged', 'notMine', 'settled', 'ended')), title text not null,
      order_id uuid not null references orders (id), receipt_id uuid not null references receipts (id), requester_id uuid not null references people (id), lines jsonb not null, note text not null default '',
      asked_on date not null, reminded_on date, told_on date, answered_at timestamptz, token_hash text unique, link_ends_on date not null, version int not null default 1,
      created_at timestamptz not null, changed_at timestamptz not null, unique (receipt_id, requester_id));
    create index arrivals_of_order on arrivals (order_id);
    create index arrivals_silent on arrivals (asked_on) where state = 'asked';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
