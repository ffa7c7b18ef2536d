import type { Knex } from 'knex'

/** How an order reaches its supplier, kept when it is issued; where it does not go by mail, the last revision of which the supplier was told. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table orders add column channel text not null default 'mail' check (channel in ('mail', 'buyer', 'spoken')),
      add column told_revision int`)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
