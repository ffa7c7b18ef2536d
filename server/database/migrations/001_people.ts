import type { Knex } from 'knex'

export async function up(knex: Knex): Promise<void> {
  await knex.raw('create extension if not exists pg_trgm')
  await knex.raw(`
    create table settings (key text primary key, value jsonb not null);

    create table cost_centres (code text primary key, name text not null);
    create table natural_accounts (code text primary key, name text not null);
    create table projects (code text primary key, name text not null, open boolean not null default true);

    create table suppliers (
      id uuid primary key, number text not null unique, name text not null check (length(name) between 1 and 300), search_name text not null,
      kind text not null check (kind in ('company', 'person')), state text not null check (state in ('active', 'paused', 'barred', 'closed')),
      currency char(3) not null, terms jsonb not null, over_receipt_percent integer not null default 0 check (over_receipt_percent between 0 and 100),
      categories text[] not null default '{}', version integer not null default 1, created_at timestamptz not null, changed_at timestamptz not null);
    create index suppliers_by_name on suppliers (name, id);
    create index suppliers_fuzzy on suppliers using gin (search_name gin_trgm_ops);

    create table people (
      id uuid primary key, name text not null, email text not null unique, realm text not null check (realm in ('team', 'supplier')),
      supplier_id uuid references suppliers (id), password_hash text, active boolean not null default true, manager_id uuid references people (id),
      locale text not null default 'en-GB', time_zone text not null default 'Europe/Amsterdam', version integer not null default 1,
      check ((realm = 'supplier') = (supplier_id is not null)));
    alter table cost_centres add column holder_id uuid references people (id);
    create table roles (code text primary key, permissions text[] not null);
    create table person_roles (
      id uuid primary key default gen_random_uuid(), person_id uuid not null references people (id), role text not null references roles (code), cost_centre text references cost_centres (code),
      unique nulls not distinct (person_id, role, cost_centre));
    create table sessions (token_hash text primary key, person_id uuid not null references people (id), created_at timestamptz not null, expires_at timestamptz not null);
    create table rate_limits (key text primary key, hits integer not null, resets_at timestamptz not null);
    create table request_keys (
      person_id uuid not null, key text not null, endpoint text not null, fingerprint text not null, answer jsonb, created_at timestamptz not null default now(), primary key (person_id, key));
    create index request_keys_by_age on request_keys (created_at);
    create sequence supplier_numbers start 101;
    create sequence requisition_numbers start 1001;
    create sequence order_numbers start 4001;
    create sequence receipt_numbers start 7001;
    create sequence invoice_numbers start 8001;
    create sequence run_numbers start 501;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
