import type { Knex } from 'knex'

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table supplier_identifiers (
      id uuid primary key default gen_random_uuid(), supplier_id uuid not null references suppliers (id), scheme text not null, value text not null);
    create unique index supplier_identifiers_strong on supplier_identifiers (scheme, value) where scheme in ('vat', 'gln', 'lei');
    create index supplier_identifiers_of on supplier_identifiers (supplier_id);
    create table supplier_locations (
      id uuid primary key default gen_random_uuid(), supplier_id uuid not null references suppliers (id), position integer not null, name text not null, street text not null, postal_code text not null,
      city text not null, country char(2) not null, roles text[] not null default '{}');
    create index supplier_locations_of on supplier_locations (supplier_id);
    create table supplier_contacts (
      id uuid primary key default gen_random_uuid(), supplier_id uuid not null references suppliers (id), position integer not null, name text not null, email text not null, phone text not null, roles text[] not null default '{}');
    create index supplier_contacts_of on supplier_contacts (supplier_id);
    create table supplier_bank_accounts (
      id uuid primary key, supplier_id uuid not null references suppliers (id), iban text not null, bic text not null, holder text not null,
      state text not null check (state in ('unproven', 'proven', 'closed')), changed_by uuid not null references people (id), changed_at timestamptz not null,
      proven_by uuid references people (id), proven_at timestamptz, proof text, check (proven_by is null or proven_by <> changed_by));
    create unique index supplier_bank_accounts_one on supplier_bank_accounts (supplier_id) where state <> 'closed';

    create table addresses (
      id uuid primary key, code text not null unique, name text not null, dock text not null, street text not null, postal_code text not null, city text not null, country char(2) not null, hours text not null, open boolean not null default true);

    create table items (
      id uuid primary key, number text not null unique, name text not null, description text not null, category text not null, unit text not null, gtin text not null, picture text,
      words tsvector generated always as (to_tsvector('english', name || ' ' || description || ' ' || category || ' ' || number || ' ' || gtin)) stored, created_at timestamptz not null default now());
    create index items_words on items using gin (words);
    create index items_fuzzy on items using gin (name gin_trgm_ops);
    create index items_by_name on items (name, id);
    create index items_by_category on items (category, name, id);
    create table offers (
      id uuid primary key, item_id uuid not null references items (id), supplier_id uuid not null references suppliers (id), supplier_item text not null, currency char(3) not null, unit text not null,
      price_base numeric(18,6) not null check (price_base > 0), minimum numeric(18,6) not null check (minimum > 0), multiple numeric(18,6) not null check (multiple >= 0), lead_time_days integer not null check (lead_time_days >= 0),
      valid_from date not null, valid_to date, tiers jsonb not null, unique (item_id, supplier_id, supplier_item));
    create index offers_of_supplier on offers (supplier_id);
    create table basket_lines (
      person_id uuid not null references people (id), item_id uuid not null references items (id), offer_id uuid not null references offers (id), quantity numeric(18,6) not null check (quantity > 0), position integer not null,
      primary key (person_id, offer_id));

    create table budget_accounts (
      id uuid primary key, cost_centre text not null references cost_centres (code), natural_account text not null references natural_accounts (code), fiscal_year integer not null, project text references projects (code),
      check_level text not null check (check_level in ('off', 'note', 'check', 'stop')), tolerance_percent numeric(5,2) not null default 0, open boolean not null default true,
      unique nulls not distinct (cost_centre, natural_account, fiscal_year, project));
    create table exchange_rates (currency char(3) not null, valid_from date not null, rate numeric(18,8) not null check (rate > 0), primary key (currency, valid_from));

    create table requisitions (
      id uuid primary key, number text not null unique, title text not null, reason text not null, state text not null, requester_id uuid not null references people (id), total bigint not null default 0, need_by date,
      lines integer not null default 0, version integer not null default 1, created_at timestamptz not null, submitted_at timestamptz, decided_at timestamptz, changed_at timestamptz not null, round integer not null default 0, rates jsonb not null default '{}',
      search text not null default '');
    create index requisitions_newest on requisitions (created_at desc, id);
    create index requisitions_by_state on requisitions (state, created_at desc, id);
    create index requisitions_of on requisitions (requester_id, created_at desc, id);
    create index requisitions_search on requisitions using gin (search gin_trgm_ops);
    create index requisitions_by_total on requisitions (total desc, id);
    create index requisitions_by_need on requisitions (coalesce(need_by, '9999-12-31'::date), id);
    create table requisition_lines (
      id uuid primary key, requisition_id uuid not null references requisitions (id), position integer not null, kind text not null check (kind in ('goods', 'fixedPriceWork')), item_id uuid references items (id),
      offer_id uuid references offers (id), description text not null, quantity numeric(18,6) not null, unit text not null, price numeric(18,6) not null, price_base numeric(18,6) not null, currency char(3) not null,
      amount bigint not null, base_amount bigint not null, supplier_id uuid references suppliers (id), need_by date, address_id uuid references addresses (id), splits jsonb not null default '[]',
      state text not null check (state in ('open', 'toBuy', 'onDraftOrder', 'bought', 'done', 'cancelled')));
    create index requisition_lines_of on requisition_lines (requisition_id, position);
    create index requisition_lines_to_buy on requisition_lines (need_by, id) where state = 'toBuy';
    create index requisition_lines_of_supplier on requisition_lines (supplier_id) where state = 'toBuy';

    create table approval_rules (
      id uuid primary key, name text not null, cost_centres text[] not null default '{}', from_amount bigint not null, up_to bigint, stage integer not null check (stage between 1 and 9), asked jsonb not null,
      active boolean not null default true, version integer not null default 1);
    create table approval_steps (
      id uuid primary key, requisition_id uuid not null references requisitions (id), round integer not null, stage integer not null, approver_id uuid not null references people (id), rule_id uuid not null references approval_rules (id),
      rule_name text not null, cost_centre text, because text not null, state text not null check (state in ('later', 'open', 'approved', 'rejected', 'returned', 'dropped')), opened_at timestamptz, decided_at timestamptz, reason text);
    create index approval_steps_of on approval_steps (requisition_id, round, stage);
    create index approval_steps_open on approval_steps (approver_id) where state = 'open';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
