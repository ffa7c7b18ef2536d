import type { Knex } from 'knex'

/** Tolerances become entries of a register: each for all or for some, from a day on. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    insert into setup_entries (id, register, code, values, open, version, changed_at)
      select gen_random_uuid(), 'tolerances', part.key || '     2000-01-01', jsonb_build_object('of', part.key, 'supplier', '', 'category', '', 'currency', '', 'above', '', 'percent', coalesce(part.value ->> 'percent', ''),
        'absolute', coalesce(part.value ->> 'absolute', ''), 'combine', coalesce(settings.value ->> 'combine', ''), 'ways', '', 'from', '2000-01-01'), true, 1, now()
      from settings, jsonb_each(settings.value) as part
      where settings.key = 'tolerances' and part.key in ('price', 'quantity', 'freight', 'tax') and (part.value ->> 'percent' is not null or part.value ->> 'absolute' is not null);
    delete from settings where key = 'tolerances';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
