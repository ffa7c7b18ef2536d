import { type ChildProcess, spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import pg from 'pg'
import { ReadInvoiceFile } from '#contract/bill/endpoints.ts'
import { Attach, FILE_LIMIT } from '#contract/files/endpoints.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { ApproveRun, ProposeRun } from '#contract/pay/endpoints.ts'
import { SignIn } from '#contract/people/endpoints.ts'
import { ReadDelivery, Receive } from '#contract/receive/endpoints.ts'
import { ImportItems } from '#contract/request/catalogue.ts'
import { ReadRequisition, SaveRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { CreateSupplier } from '#contract/source/endpoints.ts'
import { vatOf } from '#demo/world.ts'
import { restartCluster, ROOT } from '#scripts/cluster.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { fetchBankAnswers } from '#server/pay/bankTransfer.ts'
import {
  account,
  billed,
  draft,
  figures,
  goodsLine,
  type Issued,
  ordered,
  PLACE,
  posted,
  received,
  today,
} from '#test-helpers/steps.ts'
import { importFile, supplierBody } from '#test-helpers/suppliers.ts'
import { Client, send, sendAll, useWorld, type World } from '#test-helpers/world.ts'
import { invoiceXml, plainInvoice } from '#test-helpers/invoices.ts'

const receipt = (order: Issued, quantity: string) => ({
  params: { id: order.id },
  body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity }] },
})
const inSoFar = async (world: World, order: Issued): Promise<string> =>
  (await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })).lines[0]!.done!
const SUPPLIER = supplierBody()

describe('two at once', () => {
  const world = useWorld()

  it('a double click and a repeated request count once and get the same answer', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const yuki = await world.as('Yuki')
    const key = randomUUID()
    const answers = await Promise.all([1, 2, 3].map(() => yuki.call(Receive, { ...receipt(order, '4'), key })))
    expect(answers.map(answer => answer.status)).to.deep.equal([200, 200, 200])
    expect(new Set(answers.map(answer => answer.body.number)).size).to.equal(1)
    expect(await inSoFar(world, order)).to.equal('4')
    expect((await yuki.call(Receive, { ...receipt(order, '5'), key })).codes).to.deep.equal(['request.keyReused'])
  })

  it('two people receiving the same line never take in more than there is', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const [yuki, dov] = [await world.as('Yuki'), await world.as('Dov')]
    const answers = await Promise.all([yuki.call(Receive, receipt(order, '6')), dov.call(Receive, receipt(order, '6'))])
    expect(answers.map(answer => answer.status).sort()).to.deep.equal([200, 422])
    expect(answers.find(answer => answer.status === 422)!.codes).to.deep.equal([
      'receive.wantsReason',
      'receive.overAsked',
    ])
    expect(await inSoFar(world, order)).to.equal('6')
  })

  it('the second of two tabs is told who changed the draft; its text is not lost to the first', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const joren = await world.as('Joren')
    const save = (title: string) =>
      joren.call(SaveRequisition, { params: { id }, body: { version, title, reason: '', lines: [] } })
    expect((await save('First')).status).to.equal(200)
    const second = await save('Second')
    expect([second.status, second.codes]).to.deep.equal([409, ['document.changed']])
    expect(second.reasons[0]!.details.by).to.equal('Joren Vaskuil')
    expect((await joren.do(ReadRequisition, { params: { id } })).title).to.equal('First')
  })

  it('twenty people spending the last of an account do not overdraw it', async () => {
    const accountId = await account(world, 'AC-110', '1510')
    const before = await figures(world, accountId)
    const joren = await world.as('Joren')
    const splits = [{ accountId, share: '1' }]
    const drafts = await Promise.all(
      Array.from({ length: 20 }, async () => draft(world, [await goodsLine(world, 'CP-1200', '1', { splits })])),
    )
    const answers = await Promise.all(
      drafts.map(one => joren.call(SubmitRequisition, { params: { id: one.id }, body: { version: one.version } })),
    )
    const taken = answers.filter(answer => answer.status === 200).length
    expect(taken).to.equal(11)
    expect(
      answers.filter(answer => answer.status !== 200).every(answer => answer.codes.includes('budget.over')),
    ).to.equal(true)
    expect((await figures(world, accountId)).reserved - before.reserved).to.equal(BigInt(taken) * 219000n)
  })

  it('receiving and posting at the same time leaves the books right', async () => {
    const order = await ordered(world, [await goodsLine(world, 'UL-1200', '10')])
    await received(world, order, '5')
    const invoice = await billed(world, order, { quantity: '5' })
    const yuki = await world.as('Yuki')
    await Promise.all([
      posted(world, invoice.id),
      yuki.call(Receive, receipt(order, '3')),
      yuki.call(Receive, receipt(order, '2')),
    ])
    expect(await inSoFar(world, order)).to.equal('10')
  })
})

describe('a server that is killed', () => {
  const world = useWorld()

  const startAnother = (): Promise<{ child: ChildProcess; port: number }> =>
    new Promise((resolve, reject) => {
      const child = spawn(process.execPath, ['--import', 'tsx', 'server/app/main.ts'], {
        cwd: ROOT,
        env: { ...process.env, DATABASE_URL: world.url, PORT: '0' },
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      })
      child.once('message', message => resolve({ child, port: (message as { port: number }).port }))
      child.once('exit', code => reject(new Error(`ended with ${code}`)))
    })

  it('between commit and answer has done the work once; asking again gives the answer', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const yuki = await world.as('Yuki')
    const { child, port } = await startAnother()
    const listener = new pg.Client({ connectionString: world.url })
    await listener.connect()
    await listener.query('listen ivory')
    const committed = new Promise<void>(resolve =>
      listener.once('notification', () => {
        child.kill('SIGKILL')
        resolve()
      }),
    )
    const key = randomUUID()
    const first = new Client(`http://127.0.0.1:${port}`, yuki.cookie)
      .call(Receive, { ...receipt(order, '7'), key })
      .then(
        answer => answer.body.number,
        () => 'no answer',
      )
    await committed
    await first
    await listener.end()
    const again = await yuki.do(Receive, { ...receipt(order, '7'), key })
    expect(again.number).to.match(/^G-\d+$/)
    expect(await inSoFar(world, order)).to.equal('7')
  })
})

describe('outsiders that are away', () => {
  const world = useWorld()

  it('a mail server that is down gets its mail later, once', async () => {
    world.mail.faults.down = true
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')], { answer: false })
    const waiting = (await world.db('outbox').where({ documentId: order.id }).first('id')) as { id: string }
    for (let attempt = 1; attempt <= 2; attempt++)
      expect(
        await send(world, waiting.id).then(
          () => 'sent',
          () => 'failed',
        ),
      ).to.equal('failed')
    const row = (await world.db('outbox').where({ id: waiting.id }).first()) as {
      state: string
      attempts: number
      lastError: string
    }
    expect([row.state, row.attempts]).to.deep.equal(['waiting', 2])
    expect(row.lastError).to.include('resting')
    expect((await (await world.as('Pilar')).do(ReadOrder, { params: { id: order.id } })).delivery[0]).to.deep.include({
      state: 'waiting',
      attempts: 2,
    })
    world.mail.faults.down = false
    await sendAll(world)
    expect((await world.db('outbox').where({ id: waiting.id }).first('state')) as object).to.deep.equal({
      state: 'sent',
    })
  })

  it('a mail server that takes a mail and breaks before saying so has it once', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')], { answer: false })
    await sendAll(world)
    const before = await world.mail.count()
    await world.db('outbox').where({ documentId: order.id }).update({ state: 'waiting' })
    world.mail.faults.forgetToAnswer = 1
    await sendAll(world).catch(() => undefined)
    await sendAll(world)
    expect(await world.mail.count()).to.equal(before)
  })

  it('a bank that is down or forgets to answer gets the file later and pays once', async () => {
    await world.db.raw(
      `update suppliers set terms = '{"days": 0, "from": "invoice"}', defaults = defaults || '{"termsDays": "0"}' where name = 'Nordhavn Pumpeverk'`,
    )
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '5')])
    await received(world, order)
    await posted(world, (await billed(world, order)).id)
    const run = await (await world.as('Casimir')).do(ProposeRun, { body: { dueUntil: today(), executeOn: today() } })
    await (await world.as('Adaeze')).do(ApproveRun, { params: { id: run.id! }, body: { version: run.version } })
    world.bank.faults.down = true
    const file = (await world.db('outbox').where({ documentId: run.id!, kind: 'bankFile' }).first('id')) as {
      id: string
    }
    expect(
      await send(world, file.id).then(
        () => 'sent',
        () => 'failed',
      ),
    ).to.equal('failed')
    world.bank.faults.down = false
    world.bank.faults.forgetToAnswer = 1
    expect(
      await send(world, file.id).then(
        () => 'sent',
        () => 'failed',
      ),
    ).to.equal('failed')
    await send(world, file.id)
    await Promise.all([fetchBankAnswers(world.jobs), fetchBankAnswers(world.jobs)])
    await fetchBankAnswers(world.jobs)
    const payments = (await world.db('payments').where({ runId: run.id! }).select('state')) as { state: string }[]
    expect(payments.every(payment => ['paid', 'refused'].includes(payment.state))).to.equal(true)
    expect(
      await world
        .db('payments')
        .whereIn('state', ['paid'])
        .groupBy('invoiceId')
        .havingRaw('count(*) > 1')
        .select('invoiceId'),
    ).to.deep.equal([])
  })
})

describe('a database that restarts under load', () => {
  const world = useWorld()

  it('loses nothing and doubles nothing', async function () {
    this.timeout(180_000)
    const order = await ordered(world, [await goodsLine(world, 'FA-1200', '1000')])
    const yuki = await world.as('Yuki')
    const once = async (key: string): Promise<number> => {
      for (let attempt = 0; attempt < 25; attempt++) {
        const status = await yuki.call(Receive, { ...receipt(order, '10'), key }).then(
          answer => answer.status,
          () => 0,
        )
        if (status === 200) return attempt
        expect([0, 503, 500], `status ${status}`).to.include(status)
        await new Promise(resolve => setTimeout(resolve, 200))
      }
      throw new Error('It never came through.')
    }
    const work = Array.from({ length: 30 }, async (_, index) => {
      await new Promise(resolve => setTimeout(resolve, index * 40))
      return once(randomUUID())
    })
    await new Promise(resolve => setTimeout(resolve, 300))
    restartCluster(world.cluster)
    await Promise.all(work)
    expect(await inSoFar(world, order)).to.equal('300')
  })
})

describe('hostile and broken files', () => {
  const world = useWorld()

  const readIn = async (bytes: Buffer | string, name = 'invoice.xml') => {
    const leonie = await world.as('Leonie')
    const file = await leonie.upload(name, bytes)
    return file.status === 200 ? await leonie.call(ReadInvoiceFile, { body: { fileId: file.body.id } }) : file
  }

  it('an invoice with entities, broken tags or another namespace says what is wrong', async () => {
    expect(
      (await readIn(invoiceXml({ doctype: '<!DOCTYPE Invoice [<!ENTITY x SYSTEM "file:///etc/passwd">]>' }))).codes,
    ).to.deep.equal(['xml.doctype'])
    expect((await readIn(invoiceXml().slice(0, 900))).codes).to.deep.equal(['xml.notWellFormed'])
    expect((await readIn(invoiceXml({ root: 'urn:other' }))).codes).to.deep.equal(['bill.notAnInvoice'])
    expect((await readIn(Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0]))).codes[0]).to.be.oneOf([
      'xml.notWellFormed',
      'xml.encoding',
    ])
  })

  it('a file of 50 MB is refused before it is read, an empty one too', async () => {
    const large = await readIn(Buffer.alloc(50 * 1024 * 1024, 0x20))
    expect([large.status, large.codes]).to.deep.equal([413, ['file.tooLarge']])
    expect((await readIn(Buffer.alloc(0))).codes[0]).to.be.oneOf(['file.empty', 'file.none'])
    expect(FILE_LIMIT).to.equal(26214400)
  })

  it('an invoice that breaks rules is refused with every rule', async () => {
    const broken = await readIn(
      invoiceXml()
        .replace('>528.95</cbc:PayableAmount>', '>1.00</cbc:PayableAmount>')
        .replace('>454.50</cbc:TaxExclusiveAmount>', '>1.00</cbc:TaxExclusiveAmount>'),
    )
    expect(broken.status).to.equal(422)
    expect(broken.reasons.map(reason => reason.details.rule)).to.include.members(['BR-CO-13', 'BR-CO-16'])
  })

  it('an invoice of nobody we know, and one for an order of another supplier, find no home', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
    const parts = {
      number: 'U-1',
      order: order.number,
      vat: 'NO123456789',
      quantity: '4',
      price: '85.00',
      net: '340.00',
      issueDate: today(),
    }
    expect((await readIn(plainInvoice(parts))).codes).to.deep.equal(['bill.unknownSupplier'])
    const other = await readIn(plainInvoice({ ...parts, vat: vatOf('brightwater') }))
    expect([other.status, (other.body as { state: string }).state]).to.deep.equal([200, 'onHold'])
  })

  it('an invoice file is matched by its order line, and stopped as a duplicate the second time', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
    await received(world, order)
    const xml = plainInvoice({
      number: 'F-77',
      order: order.number,
      vat: vatOf('nordhavn'),
      quantity: '4',
      price: '85.00',
      net: '340.00',
      orderLine: '1',
      issueDate: today(),
    })
    expect(((await readIn(xml)).body as { state: string }).state).to.equal('matched')
    expect((await readIn(xml.replace('F-77', 'f 77'))).codes).to.deep.equal(['bill.duplicate'])
  })

  it('what is attached is judged by its content, not its name', async () => {
    const { id } = await draft(world, [])
    const joren = await world.as('Joren')
    const program = await joren.upload(
      'drawing.pdf',
      Buffer.from('7f454c4602010100000000000000000002003e0001000000', 'hex'),
    )
    expect(
      (await joren.call(Attach, { body: { documentKind: 'requisition', documentId: id, fileId: program.body.id } }))
        .codes,
    ).to.deep.equal(['file.type'])
    const real = await joren.upload('drawing.exe', Buffer.from('%PDF-1.7\n1 0 obj\n<<>>\nendobj\n'))
    expect(
      (await joren.call(Attach, { body: { documentKind: 'requisition', documentId: id, fileId: real.body.id } }))
        .status,
    ).to.equal(200)
    expect(
      (
        await (
          await world.as('Ines')
        ).call(Attach, { body: { documentKind: 'requisition', documentId: id, fileId: real.body.id } })
      ).status,
    ).to.equal(404)
  })

  it('a supplier file loads all rows or none, and says what is wrong row by row', async () => {
    const rasmus = await world.as('Rasmus')
    const load = async (text: string | Buffer, dryRun = false) =>
      (await importFile(world, rasmus, text, { dryRun })).outcome!
    const count = async (): Promise<number> => ((await world.db('suppliers').select('id')) as unknown[]).length
    const before = await count()
    const faulty = await load(
      'name;country;vat;terms_days\n"Ærø\nFisk";DK;DK99900016;30\n=SUM(A1);NL;;\nNordhavn zwei;NO;NO999900011MVA;x',
    )
    expect(faulty.faults.map(fault => [fault.row, fault.code])).to.deep.equal([
      [3, 'import.formula'],
      [4, 'import.number'],
    ])
    expect([faulty.rows, faulty.good, faulty.loaded, await count()]).to.deep.equal([3, 1, 0, before])
    const good = '\ufeffname;country;terms_days\r\nOne;NL;30\r\nTwo;DE;14\r\n'
    expect([(await load(good, true)).loaded, await count()]).to.deep.equal([0, before])
    expect([(await load(good)).loaded, await count()]).to.deep.equal([2, before + 2])
  })

  it('a hundred thousand rows are read in one go', async function () {
    this.timeout(240_000)
    const rasmus = await world.as('Rasmus')
    const rows = Array.from({ length: 100_000 }, (_, index) => `Supplier ${index};NL;30;m${index}@x.example`)
    const text = `name;country;terms_days;email\n${rows.join('\n')}`
    const result = (await importFile(world, rasmus, text, { dryRun: true })).outcome!
    expect([result.rows, result.good, result.faultCount]).to.deep.equal([100_000, 100_000, 0])
  })

  it('an item file takes semicolons and decimal commas and refuses what could mean two numbers', async () => {
    const pilar = await world.as('Pilar')
    const load = async (text: string) =>
      pilar.do(ImportItems, { body: { fileId: (await pilar.upload('i.csv', text)).body.id, dryRun: false } })
    const head = 'number;name;category;supplier;price;tiers;unit\n'
    expect((await load(`${head}X-1;Hose;Pipe;Orrin Valve Company;12,50;10=11.9;MTR\n`)).loaded).to.equal(1)
    expect((await load(`${head}X-2;Hose;Pipe;Nobody;1,250;;MTR\n`)).faults.map(fault => fault.code)).to.include(
      'import.ambiguousNumber',
    )
  })
})

describe('the door', () => {
  const world = useWorld()

  it('takes five wrong passwords of an account and then asks for patience, in every server process', async () => {
    const nobody = new Client(world.address, '')
    const sign = (email: string, password: string) => nobody.call(SignIn, { body: { email, password } })
    const tries: number[] = []
    for (let attempt = 0; attempt < 8; attempt++)
      tries.push((await sign('Ines.Castellane@saltmere.example', 'wrong')).status)
    expect(tries).to.deep.equal([401, 401, 401, 401, 401, 401, 429, 429])
    const told = await sign('ines.castellane@saltmere.example', 'kelp-and-krill')
    expect([told.status, told.reasons[0]!.details.seconds]).to.deep.equal([429, 15])
    expect((await sign('joren.vaskuil@saltmere.example', 'kelp-and-krill')).status).to.equal(200)
    await world.db.raw(`update sign_in_tries set until = now() - interval '1 second'`)
    expect((await sign('ines.castellane@saltmere.example', 'still wrong')).status).to.equal(401)
    const again = await sign('ines.castellane@saltmere.example', 'kelp-and-krill')
    expect([again.status, Number(again.reasons[0]!.details.seconds) > 15]).to.deep.equal([429, true])
    await world.db.raw(
      `update sign_in_tries set failures = 33, until = now() - interval '1 second' where key like 'network %'`,
    )
    expect((await sign('joren.vaskuil@saltmere.example', 'kelp-and-krill')).status, 'a right one').to.equal(200)
    const network = (await world.db('signInTries').where('key', 'like', 'network %').first())!
    expect([network.failures, network.until !== null], 'clears the network for nobody').to.deep.equal([33, true])
    await world.db('signInTries').delete()
    const { rows } = await world.db.raw<{ rows: { action: string; n: number }[] }>(
      `select action, count(*)::int as n from history where document_kind = 'person' and action like 'signIn%' group by 1`,
    )
    expect(rows).to.deep.equal([{ action: 'signInRefused', n: 7 }])
  })

  it('refuses changes that come from another site or without our header', async () => {
    const rasmus = await world.as('Rasmus')
    expect(
      (await rasmus.call(CreateSupplier, { body: SUPPLIER, headers: { origin: 'https://elsewhere.example' } })).codes,
    ).to.deep.equal(['request.crossSite'])
    const bare = await fetch(`${world.address}/api/suppliers`, {
      method: 'POST',
      headers: { cookie: rasmus.cookie, 'content-type': 'application/json' },
      body: JSON.stringify(SUPPLIER),
    })
    expect(bare.status).to.equal(403)
  })

  it('sends pages with a strict content security policy and cookies that scripts cannot read', async () => {
    const page = await fetch(`${world.address}/api/session`)
    const policy = page.headers.get('content-security-policy')!
    expect(policy)
      .to.include("script-src 'self'")
      .and.include("default-src 'none'")
      .and.include("frame-ancestors 'none'")
    expect(policy).to.not.include('unsafe')
    const answer = await fetch(`${world.address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-ivory-order': '1' },
      body: JSON.stringify({ email: 'yuki.amberley@saltmere.example', password: 'kelp-and-krill' }),
    })
    expect(answer.headers.get('set-cookie')).to.include('HttpOnly').and.include('SameSite=Strict')
  })

  it('closes with the account: a session of somebody who has left is nobody’s', async () => {
    const ines = await world.as('Ines')
    await world.db('people').where('name', 'like', 'Ines %').update({ active: false })
    expect((await ines.call(ReadRequisition, { params: { id: randomUUID() } })).status).to.equal(401)
    await world.db('people').where('name', 'like', 'Ines %').update({ active: true })
  })

  it('takes names of 300 letters, right to left, with emoji, SQL and HTML as the text they are, and no control characters', async () => {
    const rasmus = await world.as('Rasmus')
    for (const name of [
      'x'.repeat(300),
      'شركة الملح 🐟',
      `Robert'); drop table suppliers;--`,
      '<img src=x onerror=alert(1)>',
      '${7*7} {{7*7}}',
    ]) {
      const { id } = await rasmus.do(CreateSupplier, { body: { ...SUPPLIER, name } })
      expect(((await world.db('suppliers').where({ id }).first('name')) as { name: string }).name).to.equal(name)
    }
    for (const name of ['x'.repeat(301), 'a\u0000b', 'a\nb', ''])
      expect(
        (await rasmus.call(CreateSupplier, { body: { ...SUPPLIER, name } })).status,
        JSON.stringify(name.slice(0, 9)),
      ).to.equal(400)
    expect(
      (
        await rasmus.call(CreateSupplier, {
          body: { ...SUPPLIER, identifiers: [{ scheme: 'vat', value: vatOf('nordhavn') }] },
        })
      ).codes,
    ).to.deep.equal(['source.shared'])
  })
})

describe('the books', () => {
  const world = useWorld()

  it('cannot be rewritten: entries and history are append-only', async () => {
    for (const table of ['quantity_entries', 'budget_entries', 'history'])
      for (const sql of [`update ${table} set at = now()`, `delete from ${table}`, `truncate ${table} cascade`])
        expect(
          await world.db.raw(sql).then(
            () => 'done',
            (error: { code: string }) => error.code,
          ),
          sql,
        ).to.equal('IV001')
  })

  it('name the document when somebody changes them behind the program’s back', async () => {
    const tamper = async (table: string, change: string, undo: string): Promise<string[]> => {
      await world.db.raw(`alter table ${table} disable trigger user; ${change}`)
      const found = (await auditDatabase(world.db)).differences.map(one => one.check)
      await world.db.raw(`${undo}; alter table ${table} enable trigger user`)
      return found
    }
    expect(
      await tamper(
        'budget_entries',
        'update budget_entries set amount = amount + 1 where id = 5',
        'update budget_entries set amount = amount - 1 where id = 5',
      ),
    ).to.include('budgetBalances')
    expect(
      await tamper(
        'quantity_entries',
        'update quantity_entries set quantity = quantity + 1 where id = 5',
        'update quantity_entries set quantity = quantity - 1 where id = 5',
      ),
    ).to.include('quantityBalances')
    expect(
      await tamper(
        'history',
        `update history set reason = reason || '!' where reason is not null and action = 'submitted'`,
        `update history set reason = left(reason, -1) where reason is not null and action = 'submitted'`,
      ),
    ).to.include('history')
  })
})
