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
    create function payers_anew(heads uuid[]) returns void language sql as $$
      update requisitions r set payers = now.payers from (
        select head.id, coalesce(array_agg(distinct a.cost_centre order by a.cost_centre) filter (where a.id is not null), '{}') as payers
        from unnest(heads) as head (id) left join requisition_lines l on l.requisition_id = head.id
          left join line_splits p on p.requisition_line_id = l.id left join budget_accounts a on a.id = p.account_id
        group by head.id) now where r.id = now.id and r.payers is distinct from now.payers $$;
    create function splits_changed() returns trigger language plpgsql as $$
      begin
        perform payers_anew(array(select distinct l.requisition_id from changed join requisition_lines l on l.id = changed.requisition_line_id));
        return null;
      end $$;
    create trigger payers_of_added after insert on line_splits referencing new table as changed for each statement execute function splits_changed();
    create trigger payers_of_moved after update on line_splits referencing new table as changed for each statement execute function splits_changed();
    create trigger payers_of_removed after delete on line_splits referencing old table as changed for each statement execute function splits_changed();
    create function lines_removed() returns trigger language plpgsql as $$
      begin
        perform payers_anew(array(select distinct requisition_id from changed));
        return null;
      end $$;
    create trigger payers_of_line_removed after delete on requisition_lines referencing old table as changed for each statement execute function lines_removed();
    insert into settings (key, value) values ('rebuild', 'true') on conflict (key) do nothing;
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
