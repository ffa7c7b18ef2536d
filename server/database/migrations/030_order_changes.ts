import type { Knex } from 'knex'

/** Changes of issued orders that are still being written, one for each order: nothing that somebody typed is lost, and others see that it is under way. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table order_changes (
      order_id uuid primary key references orders (id), content jsonb not null, revision int not null, by_id uuid not null references people (id),
      changed_at timestamptz not null)`)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
