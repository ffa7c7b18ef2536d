import type { Knex } from 'knex'

/**
 * Clauses that stand on orders, in versions that are never changed: of each order those that it got when it was issued, as they were. And which place of its
 * supplier an order goes to, where that is not the first that takes orders.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table clauses (id uuid primary key, name text not null, version int not null default 1);
    create table clause_versions (
      clause_id uuid not null references clauses (id), version int not null check (version > 0), name text not null, from_day date not null,
      ended boolean not null default false, scope text not null check (scope in ('all', 'goods', 'work')), categories text[] not null, countries text[] not null,
      text jsonb not null, by_id uuid not null references people (id), at timestamptz not null, primary key (clause_id, version));
    alter table orders add column clauses jsonb, add column location_id uuid;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
