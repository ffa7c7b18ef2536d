import type { Knex } from 'knex'

/** Files in parts; who signs in, how, and for how long; workers that give signs of life; a house that says whether it is made up. */
export async function up(knex: Knex): Promise<void> {
  await files(knex)
  await access(knex)
  await running(knex)
}

/** Neither storing nor sending a file needs it whole in memory. */
async function files(knex: Knex): Promise<void> {
  await knex.raw(`
    create table file_parts (
      file_id uuid not null references files (id) on delete cascade, position integer not null, content bytea not null check (length(content) between 1 and 262144),
      primary key (file_id, position));
    alter table file_parts alter column content set storage external;
    insert into file_parts select f.id, n, substring(f.content from n * 262144 + 1 for 262144)
      from files f, generate_series(0, (length(f.content) - 1) / 262144) n where length(f.content) > 0;
    alter table files drop column content;
    create index files_by on files (by_id, at);
  `)
}

async function access(knex: Knex): Promise<void> {
  await knex.raw(`
    do $$
    declare twin text;
    begin
      select string_agg(email, ', ') into twin from people where lower(email) in (select lower(email) from people group by 1 having count(*) > 1);
      if twin is not null then raise exception 'These mail addresses differ only in capitals, and each can open one account only: %. Change all but one of them, then start again.', twin; end if;
    end $$;
    alter table people drop constraint people_email_key;
    update people set email = lower(email) where email <> lower(email);
    create unique index people_email_key on people (lower(email));
    alter table people add column second_factor text, add column second_factor_at timestamptz, add column codes_used bigint not null default 0, add column subject text unique, add column left_at timestamptz;
    delete from sessions;
    alter table sessions add column id uuid not null default gen_random_uuid() unique, add column seen_at timestamptz not null, add column agent text not null default '', add column network text not null default '',
      add column proven boolean not null default true;
    drop table rate_limits;
    create table sign_in_tries (key text primary key, failures integer not null, last_at timestamptz not null, until timestamptz);
    create index sessions_of on sessions (person_id);
    create table one_time_links (
      token_hash text primary key, person_id uuid references people (id), purpose text not null check (purpose in ('first', 'invitation', 'reset')),
      created_at timestamptz not null, expires_at timestamptz not null, used_at timestamptz);
    create index one_time_links_of on one_time_links (person_id);
    insert into settings (key, value) select 'demo', 'true' where exists (select 1 from people where email like '%.example' and password_hash is not null);
    update people set email = 'jobs@localhost', name = 'Ivory Order' where id = '00000000-0000-4000-8000-000000000001';
  `)
}

async function running(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table cost_centres add column id uuid not null default gen_random_uuid() unique, add column version integer not null default 1, add column changed_at timestamptz not null default now();
    update roles set permissions = array_append(permissions, 'setup.agree') where code in ('steward', 'financeController', 'director') and not 'setup.agree' = any(permissions);
    create index desk_entries_first on desk_entries (audience, key, need_by, since);
    create table worker_beats (id uuid primary key, hands text[] not null, started_at timestamptz not null, at timestamptz not null);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
