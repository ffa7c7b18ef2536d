import type { Knex } from 'knex'

/**
 * Framework agreements: what each says in every revision, what is called off of it, entry by entry, with the sums kept beside, indices that prices
 * follow, and the steps of winding one down. Offers of the catalogue and lines of requests and orders say which line of an agreement they
 * belong to; a name that stands on an offer or an order from before stays a name.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create sequence agreement_numbers start 101;

    create table agreements (
      id uuid primary key, number text not null unique, former_number text, title text not null,
      state text not null check (state in ('draft', 'waiting', 'active', 'usedUp', 'ended', 'windingDown', 'sealed', 'cancelled')),
      amendment text not null default 'none' check (amendment in ('none', 'writing', 'waiting')),
      supplier_id uuid not null references suppliers (id), owner_id uuid not null references people (id), event_id uuid references events (id),
      currency char(3) not null, starts_on date not null, ends_on date not null, revision int not null default 0,
      content jsonb not null, wanted jsonb, asked_reason text not null default '', open_orders text not null default 'keep' check (open_orders in ('keep', 'drafts', 'all')),
      consent_id uuid references consents (id), consumed bigint not null default 0, used_percent numeric(9, 1) not null default 0,
      warned_days int[] not null default '{}', warned_percent boolean not null default false,
      wound_down_by uuid references people (id),
      version int not null default 1, created_at timestamptz not null, changed_at timestamptz not null, search text not null default '');
    create index agreements_changed on agreements (changed_at desc, id);
    create index agreements_supplier on agreements (supplier_id);
    create index agreements_ending on agreements (ends_on, id) where state in ('active', 'usedUp');
    create index agreements_search on agreements using gin (search gin_trgm_ops);

    create table agreement_lines (
      id uuid primary key, agreement_id uuid not null references agreements (id), position int not null, item_id uuid references items (id),
      description text not null, category text not null, unit text not null, in_force boolean not null default true);
    create index agreement_lines_of on agreement_lines (agreement_id, position);
    create index agreement_lines_item on agreement_lines (item_id) where item_id is not null;

    create table agreement_revisions (
      agreement_id uuid not null references agreements (id), revision int not null, content jsonb not null, reason text not null,
      by_id uuid not null references people (id), at timestamptz not null, primary key (agreement_id, revision));

    create table agreement_entries (
      id bigint generated always as identity primary key, agreement_line_id uuid not null references agreement_lines (id), line_id uuid not null,
      kind text not null check (kind in ('reserved', 'committed', 'used')), amount bigint not null, quantity numeric(18, 6) not null, at timestamptz not null,
      actor_id uuid not null references people (id), document_kind text not null, document_id uuid not null, check (amount <> 0 or quantity <> 0));
    create index agreement_entries_of on agreement_entries (agreement_line_id, id);
    create index agreement_entries_line on agreement_entries (line_id);
    create trigger append_only before update or delete or truncate on agreement_entries for each statement execute function refuse_change();
    create table agreement_balances (
      agreement_line_id uuid not null references agreement_lines (id), kind text not null, amount bigint not null, quantity numeric(18, 6) not null,
      primary key (agreement_line_id, kind));
    create table call_offs (line_id uuid primary key, agreement_line_id uuid not null references agreement_lines (id), rate numeric(18, 8) not null check (rate > 0));
    create index call_offs_of on call_offs (agreement_line_id);

    create table price_indices (id uuid primary key, code text not null unique, name text not null, source text not null default '', version int not null default 1, changed_at timestamptz not null);
    create table index_values (
      index_code text not null references price_indices (code), month date not null check (extract(day from month) = 1), value numeric(18, 6) not null check (value > 0),
      by_id uuid not null references people (id), at timestamptz not null, primary key (index_code, month, at));

    create table wind_down_steps (
      agreement_id uuid not null references agreements (id), position int not null, kind text not null check (kind in ('order', 'end', 'seal')), document_id uuid not null,
      number text not null, state text not null check (state in ('todo', 'done', 'person')), reasons jsonb not null default '[]', at timestamptz,
      primary key (agreement_id, position));

    alter table offers add column agreement_line_id uuid references agreement_lines (id);
    alter table offers drop constraint offers_item_id_supplier_id_supplier_item_key;
    create unique index offers_once on offers (item_id, supplier_id, supplier_item) where agreement_line_id is null;
    create unique index offers_of_agreement_line on offers (agreement_line_id) where agreement_line_id is not null;
    alter table order_lines add column agreement_line_id uuid references agreement_lines (id);
    create index order_lines_of_agreement on order_lines (agreement_line_id) where agreement_line_id is not null;
    alter table requisition_lines add column agreement_line_id uuid references agreement_lines (id);

    update roles set permissions = array_append(permissions, 'agreement.write')
      where code in ('buyer', 'sourcingLead') and not ('agreement.write' = any(permissions));
    update roles set permissions = array_append(permissions, 'agreement.read')
      where 'order.read' = any(permissions) and not ('agreement.read' = any(permissions));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
