import type { Knex } from 'knex'

/**
 * Quote requests and reverse auctions: kinds of event in versions, their number ranges, events with lots, lines and invited suppliers, answers, what
 * is awarded, the log that standing and clock come from. Answers of sealed events are kept enciphered, with a key of each event's own. Lines
 * of orders know the line of the event that they were awarded by. Those who buy may ask; the people of
 * suppliers who see orders may answer.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create sequence event_numbers start 1001;

    create table event_ranges (
      id uuid primary key, prefix text not null, digits int not null check (digits between 0 and 12), next bigint not null check (next > 0), last bigint not null,
      unique (prefix));

    create table event_kinds (
      id uuid primary key, code uuid not null, number int not null, name text not null, state text not null check (state in ('draft', 'live', 'retired')),
      settings jsonb not null, range_id uuid not null references event_ranges (id), outside_range_id uuid references event_ranges (id),
      version int not null default 1, changed_by uuid not null references people (id), changed_at timestamptz not null, unique (code, number));
    create unique index event_kinds_one_live on event_kinds (code) where state = 'live';
    create unique index event_kinds_one_draft on event_kinds (code) where state = 'draft';

    create table events (
      id uuid primary key, number text not null unique, outside_number text unique, kind_id uuid not null references event_kinds (id),
      title text not null, state text not null check (state in ('draft', 'asking', 'over', 'deciding', 'awarded', 'settled', 'cancelled')),
      currency text not null, category text not null default '', message text not null default '', texts jsonb not null default '{}',
      opens_at timestamptz, ends_at timestamptz, zone text not null, sent_at timestamptz, reminded_at timestamptz, rates_on date, rates jsonb not null default '{}',
      criteria jsonb not null, formula text not null, landed jsonb not null, award jsonb, award_id uuid references consents (id),
      unread int not null default 0, owner_id uuid not null references people (id), copied_from uuid references events (id), seal bytea,
      version int not null default 1, created_at timestamptz not null, changed_at timestamptz not null, search text not null default '');
    create index events_state on events (state);
    create index events_changed on events (changed_at desc, id);
    create index events_search on events using gin (search gin_trgm_ops);

    create table event_lots (
      id uuid primary key, event_id uuid not null references events (id) on delete cascade, position int not null, title text not null,
      rules jsonb not null, unique (event_id, position));

    create table event_lines (
      id uuid primary key, event_id uuid not null references events (id) on delete cascade, lot_id uuid not null references event_lots (id), position int not null,
      item_id uuid references items (id), category text not null default '', description text not null, quantity numeric(18, 6) not null check (quantity > 0), unit text not null,
      need_by date, address_id uuid references addresses (id), incoterm text, incoterm_place text not null default '',
      reference numeric(18, 6), reference_from text, requisition_line_id uuid references requisition_lines (id), account_id uuid references budget_accounts (id),
      texts jsonb not null default '{}', gone_at timestamptz, unique (event_id, position));
    create index event_lines_event on event_lines (event_id);
    create index event_lines_request on event_lines (requisition_line_id) where requisition_line_id is not null;

    create table event_suppliers (
      id uuid primary key, event_id uuid not null references events (id) on delete cascade, supplier_id uuid not null references suppliers (id),
      contact_name text not null default '', email text not null default '', language text not null default 'en', currency text not null,
      own_note text not null default '', to_do text not null default '', reasons jsonb not null default '[]',
      token_hash text unique, person_id uuid references people (id),
      sent_at timestamptz, opened_at timestamptz, accepted_at timestamptz, means boolean, declined_at timestamptz, decline_reason text not null default '',
      suspended_at timestamptz, suspend_reason text not null default '', answered_at timestamptz, withdrawn_at timestamptz, on_behalf boolean not null default false,
      consent jsonb, told_place int, seen_at timestamptz, unique (event_id, supplier_id));
    create index event_suppliers_supplier on event_suppliers (supplier_id);

    create table event_answers (
      id uuid primary key, invited_id uuid not null references event_suppliers (id) on delete cascade, revision int not null,
      state text not null check (state in ('draft', 'submitted', 'withdrawn')), content jsonb not null, channel text not null,
      by_id uuid not null references people (id), on_behalf boolean not null default false, at timestamptz not null, unique (invited_id, revision));
    create unique index event_answers_one_draft on event_answers (invited_id) where state = 'draft';

    create table event_log (
      event_id uuid not null references events (id) on delete cascade, sequence int not null, at timestamptz(3) not null, actor_id uuid not null references people (id),
      channel text not null, network text not null default '', action text not null, lot_id uuid, supplier_id uuid, details jsonb not null default '{}',
      reason text, previous_hash text not null, hash text not null, primary key (event_id, sequence));

    create table event_messages (
      id uuid primary key, event_id uuid not null references events (id) on delete cascade, at timestamptz not null, by_id uuid not null references people (id),
      from_supplier_id uuid references suppliers (id), to_supplier_id uuid references suppliers (id), text text not null, file_ids uuid[] not null default '{}',
      answers_id uuid references event_messages (id));
    create index event_messages_event on event_messages (event_id, at);
    create table event_message_reads (
      message_id uuid not null references event_messages (id) on delete cascade, person_id uuid not null references people (id), primary key (message_id, person_id));

    create table event_scorers (
      event_id uuid not null references events (id) on delete cascade, person_id uuid not null references people (id), done_at timestamptz, primary key (event_id, person_id));
    create table event_scores (
      event_id uuid not null references events (id) on delete cascade, person_id uuid not null references people (id), supplier_id uuid not null references suppliers (id),
      question text not null, points numeric(9, 3) not null check (points >= 0), note text not null default '', at timestamptz not null,
      primary key (event_id, person_id, supplier_id, question));

    alter table order_lines add column event_line_id uuid references event_lines (id);
    create index order_lines_event on order_lines (event_line_id) where event_line_id is not null;

    update roles set permissions = permissions || '{event.read,event.write}' where code in ('buyer', 'sourcingLead') and not ('event.write' = any(permissions));
    update roles set permissions = array_append(permissions, 'event.read') where code in ('financeController', 'director', 'steward') and not ('event.read' = any(permissions));
    update roles set permissions = array_append(permissions, 'supplierPages.quotes') where code in ('supplierSales', 'supplierAdministrator') and not ('supplierPages.quotes' = any(permissions));
    update supplier_roles set permissions = array_append(permissions, 'supplierPages.quotes') where 'supplierPages.orders' = any(permissions) and not ('supplierPages.quotes' = any(permissions));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
