import type { Knex } from 'knex'

/** What had come in and was billed of a line before its order was taken over: the ledgers hold it, and no receipt or invoice of ours shows it. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table order_lines add column received_before numeric(18,6) not null default 0 check (received_before >= 0),
      add column billed_before numeric(18,6) not null default 0 check (billed_before >= 0)`)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
