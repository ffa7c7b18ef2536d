import type { Knex } from 'knex'

/** Roles are kept by people, too. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table roles
      add column id uuid not null default gen_random_uuid() unique,
      add column own boolean not null default false,
      add column version integer not null default 1,
      add column changed_at timestamptz not null default now();
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
