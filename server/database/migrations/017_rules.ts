import type { Knex } from 'knex'

/**
 * Rules for decisions come as sets with a first day, each rule with conditions. The rules that there were are the first set, from the
 * beginning. A step may ask a group: whom it asks stands in one column, and why they are asked beside it.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table rule_sets (
      id uuid primary key,
      number integer not null unique check (number > 0),
      state text not null check (state in ('draft', 'published')),
      from_day date check ((state = 'published') = (from_day is not null)),
      note text not null default '',
      published_by uuid references people (id),
      published_at timestamptz,
      version integer not null default 1,
      changed_at timestamptz not null default now());
    create unique index rule_sets_one_draft on rule_sets (state) where state = 'draft';

    create table rules (
      id uuid primary key,
      set_id uuid not null references rule_sets (id) on delete cascade,
      position integer not null check (position > 0),
      name text not null,
      kinds text[] not null,
      conditions jsonb not null default '[]',
      measure text not null check (measure in ('document', 'lines', 'costCentre')),
      from_amount bigint not null,
      below bigint,
      stage integer not null check (stage between 1 and 9),
      who jsonb not null,
      need text not null check (need in ('any', 'all', 'choose')),
      scope text not null check (scope in ('document', 'lines')),
      hours integer check (hours > 0),
      note text not null default '');
    create index rules_of on rules (set_id, position);

    create table person_limits (
      person_id uuid not null references people (id) on delete cascade,
      kind text not null,
      amount bigint not null check (amount >= 0),
      primary key (person_id, kind));

    insert into rule_sets (id, number, state, from_day, note, published_at)
      select gen_random_uuid(), 1, 'published', '2000-01-01', '', now() where exists (select 1 from approval_rules where active);
    insert into rules (id, set_id, position, name, kinds, conditions, measure, from_amount, below, stage, who, need, scope)
      select r.id, s.id, row_number() over (order by r.stage, r.from_amount, r.name, r.id), r.name, '{requisition}',
        case when r.cost_centres = '{}' then '[]'::jsonb else jsonb_build_array(jsonb_build_object('fact', 'costCentre', 'not', false, 'values', to_jsonb(r.cost_centres))) end,
        case when r.cost_centres = '{}' and r.asked->>'kind' <> 'holder' then 'document' else 'costCentre' end,
        r.from_amount, r.up_to, r.stage,
        case r.asked->>'kind'
          when 'holder' then '{"kind": "holder"}'::jsonb
          when 'role' then jsonb_build_object('kind', 'role', 'role', r.asked->'role', 'inCentre', false)
          else jsonb_build_object('kind', 'people', 'personIds', jsonb_build_array(r.asked->'personId')) end,
        'any', 'document'
      from approval_rules r cross join rule_sets s where r.active;

    alter table consent_steps add column approver_ids uuid[] not null default '{}', add column why jsonb not null default '{}';
    update consent_steps set
      approver_ids = case when person_id is null then '{}' else array[person_id] end,
      why = case when rule_id is null then '{}'::jsonb else jsonb_build_object(
        'rules', jsonb_build_array(jsonb_build_object('ruleId', rule_id, 'name', label, 'costCentre', cost_centre, 'measured', null, 'evidence', '[]'::jsonb)),
        'because', case when because = 'insteadOfRequester' then jsonb_build_object(person_id, '{"kind": "insteadOf"}'::jsonb) else '{}'::jsonb end,
        'lineIds', null, 'hours', null, 'leftOut', '[]'::jsonb) end;
    drop index consent_steps_person;
    alter table consent_steps drop column person_id, drop column rule_id, drop column because;
    create index consent_steps_approvers on consent_steps using gin (approver_ids);
    drop table approval_rules;

    update consent_steps set state = 'dropped' where state in ('open', 'later') and consent_id in (select id from consents where purpose = 'power' and state = 'open' and subject->>'what' = 'rule');
    update consents set state = 'dropped', ended_at = now() where purpose = 'power' and state = 'open' and subject->>'what' = 'rule';
    delete from desk_entries where document_id in (select id from consents where purpose = 'power' and state = 'dropped');
  `)
}

export async function down(): Promise<void> {
  throw new Error('Migrations only go forward: restore a backup instead.')
}
