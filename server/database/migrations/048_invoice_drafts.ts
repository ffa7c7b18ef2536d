import type { Knex } from 'knex'

/** Invoices that suppliers began on their pages and have not sent: one for each order. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table invoice_drafts (
      order_id uuid primary key references orders (id),
      revision integer not null,
      content jsonb not null,
      by_id uuid not null references people (id),
      at timestamptz not null
    );
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
