import type { Knex } from 'knex'

/** What people make their own: saved views of lists, what the interface remembers of them, what they put off. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table saved_views (
      id uuid primary key default gen_random_uuid(),
      list text not null,
      name text not null check (name <> ''),
      owner_id uuid not null references people (id) on delete cascade,
      asked jsonb not null,
      columns jsonb not null,
      roles text[] not null default '{}',
      people uuid[] not null default '{}',
      version integer not null default 1,
      changed_at timestamptz not null default now(),
      unique (list, owner_id, name));
    create table setup_entries (
      id uuid primary key,
      register text not null,
      code text not null,
      values jsonb not null,
      open boolean not null default true,
      version integer not null default 1,
      changed_at timestamptz not null,
      unique (register, code));
    insert into setup_entries (id, register, code, values, changed_at)
      select gen_random_uuid(), 'calendars', 'HOUSE', jsonb_build_object('code', 'HOUSE', 'name', 'The house', 'restDays', coalesce(
        (select string_agg((array['SU', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA'])[day::int + 1], ' ') from jsonb_array_elements_text(value -> 'restDays') as day), '')), now()
      from settings where key = 'calendar';
    insert into setup_entries (id, register, code, values, changed_at)
      select gen_random_uuid(), 'holidays', 'HOUSE ' || day, jsonb_build_object('calendar', 'HOUSE', 'day', day, 'name', 'Holiday'), now()
      from (select distinct jsonb_array_elements_text(value -> 'holidays') as day from settings where key = 'calendar') as days;
    delete from settings where key = 'calendar';
    create table put_off (
      person_id uuid not null references people (id) on delete cascade,
      document_id uuid not null,
      key text not null,
      place integer not null,
      until date not null,
      primary key (person_id, document_id, key, place));
    create index history_by on history (actor_id, at);
    alter table orders add column chased_at timestamptz;
    create table preferences (
      person_id uuid not null references people (id) on delete cascade,
      key text not null,
      subject text not null,
      value jsonb not null,
      primary key (person_id, key, subject));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
