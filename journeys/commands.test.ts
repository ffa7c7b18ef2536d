import { spawn, spawnSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { once } from 'node:events'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from 'chai'
import { createDatabase, dropDatabase, freePort, ROOT } from '#scripts/cluster.ts'
import { connect } from '#server/database/connect.ts'
import { DatabaseTooNew, migrate } from '#server/database/migrate.ts'
import { invoiceXml } from '#test-helpers/invoices.ts'
import { testCluster, useWorld } from '#test-helpers/world.ts'

const folder = mkdtempSync(join(tmpdir(), 'ivory-commands-'))
after(() => rmSync(folder, { recursive: true, force: true }))

const file = (name: string, content: string | Buffer): string => {
  const path = join(folder, name)
  writeFileSync(path, content)
  return path
}

/** Runs one of the commands as a person would, without the check of packages. */
function ivory(command: string, args: readonly string[] = [], environment: Record<string, string> = {}) {
  const done = spawnSync(process.execPath, ['--import', 'tsx', `scripts/${command}.ts`, ...args], {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, ...environment },
    timeout: 60_000,
  })
  return { code: done.status, out: done.stdout, error: done.stderr }
}

describe('ivory check-invoice', () => {
  interface Printed {
    file: string
    invoice: { number: string; lines: unknown[] } | null
    violations: { rule: string; found: string; severity: string; set: string; words: string }[]
    ends: number
  }
  const broken = invoiceXml().replace('>528.95</cbc:PayableAmount>', '>1.00</cbc:PayableAmount>')

  it('prints what the invoice says and ends with 0 when no rule is broken', () => {
    const { code, out } = ivory('check-invoice', [file('good.xml', invoiceXml()), '--json'])
    const report = JSON.parse(out) as Printed
    expect([code, report.invoice!.number, report.invoice!.lines.length, report.violations]).to.deep.equal([0, 'B-0010', 2, []]) // prettier-ignore
  })

  it('says every broken rule in words, of each file, and ends with 1', () => {
    const { code, out } = ivory('check-invoice', [file('good.xml', invoiceXml()), file('broken.xml', broken)])
    expect(code).to.equal(1)
    expect(out).to.match(/good\.xml: UBL 380 B-0010 of Nordhavn Pumpeverk Ærø, 528\.95 EUR, 2 lines: no rule is broken/)
    expect(out).to.include('stop  BR-CO-16 at PayableAmount: What is to be paid is the total − what was prepaid + rounding. (found “1.00”, expected 528.95)') // prettier-ignore
    const one = JSON.parse(ivory('check-invoice', [file('broken.xml', broken), '--json']).out) as Printed
    expect(one.violations.map(each => [each.rule, each.severity, each.set])).to.deep.equal([['BR-CO-16', 'stop', 'en16931']]) // prettier-ignore
  })

  it('holds it against the sets that are named, and no other', () => {
    const { code, out } = ivory('check-invoice', [file('good.xml', invoiceXml()), '--json', '--set', 'german', '--set', 'peppol']) // prettier-ignore
    const rules = (JSON.parse(out) as Printed).violations.map(one => one.rule)
    expect(code).to.equal(1)
    expect(rules).to.include.members(['BR-DE-2', 'PEPPOL-EN16931-R001'])
    expect(ivory('check-invoice', [file('good.xml', invoiceXml()), '--set', 'french']).error).to.include(
      'german, peppol',
    )
  })

  it('says of a file that is no invoice what it is instead, and ends with 2, as it does without a file', () => {
    const { code, out } = ivory('check-invoice', [file('order.xml', '<Order xmlns="urn:x"/>'), '--json'])
    const report = JSON.parse(out) as Printed
    expect([code, report.invoice, report.violations[0]!.rule]).to.deep.equal([2, null, 'bill.notAnInvoice'])
    expect(report.violations[0]!.found).to.include('its root is Order')
    expect([ivory('check-invoice').code, ivory('check-invoice').error]).to.deep.equal([2, 'Name the invoice: ./ivory check-invoice FILE… [--json] [--set german] [--set peppol].\n']) // prettier-ignore
    const nowhere = ivory('check-invoice', [join(folder, 'nowhere.xml')])
    expect([nowhere.code, /cannot be read/.test(nowhere.error)]).to.deep.equal([2, true])
  })
})

describe('ivory import and audit', () => {
  const world = useWorld()

  it('tries a file out, loads it, and refuses it the second time row by row', function () {
    // three processes, one after the other
    this.timeout(180_000)
    const path = file('s.csv', 'name;country;vat\nDriftwood Joinery;NL;NL999900001B83\n')
    const environment = { DATABASE_URL: world.url }
    expect(ivory('import', ['suppliers', path, '--dry-run'], environment).out).to.include(
      '1 rows (semicolon, utf-8), 1 good, 0 faults, 0 loaded',
    )
    expect(
      ivory('import', ['suppliers', path, '--as', 'rasmus.tielemann@saltmere.example'], environment).out,
    ).to.include('1 loaded as Rasmus Tielemann')
    const again = ivory('import', ['suppliers', path], environment)
    expect([again.code, again.out.split('\n')[0]]).to.deep.equal([
      1,
      'row 2, vat: This number or account belongs to Driftwood Joinery (S-143) already.',
    ])
  })

  it('is done only as somebody who may', () => {
    const path = file('t.csv', 'name;country\nx;NL\n')
    const refused = ivory('import', ['suppliers', path, '--as', 'ines.castellane@saltmere.example'], {
      DATABASE_URL: world.url,
    })
    expect([refused.code, refused.error]).to.deep.equal([
      1,
      'ines.castellane@saltmere.example may not import suppliers: name somebody who may.\n',
    ])
  })

  it('audits a database that is named', () => {
    const { code, out } = ivory('audit', [], { DATABASE_URL: world.url })
    expect(code).to.equal(0)
    expect(out).to.match(/\d+ quantity entries, \d+ budget entries, \d+ history records: no differences/)
  })

  it('names each difference with its document and ends with 1', async () => {
    await world.db.raw(
      `alter table quantity_balances disable trigger all; update quantity_balances set quantity = quantity + 1 where ctid = (select ctid from quantity_balances where kind = 'received' limit 1)`,
    )
    const { code, out } = ivory('audit', [], { DATABASE_URL: world.url })
    expect(code).to.equal(1)
    expect(out).to.match(/quantityBalances: [0-9a-f-]{36} received: expected/)
    expect(out).to.match(/receivedQuantity: O-\d+ line \d+: expected/)
    await world.db.raw(
      `update quantity_balances b set quantity = e.quantity from (select line_id, kind, sum(quantity) as quantity from quantity_entries group by 1, 2) e where e.line_id = b.line_id and e.kind = b.kind`,
    )
  })
})

describe('ivory start', () => {
  it('brings an empty database up, loads the scenario into it, and does so once', async function () {
    this.timeout(480_000)
    const cluster = await testCluster()
    const name = `started_${randomUUID().slice(0, 8)}`
    const url = await createDatabase(cluster, name)
    const environment = { DATABASE_URL: url, IVORY_DATA: join(folder, 'started') }
    const db = connect(url, 2)
    const orders = async (): Promise<number> => (await db('orders').select('id')).length
    const up = async (work: () => Promise<void>): Promise<void> => {
      const child = spawn(
        process.execPath,
        ['--import', 'tsx', 'scripts/start.ts', '--port', String(await freePort())],
        {
          cwd: ROOT,
          env: { ...process.env, ...environment },
          stdio: ['ignore', 'pipe', 'inherit'],
        },
      )
      const ended = once(child, 'exit')
      let said = ''
      for await (const part of child.stdout as AsyncIterable<Buffer>)
        if ((said += part.toString()).includes('ends it.')) break
      expect(said).to.include('Ivory Order is at http://127.0.0.1:')
      await work()
      child.kill('SIGTERM')
      await ended
    }
    let loaded = 0
    await up(async () => {
      loaded = await orders()
      const { out, code } = ivory('audit', [], environment)
      expect([code, /^[1-9]\d* quantity entries, [1-9]\d* budget entries/.test(out)]).to.deep.equal([0, true])
    })
    expect(loaded).to.be.above(30)
    await up(() => Promise.resolve())
    expect(await orders(), 'a second start').to.equal(loaded)
    await db.destroy()
    await dropDatabase(cluster, name)
  })
})

describe('what can be wrong at a start', () => {
  it('a port that is taken is named', async () => {
    const server = createServer()
    const port = await new Promise<number>(resolve =>
      server.listen(0, '127.0.0.1', () => resolve((server.address() as { port: number }).port)),
    )
    const { code, error } = ivory('start', ['--port', String(port)], { IVORY_DATA: join(folder, 'data') })
    server.close()
    expect([code, error]).to.deep.equal([
      1,
      `Port ${port} is taken by another program: stop that, or start with --port and another number.\n`,
    ])
  })

  it('a database that cannot be reached is said to be so', () => {
    const { code, error } = ivory('audit', [], {
      DATABASE_URL: 'postgres://nobody:x@127.0.0.1:9/none',
      IVORY_DATA: join(folder, 'data'),
    })
    expect(code).to.equal(1)
    expect(error).to.match(
      /^The PostgreSQL in DATABASE_URL cannot be reached .*: check the address, name and password\.\n$/,
    )
  })

  it('a database of a newer version is left alone', async () => {
    const cluster = await testCluster()
    const name = `newer_${randomUUID().slice(0, 8)}`
    const url = await createDatabase(cluster, name)
    const db = connect(url, 2)
    await migrate(db, url)
    await migrate(db, url)
    await db('migrations').insert({ name: '999_from_the_future.ts', batch: 9, migration_time: new Date() })
    const refused = await migrate(db, url).then(
      () => undefined,
      (error: unknown) => error,
    )
    expect(refused).to.be.instanceOf(DatabaseTooNew)
    expect((refused as Error).message).to.include('999_from_the_future.ts')
    await db.destroy()
    await dropDatabase(cluster, name)
  })

  it('an unknown figure of the bench is answered with those that there are', () => {
    const { code, error } = ivory('bench', ['nothing.of-this'])
    expect(code).to.equal(1)
    expect(error).to.include(
      'list.first-page, sheet.open, desk.counts, news.fan-out, thread.post-ten-lines, web.first-route-kb',
    )
  })
})
