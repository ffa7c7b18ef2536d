import type { Knex } from 'knex'

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table quantity_entries (
      id bigint generated always as identity primary key, line_id uuid not null, kind text not null, quantity numeric(18,6) not null check (quantity <> 0), at timestamptz not null, actor_id uuid not null references people (id),
      document_kind text not null, document_id uuid not null, reverses_id bigint references quantity_entries (id));
    create index quantity_entries_of on quantity_entries (line_id);
    create index quantity_entries_document on quantity_entries (document_id);
    create unique index quantity_entries_reversed_once on quantity_entries (reverses_id);
    create table quantity_balances (line_id uuid not null, kind text not null, quantity numeric(18,6) not null, primary key (line_id, kind));

    create table budget_entries (
      id bigint generated always as identity primary key, account_id uuid not null references budget_accounts (id), kind text not null, amount bigint not null check (amount <> 0), line_id uuid, at timestamptz not null,
      actor_id uuid not null references people (id), document_kind text not null, document_id uuid not null);
    create index budget_entries_of on budget_entries (account_id, id);
    create index budget_entries_line on budget_entries (line_id);
    create table budget_balances (account_id uuid not null references budget_accounts (id), kind text not null, amount bigint not null, primary key (account_id, kind));

    create table history (
      document_id uuid not null, sequence integer not null, document_kind text not null, at timestamptz not null, actor_id uuid not null references people (id), on_behalf_of_id uuid references people (id), channel text not null, action text not null,
      changes jsonb not null, reason text, previous_hash text not null, hash text not null, primary key (document_id, sequence));

    create function refuse_change() returns trigger language plpgsql as $$ begin raise exception 'this table is append-only' using errcode = 'IV001'; end $$;
    create trigger append_only before update or delete or truncate on quantity_entries for each statement execute function refuse_change();
    create trigger append_only before update or delete or truncate on budget_entries for each statement execute function refuse_change();
    create trigger append_only before update or delete or truncate on history for each statement execute function refuse_change();

    create table outbox (
      id uuid primary key, kind text not null, key text not null unique, payload jsonb not null, document_kind text not null, document_id uuid not null, state text not null check (state in ('waiting', 'sent', 'failed')), attempts integer not null default 0,
      last_error text, created_at timestamptz not null, sent_at timestamptz);
    create index outbox_waiting on outbox (created_at) where state = 'waiting';
    create index outbox_of on outbox (document_id);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
