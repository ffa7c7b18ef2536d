import type { Knex } from 'knex'

/** What a line of a bill says of what it bills, beside its words: by that it is found among the orders. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(
    `alter table invoice_lines add column told jsonb not null default '{"sellerItem": "", "buyerItem": "", "order": "", "orderLine": ""}'`,
  )
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
