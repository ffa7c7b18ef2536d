import type { Knex } from 'knex'

/**
 * One mechanism each: who pays for a line as rows with keys, decisions by people as consents, what waits for whom as a table, figures that the
 * core keeps beside what it decides, and bank messages that are kept whatever becomes of them.
 */
export async function up(knex: Knex): Promise<void> {
  await splits(knex)
  await consents(knex)
  await readings(knex)
  await keptFigures(knex)
  await bills(knex)
  await payments(knex)
  await mechanisms(knex)
}

/** Accounts that pay for lines, with keys instead of JSON. */
async function splits(knex: Knex): Promise<void> {
  await knex.raw(`
    create table line_splits (
      requisition_line_id uuid references requisition_lines (id) on delete cascade,
      order_line_id uuid references order_lines (id) on delete cascade,
      line_id uuid not null generated always as (coalesce(requisition_line_id, order_line_id)) stored,
      position integer not null,
      account_id uuid not null references budget_accounts (id),
      share numeric(24, 6) not null,
      primary key (line_id, position),
      check (num_nonnulls(requisition_line_id, order_line_id) = 1),
      check (order_line_id is null or share >= 0));
    create index line_splits_of_account on line_splits (account_id);
    create index line_splits_of_request on line_splits (requisition_line_id) where requisition_line_id is not null;
    create index line_splits_of_order on line_splits (order_line_id) where order_line_id is not null;

    insert into line_splits (requisition_line_id, position, account_id, share)
      select l.id, s.place, (s.part ->> 'accountId')::uuid, (s.part ->> 'share')::numeric
      from requisition_lines l, jsonb_array_elements(l.splits) with ordinality as s (part, place)
      where s.part ->> 'share' ~ '^\\d+(\\.\\d+){0,1}$' and exists (select 1 from budget_accounts a where a.id::text = s.part ->> 'accountId');
    insert into line_splits (order_line_id, position, account_id, share)
      select l.id, s.place, (s.part ->> 'accountId')::uuid, (s.part ->> 'share')::numeric
      from order_lines l, jsonb_array_elements(l.splits) with ordinality as s (part, place);
    alter table requisition_lines drop column splits;
    alter table order_lines drop column splits;
  `)
}

/** Every decision by people: approval steps, onboarding, second pairs of eyes, transfers, runs, accounts, answers to orders. */
async function consents(knex: Knex): Promise<void> {
  await knex.raw(`
    create table consents (
      id uuid primary key,
      purpose text not null,
      document_kind text not null,
      document_id uuid not null,
      round integer not null default 1,
      state text not null check (state in ('open', 'given', 'refused', 'returned', 'withdrawn', 'dropped')),
      subject jsonb not null default '{}',
      about jsonb not null default '{}',
      reason text not null default '',
      asked_by uuid not null references people (id),
      asked_at timestamptz not null,
      ended_at timestamptz,
      version integer not null default 1,
      changed_at timestamptz not null default now());
    create index consents_of on consents (document_id, purpose, round);
    create unique index consents_one_open on consents (document_id, purpose) where state = 'open';

    create table consent_steps (
      id uuid primary key,
      consent_id uuid not null references consents (id) on delete cascade,
      stage integer not null check (stage between 1 and 99),
      position integer not null default 1 check (position > 0),
      state text not null check (state in ('later', 'open', 'approved', 'rejected', 'returned', 'dropped')),
      asked jsonb not null,
      person_id uuid references people (id),
      not_by uuid[] not null default '{}',
      label text not null default '',
      rule_id uuid references approval_rules (id),
      cost_centre text,
      because text not null default 'rule',
      opened_at timestamptz,
      decided_by uuid references people (id),
      on_behalf_of uuid references people (id),
      decided_at timestamptz,
      reason text,
      check (decided_by is null or not (decided_by = any (not_by))));
    create index consent_steps_of on consent_steps (consent_id, stage);
    create index consent_steps_person on consent_steps (person_id) where state = 'open';
    create index consent_steps_decided on consent_steps (decided_by, decided_at desc);

    create table stand_ins (
      person_id uuid not null references people (id),
      stand_in_id uuid not null references people (id),
      from_day date not null,
      to_day date not null,
      primary key (person_id, stand_in_id, from_day),
      check (person_id <> stand_in_id),
      check (to_day >= from_day));
    create index stand_ins_by on stand_ins (stand_in_id, to_day);

    insert into consents (id, purpose, document_kind, document_id, round, state, asked_by, asked_at, ended_at)
      select gen_random_uuid(), 'approval', 'requisition', s.requisition_id, s.round,
        case when bool_or(s.state in ('open', 'later')) then 'open' when bool_or(s.state = 'rejected') then 'refused' when bool_or(s.state = 'returned') then 'returned'
          when bool_or(s.state = 'dropped') then 'dropped' else 'given' end,
        r.requester_id, coalesce(r.submitted_at, r.created_at), max(s.decided_at)
      from approval_steps s join requisitions r on r.id = s.requisition_id group by s.requisition_id, s.round, r.requester_id, r.submitted_at, r.created_at;
    insert into consent_steps (id, consent_id, stage, state, asked, person_id, not_by, label, rule_id, cost_centre, because, opened_at, decided_by, decided_at, reason)
      select s.id, c.id, s.stage, s.state, jsonb_build_array(jsonb_build_object('kind', 'person', 'personId', s.approver_id)), s.approver_id, array[r.requester_id], s.rule_name, s.rule_id,
        s.cost_centre, s.because, s.opened_at, case when s.state in ('approved', 'rejected', 'returned') and s.approver_id <> r.requester_id then s.approver_id end, s.decided_at, s.reason
      from approval_steps s join requisitions r on r.id = s.requisition_id join consents c on c.document_id = s.requisition_id and c.round = s.round and c.purpose = 'approval';
    drop table approval_steps;

    insert into consents (id, purpose, document_kind, document_id, round, state, asked_by, asked_at, ended_at)
      select gen_random_uuid(), 'onboarding', 'onboarding', o.id, 1,
        case when bool_or(d.state = 'open') then 'open' when bool_or(d.state = 'refused') then 'refused' when bool_or(d.state = 'dropped') then 'dropped' else 'given' end,
        coalesce(o.buyer_id, o.by_id), o.changed_at, max(d.decided_at)
      from onboarding_decisions d join onboardings o on o.id = d.onboarding_id group by o.id;
    insert into consent_steps (id, consent_id, stage, state, asked, person_id, not_by, label, opened_at, decided_by, decided_at, reason)
      select d.id, c.id, 1, case d.state when 'refused' then 'rejected' else d.state end,
        jsonb_build_array(case d.office when 'finance' then jsonb_build_object('kind', 'right', 'right', 'supplier.approve', 'costCentre', null) else jsonb_build_object('kind', 'person', 'personId', d.person_id) end),
        d.person_id, case d.office when 'finance' then array_remove(array[o.by_id, o.buyer_id], null) else '{}' end, d.category, c.asked_at,
        case when d.office = 'finance' and d.decided_by in (o.by_id, o.buyer_id) then null else d.decided_by end, d.decided_at, d.reason
      from onboarding_decisions d join onboardings o on o.id = d.onboarding_id join consents c on c.document_id = o.id and c.purpose = 'onboarding';
    drop table onboarding_decisions;

    insert into consents (id, purpose, document_kind, document_id, state, subject, reason, asked_by, asked_at, ended_at, version)
      select a.id, case a.kind when 'bar' then 'bar' else 'sharedNumber' end, case when a.kind = 'bar' then 'supplier' else 'secondYes' end, case when a.kind = 'bar' then a.supplier_id else a.id end,
        case a.state when 'waiting' then 'open' when 'agreed' then 'given' else a.state end, a.subject || case when a.supplier_id is null then '{}' else jsonb_build_object('supplierId', a.supplier_id) end,
        a.reason, a.asked_by, a.asked_at, a.answered_at, a.version from agreements a;
    insert into consent_steps (id, consent_id, stage, state, asked, not_by, opened_at, decided_by, decided_at, reason)
      select gen_random_uuid(), a.id, 1, case a.state when 'waiting' then 'open' when 'agreed' then 'approved' when 'refused' then 'rejected' else 'dropped' end,
        '[{"kind": "right", "right": "supplier.agree", "costCentre": null}]', array[a.asked_by], a.asked_at,
        case when a.state in ('agreed', 'refused') and a.answered_by <> a.asked_by then a.answered_by end, a.answered_at, a.answer_reason from agreements a;
    alter table supplier_identifiers rename column agreement_id to consent_id;
    alter table supplier_identifiers drop constraint supplier_identifiers_agreement_id_fkey, add foreign key (consent_id) references consents (id);
    alter table supplier_bank_accounts rename column agreement_id to consent_id;
    alter table supplier_bank_accounts drop constraint supplier_bank_accounts_agreement_id_fkey, add foreign key (consent_id) references consents (id);
    drop table agreements;

    insert into consents (id, purpose, document_kind, document_id, state, subject, asked_by, asked_at)
      select gen_random_uuid(), 'account', 'supplier', a.supplier_id, 'open', jsonb_build_object('accountId', a.id), a.changed_by, a.changed_at from supplier_bank_accounts a where a.state = 'unproven';
    insert into consent_steps (id, consent_id, stage, state, asked, not_by, opened_at)
      select gen_random_uuid(), c.id, 1, 'open', '[{"kind": "right", "right": "supplier.prove", "costCentre": null}]', array[c.asked_by], c.asked_at from consents c where c.purpose = 'account';

    insert into consents (id, purpose, document_kind, document_id, state, reason, asked_by, asked_at, ended_at)
      select gen_random_uuid(), 'transfer', 'budgetTransfer', t.id, case t.state when 'waiting' then 'open' when 'approved' then 'given' else t.state end, t.reason, t.asked_by, t.asked_at, t.decided_at from budget_transfers t;
    insert into consent_steps (id, consent_id, stage, state, asked, not_by, label, opened_at, decided_by, decided_at, reason)
      select gen_random_uuid(), c.id, 1, case t.state when 'waiting' then 'open' when 'approved' then 'approved' when 'refused' then 'rejected' else 'dropped' end,
        jsonb_build_array(jsonb_build_object('kind', 'right', 'right', 'budget.transfer', 'costCentre', a.cost_centre), jsonb_build_object('kind', 'right', 'right', 'budget.write', 'costCentre', null)),
        array[t.asked_by], a.cost_centre, t.asked_at, case when t.state in ('approved', 'refused') and t.decided_by <> t.asked_by then t.decided_by end, t.decided_at, t.decided_reason
      from budget_transfers t join budget_accounts a on a.id = t.from_id join consents c on c.document_id = t.id and c.purpose = 'transfer';

    insert into consents (id, purpose, document_kind, document_id, state, asked_by, asked_at, ended_at)
      select gen_random_uuid(), 'run', 'paymentRun', r.id, case when r.state = 'proposed' then 'open' when r.approved_by is not null then 'given' else 'withdrawn' end, r.proposed_by, r.created_at,
        case when r.state <> 'proposed' then r.changed_at end from payment_runs r;
    insert into consent_steps (id, consent_id, stage, state, asked, not_by, opened_at, decided_by, decided_at)
      select gen_random_uuid(), c.id, 1, case c.state when 'open' then 'open' when 'given' then 'approved' else 'dropped' end,
        '[{"kind": "right", "right": "payment.approve", "costCentre": null}]', array[r.proposed_by], r.created_at, r.approved_by, case when r.approved_by is not null then r.changed_at end
      from payment_runs r join consents c on c.document_id = r.id and c.purpose = 'run';

    insert into consents (id, purpose, document_kind, document_id, state, subject, asked_by, asked_at)
      select gen_random_uuid(), 'orderAnswer', 'order', a.order_id, 'open', jsonb_build_object('answerId', a.id), a.by_id, a.at from order_responses a where a.state = 'waiting';
    insert into consent_steps (id, consent_id, stage, state, asked, not_by, opened_at)
      select gen_random_uuid(), c.id, 1, 'open', '[{"kind": "right", "right": "order.write", "costCentre": null}]', '{}', c.asked_at from consents c where c.purpose = 'orderAnswer';
  `)
}

/** How the document of each question reads on a Desk, kept with it. */
async function readings(knex: Knex): Promise<void> {
  await knex.raw(`
    create temporary table base as select coalesce((select value ->> 'base' from settings where key = 'house'), 'EUR') as currency;
    update consents c set about = jsonb_build_object('number', coalesce(d.number, ''), 'title', coalesce(d.title, ''), 'who', coalesce(d.who, p.name), 'extra', coalesce(d.extra, ''), 'amount', d.amount::text, 'currency', d.currency, 'needBy', d.need_by, 'path', d.path)
      from people p, (
        select c.id, r.number, r.title, null as who, '' as extra, r.total as amount, base.currency, r.need_by, '/decide/' || r.id as path from consents c join requisitions r on r.id = c.document_id, base where c.purpose = 'approval'
        union all select c.id, o.number, s.name, null, '', null, null, null, '/source/onboardings/' || o.id from consents c join onboardings o on o.id = c.document_id join suppliers s on s.id = o.supplier_id where c.purpose = 'onboarding'
        union all select c.id, s.number, s.name, null, c.purpose, null, null, null, '/source/second-yes/' || c.id from consents c join suppliers s on s.id = c.document_id where c.purpose = 'bar'
        union all select c.id, '', c.subject #>> '{supplier,name}', null, c.purpose, null, null, null, '/source/second-yes/' || c.id from consents c where c.purpose = 'sharedNumber'
        union all select c.id, s.number, s.name, null, right(a.iban, 4), null, null, null, '/source/' || s.id from consents c join suppliers s on s.id = c.document_id join supplier_bank_accounts a on a.id::text = c.subject ->> 'accountId' where c.purpose = 'account'
        union all select c.id, t.number, f.cost_centre || ' ' || f.natural_account || ' → ' || g.cost_centre || ' ' || g.natural_account, null, t.reason, t.amount, base.currency, null, '/insight/transfers?transfer=' || t.id
          from consents c join budget_transfers t on t.id = c.document_id join budget_accounts f on f.id = t.from_id join budget_accounts g on g.id = t.to_id, base where c.purpose = 'transfer'
        union all select c.id, r.number, '', null, (select count(*) from payments where run_id = r.id)::text, null, null, null, '/pay/' || r.id from consents c join payment_runs r on r.id = c.document_id where c.purpose = 'run'
        union all select c.id, o.number, o.title, s.name, jsonb_array_length(a.differences)::text, o.total, o.currency, o.need_by, '/order/' || o.id
          from consents c join orders o on o.id = c.document_id join suppliers s on s.id = o.supplier_id join order_responses a on a.id::text = c.subject ->> 'answerId' where c.purpose = 'orderAnswer') d
      where d.id = c.id and p.id = c.asked_by;
    drop table base;
  `)
}

/** Figures that the core gives and that lists, threads and suppliers' pages read. */
async function keptFigures(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table order_lines
      add column proven numeric(18, 6) not null default 0, add column billed numeric(18, 6) not null default 0, add column settled boolean not null default false, add column billable boolean not null default false,
      add column confirmed_value bigint not null default 0, add column received_value bigint not null default 0, add column billed_value bigint not null default 0, add column paid_value bigint not null default 0;
    create index order_lines_of_request on order_lines (requisition_line_id) where requisition_line_id is not null;
    create table supplier_standings (
      supplier_id uuid not null references suppliers (id) on delete cascade, standing text not null, from_day date, to_day date);
    create index supplier_standings_of on supplier_standings (supplier_id);
    create index supplier_standings_by on supplier_standings (standing, to_day);
    create table stage_values (stage text primary key, amount bigint not null, measured_at timestamptz not null);
  `)
}

/** What an invoice asks for beyond net and tax, whom it is addressed to, where it wants to be paid. */
async function bills(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table invoices
      add column prepaid bigint not null default 0, add column rounding bigint not null default 0, add column payable bigint, add column buyer jsonb, add column seller_countries text[] not null default '{}', add column iban text not null default '';
    update invoices set payable = gross, gross = net + tax, rounding = greatest(gross - net - tax, 0), prepaid = greatest(net + tax - gross, 0);
    update invoices set seller_countries = array(select distinct country from supplier_locations where supplier_id = invoices.supplier_id);
    alter table invoices alter column payable set not null;
    alter table invoices rename column base_gross to base_payable;
    alter table invoices drop column charges_cleared;
    alter index invoices_by_gross rename to invoices_by_payable;

    create table tax_rates (country char(2) not null, rate numeric(6, 3) not null check (rate between 0 and 100), valid_from date not null, valid_to date, primary key (country, rate, valid_from));
    insert into tax_rates (country, rate, valid_from) select country, rate::numeric, '2026-01-01'::date from (values
      ${TAX_RATES.flatMap(([country, ...rates]) => rates.map(rate => `('${country}', '${rate}')`)).join(', ')}) as known (country, rate);
    update settings set value = jsonb_set(value, '{price,absolute}', to_jsonb(((value -> 'price' ->> 'absolute')::numeric / 100)::text)) where key = 'tolerances' and value -> 'price' ->> 'absolute' is not null;
    update settings set value = jsonb_set(value, '{freight,absolute}', to_jsonb(((value -> 'freight' ->> 'absolute')::numeric / 100)::text)) where key = 'tolerances' and value -> 'freight' ->> 'absolute' is not null;
    insert into settings (key, value) select 'house', jsonb_build_object('name', value ->> 'name', 'country', value ->> 'country', 'vat', value ->> 'vat', 'zone', 'Europe/Amsterdam', 'base', 'EUR', 'languages', '["en"]'::jsonb)
      from settings where key = 'company' on conflict do nothing;
    update roles set permissions = (select array_agg(distinct one) from unnest(permissions || array['hold.clear']) as one) where code in ('financeController', 'treasurer');
  `)
}

/** Rates of VAT that are charged where suppliers are (European Commission, VAT rates applied in the Member States; national tax authorities). */
const TAX_RATES = [
  ['AT', '20', '13', '10'],
  ['BE', '21', '12', '6'],
  ['BG', '20', '9'],
  ['CH', '8.1', '3.8', '2.6'],
  ['CY', '19', '9', '5', '3'],
  ['CZ', '21', '12'],
  ['DE', '19', '7'],
  ['DK', '25'],
  ['EE', '24', '13', '9'],
  ['ES', '21', '10', '4'],
  ['FI', '25.5', '14', '13.5', '10'],
  ['FR', '20', '10', '5.5', '2.1'],
  ['GB', '20', '5'],
  ['GR', '24', '13', '6'],
  ['HR', '25', '13', '5'],
  ['HU', '27', '18', '5'],
  ['IE', '23', '13.5', '9', '4.8'],
  ['IS', '24', '11'],
  ['IT', '22', '10', '5', '4'],
  ['JP', '10', '8'],
  ['LI', '8.1', '3.8', '2.6'],
  ['LT', '21', '12', '5'],
  ['LU', '17', '14', '8', '3'],
  ['LV', '21', '12', '5'],
  ['MT', '18', '12', '7', '5'],
  ['NL', '21', '9'],
  ['NO', '25', '15', '12'],
  ['PL', '23', '8', '5'],
  ['PT', '23', '13', '6'],
  ['RO', '21', '11'],
  ['SE', '25', '12', '6'],
  ['SI', '22', '9.5', '5'],
  ['SK', '23', '19', '5'],
] as const

/** Payments that come back, runs that leave in two steps, and what banks say, kept whatever becomes of it. */
async function payments(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table payment_runs drop constraint payment_runs_state_check, add constraint payment_runs_state_check check (state in ('proposed', 'approved', 'sending', 'sent', 'answered', 'withdrawn', 'recalled'));
    alter table payments drop constraint payments_state_check, add constraint payments_state_check check (state in ('proposed', 'sent', 'accepted', 'paid', 'refused', 'returned', 'withdrawn', 'recalled'));
    create index payments_of_invoice on payments (invoice_id);
    alter table bank_messages
      add column name text, add column state text not null default 'read' check (state in ('read', 'repeated', 'unreadable')), add column fault jsonb, add column version integer not null default 1, add column changed_at timestamptz not null default now();
    update bank_messages set name = message_id;
    alter table bank_messages alter column content type bytea using convert_to(content, 'UTF8');
    alter table bank_messages alter column name set not null, drop constraint bank_messages_kind_message_id_key;
    create unique index bank_messages_by_name on bank_messages (name);
    create unique index bank_messages_once on bank_messages (kind, message_id) where state = 'read';
    create table bank_items (
      id uuid primary key, bank_message_id uuid not null references bank_messages (id), position integer not null, level text not null, reference text not null, outcome text not null, status text not null, reason_code text not null,
      amounts jsonb not null, date text not null, effect text not null check (effect in ('moved', 'known', 'noted', 'open')), why text, payment_ids uuid[] not null default '{}',
      settled_by uuid references people (id), settled_at timestamptz, note text, unique (bank_message_id, position));
    create index bank_items_of_payment on bank_items using gin (payment_ids);
    create index bank_items_open on bank_items (bank_message_id) where effect = 'open' and settled_at is null;
  `)
}

/** What waits for whom, which files are used where, and the indices that were missing. */
async function mechanisms(knex: Knex): Promise<void> {
  await knex.raw(`
    create table desk_entries (
      document_kind text not null, document_id uuid not null, key text not null, place integer not null, audience text not null, plain boolean not null, not_for uuid[] not null default '{}', stage text not null, act text not null, tone text not null,
      from_day date not null default '0001-01-01', amount bigint, currency char(3), since timestamptz not null, need_by date, path text not null, details jsonb not null,
      primary key (document_id, key, place, audience));
    create index desk_entries_of on desk_entries (audience, plain, stage, from_day);

    create table file_uses (file_id uuid not null references files (id) on delete cascade, document_kind text not null, document_id uuid not null, primary key (file_id, document_id));
    insert into file_uses select file_id, document_kind, document_id from attachments on conflict do nothing;
    insert into file_uses select file_id, 'supplier', supplier_id from supplier_certificates where file_id is not null on conflict do nothing;
    insert into file_uses select file_id, 'invoice', id from invoices where file_id is not null on conflict do nothing;
    insert into file_uses select f.id, 'onboarding', o.id from onboardings o join files f on o.answers::text like '%' || f.id || '%' on conflict do nothing;
    insert into file_uses select f.id, 'supplier', r.supplier_id from supplier_revisions r join files f on r.answer::text like '%' || f.id || '%' on conflict do nothing;
    create index file_uses_of on file_uses (document_id);
    create index attachments_of_file on attachments (file_id);
    create index attachments_of on attachments (document_id, at);
    update attachments set document_kind = 'delivery' where document_kind = 'receipt';
    update notes set document_kind = 'delivery' where document_kind = 'receipt';

    create index budget_entries_document on budget_entries (document_id);
    insert into people (id, name, email, realm, active) values ('00000000-0000-4000-8000-000000000001', 'Ivory Order', 'system@ivory-order.example', 'team', false) on conflict do nothing;
    create index people_by_mail on people (lower(email));
    create index invoices_of_supplier on invoices (supplier_id, issue_date);
    create index invoice_lines_invoice_of_order on invoice_lines (order_line_id, invoice_id) where order_line_id is not null;
    alter table purchase_notices add column changed_at timestamptz not null default now();
    alter table receipts add column changed_at timestamptz not null default now();
    alter table budget_transfers add column changed_at timestamptz not null default now();
    alter table approval_rules add column changed_at timestamptz not null default now();
    alter table people add column changed_at timestamptz not null default now();
    alter table outbox add column attempted_at timestamptz, add column failure text;
    update outbox set failure = last_error;
    alter table long_jobs drop constraint long_jobs_state_check, add constraint long_jobs_state_check check (state in ('waiting', 'running', 'applying', 'done', 'failed')), add column cause text;
    insert into settings (key, value) select 'rebuild', '{"since": "007"}' where exists (select 1 from requisitions);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
