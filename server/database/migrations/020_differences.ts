import type { Knex } from 'knex'

/**
 * An order knows the last question about what it costs above what was approved, a hold the one about accepting it; of one purpose several
 * things of a document may be asked about at a time. A note
 * names people, who are told. What is put aside for the morning can be decided from there. Somebody works at a site, whose days and clocks count for the time that they have. Whoever has to clear a difference in tax or of the bank account may clear holds.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table orders add column excess_id uuid references consents (id);
    alter table invoice_holds add column asked_id uuid references consents (id);

    alter table consents add column part text not null default '';
    drop index consents_one_open;
    create unique index consents_one_open on consents (document_id, purpose, part) where state = 'open';

    alter table people add column site text;

    alter table mail_digest add column text text not null default '';

    create table note_mentions (
      note_id uuid not null references notes (id), person_id uuid not null references people (id), seen_at timestamptz, primary key (note_id, person_id));
    create index note_mentions_unseen on note_mentions (person_id) where seen_at is null;

    update roles set permissions = array_append(permissions, 'hold.clear')
      where code in ('financeController', 'treasurer') and not ('hold.clear' = any(permissions));
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
