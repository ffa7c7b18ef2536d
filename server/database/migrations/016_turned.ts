import type { Knex } from 'knex'

/** Signals that were good and are bad now are found by themselves. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table supplier_signals add column turned boolean not null default false;
    create index supplier_signals_turned on supplier_signals (supplier_id) where turned;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
