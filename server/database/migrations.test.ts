import { randomUUID } from 'node:crypto'
import { readdirSync } from 'node:fs'
import { expect } from 'chai'
import type { Knex } from 'knex'
import { createDatabase, dropDatabase } from '#scripts/cluster.ts'
import { rebuild } from '#server/app/rebuild.ts'
import { wire } from '#server/app/wiring.ts'
import { connect } from '#server/database/connect.ts'
import { testCluster } from '#test-helpers/world.ts'

type Migration = { up: (knex: Knex) => Promise<void> }
const migration = (name: string): Promise<Migration> =>
  import(`#server/database/migrations/${name}.ts`) as Promise<Migration>

describe('the migration to the supplier side', function () {
  this.timeout(180_000)

  it('keeps the records that are there: found by name, with their defaults, messages, administrator and rights', async () => {
    const cluster = await testCluster()
    const db = connect(await createDatabase(cluster, 'migrated'), 2)
    try {
      for (const name of ['001_people', '002_source_request', '003_order_to_pay', '004_ledgers'])
        await (await migration(name)).up(db)
      const [supplier, person] = [randomUUID(), randomUUID()]
      await db.raw(
        `insert into suppliers (id, number, name, search_name, kind, state, currency, terms, over_receipt_percent, categories, created_at, changed_at)
         values (?, 'S-1', 'Müller Pumpen GmbH', 'muller pumpen gmbh', 'company', 'active', 'CHF', '{"days": 14, "from": "receipt"}', 5, '{Pumps}', now(), now())`,
        [supplier],
      )
      await db.raw(
        `insert into supplier_contacts (supplier_id, position, name, email, phone, roles) values (?, 0, 'A', 'Orders@Mueller.example', '', '{orders}')`,
        [supplier],
      )
      await db.raw(`insert into supplier_identifiers (supplier_id, scheme, value) values (?, 'vat', 'CHE1')`, [
        supplier,
      ])
      await db.raw(
        `insert into people (id, name, email, realm, supplier_id) values (?, 'A', 'a@mueller.example', 'supplier', ?)`,
        [person, supplier],
      )
      await db.raw(
        `insert into roles (code, permissions) values ('buyer', '{supplier.read}'), ('supplierSales', '{supplierPages.use}')`,
      )
      await (await migration('005_supplier_side')).up(db)
      const row = (await db('suppliers').where({ id: supplier }).first())!
      expect(row).to.deep.include({
        matchKey: 'muler',
        domains: ['mueller.example'],
        defaults: { currency: 'CHF', termsDays: '14', termsFrom: 'receipt', overReceiptPercent: '5' },
      })
      expect(row.search).to.include('che1')
      expect(await db('supplierAddresses').select('message', 'email')).to.deep.equal([
        { message: 'orders', email: 'orders@mueller.example' },
      ])
      expect(await db('people').where({ id: person }).first('supplierAdministrator')).to.deep.equal({
        supplierAdministrator: true,
      })
      expect(await db('supplyCategories').select('name')).to.deep.equal([{ name: 'Pumps' }])
      const { permissions } = (await db('roles').where({ code: 'buyer' }).first('permissions')) as {
        permissions: string[]
      }
      expect(permissions).to.include.members(['supplier.read', 'supplier.propose', 'supplier.agree', 'supplier.merge'])
    } finally {
      await db.destroy()
      await dropDatabase(cluster, 'migrated')
    }
  })
})

describe('the migration to the request side', function () {
  this.timeout(180_000)
  const BEFORE = ['001_people', '002_source_request', '003_order_to_pay', '004_ledgers', '005_supplier_side']

  it('makes items findable, and gives every line its proof, category and age', async () => {
    const cluster = await testCluster()
    const db = connect(await createDatabase(cluster, 'migrated6'), 2)
    try {
      for (const name of BEFORE) await (await migration(name)).up(db)
      const [person, item, head, supplier, order] = Array.from({ length: 5 }, () => randomUUID())
      await db.raw(`insert into people (id, name, email, realm) values (?, 'A', 'a@team.example', 'team')`, [person!])
      await db.raw(
        `insert into roles (code, permissions) values ('buyer', '{order.write}'), ('financeController', '{budget.read}'), ('supplierSales', '{supplierPages.use}')`,
      )
      await db.raw(
        `insert into items (id, number, name, description, category, unit, gtin) values (?, 'BV-32', 'Küken-Kugelhahn 32 mm', '', 'Valves', 'C62', '')`,
        [item!],
      )
      await db.raw(
        `insert into suppliers (id, number, name, search_name, kind, state, currency, terms, created_at, changed_at) values (?, 'S-1', 'X', 'x', 'company', 'active', 'EUR', '{}', now(), now())`,
        [supplier!],
      )
      await db.raw(
        `insert into requisitions (id, number, title, reason, state, requester_id, created_at, changed_at, decided_at) values (?, 'R-1', 'x', '', 'approved', ?, now(), now(), '2026-11-01T08:00:00Z')`,
        [head!, person!],
      )
      for (const [position, kind, state] of [
        [1, 'goods', 'toBuy'],
        [2, 'fixedPriceWork', 'bought'],
      ] as const)
        await db.raw(
          `insert into requisition_lines (id, requisition_id, position, kind, item_id, description, quantity, unit, price, price_base, currency, amount, base_amount, state) values (?, ?, ?, ?, ?, 'x', 1, 'C62', 1, 1, 'EUR', 100, 100, ?)`,
          [randomUUID(), head!, position, kind, position === 1 ? item! : null, state],
        )
      await db.raw(
        `insert into orders (id, number, title, state, supplier_id, buyer_id, currency, rate, created_at, changed_at) values (?, 'O-1', 'x', 'issued', ?, ?, 'EUR', 1, now(), now())`,
        [order!, supplier!, person!],
      )
      await db.raw(
        `insert into order_lines (id, order_id, position, kind, description, quantity, unit, price, price_base, amount, base_amount, splits) values (?, ?, 1, 'fixedPriceWork', 'x', 1, 'E48', 1, 1, 100, 100, '[]')`,
        [randomUUID(), order!],
      )
      await (await migration('006_request_side')).up(db)
      const lines = (await db('requisitionLines')
        .orderBy('position')
        .select('proof', 'category', 'routes', 'splitBy', 'toBuyAt')) as { toBuyAt: string | null }[]
      expect(lines.map(({ toBuyAt: _at, ...line }) => line)).to.deep.equal([
        { proof: 'count', category: 'Valves', routes: ['orderNow'], splitBy: 'share' },
        { proof: 'acceptWork', category: '', routes: ['orderNow'], splitBy: 'share' },
      ])
      expect(lines[0]!.toBuyAt!.slice(0, 10)).to.equal('2026-11-01')
      expect(lines[1]!.toBuyAt).to.equal(null)
      expect(await db('orderLines').first('proof')).to.deep.equal({ proof: 'acceptWork' })
      expect(await db('itemWords').orderBy('word').pluck('word')).to.deep.equal([
        '32',
        'bv',
        'kugelhahn',
        'kuken',
        'mm',
        'valves',
      ])
      await db.raw(`update items set also_called = 'Absperrhahn, stopcock'`)
      expect(await db('itemWords').orderBy('word').pluck('word')).to.include.members(['absperrhahn', 'stopcock'])
      const rights = async (code: string): Promise<string[]> =>
        ((await db('roles').where({ code }).first('permissions')) as { permissions: string[] }).permissions
      expect(await rights('buyer')).to.include.members(['notice.write', 'proof.change', 'requisition.personal'])
      expect(await rights('financeController')).to.include.members(['budget.write', 'budget.transfer'])
      expect(await rights('supplierSales')).to.deep.equal(['supplierPages.use'])
    } finally {
      await db.destroy()
      await dropDatabase(cluster, 'migrated6')
    }
  })
})

/** What came after the spine, to this day. */
const AFTER_SPINE = readdirSync('server/database/migrations')
  .map(file => file.replace(/\.ts$/, ''))
  .filter(name => name > '007_spine')
  .sort()

describe('the migration to the spine', function () {
  this.timeout(180_000)
  const BEFORE = [
    '001_people',
    '002_source_request',
    '003_order_to_pay',
    '004_ledgers',
    '005_supplier_side',
    '006_request_side',
  ]

  it('keeps splits, who decides and what was agreed, and a rebuild brings the Desks back', async () => {
    const cluster = await testCluster()
    const db = connect(await createDatabase(cluster, 'migrated7'), 2)
    try {
      for (const name of BEFORE) await (await migration(name)).up(db)
      const [asker, decider, account, head, line, supplier, order, rule] = Array.from({ length: 8 }, () => randomUUID())
      for (const [id, name] of [
        [asker!, 'Ada Asker'],
        [decider!, 'Dan Decider'],
      ] as const)
        await db.raw(`insert into people (id, name, email, realm) values (?, ?, ?, 'team')`, [
          id,
          name,
          `${id}@x.example`,
        ])
      await db.raw(
        `insert into approval_rules (id, name, from_amount, stage, asked) values (?, 'Head of cost centre', 0, 1, '{"kind": "holder"}')`,
        [rule!],
      )
      await db.raw(`insert into cost_centres (code, name) values ('LS', 'Life support')`)
      await db.raw(`insert into natural_accounts (code, name) values ('6210', 'Parts')`)
      await db.raw(
        `insert into budget_accounts (id, cost_centre, natural_account, fiscal_year, check_level, open) values (?, 'LS', '6210', 2026, 'stop', true)`,
        [account!],
      )
      await db.raw(
        `insert into suppliers (id, number, name, search_name, kind, state, currency, terms, created_at, changed_at) values (?, 'S-1', 'Tide Pumps', 'tide pumps', 'company', 'active', 'EUR', '{}', now(), now())`,
        [supplier!],
      )
      await db.raw(
        `insert into requisitions (id, number, title, reason, state, requester_id, total, created_at, submitted_at, changed_at) values (?, 'R-1', 'Seals', '', 'waiting', ?, 10000, now(), now(), now())`,
        [head!, asker!],
      )
      const splits = JSON.stringify([{ accountId: account!, share: '1' }])
      await db.raw(
        `insert into requisition_lines (id, requisition_id, position, kind, description, quantity, unit, price, price_base, currency, amount, base_amount, state, splits, proof) values (?, ?, 1, 'goods', 'Seal', 10, 'C62', 10, 1, 'EUR', 10000, 10000, 'open', ?, 'count')`,
        [line!, head!, splits],
      )
      await db.raw(
        `insert into approval_steps (id, requisition_id, round, stage, approver_id, rule_id, rule_name, because, state, opened_at) values (?, ?, 1, 1, ?, ?, 'Head of cost centre', 'rule', 'open', now())`,
        [randomUUID(), head!, decider!, rule!],
      )
      await db.raw(
        `insert into orders (id, number, title, state, supplier_id, buyer_id, currency, rate, created_at, changed_at) values (?, 'O-1', 'Impellers', 'issued', ?, ?, 'EUR', 1, now(), now())`,
        [order!, supplier!, asker!],
      )
      await db.raw(
        `insert into order_lines (id, order_id, position, kind, description, quantity, unit, price, price_base, amount, base_amount, need_by, splits, proof) values (?, ?, 1, 'goods', 'Impeller', 4, 'C62', 10, 1, 4000, 4000, '2026-01-02', ?, 'count')`,
        [randomUUID(), order!, splits],
      )
      await (await migration('007_spine')).up(db)

      expect(await db('lineSplits').where({ requisitionLineId: line! }).select('accountId', 'share')).to.deep.equal([
        { accountId: account!, share: '1' },
      ])
      const consent = (await db('consents').where({ documentId: head!, purpose: 'approval' }).first())!
      expect([consent.state, consent.askedBy]).to.deep.equal(['open', asker!])
      const [step] = await db('consentSteps')
        .where({ consentId: consent.id })
        .select<{ state: string; personId: string; notBy: string[]; label: string }[]>()
      expect([step!.state, step!.personId, step!.notBy, step!.label]).to.deep.equal([
        'open',
        decider!,
        [asker!],
        'Head of cost centre',
      ])
      expect(await db('deskEntries').select('key')).to.deep.equal([])

      // the program that rebuilds is the one of today, which asks whether who decides still may
      await db.raw(`insert into roles (code, permissions) values ('budgetHolder', '{requisition.decide}')`)
      await db.raw(`insert into person_roles (person_id, role) values (?, 'budgetHolder')`, [decider!])
      for (const file of AFTER_SPINE) await (await migration(file)).up(db)
      wire()
      const parts = { db, clock: () => '2026-11-23T10:00:00.000Z' }
      expect(await rebuild(parts)).to.equal(true)
      const waits = await db('deskEntries').orderBy('key').select('key', 'audience')
      expect(waits).to.deep.include({ key: 'decide', audience: `person:${decider!}` })
      expect(waits.map(one => one.key)).to.include('expected')
      expect(await rebuild(parts)).to.equal(false)
    } finally {
      await db.destroy()
      await dropDatabase(cluster, 'migrated7')
    }
  })
})

describe('the eighth migration', () => {
  const BEFORE = ['001_people', '002_source_request', '003_order_to_pay', '004_ledgers', '005_supplier_side', '006_request_side', '007_spine'] // prettier-ignore

  /** A database of the version before, with somebody in it and a file in one piece. */
  async function before(name: string, people: readonly [string, string, string | null][]) {
    const cluster = await testCluster()
    const db = connect(await createDatabase(cluster, name), 2)
    for (const file of BEFORE) await (await migration(file)).up(db)
    for (const [id, email, password] of people)
      await db.raw(`insert into people (id, name, email, realm, password_hash) values (?, 'Ada', ?, 'team', ?)`, [
        id,
        email,
        password,
      ])
    return { db, end: async () => void (await db.destroy(), await dropDatabase(cluster, name)) }
  }

  it('cuts files into parts without losing a byte, ends sessions, and gives every account one spelling of its address', async () => {
    const id = randomUUID()
    const { db, end } = await before('migrated8', [[id, 'Ada@House.org', 'x']])
    try {
      const content = Buffer.from(Array.from({ length: 600_000 }, (_, index) => index % 251))
      for (const [file, bytes] of [
        [randomUUID(), content],
        [randomUUID(), Buffer.from('a')],
      ] as const)
        await db.raw(
          `insert into files (id, name, media_type, size, sha256, content, by_id, at) values (?, 'f', 'text/plain', ?, '', ?, ?, now())`,
          [file, bytes.length, bytes, id],
        )
      await db.raw(
        `insert into sessions (token_hash, person_id, created_at, expires_at) values ('h', ?, now(), now())`,
        [id],
      )
      await db.raw(
        `insert into roles (code, permissions) values ('steward', '{setup.write}'), ('buyer', '{order.write}')`,
      )
      await (await migration('008_fit_to_run')).up(db)
      const { rows } = await db.raw<{ rows: { size: number; parts: number; whole: Buffer }[] }>(
        `select f.size, count(*)::int as parts, string_agg(p.content, ''::bytea order by p.position) as whole from files f join file_parts p on p.file_id = f.id group by f.id order by f.size`,
      )
      expect(rows.map(row => [row.size, row.parts, row.whole.length])).to.deep.equal([
        [1, 1, 1],
        [600_000, 3, 600_000],
      ])
      expect(rows[1]!.whole.equals(content)).to.equal(true)
      expect(await db('sessions').select('id')).to.deep.equal([])
      expect((await db('people').where({ id }).first('email'))!.email).to.equal('ada@house.org')
      expect(
        (await db('roles').orderBy('code').select('code', 'permissions')).map(row => row.permissions.length),
      ).to.deep.equal([1, 2])
      expect(await db('settings').where({ key: 'demo' }), 'real people').to.deep.equal([])
      const twin = await db('people')
        .insert({ id: randomUUID(), name: 'B', email: 'ADA@house.org', realm: 'team' })
        .catch((error: { constraint: string }) => error.constraint)
      expect(twin).to.equal('people_email_key')
    } finally {
      await end()
    }
  })

  it('knows a demo by its people, and stops at addresses that differ in capitals only', async () => {
    const demo = await before('migrated8d', [[randomUUID(), 'ada@saltmere.example', 'x']])
    try {
      await (await migration('008_fit_to_run')).up(demo.db)
      expect((await demo.db('settings').where({ key: 'demo' }).first())!.value).to.equal(true)
    } finally {
      await demo.end()
    }
    const twins = await before('migrated8t', [
      [randomUUID(), 'ada@house.org', null],
      [randomUUID(), 'Ada@house.org', null],
    ])
    try {
      const fault = await (await migration('008_fit_to_run')).up(twins.db).then(
        () => '',
        (error: Error) => error.message,
      )
      expect(fault).to.include('differ only in capitals')
    } finally {
      await twins.end()
    }
  })
})

describe('migrations of data that is at work', function () {
  this.timeout(180_000)

  it('makes one charge of each sum, also in changes that are written or asked about, and finds the day by which something is still needed', async () => {
    const cluster = await testCluster()
    const db = connect(await createDatabase(cluster, 'migrated27'), 2)
    try {
      const files = readdirSync(new URL('./migrations', import.meta.url)).map(file => file.replace(/\.ts$/, '')).sort() // prettier-ignore
      for (const file of files.filter(one => one < '027')) await (await migration(file)).up(db)
      const [person, supplier, order, question] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()]
      await db.raw(`insert into people (id, name, email, realm) values (?, 'Ada', 'ada@house.org', 'team')`, [person])
      await db.raw(`insert into suppliers (id, number, name, search_name, kind, state, currency, terms, over_receipt_percent, categories, created_at, changed_at) values (?, 'S-1', 'Nordhavn', 'nordhavn', 'company', 'active', 'EUR', '{}', 0, '{}', now(), now())`, [supplier]) // prettier-ignore
      await db.raw(`insert into orders (id, number, title, state, supplier_id, buyer_id, currency, rate, charges, need_by, created_at, changed_at) values (?, 'O-1', 'Pumps', 'issued', ?, ?, 'EUR', 1, 2500, '2026-01-02', now(), now())`, [order, supplier, person]) // prettier-ignore
      for (const [position, needBy, proven] of [[1, '2026-01-02', 4], [2, '2026-02-03', 1]] as const) // prettier-ignore
        await db.raw(`insert into order_lines (id, order_id, position, kind, description, quantity, unit, price, price_base, amount, base_amount, need_by, proof, proven) values (?, ?, ?, 'goods', 'Impeller', 4, 'C62', 10, 1, 4000, 4000, ?, 'count', ?)`, [randomUUID(), order, position, needBy, proven]) // prettier-ignore
      await db.raw(`insert into order_changes (order_id, content, revision, by_id, changed_at) values (?, '{"wanted": {"charges": "30.00", "lines": []}}', 0, ?, now())`, [order, person]) // prettier-ignore
      await db.raw(`insert into consents (id, purpose, document_kind, document_id, state, subject, reason, asked_by, asked_at) values (?, 'excess', 'order', ?, 'open', '{"wanted": {"charges": "0", "lines": []}}', '', ?, now())`, [question, order, person]) // prettier-ignore
      await (await migration('027_deliveries')).up(db)
      const freight = (amount: string) => [{ kind: 'freight', words: '', percent: null, amount, splits: [] }]
      const row = (await db('orders').where({ id: order }).first('chargeItems', 'needBy'))!
      expect(row).to.deep.equal({ chargeItems: freight('2500'), needBy: '2026-02-03' })
      const change = await db('orderChanges').where({ orderId: order }).first<{ content: { wanted: { charges: unknown } } }>('content') // prettier-ignore
      expect(change!.content.wanted.charges).to.deep.equal(freight('30.00'))
      const asked = await db('consents').where({ id: question }).first<{ subject: { wanted: { charges: unknown } } }>('subject') // prettier-ignore
      expect(asked!.subject.wanted.charges).to.deep.equal([])
    } finally {
      await db.destroy()
      await dropDatabase(cluster, 'migrated27')
    }
  })

  it('makes a message of the days of a reminder, keeps what was said already, and goes on behind the last number from outside', async () => {
    const cluster = await testCluster()
    const db = connect(await createDatabase(cluster, 'migrated30'), 2)
    try {
      const files = readdirSync(new URL('./migrations', import.meta.url)).map(file => file.replace(/\.ts$/, '')).sort() // prettier-ignore
      for (const file of files.filter(one => one < '030')) await (await migration(file)).up(db)
      const [person, ours, outside] = [randomUUID(), randomUUID(), randomUUID()]
      await db.raw(`insert into people (id, name, email, realm) values (?, 'Ada', 'ada@house.org', 'team')`, [person])
      await db.raw(`insert into event_ranges (id, prefix, digits, next, last) values (?, 'E-', 4, 3, 99), (?, 'X-', 3, 1, 99)`, [ours, outside]) // prettier-ignore
      const kinds = [2, 0].map(days => ({ id: randomUUID(), days }))
      for (const { id, days } of kinds)
        await db.raw(`insert into event_kinds (id, code, number, name, state, settings, range_id, outside_range_id, changed_by, changed_at) values (?, ?, 1, 'Quotes', 'live', ?, ?, ?, ?, now())`, [id, randomUUID(), { format: 'quotes', remindDays: days }, ours, outside, person]) // prettier-ignore
      const event = (number: string, from: string | null, sent: string, reminded: string | null) =>
        db.raw(`insert into events (id, number, outside_number, kind_id, title, state, currency, zone, criteria, formula, landed, owner_id, created_at, changed_at, sent_at, reminded_at, search) values (?, ?, ?, ?, 'Pumps', 'asking', 'EUR', 'UTC', '[]', 'lowestRatio', '{}', ?, now(), now(), ?, ?, '')`, [randomUUID(), number, from, kinds[0]!.id, person, sent, reminded]) // prettier-ignore
      await event('E-0001', 'X-012', '2026-01-02T08:00:00Z', '2026-01-05T08:00:00Z')
      await event('E-0002', null, '2026-01-03T08:00:00Z', null)
      await (await migration('030_event_messages')).up(db)
      const settings = await db('eventKinds').orderByRaw("settings -> 'messages' desc").pluck('settings')
      expect(settings).to.deep.equal([
        { format: 'quotes', messages: [{ key: 'reminder', moment: 'beforeEnd', hours: 48, to: 'silent', words: {} }] },
        { format: 'quotes', messages: [] },
      ])
      const rows = await db('events').orderBy('number').select('messagesSince', 'messagesSent')
      expect(rows.map(row => [row.messagesSince!.slice(0, 10), row.messagesSent])).to.deep.equal([['2026-01-05', []], ['2026-01-03', []]]) // prettier-ignore
      expect((await db('eventRanges').orderBy('prefix').pluck('next')).map(String)).to.deep.equal(['3', '13'])
    } finally {
      await db.destroy()
      await dropDatabase(cluster, 'migrated30')
    }
  })
})
