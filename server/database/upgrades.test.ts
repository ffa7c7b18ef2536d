import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import type { Knex } from 'knex'
import { ROLES } from '#contract/permissions.ts'
import { createDatabase, dropDatabase } from '#scripts/cluster.ts'
import { rebuild } from '#server/app/rebuild.ts'
import { wire } from '#server/app/wiring.ts'
import { connect } from '#server/database/connect.ts'
import { migrate } from '#server/database/migrate.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { isVisible } from '#server/documents/visible.ts'
import { getActor } from '#server/people/sessions.ts'
import { readHouse } from '#server/house/house.ts'
import { reading } from '#server/call.ts'
import { testCluster } from '#test-helpers/world.ts'

type Migration = { up: (knex: Knex) => Promise<void> }

/** Every version that a house may have been at, in order; before the fourth there were no ledgers, and no house worked with it. */
const VERSIONS = [
  '001_people',
  '002_source_request',
  '003_order_to_pay',
  '004_ledgers',
  '005_supplier_side',
  '006_request_side',
  '007_spine',
  '008_fit_to_run',
  '009_who_may',
  '010_desk',
  '011_catalogue',
  '012_roles',
  '013_accounts',
  '014_mail_timing',
  '015_units',
  '016_turned',
  '017_rules',
  '018_decide',
  '019_edits',
  '020_differences',
  '021_events',
  '022_award_plans',
  '023_build_costings',
  '024_agreements',
  '025_order_work',
  '026_orders_in_full',
  '027_deliveries',
  '028_clauses',
  '029_exchanges',
  '030_event_messages',
  '031_receiving',
  '032_assets_and_stock',
  '033_despatch_return_report',
  '034_handhelds',
  '035_inspections',
  '036_arrivals',
  '037_set_aside',
  '038_files_of_suppliers',
  '039_credit_notes',
  '040_bill_lines_told',
  '041_tolerances',
  '042_book_periods',
  '043_disputes',
  '044_orders_after',
  '045_self_billed',
  '046_entered_invoices',
  '047_hold_reminders',
  '048_invoice_drafts',
]
const FIRST_AT_WORK = 4

interface House {
  readonly ada: string
  readonly dan: string
  readonly account: string
  readonly supplier: string
}

/** What every house has, in the words of the fourth version. */
async function furnish(db: Knex): Promise<House> {
  const [ada, dan, account, supplier] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()]
  await db.raw(`insert into people (id, name, email, realm) values (?, 'Ada', 'Ada@house.org', 'team'), (?, 'Dan', 'dan@house.org', 'team')`, [ada, dan]) // prettier-ignore
  for (const [code, permissions] of Object.entries({ buyer: ROLES.buyer, budgetHolder: ROLES.budgetHolder }))
    await db.raw('insert into roles (code, permissions) values (?, ?)', [code, [...permissions]])
  await db.raw(`insert into cost_centres (code, name) values ('LS', 'Life support')`)
  await db.raw(`insert into natural_accounts (code, name) values ('6210', 'Parts')`)
  await db.raw(`insert into budget_accounts (id, cost_centre, natural_account, fiscal_year, check_level, open) values (?, 'LS', '6210', 2026, 'check', true)`, [account]) // prettier-ignore
  await db.raw(`insert into person_roles (person_id, role, cost_centre) values (?, 'buyer', null), (?, 'budgetHolder', 'LS')`, [ada, dan]) // prettier-ignore
  await db.raw(`insert into suppliers (id, number, name, search_name, kind, state, currency, terms, created_at, changed_at) values (?, 'S-1', 'Tide Pumps', 'tide pumps', 'company', 'active', 'EUR', '{}', now(), now())`, [supplier]) // prettier-ignore
  return { ada, dan, account, supplier }
}

/** A request that waits for Dan and an order that was issued, as the program of a version wrote them. */
async function work(
  db: Knex,
  house: House,
  version: number,
): Promise<{ request: string; draft: string; order: string }> {
  const [request, line, draft, order, ordered] = [1, 2, 3, 4, 5].map(() => randomUUID()) as [string, string, string, string, string] // prettier-ignore
  const splits = JSON.stringify([{ accountId: house.account, share: '1' }])
  const json = version < 7
  const proof = version < 6 ? ['', ''] : [', proof', `, 'count'`]
  const submitted = [request, `R-${version}1`, 'waiting', house.ada, 'now()']
  for (const [id, number, state, by, at] of [submitted, [draft, `R-${version}2`, 'draft', house.ada, 'null']])
    await db.raw(`insert into requisitions (id, number, title, reason, state, requester_id, total, created_at, submitted_at, changed_at, round) values (?, ?, 'Seals', '', ?, ?, 10000, now(), ${at}, now(), ?)`, [id!, number!, state!, by!, id === request ? 1 : 0]) // prettier-ignore
  await db.raw(`insert into requisition_lines (id, requisition_id, position, kind, description, quantity, unit, price, price_base, currency, amount, base_amount, state${json ? ', splits' : ''}${proof[0]}) values (?, ?, 1, 'goods', 'Seal', 10, 'C62', 10, 1, 'EUR', 10000, 10000, 'open'${json ? `, '${splits}'` : ''}${proof[1]})`, [line, request]) // prettier-ignore
  await db.raw(`insert into orders (id, number, title, state, supplier_id, buyer_id, currency, rate, total, base_total, created_at, issued_at, changed_at) values (?, ?, 'Impellers', 'issued', ?, ?, 'EUR', 1, 4000, 4000, now(), now(), now())`, [order, `O-${version}`, house.supplier, house.ada]) // prettier-ignore
  await db.raw(`insert into order_lines (id, order_id, position, kind, description, quantity, unit, price, price_base, amount, base_amount, need_by${json ? ', splits' : ''}${proof[0]}) values (?, ?, 1, 'goods', 'Impeller', 4, 'C62', 10, 1, 4000, 4000, '2026-01-02'${json ? `, '${splits}'` : ''}${proof[1]})`, [ordered, order]) // prettier-ignore
  if (!json) await db.raw(`insert into line_splits (requisition_line_id, order_line_id, position, account_id, share) values (?, null, 1, ?, 1), (null, ?, 1, ?, 1)`, [line, house.account, ordered, house.account]) // prettier-ignore
  for (const [id, kind, quantity, document] of [
    [line, 'requested', 10, request],
    [ordered, 'ordered', 4, order],
  ] as const) {
    // prettier-ignore
    await db.raw(`insert into quantity_entries (line_id, kind, quantity, at, actor_id, document_kind, document_id) values (?, ?, ?, now(), ?, 'order', ?)`, [id, kind, quantity, house.ada, document]) // prettier-ignore
    await db.raw('insert into quantity_balances (line_id, kind, quantity) values (?, ?, ?)', [id, kind, quantity])
  }
  for (const [id, kind, amount, document] of [
    [line, 'reserved', 10_000, request],
    [ordered, 'committed', 4000, order],
  ] as const) {
    // prettier-ignore
    await db.raw(`insert into budget_entries (account_id, kind, amount, line_id, at, actor_id, document_kind, document_id) values (?, ?, ?, ?, now(), ?, 'order', ?)`, [house.account, kind, amount, id, house.ada, document]) // prettier-ignore
    await db.raw('insert into budget_balances (account_id, kind, amount) values (?, ?, ?) on conflict (account_id, kind) do update set amount = budget_balances.amount + excluded.amount', [house.account, kind, amount]) // prettier-ignore
  }
  if (json) {
    const rule = randomUUID()
    await db.raw(`insert into approval_rules (id, name, from_amount, stage, asked) values (?, 'Holder', 0, 1, '{"kind": "holder"}')`, [rule]) // prettier-ignore
    await db.raw(`insert into approval_steps (id, requisition_id, round, stage, approver_id, rule_id, rule_name, because, state, opened_at) values (?, ?, 1, 1, ?, ?, 'Holder', 'rule', 'open', now())`, [randomUUID(), request, house.dan, rule]) // prettier-ignore
  } else {
    const consent = randomUUID()
    await db.raw(`insert into consents (id, purpose, document_kind, document_id, round, state, subject, about, reason, asked_by, asked_at, changed_at) values (?, 'approval', 'requisition', ?, 1, 'open', '{}', ?, '', ?, now(), now())`, [consent, request, JSON.stringify({ number: `R-${version}1`, title: 'Seals', who: 'Ada', extra: '', amount: '10000', currency: 'EUR', needBy: null, path: `/request/${request}` }), house.ada]) // prettier-ignore
    const asked = JSON.stringify([{ kind: 'person', personId: house.dan }])
    if (version < 17)
      await db.raw(`insert into consent_steps (id, consent_id, stage, position, state, asked, person_id, not_by, label, because, opened_at) values (?, ?, 1, 1, 'open', ?, ?, ?, 'Holder', 'rule', now())`, [randomUUID(), consent, asked, house.dan, [house.ada]]) // prettier-ignore
    else
      await db.raw(`insert into consent_steps (id, consent_id, stage, position, state, asked, approver_ids, not_by, label, opened_at) values (?, ?, 1, 1, 'open', ?, ?, ?, 'Holder', now())`, [randomUUID(), consent, asked, [house.dan], [house.ada]]) // prettier-ignore
  }
  return { request, draft, order }
}

describe('a house of an earlier version', function () {
  this.timeout(180_000)

  it('is at a version that this test knows', async () => {
    const { readdir } = await import('node:fs/promises')
    const files = await readdir(new URL('migrations', import.meta.url))
    expect(files.map(file => file.replace('.ts', '')).sort()).to.deep.equal(VERSIONS)
  })

  for (let version = FIRST_AT_WORK; version < VERSIONS.length; version++)
    it(`goes on from ${VERSIONS[version - 1]}: its books re-add, and everybody sees what is theirs`, async () => {
      const cluster = await testCluster()
      const name = `upgraded${version}`
      const url = await createDatabase(cluster, name)
      const db = connect(url, 3)
      try {
        let house: House | undefined
        const done = []
        await db.raw(
          'create table migrations (id serial primary key, name text, batch integer, migration_time timestamptz)',
        )
        await db.raw('create table migrations_lock (index serial primary key, is_locked integer)')
        for (const [index, one] of VERSIONS.slice(0, version).entries()) {
          await ((await import(`#server/database/migrations/${one}.ts`)) as Migration).up(db)
          await db.raw('insert into migrations (name, batch, migration_time) values (?, 1, now())', [`${one}.ts`])
          if (index + 1 < FIRST_AT_WORK) continue
          house ??= await furnish(db)
          done.push(await work(db, house, index + 1))
        }
        await migrate(db, url)
        wire()
        const parts = { db, clock: () => new Date().toISOString() }
        await rebuild(parts)
        expect((await auditDatabase(db)).differences).to.deep.equal([])
        const now = parts.clock()
        const as = async (id: string) =>
          reading(db, { actor: await getActor(db, id, now), house: await readHouse(db), now, today: now.slice(0, 10), channel: 'job', base: 'EUR' }) // prettier-ignore
        const [ada, dan] = [await as(house!.ada), await as(house!.dan)]
        for (const { request, draft, order } of done) {
          expect(await isVisible(dan, 'requisition', request), 'waits for him').to.equal(true)
          expect([await isVisible(ada, 'requisition', draft), await isVisible(dan, 'requisition', draft)]).to.deep.equal([true, false]) // prettier-ignore
          expect(await isVisible(ada, 'order', order)).to.equal(true)
        }
        const waits = await db('deskEntries')
          .where({ audience: `person:${house!.dan}`, key: 'decide' })
          .select('path')
        expect(waits, 'stands on his Desk once for each').to.have.length(done.length)
      } finally {
        await db.destroy()
        await dropDatabase(cluster, name)
      }
    })
})
