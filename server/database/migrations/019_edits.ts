import type { Knex } from 'knex'

/**
 * What was seen when a request was decided, by the hash that stands with the decision, so that a later change is measured against it; which
 * decision of before a step stands for, and from which round on decisions may still stand; and whom a requester chose, or added by hand, before submitting.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table seen_contents (
      hash text primary key check (hash ~ '^[0-9a-f]{64}$'),
      content jsonb not null);

    alter table consent_steps add column stood_from uuid references consent_steps (id) on delete set null;

    alter table requisitions
      add column stands_from integer not null default 1 check (stands_from >= 1),
      add column chosen jsonb not null default '{}',
      add column added uuid[] not null default '{}';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
