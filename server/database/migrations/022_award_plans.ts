import type { Knex } from 'knex'

/**
 * Award plans: what the team wishes and tries for an event, and every computation with all that it was made of, so that it can be made again. A long job
 * can be asked to stop.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table award_plans (
      event_id uuid primary key references events (id) on delete cascade, wishes jsonb not null, terms jsonb not null,
      version int not null default 1, changed_by uuid not null references people (id), changed_at timestamptz not null);

    create table award_plan_runs (
      id uuid primary key, event_id uuid not null references events (id) on delete cascade, job_id uuid not null references long_jobs (id),
      facts jsonb not null, wishes jsonb not null, outcome jsonb, by_id uuid not null references people (id), at timestamptz not null, seconds numeric(9, 3));
    create index award_plan_runs_event on award_plan_runs (event_id, at desc);

    alter table long_jobs add column stop_asked boolean not null default false;
    alter table long_jobs drop constraint long_jobs_kind_check;
    alter table long_jobs add constraint long_jobs_kind_check check (kind in ('duplicates', 'supplierImport', 'awardPlan'));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
