import type { Knex } from 'knex'
import { domainOf } from '#core/source/match.ts'
import { tellingKey } from '#core/source/likeness.ts'

/** The supplier side in full: names and keys to find by, onboarding, certificates, merging, signals and the suppliers' own people. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table suppliers drop constraint suppliers_state_check;
    alter table suppliers
      add constraint suppliers_state_check check (state in ('proposed', 'onboarding', 'active', 'paused', 'barred', 'closed')),
      add column match_key text not null default '', add column search text not null default '', add column domains text[] not null default '{}',
      add column size text not null default '', add column founded integer check (founded between 1000 and 2100), add column web text not null default '', add column our_number text not null default '',
      add column defaults jsonb not null default '{}', add column tax jsonb not null default '{"residence":"","number":"","category":"","note":""}', add column person jsonb,
      add column owner_id uuid references people (id), add column paused_until date, add column state_reason text, add column merged_into uuid references suppliers (id), add column last_order_on date,
      add constraint suppliers_merged_closed check (merged_into is null or state = 'closed'), add constraint suppliers_not_into_itself check (merged_into <> id);
    create table supplier_names (
      id uuid primary key default gen_random_uuid(), supplier_id uuid not null references suppliers (id), name text not null check (length(name) between 1 and 300), match_key text not null);
    create index supplier_names_of on supplier_names (supplier_id);
    create index supplier_names_fuzzy on supplier_names using gin (match_key gin_trgm_ops);
    create index suppliers_match_exact on suppliers using hash (match_key);
    create index suppliers_match on suppliers using gin (match_key gin_trgm_ops);
    create index suppliers_search on suppliers using gin (search gin_trgm_ops);
    create index suppliers_start on suppliers (search_name text_pattern_ops);
    create index suppliers_domains on suppliers using gin (domains);
    create index suppliers_categories on suppliers using gin (categories);
    create index suppliers_by_order on suppliers (coalesce(last_order_on, '0001-01-01'::date) desc, id);
    drop index suppliers_fuzzy;

    create table agreements (
      id uuid primary key, kind text not null check (kind in ('bar', 'sharedIdentifier')), supplier_id uuid references suppliers (id), subject jsonb not null, reason text not null, asked_by uuid not null references people (id), asked_at timestamptz not null,
      state text not null check (state in ('waiting', 'agreed', 'refused', 'withdrawn')), answered_by uuid references people (id), answered_at timestamptz, answer_reason text, version integer not null default 1,
      check (state <> 'agreed' or answered_by <> asked_by));
    create index agreements_waiting on agreements (asked_at) where state = 'waiting';
    create unique index agreements_one_bar on agreements (supplier_id, kind) where state = 'waiting' and kind = 'bar';
    alter table supplier_identifiers add column agreement_id uuid references agreements (id);
    drop index supplier_identifiers_strong;
    create unique index supplier_identifiers_strong on supplier_identifiers (scheme, value) where scheme in ('vat', 'gln', 'lei') and agreement_id is null;
    create index supplier_identifiers_value on supplier_identifiers (value);
    create index supplier_bank_accounts_iban on supplier_bank_accounts (iban);
    alter table supplier_bank_accounts add column agreement_id uuid references agreements (id);

    alter table supplier_locations add column phone text not null default '', add column defaults jsonb not null default '{}';
    create index supplier_locations_country on supplier_locations (country, supplier_id);
    alter table supplier_contacts add column language text not null default 'en';

    create table supply_categories (
      name text primary key, owner_id uuid references people (id), certificates jsonb not null default '[]', thresholds jsonb not null default '{}', needs_finance boolean not null default true, version integer not null default 1);
    insert into supply_categories (name) select distinct name from (select category as name from items union select unnest(categories) from suppliers) known where name <> '';

    create table supplier_certificates (
      id uuid primary key, supplier_id uuid not null references suppliers (id), kind text not null, category text not null default '', issuer text not null, number text not null, valid_from date not null, valid_to date, file_id uuid references files (id),
      state text not null check (state in ('current', 'replaced', 'withdrawn')), reminded integer[] not null default '{}', lapse_told boolean not null default false, by_id uuid not null references people (id), at timestamptz not null, check (valid_to is null or valid_to >= valid_from));
    create index supplier_certificates_of on supplier_certificates (supplier_id);
    create index supplier_certificates_ending on supplier_certificates (valid_to) where state = 'current';

    create table questionnaires (
      id uuid primary key, code text not null, name text not null, number integer not null, state text not null check (state in ('draft', 'live', 'retired')), categories text[] not null default '{}', kinds text[] not null default '{company,person}', sections jsonb not null,
      version integer not null default 1, changed_by uuid not null references people (id), changed_at timestamptz not null, unique (code, number));
    create unique index questionnaires_one_live on questionnaires (code) where state = 'live';
    create unique index questionnaires_one_draft on questionnaires (code) where state = 'draft';

    create sequence onboarding_numbers start 301;
    create table onboardings (
      id uuid primary key, number text not null unique, supplier_id uuid not null references suppliers (id), questionnaire_id uuid references questionnaires (id), requisition_id uuid references requisitions (id),
      state text not null check (state in ('proposed', 'invited', 'answering', 'submitted', 'askedBack', 'deciding', 'accepted', 'refused', 'withdrawn')),
      need text not null default '', invited_name text not null default '', invited_email text not null default '', token_hash text unique, token_expires timestamptz, token_used_at timestamptz, answers jsonb not null default '{}', answered_before jsonb not null default '{}',
      by_id uuid not null references people (id), buyer_id uuid references people (id), submitted_at timestamptz, version integer not null default 1, created_at timestamptz not null, changed_at timestamptz not null, search text not null default '');
    create unique index onboardings_one_open on onboardings (supplier_id) where state not in ('accepted', 'refused', 'withdrawn');
    create index onboardings_newest on onboardings (changed_at desc, id);
    create index onboardings_search on onboardings using gin (search gin_trgm_ops);
    create table onboarding_asks (
      id uuid primary key, onboarding_id uuid not null references onboardings (id), key text not null, question text not null, asked_by uuid not null references people (id), asked_at timestamptz not null, answered_at timestamptz);
    create index onboarding_asks_of on onboarding_asks (onboarding_id);
    create table onboarding_decisions (
      id uuid primary key, onboarding_id uuid not null references onboardings (id), office text not null check (office in ('categoryOwner', 'finance')), category text not null default '', person_id uuid references people (id), state text not null check (state in ('open', 'approved', 'refused', 'dropped')),
      decided_by uuid references people (id), decided_at timestamptz, reason text);
    create index onboarding_decisions_of on onboarding_decisions (onboarding_id);
    create index onboarding_decisions_open on onboarding_decisions (person_id) where state = 'open';

    create table supplier_revisions (
      id uuid primary key, supplier_id uuid not null references suppliers (id), key text not null, label text not null, field text, before text not null, after text not null, answer jsonb, state text not null check (state in ('waiting', 'accepted', 'refused', 'atOnce', 'replaced')),
      by_id uuid not null references people (id), at timestamptz not null, answered_by uuid references people (id), answered_at timestamptz, reason text);
    create unique index supplier_revisions_one on supplier_revisions (supplier_id, key) where state = 'waiting';
    create index supplier_revisions_of on supplier_revisions (supplier_id, at);

    create table supplier_roles (id uuid primary key, supplier_id uuid not null references suppliers (id), name text not null, permissions text[] not null, unique (supplier_id, name));
    alter table orders add column conditions jsonb not null default '{}', add column agreed jsonb;
    alter table people add column supplier_role_id uuid references supplier_roles (id), add column supplier_administrator boolean not null default false;
    create unique index people_one_administrator on people (supplier_id) where supplier_administrator;
    create table person_invitations (token_hash text primary key, person_id uuid not null references people (id), expires timestamptz not null, used_at timestamptz);
    create table supplier_addresses (
      supplier_id uuid not null references suppliers (id), message text not null check (message in ('orders', 'invoices', 'payments', 'certificates', 'company')), email text not null, bounced_at timestamptz, bounce text, primary key (supplier_id, message, email));

    create table supplier_merges (
      id uuid primary key, kept_id uuid not null references suppliers (id), merged_id uuid not null references suppliers (id), reason text not null, by_id uuid not null references people (id), at timestamptz not null, moved jsonb not null, state_before text not null,
      undone_at timestamptz, undone_by uuid references people (id));
    create index supplier_merges_of on supplier_merges (kept_id);
    create unique index supplier_merges_standing on supplier_merges (merged_id) where undone_at is null;
    create table supplier_pairs (
      low_id uuid not null references suppliers (id), high_id uuid not null references suppliers (id), percent integer not null, reasons jsonb not null, state text not null check (state in ('open', 'different', 'merged')), found_at timestamptz not null, decided_by uuid references people (id),
      decided_at timestamptz, reason text, primary key (low_id, high_id), check (low_id < high_id));
    create index supplier_pairs_open on supplier_pairs (percent desc, low_id) where state = 'open';

    create table long_jobs (
      id uuid primary key, kind text not null check (kind in ('duplicates', 'supplierImport')), state text not null check (state in ('waiting', 'running', 'done', 'failed')), params jsonb not null, total integer not null default 0, done integer not null default 0, result jsonb, failure text,
      by_id uuid not null references people (id), created_at timestamptz not null, started_at timestamptz, finished_at timestamptz, seen boolean not null default false);
    create index long_jobs_of on long_jobs (by_id, created_at desc);
    create unique index long_jobs_one_search on long_jobs (kind) where kind = 'duplicates' and state in ('waiting', 'running');

    create table supplier_signals (
      supplier_id uuid not null references suppliers (id), key text not null, figure numeric(12,1), from_day date not null, to_day date not null, threshold numeric(12,1) not null, tone text not null check (tone in ('good', 'bad', 'none')), trend jsonb not null, entries jsonb not null, entry_count integer not null,
      computed_at timestamptz not null, primary key (supplier_id, key));
    create index supplier_signals_bad on supplier_signals (key, supplier_id) where tone = 'bad';
  `)
  await fillKeys(knex)
  await knex.raw(`
    update suppliers set defaults = jsonb_build_object('currency', currency, 'termsDays', terms ->> 'days', 'termsFrom', terms ->> 'from', 'overReceiptPercent', over_receipt_percent::text);
    update suppliers set last_order_on = latest.day from (select supplier_id, max(issued_at)::date as day from orders where issued_at is not null group by 1) latest where latest.supplier_id = suppliers.id;
    insert into supplier_addresses (supplier_id, message, email) select distinct supplier_id, role, lower(email) from supplier_contacts, unnest(roles) as role where email <> '' and role in ('orders', 'invoices', 'payments') on conflict do nothing;
    update people set supplier_administrator = true from (select distinct on (supplier_id) id from people where realm = 'supplier' and active order by supplier_id, id) first where first.id = people.id;
    update roles set permissions = (select array_agg(distinct one) from unnest(permissions || array['supplier.propose']) as one) where code not like 'supplier%';
    update roles set permissions = permissions || array['supplier.agree', 'supplier.merge'] where code in ('buyer', 'sourcingLead');
    update roles set permissions = permissions || array['supplier.agree'] where code in ('treasurer', 'financeController', 'director');
    update roles set permissions = permissions || array['supplier.approve'] where code = 'financeController';
    update roles set permissions = permissions || array['supplier.steward', 'supplier.agree'] where code = 'steward';
    update roles set permissions = permissions || array['supplierPages.orders', 'supplierPages.bill'] where code = 'supplierSales';
  `)
}

/** Keys that the core makes, for the records that are there already. */
async function fillKeys(knex: Knex): Promise<void> {
  const { rows } = (await knex.raw(
    `select s.id, s.name, s.number, coalesce((select array_agg(distinct email) from supplier_contacts where supplier_id = s.id and email <> ''), '{}') as emails, coalesce((select string_agg(value, ' ') from supplier_identifiers where supplier_id = s.id), '') as numbers from suppliers s`,
  )) as { rows: { id: string; name: string; number: string; emails: string[]; numbers: string }[] }
  for (const row of rows) {
    const domains = [...new Set(row.emails.map(domainOf).filter(Boolean))]
    await knex.raw('update suppliers set match_key = ?, domains = ?, search = ? where id = ?', [
      tellingKey(row.name),
      domains,
      `${row.name} ${row.number} ${row.numbers} ${domains.join(' ')}`.toLowerCase(),
      row.id,
    ])
  }
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
