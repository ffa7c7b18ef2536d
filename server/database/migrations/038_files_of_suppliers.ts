import type { Knex } from 'knex'

/** Files that suppliers hang on what they announce and on what they report. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table despatches add column file_ids uuid[] not null default '{}';
    alter table work_reports add column file_ids uuid[] not null default '{}';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
