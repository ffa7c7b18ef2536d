import type { Knex } from 'knex'

/** Mails that wait for a moment, and what somebody is told once a day. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table outbox add column not_before timestamptz;
    create table mail_digest (
      id uuid primary key,
      person_id uuid not null references people (id) on delete cascade,
      key text not null unique,
      due timestamptz not null,
      subject text not null,
      path text not null,
      created_at timestamptz not null);
    create index mail_digest_due on mail_digest (due);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
