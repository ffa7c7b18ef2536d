import type { Knex } from 'knex'

/**
 * What decisions need beside the questions themselves: away times with and without a stand-in, for kinds and up to amounts; the time that a
 * decision may take; what was seen and through which channel it was decided; ways to decide out of a mail, and the mails that come in; a
 * question of somebody who decides, which stops their clock; reasons that people keep.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table stand_ins rename to away_times;
    alter table away_times drop constraint stand_ins_pkey;
    alter table away_times
      alter column stand_in_id drop not null,
      add column id uuid not null default gen_random_uuid(),
      add column kinds text[] not null default '{}',
      add column amount_limit bigint check (amount_limit >= 0),
      add column away boolean not null default true,
      add column note text not null default '',
      add column version integer not null default 1,
      add column changed_at timestamptz not null default now(),
      add primary key (id),
      add check (away or stand_in_id is not null);
    alter table away_times alter column id drop default;
    create index away_times_of on away_times (person_id, to_day);

    alter table consent_steps drop constraint consent_steps_state_check;
    alter table consent_steps
      add check (state in ('later', 'open', 'approved', 'rejected', 'returned', 'skipped', 'dropped')),
      add column stall text,
      add column due_at timestamptz,
      add column paused_at timestamptz,
      add column reminded_at timestamptz,
      add column late_told_at timestamptz,
      add column channel text,
      add column seen_version integer,
      add column seen_hash text;
    create index consent_steps_stalled on consent_steps (consent_id) where stall is not null;
    create index consent_steps_due on consent_steps (due_at) where state = 'open';

    alter table request_questions add column step_id uuid references consent_steps (id);

    create table decision_ways (
      id uuid primary key,
      consent_id uuid not null references consents (id) on delete cascade,
      step_id uuid not null references consent_steps (id) on delete cascade,
      person_id uuid not null references people (id),
      secret text not null,
      seen_hash text not null,
      created_at timestamptz not null,
      expires_at timestamptz not null,
      used_at timestamptz,
      used_as text);
    create index decision_ways_of on decision_ways (step_id);

    create table mails_in (
      id uuid primary key,
      message_key text not null unique,
      received_at timestamptz not null,
      recipient text not null,
      raw bytea,
      outcome text);

    create table kept_reasons (
      id uuid primary key,
      person_id uuid not null references people (id) on delete cascade,
      text text not null check (length(text) between 3 and 500),
      used_at timestamptz not null,
      unique (person_id, text));
    insert into settings (key, value) values ('rebuild', 'true') on conflict (key) do nothing;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
