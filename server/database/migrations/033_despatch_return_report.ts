import type { Knex } from 'knex'

/** What suppliers announce, what goes back to them with its debit note, and work that is reported and accepted. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create sequence despatch_numbers start 101;
    create table despatches (
      id uuid primary key, number text not null unique, order_id uuid not null references orders (id), supplier_id uuid not null references suppliers (id),
      state text not null check (state in ('draft', 'sent', 'received', 'withdrawn')), supplier_number text not null, despatched_on date not null, arrives_on date not null, carrier text not null, tracking text not null,
      note text not null, packages jsonb not null, lines jsonb not null, announced jsonb not null default '[]', unloader_id uuid references people (id), by_id uuid not null references people (id), version int not null default 1,
      created_at timestamptz not null, changed_at timestamptz not null);
    create index despatches_of_order on despatches (order_id);
    create index despatches_coming on despatches (arrives_on) where state = 'sent';
    create index despatches_tracking on despatches (lower(tracking)) where tracking <> '';
    create index despatches_packages on despatches using gin (packages jsonb_path_ops);
    alter table receipts add column despatch_id uuid references despatches (id);

    create sequence return_numbers start 101;
    create table goods_returns (
      id uuid primary key, number text not null unique, order_id uuid not null references orders (id), supplier_id uuid not null references suppliers (id),
      state text not null check (state in ('draft', 'sent', 'settled', 'withdrawn')), reason text not null, supplier_number text not null, wish text not null check (wish in ('replacement', 'credit')),
      pick_up_on date, carrier text not null, lines jsonb not null, debit_number text unique, debit jsonb not null default '[]', debit_net bigint not null default 0, currency char(3) not null,
      by_id uuid not null references people (id), sent_at timestamptz, version int not null default 1, created_at timestamptz not null, changed_at timestamptz not null);
    create index goods_returns_of_order on goods_returns (order_id);
    create sequence debit_numbers start 101;
    alter table receipt_lines add column returned numeric(18,6) not null default 0 check (returned >= 0 and returned + reversed <= quantity);

    create sequence report_numbers start 101;
    create table work_reports (
      id uuid primary key, number text not null unique, order_id uuid not null references orders (id), order_line_id uuid not null references order_lines (id), supplier_id uuid not null references suppliers (id),
      state text not null check (state in ('draft', 'sent', 'accepted', 'partAccepted', 'refused', 'withdrawn')), origin text not null check (origin in ('supplier', 'requester', 'invoice')), invoice_id uuid references invoices (id),
      supplier_number text not null, quantity numeric(18,6) not null check (quantity > 0), from_day date not null, to_day date not null, place text not null, people jsonb not null, note text not null,
      accepted numeric(18,6) not null default 0, answer_reason text not null default '', receipt_id uuid references receipts (id), by_id uuid not null references people (id), version int not null default 1,
      created_at timestamptz not null, changed_at timestamptz not null);
    create index work_reports_of_line on work_reports (order_line_id);
    create unique index work_reports_of_invoice on work_reports (invoice_id, order_line_id) where invoice_id is not null and state <> 'withdrawn';
    create index work_reports_waiting on work_reports (order_id) where state = 'sent';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
