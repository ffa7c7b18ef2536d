import type { Knex } from 'knex'

/** Which units are offered is the house's choice; it begins with those that there were. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    insert into setup_entries (id, register, code, values, changed_at)
      select gen_random_uuid(), 'units', code, jsonb_build_object('code', code), now()
      from unnest(array['C62', 'SET', 'PR', 'BG', 'BX', 'KGM', 'GRM', 'TNE', 'LTR', 'MLT', 'MTQ', 'MTR', 'MMT', 'MTK', 'HUR', 'DAY', 'M4', 'E48']) as code;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
