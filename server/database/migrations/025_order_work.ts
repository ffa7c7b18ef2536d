import type { Knex } from 'knex'

/**
 * Orders as buyers live with them: a line may be cancelled, which is a quantity of zero; an answer may be accepted in part; workbooks that went out and
 * came back, with what was in them; links by which a supplier says a day without signing in; what was said about a line while it was followed.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table order_lines drop constraint order_lines_quantity_check, add constraint order_lines_quantity_check check (quantity >= 0);
    alter table order_responses drop constraint order_responses_state_check,
      add constraint order_responses_state_check check (state in ('confirmed', 'waiting', 'accepted', 'part', 'refused', 'superseded'));

    alter table long_jobs drop constraint long_jobs_kind_check,
      add constraint long_jobs_kind_check check (kind in ('duplicates', 'supplierImport', 'awardPlan', 'workbook'));

    create table workbooks (
      id uuid primary key, by_id uuid not null references people (id), at timestamptz not null, kind text not null check (kind in ('change', 'create')),
      lines int not null, content jsonb not null);
    create index workbooks_by on workbooks (by_id, at desc);
    create table workbook_returns (
      id uuid primary key, workbook_id uuid references workbooks (id), kind text not null check (kind in ('change', 'create')), file_name text not null,
      state text not null check (state in ('open', 'applying', 'settled')), by_id uuid not null references people (id), at timestamptz not null, returned jsonb not null,
      outcome jsonb, version int not null default 1, changed_at timestamptz not null);
    create index workbook_returns_by on workbook_returns (by_id, at desc);

    create table order_asides (
      id uuid primary key, order_id uuid not null references orders (id), line_id uuid references order_lines (id), text text not null,
      source text not null check (source in ('buyer', 'reminder', 'supplier')), by_id uuid references people (id), at timestamptz not null);
    create index order_asides_of on order_asides (order_id, at);
    create table day_links (
      token_hash text primary key, order_id uuid not null references orders (id), revision int not null, email text not null default '',
      ends_at timestamptz not null, used_at timestamptz, created_at timestamptz not null);
    create index day_links_of on day_links (order_id);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
