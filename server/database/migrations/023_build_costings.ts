import type { Knex } from 'knex'

/**
 * What a many-part build costs to buy: lists of parts over several levels, what was known of offers and rates on the day that a costing is of, how it
 * is reckoned, links by which colleagues read it; what was confirmed of the lists of each sender. An offer says what its supplier has lying there.
 * Everybody of the team may cost a build; those who buy see all of them.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create sequence build_numbers start 101;

    create table build_costings (
      id uuid primary key, number text not null unique, title text not null, state text not null check (state in ('open', 'putAway')),
      sender text not null default '', owner_id uuid not null references people (id),
      settings jsonb not null, parts jsonb not null default '{}', beside jsonb not null default '[]',
      priced_on date not null, known jsonb not null, part_count int not null default 0, unpriced int not null default 0, total bigint not null default 0,
      version int not null default 1, created_at timestamptz not null, changed_at timestamptz not null, search text not null default '');
    create index build_costings_changed on build_costings (changed_at desc, id);
    create index build_costings_owner on build_costings (owner_id);
    create index build_costings_search on build_costings using gin (search gin_trgm_ops);

    create table build_lines (
      costing_id uuid not null references build_costings (id) on delete cascade, position int not null, parent int, row int not null,
      number text not null, maker text not null, maker_number text not null, gtin text not null, description text not null,
      quantity numeric(18, 6) check (quantity >= 0), unit text not null, places text not null, remarks text not null,
      item_id uuid references items (id), matched text not null default 'none' check (matched in ('none', 'sure', 'said')), offered jsonb not null default '[]',
      primary key (costing_id, position));
    create index build_lines_item on build_lines (item_id) where item_id is not null;

    create table build_links (
      id uuid primary key, costing_id uuid not null references build_costings (id) on delete cascade, token_hash text not null unique,
      ends_on date not null, by_id uuid not null references people (id), at timestamptz not null, ended_at timestamptz);
    create index build_links_costing on build_links (costing_id);
    create table build_readers (
      link_id uuid not null references build_links (id) on delete cascade, person_id uuid not null references people (id), at timestamptz not null, primary key (link_id, person_id));
    create index build_readers_person on build_readers (person_id);

    create table list_forms (
      sender text not null, headings text not null, columns jsonb not null, first_row int not null, by_id uuid not null references people (id), at timestamptz not null,
      primary key (sender, headings));
    create table list_matches (
      sender text not null, part text not null, item_id uuid not null references items (id), by_id uuid not null references people (id), at timestamptz not null,
      primary key (sender, part));

    alter table offers add column in_stock numeric(18, 6) check (in_stock >= 0);

    update roles set permissions = array_append(permissions, 'build.write') where 'requisition.write' = any(permissions) and not ('build.write' = any(permissions));
    update roles set permissions = array_append(permissions, 'build.readAll')
      where code in ('buyer', 'sourcingLead', 'financeController', 'director') and not ('build.readAll' = any(permissions));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
