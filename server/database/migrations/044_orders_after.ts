import type { Knex } from 'knex'

/** Orders that are written afterwards for invoices that nobody ordered. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table orders add column for_invoice_id uuid references invoices (id);
    create index orders_for_invoice on orders (for_invoice_id) where for_invoice_id is not null;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
