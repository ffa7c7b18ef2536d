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
    alter table requisitions add column payers text[] not null default '{}';
    create function payers_of(requisition uuid) returns text[] language sql stable as $$
      select coalesce(array_agg(distinct a.cost_centre order by a.cost_centre), '{}') from requisition_lines l
        join line_splits p on p.requisition_line_id = l.id join budget_accounts a on a.id = p.account_id where l.requisition_id = requisition $$;
    update requisitions set payers = payers_of(id);
    create function keep_payers() returns trigger language plpgsql as $$
      begin
        update requisitions r set payers = now.payers from (
          select l.requisition_id, coalesce(array_agg(distinct a.cost_centre order by a.cost_centre) filter (where a.id is not null), '{}') as payers
          from (select distinct c.requisition_id from changed join requisition_lines c on c.id = changed.requisition_line_id) head
            join requisition_lines l on l.requisition_id = head.requisition_id left join line_splits p on p.requisition_line_id = l.id left join budget_accounts a on a.id = p.account_id
          group by l.requisition_id) now where r.id = now.requisition_id and r.payers is distinct from now.payers;
        return null;
      end $$;
    create trigger keep_payers_added after insert on line_splits referencing new table as changed for each statement execute function keep_payers();
    create trigger keep_payers_moved after update on line_splits referencing new table as changed for each statement execute function keep_payers();
    create trigger keep_payers_removed after delete on line_splits referencing old table as changed for each statement execute function keep_payers();
    insert into settings (key, value) values ('rebuild', 'true') on conflict (key) do nothing;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
