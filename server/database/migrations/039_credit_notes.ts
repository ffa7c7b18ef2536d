import type { Knex } from 'knex'

/** Credit notes of suppliers and debit notes of ours, and what of them is set off against what is to be paid. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create sequence credit_numbers start 101;
    create table credit_notes (
      id uuid primary key, number text not null unique, issuer text not null check (issuer in ('supplier', 'house')), source text not null check (source in ('file', 'supplierPages', 'team')),
      state text not null check (state in ('draft', 'waiting', 'posted', 'rejected', 'withdrawn', 'voided')), supplier_id uuid not null references suppliers (id), supplier_number text not null, normal_number text not null,
      invoice_id uuid not null references invoices (id), currency text not null, issue_date date not null, reason text not null, charges bigint not null check (charges >= 0), net bigint not null check (net >= 0), base_net bigint not null, tax bigint not null, gross bigint not null check (gross = net + tax),
      base_gross bigint not null, set_off bigint not null default 0 check (set_off between 0 and gross), taxes jsonb not null, file_id uuid references files (id), received_at timestamptz not null, by_id uuid not null references people (id), posted_at timestamptz,
      version int not null default 1, changed_at timestamptz not null, search text not null);
    create unique index credit_notes_no_duplicate on credit_notes (supplier_id, normal_number) where issuer = 'supplier' and normal_number <> '' and state in ('waiting', 'posted');
    create index credit_notes_of on credit_notes (invoice_id);
    create index credit_notes_newest on credit_notes (received_at desc, id);
    create index credit_notes_search on credit_notes using gin (search gin_trgm_ops);
    create index credit_notes_open on credit_notes (supplier_id, currency) where state = 'posted' and set_off < gross;
    create table credit_lines (
      id uuid primary key, credit_id uuid not null references credit_notes (id), position integer not null, of integer not null, order_line_id uuid references order_lines (id), description text not null, way text not null check (way in ('quantity', 'price')),
      quantity numeric(18,6) not null check (quantity > 0), unit text not null, price numeric(18,6) not null, price_base numeric(18,6) not null, net bigint not null check (net >= 0), tax_category text not null, tax_rate text not null, unique (credit_id, position));
    create table set_offs (
      id uuid primary key, credit_id uuid not null references credit_notes (id), invoice_id uuid not null references invoices (id), amount bigint not null check (amount > 0), at timestamptz not null, by_id uuid not null references people (id),
      ended_at timestamptz);
    create index set_offs_of_credit on set_offs (credit_id);
    create index set_offs_of_invoice on set_offs (invoice_id);
    alter table invoices drop constraint invoices_state_check, add constraint invoices_state_check check (state in ('read', 'onHold', 'matched', 'cleared', 'scheduled', 'paid', 'setOff', 'rejected', 'voided'));
    alter table invoices add column set_off bigint not null default 0, add column base_set_off bigint not null default 0, add constraint invoices_set_off check (set_off between 0 and payable or set_off = 0);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
