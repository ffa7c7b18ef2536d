import type { Knex } from 'knex'

/** Files in parts, so that neither storing nor sending one needs it whole in memory. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table file_parts (
      file_id uuid not null references files (id) on delete cascade, position integer not null, content bytea not null check (length(content) between 1 and 262144),
      primary key (file_id, position));
    alter table file_parts alter column content set storage external;
    insert into file_parts select f.id, n, substring(f.content from n * 262144 + 1 for 262144)
      from files f, generate_series(0, (length(f.content) - 1) / 262144) n where length(f.content) > 0;
    alter table files drop column content;
    create index files_by on files (by_id, at);
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
