import type { Knex } from 'knex'

/** Orders that are written without a request, and the lists from which many are written at once. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table orders add column direct boolean not null default false;
    create table buying_lists (
      id uuid primary key, file_name text not null, by_id uuid not null references people (id), at timestamptz not null, content jsonb not null,
      version int not null default 1, changed_at timestamptz not null);
    create index buying_lists_by on buying_lists (by_id, at desc)`)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
