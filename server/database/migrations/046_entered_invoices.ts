import type { Knex } from 'knex'

/** Invoices that somebody typed beside a paper. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table invoices drop constraint invoices_source_check;
    alter table invoices add constraint invoices_source_check check (source in ('file', 'supplierPages', 'selfBilled', 'entered'));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
