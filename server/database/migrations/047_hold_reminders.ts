import type { Knex } from 'knex'

/** When somebody was reminded of a difference last, and since when those above may clear it, too. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table invoice_holds add column reminded_at timestamptz, add column escalated_at timestamptz;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
