import type { Knex } from 'knex'

/** The request side in full: finding, five kinds of line, routes, terms, forms, repeat lists, notices, the pool of purchasing and budgets that people look after. */
export async function up(knex: Knex): Promise<void> {
  await findItems(knex)
  await knex.raw(`
    alter table supply_categories
      add column parent text references supply_categories (name), add column natural_account text references natural_accounts (code), add column proof jsonb not null default '{}', add column buyers uuid[] not null default '{}',
      add constraint supply_categories_not_into_itself check (parent <> name);
    alter table addresses add column contact text not null default '', add column phone text not null default '', add column purposes text[] not null default '{delivery,performance}';

    alter table basket_lines add column unit text;
    create table repeat_lists (
      id uuid primary key, name text not null check (length(name) between 1 and 200), owner_id uuid not null references people (id), shared_with uuid[] not null default '{}', shared_with_all boolean not null default false, lines jsonb not null,
      version integer not null default 1, created_at timestamptz not null, changed_at timestamptz not null, used_at timestamptz);
    create index repeat_lists_of on repeat_lists (owner_id);

    create table request_forms (
      id uuid primary key, code text not null, name text not null, number integer not null, state text not null check (state in ('draft', 'live', 'retired')), help text not null default '', category text not null default '', line jsonb not null, sections jsonb not null,
      fills jsonb not null default '{}', version integer not null default 1, changed_by uuid not null references people (id), changed_at timestamptz not null, unique (code, number));
    create unique index request_forms_one_live on request_forms (code) where state = 'live';
    create unique index request_forms_one_draft on request_forms (code) where state = 'draft';
    create table purchase_notices (
      id uuid primary key, title text not null, body text not null, from_day date not null, to_day date not null, cost_centres text[] not null default '{}', categories text[] not null default '{}', suppliers uuid[] not null default '{}',
      by_id uuid not null references people (id), at timestamptz not null, version integer not null default 1, withdrawn_at timestamptz, check (to_day >= from_day));
    create index purchase_notices_by_day on purchase_notices (to_day);
    create table notice_reads (notice_id uuid not null references purchase_notices (id), person_id uuid not null references people (id), at timestamptz not null, primary key (notice_id, person_id));

    alter table requisitions add column form_id uuid references request_forms (id), add column answers jsonb not null default '{}', add column reminded_at timestamptz;
    alter table requisition_lines drop constraint requisition_lines_kind_check;
    alter table requisition_lines
      add constraint requisition_lines_kind_check check (kind in ('goods', 'goodsByAmount', 'fixedPriceWork', 'workByRate', 'personalFee')),
      add column category text not null default '', add column split_by text not null default 'share' check (split_by in ('share', 'percent', 'amount', 'quantity')),
      add column incoterm text, add column incoterm_place text not null default '', add column routes text[] not null default '{orderNow}', add column route_reason text not null default '',
      add column proof text check (proof in ('count', 'acceptWork', 'billFirst', 'none')), add column proof_set boolean not null default false, add column details jsonb not null default '{}', add column freight text not null default '' check (freight in ('', 'own', 'included', 'notWanted')),
      add column offer_seen jsonb, add column buyer_id uuid references people (id), add column taken_at timestamptz, add column bundle text not null default '', add column marked_for text check (marked_for in ('askForQuotes', 'setUpAgreement')),
      add column to_buy_at timestamptz, add column split_from uuid references requisition_lines (id), add column asked boolean not null default false;
    update requisition_lines set proof = case when kind = 'goods' then 'count' else 'acceptWork' end;
    update requisition_lines set to_buy_at = coalesce(requisitions.decided_at, requisitions.changed_at) from requisitions where requisitions.id = requisition_id and requisition_lines.state = 'toBuy';
    update requisition_lines set category = items.category from items where items.id = item_id;
    alter table requisition_lines alter column proof set not null;
    create index requisition_lines_of_item on requisition_lines (item_id);
    create index requisition_lines_of_buyer on requisition_lines (buyer_id) where state = 'toBuy';
    alter table order_lines add column proof text not null default 'count' check (proof in ('count', 'acceptWork', 'billFirst', 'none')), add column details jsonb not null default '{}', add column incoterm text, add column incoterm_place text not null default '';
    update order_lines set proof = case when kind = 'goods' then 'count' else 'acceptWork' end;
    create index order_lines_of_item on order_lines (item_id);
    alter table orders add column agreement text not null default '';

    create table request_questions (
      id uuid primary key, requisition_id uuid not null references requisitions (id), line_id uuid references requisition_lines (id), question text not null, asked_by uuid not null references people (id), asked_at timestamptz not null,
      answer text, answered_by uuid references people (id), answered_at timestamptz);
    create index request_questions_of on request_questions (requisition_id);
    create index request_questions_open on request_questions (requisition_id) where answered_at is null;

    create sequence transfer_numbers start 201;
    create table budget_transfers (
      id uuid primary key, number text not null unique, from_id uuid not null references budget_accounts (id), to_id uuid not null references budget_accounts (id), amount bigint not null check (amount > 0), reason text not null,
      state text not null check (state in ('waiting', 'approved', 'refused', 'withdrawn')), asked_by uuid not null references people (id), asked_at timestamptz not null, decided_by uuid references people (id), decided_at timestamptz, decided_reason text,
      version integer not null default 1, check (from_id <> to_id), check (state <> 'approved' or decided_by <> asked_by));
    create index budget_transfers_waiting on budget_transfers (asked_at) where state = 'waiting';
    create table budget_year_changes (
      id uuid primary key, from_year integer not null, to_year integer not null, cost_centre text not null references cost_centres (code), carry_budget boolean not null, carry_rest boolean not null, reason text not null, by_id uuid not null references people (id), at timestamptz not null,
      moved jsonb not null, unique (from_year, to_year, cost_centre));

    update roles set permissions = permissions || array['budget.transfer'] where code in ('budgetHolder', 'financeController', 'director', 'steward');
    update roles set permissions = permissions || array['budget.write', 'requisition.personal'] where code in ('financeController');
    update roles set permissions = permissions || array['requisition.personal', 'notice.write', 'proof.change'] where code in ('buyer', 'sourcingLead');
    update roles set permissions = permissions || array['notice.write', 'requisition.personal'] where code = 'steward';
  `)
}

/**
 * Items become findable by every word, part of a word and typing error, through a vocabulary of the words that occur: small, whatever the number
 * of items, because codes (four digits in a row) stay out. Those are found whole or by their beginning.
 */
async function findItems(knex: Knex): Promise<void> {
  await knex.raw(`
    create function plain_text(text) returns text language sql immutable parallel safe as $$
      select trim(regexp_replace(translate(lower($1), 'ÀÁÂÃÄÅÆÇÈÉÊËÌÍÎÏÑÒÓÔÕÖØÙÚÛÜÝàáâãäåæçèéêëìíîïñòóôõöøùúûüýÿß²³', 'aaaaaaaceeeeiiiinoooooouuuuyaaaaaaaceeeeiiiinoooooouuuuyys23'), '[^[:alnum:]]+', ' ', 'g')) $$;
    alter table items
      add column maker text not null default '', add column maker_number text not null default '', add column also_called text not null default '', add column packs jsonb not null default '[]',
      add column stocked boolean not null default false, add column certified boolean not null default false, add column discontinued_on date, add column replaced_by uuid references items (id),
      add constraint items_not_by_itself check (replaced_by <> id);
    alter table items add column terms tsvector generated always as (array_to_tsvector(string_to_array(plain_text(
      number || ' ' || name || ' ' || description || ' ' || category || ' ' || gtin || ' ' || maker || ' ' || maker_number || ' ' || also_called), ' '))) stored;
    drop index items_words;
    drop index items_fuzzy;
    alter table items drop column words;
    create index items_terms on items using gin (terms) with (fastupdate = off);
    create index items_by_number on items (lower(number));
    create index items_by_gtin on items (gtin) where gtin <> '';
    create index items_by_maker_number on items (lower(maker_number)) where maker_number <> '';

    create table item_words (word text primary key);
    create index item_words_fuzzy on item_words using gin (word gin_trgm_ops);
    create index item_words_start on item_words (word text_pattern_ops);
    insert into item_words select distinct word from items, unnest(tsvector_to_array(terms)) as word where word !~ '[0-9]{4}';
    create function learn_item_words() returns trigger language plpgsql as $$
      begin insert into item_words (word) select distinct word from added, unnest(tsvector_to_array(terms)) as word where word !~ '[0-9]{4}' order by word on conflict do nothing; return null; end $$;
    create trigger items_learned after insert on items referencing new table as added for each statement execute function learn_item_words();
    create trigger items_relearned after update on items referencing new table as added for each statement execute function learn_item_words();

    alter table offers
      add column agreement text not null default '', add column incoterm text, add column incoterm_place text not null default '', add column countries char(2)[] not null default '{}', add column freight numeric(18,6) check (freight >= 0);
    create index offers_of_agreement on offers (agreement) where agreement <> '';
    create index offers_by_number on offers (lower(supplier_item)) where supplier_item <> '';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
