import type { Knex } from 'knex'

/** Orders that go to another installation or come from one, and what the names of each sender mean here. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table order_exchanges (
      id uuid primary key, direction text not null check (direction in ('out', 'in')), sender text not null, content jsonb not null, made jsonb not null default '{}',
      by_id uuid not null references people (id), at timestamptz not null, version int not null default 1, changed_at timestamptz not null);
    create index order_exchanges_by on order_exchanges (by_id, at desc);
    create table order_mappings (
      sender text not null, kind text not null check (kind in ('supplier', 'item', 'account', 'place')), theirs text not null, ours text not null,
      by_id uuid not null references people (id), at timestamptz not null, primary key (sender, kind, theirs));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
