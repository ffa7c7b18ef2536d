import type { Knex } from 'knex'

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table orders (
      id uuid primary key, number text not null unique, title text not null, state text not null check (state in ('draft', 'issued', 'acknowledged', 'closed', 'sealed', 'cancelled')), supplier_id uuid not null references suppliers (id),
      buyer_id uuid not null references people (id), currency char(3) not null, rate numeric(18,8) not null, revision integer not null default 0, charges bigint not null default 0, total bigint not null default 0, base_total bigint not null default 0,
      message text not null default '', address_id uuid references addresses (id), receive_extent text not null default 'none', bill_extent text not null default 'none', need_by date,
      version integer not null default 1, created_at timestamptz not null, issued_at timestamptz, changed_at timestamptz not null, search text not null default '');
    create index orders_newest on orders (created_at desc, id);
    create index orders_by_state on orders (state, created_at desc, id);
    create index orders_of_supplier on orders (supplier_id, created_at desc);
    create index orders_search on orders using gin (search gin_trgm_ops);
    create index orders_by_total on orders (base_total desc, id);
    create index orders_by_need on orders (coalesce(need_by, '9999-12-31'::date), id);
    create index orders_expected on orders (need_by, id) where state in ('issued', 'acknowledged') and receive_extent in ('none', 'part');
    create table order_lines (
      id uuid primary key, order_id uuid not null references orders (id), position integer not null, requisition_line_id uuid references requisition_lines (id), kind text not null, item_id uuid references items (id), description text not null,
      quantity numeric(18,6) not null check (quantity > 0), unit text not null, price numeric(18,6) not null check (price >= 0), price_base numeric(18,6) not null check (price_base > 0), amount bigint not null, base_amount bigint not null,
      need_by date, promised_date date, address_id uuid references addresses (id), splits jsonb not null, over_receipt_percent integer not null default 0);
    create index order_lines_of on order_lines (order_id, position);
    create unique index order_lines_one_draft on order_lines (requisition_line_id, order_id);
    create table order_revisions (
      order_id uuid not null references orders (id), revision integer not null, content jsonb not null, issued_at timestamptz not null, issued_by uuid not null references people (id), reason text not null, primary key (order_id, revision));
    create table order_responses (
      id uuid primary key, order_id uuid not null references orders (id), revision integer not null, state text not null check (state in ('confirmed', 'waiting', 'accepted', 'refused', 'superseded')), lines jsonb not null, differences jsonb not null,
      note text not null, by_id uuid not null references people (id), at timestamptz not null, answered_by uuid references people (id), answered_at timestamptz, answer_reason text not null default '');
    create index order_responses_of on order_responses (order_id, at);
    create unique index order_responses_waiting on order_responses (order_id) where state = 'waiting';

    create table receipts (
      id uuid primary key, number text not null unique, order_id uuid not null references orders (id), state text not null check (state in ('posted', 'reversed')), received_on date not null, place_id uuid not null references addresses (id),
      note text not null, by_id uuid not null references people (id), at timestamptz not null, version integer not null default 1);
    create index receipts_of on receipts (order_id);
    create table receipt_lines (
      id uuid primary key, receipt_id uuid not null references receipts (id), order_line_id uuid not null references order_lines (id), quantity numeric(18,6) not null check (quantity > 0));
    create index receipt_lines_of on receipt_lines (receipt_id);

    create table files (
      id uuid primary key, name text not null, media_type text not null, size integer not null check (size <= 26214400), sha256 text not null, content bytea not null, by_id uuid not null references people (id), at timestamptz not null);
    create table attachments (
      id uuid primary key, document_kind text not null, document_id uuid not null, file_id uuid not null references files (id), by_id uuid not null references people (id), at timestamptz not null, unique (document_id, file_id));
    create table notes (
      id uuid primary key, document_kind text not null, document_id uuid not null, text text not null, by_id uuid not null references people (id), at timestamptz not null);
    create index notes_of on notes (document_id, at);

    create table invoices (
      id uuid primary key, number text not null unique, supplier_id uuid not null references suppliers (id), supplier_number text not null, normal_number text not null, state text not null
        check (state in ('read', 'onHold', 'matched', 'cleared', 'scheduled', 'paid', 'rejected', 'voided')),
      source text not null check (source in ('file', 'supplierPages')), currency char(3) not null, rate numeric(18,8) not null, issue_date date not null, printed_due_date date, due_on date, net bigint not null, charges bigint not null, tax bigint not null, gross bigint not null,
      base_gross bigint not null, taxes jsonb not null, order_reference text not null default '', file_id uuid references files (id), received_at timestamptz not null, by_id uuid not null references people (id), posted_at timestamptz, charges_cleared boolean not null default false,
      version integer not null default 1, changed_at timestamptz not null, search text not null default '');
    create unique index invoices_no_duplicate on invoices (supplier_id, normal_number) where state not in ('rejected', 'voided');
    create index invoices_newest on invoices (received_at desc, id);
    create index invoices_by_state on invoices (state, received_at desc, id);
    create index invoices_due on invoices (due_on, id) where state = 'cleared';
    create index invoices_search on invoices using gin (search gin_trgm_ops);
    create index invoices_by_gross on invoices (base_gross desc, id);
    create table invoice_lines (
      id uuid primary key, invoice_id uuid not null references invoices (id), position integer not null, order_line_id uuid references order_lines (id), description text not null, quantity numeric(18,6) not null, unit text not null, price numeric(18,6) not null,
      price_base numeric(18,6) not null, net bigint not null, tax_category text not null, tax_rate numeric(9,4) not null);
    create index invoice_lines_of on invoice_lines (invoice_id, position);
    create index invoice_lines_of_order on invoice_lines (order_line_id);
    create table invoice_holds (
      id uuid primary key, invoice_id uuid not null references invoices (id), position integer, kind text not null, quantity numeric(18,6) not null, amount bigint not null, cleared_by text not null, opened_at timestamptz not null, ended_at timestamptz,
      ended_by uuid references people (id), end_reason text, cleared boolean not null default false);
    create index invoice_holds_of on invoice_holds (invoice_id);
    create index invoice_holds_open on invoice_holds (cleared_by) where ended_at is null;

    create table payment_runs (
      id uuid primary key, number text not null unique, state text not null check (state in ('proposed', 'approved', 'sent', 'answered', 'withdrawn')), execute_on date not null, proposed_by uuid not null references people (id), approved_by uuid references people (id),
      base_total bigint not null, payments integer not null, version integer not null default 1, created_at timestamptz not null, changed_at timestamptz not null, file text, check (approved_by is null or approved_by <> proposed_by));
    create index payment_runs_newest on payment_runs (created_at desc, id);
    create table payments (
      id uuid primary key, run_id uuid not null references payment_runs (id), invoice_id uuid not null references invoices (id), bank_account_id uuid not null references supplier_bank_accounts (id), iban text not null, bic text not null, holder text not null,
      amount bigint not null check (amount > 0), currency char(3) not null, end_to_end_id text not null unique, state text not null check (state in ('proposed', 'sent', 'accepted', 'paid', 'refused', 'withdrawn')), bank_reason text, paid_on date);
    create unique index payments_never_twice on payments (invoice_id) where state in ('proposed', 'sent', 'accepted', 'paid');
    create index payments_of on payments (run_id);
    create table bank_messages (id uuid primary key, kind text not null, message_id text not null, run_id uuid references payment_runs (id), content text not null, at timestamptz not null, unique (kind, message_id));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
