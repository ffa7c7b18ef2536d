import type { Knex } from 'knex'

/** Disputes about invoices: a conversation with the supplier, and what both agreed on. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table invoice_disputes (
      id uuid primary key, invoice_id uuid not null references invoices (id), state text not null check (state in ('open', 'agreed', 'dropped')), opened_by uuid not null references people (id), opened_at timestamptz not null,
      proposed text check (proposed in ('payAll', 'creditNote', 'newInvoice')), proposed_by text check (proposed_by in ('house', 'supplier')), outcome text check (outcome in ('payAll', 'creditNote', 'newInvoice')),
      ended_by uuid references people (id), ended_at timestamptz, last_by text not null check (last_by in ('house', 'supplier')), last_at timestamptz not null,
      check ((proposed is null) = (proposed_by is null)), check ((state = 'open') = (ended_at is null)), check ((state = 'agreed') = (outcome is not null)));
    create unique index invoice_disputes_one_open on invoice_disputes (invoice_id) where state = 'open';
    create index invoice_disputes_of on invoice_disputes (invoice_id);
    create table dispute_messages (id uuid primary key, dispute_id uuid not null references invoice_disputes (id), side text not null check (side in ('house', 'supplier')), by_id uuid not null references people (id), at timestamptz not null, text text not null, outcome text);
    create index dispute_messages_of on dispute_messages (dispute_id, at);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
