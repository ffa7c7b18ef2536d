import type { Knex } from 'knex'

/**
 * Orders in full: answers that somebody of ours typed in, with who said it; how an order reaches its supplier, and of which revision it was told; what had come
 * in and was billed of a line before its order was taken over; orders that are written without a request, and the lists that many are written from; changes of
 * issued orders that are still being written, one for each order.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table order_responses add column told jsonb;
    alter table orders add column channel text not null default 'mail' check (channel in ('mail', 'buyer', 'spoken')),
      add column told_revision int, add column direct boolean not null default false;
    alter table order_lines add column received_before numeric(18,6) not null default 0 check (received_before >= 0),
      add column billed_before numeric(18,6) not null default 0 check (billed_before >= 0);
    create table buying_lists (
      id uuid primary key, file_name text not null, by_id uuid not null references people (id), at timestamptz not null, content jsonb not null,
      version int not null default 1, changed_at timestamptz not null);
    create index buying_lists_by on buying_lists (by_id, at desc);
    create table order_changes (
      order_id uuid primary key references orders (id), content jsonb not null, revision int not null, by_id uuid not null references people (id),
      changed_at timestamptz not null);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
