import type { Knex } from 'knex'

/** Budgets for those whom they concern; who could agree to power; the right that those who decide a request have to have still; orders from before. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    update roles set permissions = array_append(permissions, 'budget.readAll')
      where not 'budget.readAll' = any(permissions) and (code in ('financeController', 'director', 'treasurer', 'invoiceClerk') or 'budget.write' = any(permissions));
    alter table people add column could_agree boolean not null default false;
    update people set could_agree = true where realm = 'team' and (password_hash is not null or subject is not null)
      and exists (select 1 from person_roles join roles on roles.code = role where person_id = people.id and 'setup.agree' = any(permissions));
    update consent_steps set asked = (
        select jsonb_agg(case when one ->> 'kind' = 'person' then one || '{"right": "requisition.decide"}' else one end order by place)
        from jsonb_array_elements(asked) with ordinality as part (one, place))
      from consents where consents.id = consent_id and purpose = 'approval' and consents.state = 'open' and consent_steps.state in ('open', 'later') and asked <> '[]';
    update requisitions set submitted_at = coalesce(decided_at, changed_at) where submitted_at is null and state not in ('draft', 'cancelled');
    alter table orders add column former_number text;
    create unique index orders_former on orders (former_number);
    insert into settings (key, value) values ('rebuild', 'true') on conflict (key) do nothing;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
