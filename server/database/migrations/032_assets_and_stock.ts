import type { Knex } from 'knex'

/**
 * What counts become: pieces that are kept one by one under a tag of ours, and goods in stock, in a ledger of movements that is only ever added to, with sums
 * beside it.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create sequence asset_numbers start 1001;
    create table assets (
      id uuid primary key, number text not null unique, state text not null check (state in ('unfinished', 'inUse', 'returned', 'disposed', 'voided')),
      tag text unique, serial text not null default '', item_id uuid references items (id), description text not null, order_line_id uuid not null references order_lines (id),
      receipt_line_id uuid not null references receipt_lines (id), place_id uuid references addresses (id), bin text not null default '', person_id uuid references people (id),
      received_on date not null, cost bigint not null, account_id uuid references budget_accounts (id), needs_serial boolean not null, tag_range text not null default '', warranty_to date,
      service_months int not null default 0 check (service_months >= 0), parent_id uuid references assets (id), note text not null default '',
      version int not null default 1, created_at timestamptz not null, changed_at timestamptz not null,
      search text generated always as (lower(number || ' ' || coalesce(tag, '') || ' ' || serial || ' ' || description)) stored);
    create index assets_of_receipt_line on assets (receipt_line_id);
    create index assets_of_order_line on assets (order_line_id);
    create index assets_by_serial on assets (item_id, upper(serial)) where serial <> '';
    create index assets_unfinished on assets (created_at) where state = 'unfinished';
    create index assets_search on assets using gin (search gin_trgm_ops);
    create table tag_counters (range_code text primary key, last bigint not null);

    create sequence stock_numbers start 101;
    create table stock_entries (
      id bigint generated always as identity primary key, item_id uuid not null references items (id), place_id uuid not null references addresses (id), bin text not null, batch text not null,
      kind text not null check (kind in ('received', 'issued', 'moved', 'counted', 'returned')), quantity numeric(18,6) not null check (quantity <> 0), value bigint not null,
      at timestamptz not null, actor_id uuid not null references people (id), document_kind text not null, document_id uuid not null, receipt_line_id uuid references receipt_lines (id));
    create index stock_entries_of_item on stock_entries (item_id, place_id, id);
    create index stock_entries_of_document on stock_entries (document_id);
    create index stock_entries_of_receipt_line on stock_entries (receipt_line_id) where receipt_line_id is not null;
    create trigger append_only before update or delete or truncate on stock_entries for each statement execute function refuse_change();
    create table stock_lots (
      item_id uuid not null references items (id), place_id uuid not null references addresses (id), bin text not null, batch text not null, quantity numeric(18,6) not null check (quantity >= 0),
      best_before date, primary key (item_id, place_id, bin, batch));
    create table stock_holdings (
      id uuid not null unique default gen_random_uuid(), item_id uuid not null references items (id), place_id uuid not null references addresses (id), quantity numeric(18,6) not null check (quantity >= 0), value bigint not null check (value >= 0),
      changed_at timestamptz not null, primary key (item_id, place_id));
    create table stock_moves (
      id uuid primary key, number text not null unique, kind text not null check (kind in ('issue', 'move', 'count')), state text not null check (state in ('posted', 'asked', 'refused')),
      place_id uuid not null references addresses (id), purpose text not null default '', reason text not null default '', lines jsonb not null, consent_id uuid references consents (id), by_id uuid not null references people (id),
      at timestamptz not null, version int not null default 1, changed_at timestamptz not null);
    create index stock_moves_asked on stock_moves (at) where state = 'asked';
    create table stock_reservations (
      id uuid primary key, item_id uuid not null references items (id), place_id uuid not null references addresses (id), quantity numeric(18,6) not null check (quantity > 0), purpose text not null,
      until date, by_id uuid not null references people (id), at timestamptz not null, ended_at timestamptz);
    create index stock_reservations_open on stock_reservations (item_id, place_id) where ended_at is null;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
