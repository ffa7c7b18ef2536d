import type { Knex } from 'knex'

/** Items and offers are kept by people: their versions, and every price with the day from which it holds. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table items add column version integer not null default 1, add column changed_at timestamptz not null default now();
    alter table offers add column version integer not null default 1, add column changed_at timestamptz not null default now();
    create table offer_prices (
      offer_id uuid not null references offers (id),
      from_day date not null,
      price_base numeric(18,6) not null check (price_base > 0),
      tiers jsonb not null check (jsonb_array_length(tiers) > 0),
      origin text not null check (origin in ('entered', 'file', 'change', 'list')),
      reason text not null default '',
      by_id uuid references people (id),
      at timestamptz not null,
      begun boolean not null,
      primary key (offer_id, from_day));
    create index offer_prices_to_come on offer_prices (from_day) where not begun;
    insert into offer_prices (offer_id, from_day, price_base, tiers, origin, at, begun)
      select id, valid_from, price_base, tiers, 'file', now(), true from offers;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
