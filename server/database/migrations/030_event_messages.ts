import type { Knex } from 'knex'

/**
 * What goes out to suppliers of an event by itself is a list of messages of its kind; before, it was one reminder so many days before the end. Numbers from outside
 * follow each other: a range goes on behind the last that was given. The log of an event refuses to be changed, as the history does.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    update event_kinds set settings = (settings - 'remindDays') || jsonb_build_object('messages', case when (settings ->> 'remindDays')::int > 0
      then jsonb_build_array(jsonb_build_object('key', 'reminder', 'moment', 'beforeEnd', 'hours', 24 * (settings ->> 'remindDays')::int, 'to', 'silent', 'words', '{}'::jsonb))
      else '[]'::jsonb end);
    alter table events add column messages_since timestamptz, add column messages_sent jsonb not null default '[]';
    update events set messages_since = greatest(sent_at, reminded_at);
    alter table events drop column reminded_at;
    update event_ranges set next = greatest(next, given.last + 1) from (
      select outside_range_id as id, max(substring(outside_number from '\\d+$')::bigint) as last from events join event_kinds on event_kinds.id = events.kind_id
      where outside_number is not null and outside_range_id is not null group by 1) given where given.id = event_ranges.id;
    create trigger append_only before update or delete or truncate on event_log for each statement execute function refuse_change();
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
