import type { Knex } from 'knex'

/** Months of the books that were closed, with what their journal was then. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table book_periods (
      month text primary key check (month ~ '^\\d{4}-(0[1-9]|1[0-2])$'), state text not null check (state in ('open', 'closed')), lines int not null, total bigint not null, digest text not null,
      by_id uuid not null references people (id), at timestamptz not null, reason text not null default '');
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
