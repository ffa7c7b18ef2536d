import type { Knex } from 'knex'

/** An answer that a supplier gave by telephone or mail and that one of us typed in: who said so, when and how. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`alter table order_responses add column told jsonb`)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
