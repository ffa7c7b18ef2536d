import type { Knex } from 'knex'

/** Of our accounts there can be several; the one that there was becomes the first. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    insert into setup_entries (id, register, code, values, changed_at)
      select gen_random_uuid(), 'ownAccounts', 'MAIN',
        jsonb_build_object('code', 'MAIN', 'name', account.value ->> 'name', 'iban', account.value ->> 'iban', 'bic', coalesce(account.value ->> 'bic', ''),
          'currency', coalesce((select value ->> 'base' from settings where key = 'house'), 'EUR')), now()
      from settings as account where account.key = 'payFrom';
    delete from settings where key = 'payFrom';
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
