import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import type { Knex } from 'knex'
import { createDatabase, dropDatabase } from '#scripts/cluster.ts'
import { connect } from '#server/database/connect.ts'
import { testCluster } from '#test-helpers/world.ts'

type Migration = { up: (knex: Knex) => Promise<void> }
const migration = (name: string): Promise<Migration> =>
  import(`#server/database/migrations/${name}.ts`) as Promise<Migration>

describe('the migration to the supplier side', function () {
  this.timeout(60_000)

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
      const row = (await db('suppliers').where({ id: supplier }).first()) as Record<string, unknown>
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
