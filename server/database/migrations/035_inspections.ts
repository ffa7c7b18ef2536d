import type { Knex } from 'knex'

/** Goods that wait until somebody has said which of them are good, with what was found; what is taken for less is taken off by a debit note. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create sequence inspection_numbers start 101;
    create table inspections (
      id uuid primary key, number text not null unique, state text not null check (state in ('waiting', 'passed', 'passedInPart', 'rejected', 'ended')), title text not null,
      order_id uuid not null references orders (id), order_line_id uuid not null references order_lines (id), receipt_id uuid not null references receipts (id), receipt_line_id uuid not null unique references receipt_lines (id),
      plan jsonb not null, characteristics jsonb not null, looked int not null default 0 check (looked >= 0), readings jsonb not null default '[]',
      accepted numeric(18,6) not null default 0 check (accepted >= 0), deducted numeric(18,6) not null default 0 check (deducted >= 0), deduct_percent numeric(9,6) not null default 0, rejected numeric(18,6) not null default 0 check (rejected >= 0),
      reason text not null default '', debit_number text unique, debit_net bigint not null default 0, by_id uuid references people (id), decided_at timestamptz,
      version int not null default 1, created_at timestamptz not null, changed_at timestamptz not null,
      search text generated always as (lower(number || ' ' || title)) stored);
    create index inspections_of_order on inspections (order_id);
    create index inspections_of_receipt on inspections (receipt_id);
    create index inspections_waiting on inspections (created_at) where state = 'waiting';
    create index inspections_search on inspections using gin (search gin_trgm_ops);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
