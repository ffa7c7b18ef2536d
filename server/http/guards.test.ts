import { once } from 'node:events'
import { type ClientRequest, type IncomingMessage, request as httpRequest } from 'node:http'
import { connect as connectSocket } from 'node:net'
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { gzipSync } from 'node:zlib'
import { expect } from 'chai'
import exceljs from 'exceljs'
import { ReadInvoiceFile } from '#contract/bill/endpoints.ts'
import { Attach } from '#contract/files/endpoints.ts'
import { ActOnOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { SupplierPdf } from '#contract/order/supplierOrders.ts'
import { ReadSession } from '#contract/people/endpoints.ts'
import { ImportItems, Items } from '#contract/request/catalogue.ts'
import { CreateRequisition, ReadQuickLines } from '#contract/request/endpoints.ts'
import { LookAtImport } from '#contract/source/duplicates.ts'
import { ITEM_COLUMNS } from '#core/request/itemImport.ts'
import { startWebServer } from '#server/app/webServer.ts'
import { type Read, reading } from '#server/call.ts'
import { QUOTA_MB } from '#core/files/quota.ts'
import { reasonFromDatabase } from '#server/http/faults.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { exportList } from '#server/lists/export.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { Client, useWorld } from '#test-helpers/world.ts'

const UNKNOWN = '11111111-1111-4111-8111-111111111111'
/** Milliseconds for which no request may keep the others waiting. */
const MOST_HELD = 200

describe('what comes from outside', () => {
  const world = useWorld()

  const raw = async (path: string, init: RequestInit = {}): Promise<{ status: number; codes: string[] }> => {
    const headers = { cookie: (await world.as('Pilar')).cookie, 'x-ivory-order': '1', ...init.headers }
    const response = await fetch(`${world.address}${path}`, { ...init, headers })
    const { reasons } = (await response.json()) as { reasons?: { code: string }[] }
    return { status: response.status, codes: (reasons ?? []).map(reason => reason.code) }
  }

  /** A request that the test writes byte by byte. */
  function open(cookie: string, method: string, path: string, headers: Record<string, string | number> = {}) {
    const request = httpRequest(`${world.address}${path}`, {
      method,
      agent: false,
      headers: { cookie, 'x-ivory-order': '1', ...headers },
    })
    request.on('error', () => undefined)
    return request
  }
  const answerTo = async (request: ClientRequest): Promise<{ status: number; text: string }> => {
    const [response] = (await once(request, 'response')) as [IncomingMessage]
    let text = ''
    for await (const part of response) text += String(part)
    return { status: response.statusCode!, text }
  }
  const isUp = async (): Promise<void> => {
    const started = Date.now()
    await new Client(world.address, '').do(ReadSession)
    expect(Date.now() - started).to.be.below(5000)
  }

  it('paths that are no text have nothing at them', async () => {
    for (const path of ['/api/orders/%ff', '/api/items/%', '/api/%c0%af', '/api/orders/..%2f..%2fetc'])
      expect((await raw(path)).status, path).to.equal(404)
  })

  it('bodies that are not what they say are refused', async () => {
    const send = (body: BodyInit, headers = {}) =>
      raw('/api/requisitions', { method: 'POST', body, headers: { 'content-type': 'application/json', ...headers } })
    expect(await send('{"title"')).to.deep.equal({ status: 400, codes: ['request.invalid'] })
    expect(await send('{}', { 'content-encoding': 'gzip' })).to.deep.equal({ status: 400, codes: ['request.invalid'] })
    expect(await send('{}', { 'content-encoding': 'zip' })).to.deep.equal({ status: 400, codes: ['request.invalid'] })
    expect((await send('{}', { 'content-type': 'application/json; charset=klingon' })).status).to.equal(400)
    const bomb = new Uint8Array(gzipSync(Buffer.alloc(50_000_000, ' ')))
    expect(await send(bomb, { 'content-encoding': 'gzip' })).to.deep.equal({ status: 413, codes: ['request.tooLarge'] })
  })

  it('requests of other sites are refused, whatever their Origin is', async () => {
    for (const origin of ['null', 'x', 'http://[', 'http://127.0.0.1:1', 'file://'])
      expect(await raw('/api/session', { method: 'DELETE', headers: { origin } }), origin).to.deep.equal({
        status: 403,
        codes: ['request.crossSite'],
      })
  })

  it('names that every object has are no names of ours', async () => {
    const pilar = await world.as('Pilar')
    const plain = await pilar.do(Items.page)
    for (const name of ['__proto__', 'constructor', 'toString', 'hasOwnProperty']) {
      const page = await pilar.do(Items.page, { query: { view: name, sort: name, where: `${name}:1` } })
      expect([page.view, page.sort, page.conditions, page.orders], name).to.deep.equal([plain.view, plain.sort, [], []])
    }
    const body = JSON.parse('{"kind":"goods","lines":[{"__proto__":{"admin":true}}]}') as never
    const answer = await pilar.call(CreateRequisition, { body })
    expect(answer.reasons.map(reason => [reason.code, reason.place])).to.deep.equal([
      ['request.fieldName', 'lines.0.__proto__'],
    ])
  })

  it('whole numbers that the database cannot keep are refused at their place', async () => {
    const sales = await world.as('at Nordhavn Pumpeverk')
    const pdf = async (revision: number) => sales.call(SupplierPdf, { params: { id: UNKNOWN, revision } })
    for (const revision of [2147483648, -1, 1e20]) expect((await pdf(revision)).status).to.equal(404)
    const { id } = (await world.db('orders').where({ state: 'issued' }).first('id'))!
    const far = { version: 2147483648, action: 'close', reason: 'all in', needRemains: false } as const
    const rasmus = await world.as('Rasmus')
    expect((await rasmus.call(ActOnOrder, { params: { id }, body: far })).reasons[0]!.place).to.equal('version')
    const pilar = await world.as('Pilar')
    const answer = await pilar.call(ReadQuickLines, { body: { text: 'salt', choices: {}, from: 2147483648 } })
    expect([answer.status, answer.reasons[0]!.place]).to.deep.equal([400, 'from'])
  })

  it('ids of nothing are refused with the field that names them', async () => {
    const error: unknown = await world
      .db('notes')
      .insert({ id: UNKNOWN, documentKind: 'order', documentId: UNKNOWN, text: 'x', byId: UNKNOWN, at: '2026-11-27' })
      .catch((failure: unknown) => failure)
    expect(reasonFromDatabase(error)).to.deep.include({ code: 'request.unknownId', place: 'byId' })
    const overflow: unknown = await world.db.raw(`select (10 ^ 19)::bigint`).catch((failure: unknown) => failure)
    expect(reasonFromDatabase(overflow)?.code).to.equal('request.outOfRange')
  })

  it('a broken upload ends nobody but itself', async () => {
    const { cookie } = await world.as('Pilar')
    const headers = { 'content-type': 'multipart/form-data; boundary=b' }
    const head = '--b\r\ncontent-disposition: form-data; name="file"; filename="a.txt"\r\n\r\n'
    for (const body of [`${head}abc`, '--b', '', `${head}abc\r\n--b`, head.slice(0, 30), '--b--\r\n']) {
      const request = open(cookie, 'POST', '/api/files', headers)
      request.end(body)
      const answer = await answerTo(request)
      expect([answer.status, answer.text], JSON.stringify(body)).to.satisfy(
        ([status, text]: [number, string]) => status === 422 && text.includes('file.none'),
      )
    }
    const cut = open(cookie, 'POST', '/api/files', { ...headers, 'content-length': 100_000 })
    cut.write(`${head}abc`)
    await new Promise(resolve => setTimeout(resolve, 100))
    cut.destroy()
    await isUp()
    expect(await (await world.as('Pilar')).upload('whole.txt', 'abc')).to.include({ status: 200 })
  })

  it('a picture that a small file says is huge is not taken', async () => {
    const png = Buffer.alloc(64)
    Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex').copy(png)
    png.writeUInt32BE(60_000, 16)
    png.writeUInt32BE(60_000, 20)
    const pilar = await world.as('Pilar')
    expect((await pilar.upload('huge.png', png)).codes).to.deep.equal(['file.imageSize'])
    png.writeUInt32BE(600, 16)
    png.writeUInt32BE(600, 20)
    expect((await pilar.upload('small.png', png)).status).to.equal(200)
  })

  it('twelve files at once stream to the database, with memory flat', async function () {
    this.timeout(120_000)
    const { cookie } = await world.as('Rasmus')
    const part = Buffer.alloc(1024 * 1024, 7)
    const head = Buffer.from('--b\r\ncontent-disposition: form-data; name="file"; filename="big.bin"\r\n\r\n')
    const end = Buffer.from('\r\n--b--\r\n')
    const sendOne = async (): Promise<number> => {
      const request = open(cookie, 'POST', '/api/files', {
        'content-type': 'multipart/form-data; boundary=b',
        'content-length': head.length + 24 * part.length + end.length,
      })
      request.write(head)
      for (let sent = 0; sent < 24; sent++)
        if (!request.write(part)) await new Promise(resolve => request.once('drain', resolve))
      request.end(end)
      return (await answerTo(request)).status
    }
    expect(await sendOne()).to.equal(200)
    global.gc?.()
    const used = (): number => process.memoryUsage().arrayBuffers + process.memoryUsage().heapUsed
    const before = used()
    let most = 0
    const watch = setInterval(() => (most = Math.max(most, used())), 20)
    const statuses = await Promise.all(Array.from({ length: 12 }, sendOne))
    clearInterval(watch)
    expect(statuses).to.deep.equal(Array.from({ length: 12 }, () => 200))
    // held whole they would be 288 MB
    expect((most - before) / 1024 / 1024).to.be.below(144)
    const sizes = await world.db.raw<{ rows: { size: number; kept: bigint }[] }>(
      `select size, (select sum(length(content)) from file_parts where file_id = files.id)::bigint as kept from files where name = 'big.bin'`,
    )
    for (const row of sizes.rows) expect(BigInt(row.size)).to.equal(row.kept)
  })

  it('files have a quota for each person and company', async () => {
    const yuki = await world.as('Yuki')
    const { id: byId } = (await world.db('people').where('name', 'like', 'Yuki %').first('id'))!
    await world.db('files').insert({
      id: UNKNOWN,
      name: 'much',
      mediaType: 'text/plain',
      size: 25 * 1024 * 1024,
      sha256: '',
      byId,
      at: new Date().toISOString(),
    } as never)
    for (let sent = 25; sent + 25 <= QUOTA_MB.person; sent += 25)
      await world.db.raw(
        `insert into files (id, name, media_type, size, sha256, by_id, at) select gen_random_uuid(), name, media_type, size, sha256, by_id, at from files where id = ?`,
        [UNKNOWN],
      )
    const answer = await yuki.upload('one more.txt', 'a')
    expect([answer.status, answer.codes]).to.deep.equal([422, ['file.quota']])
    expect((await (await world.as('Ines')).upload('hers.txt', 'a')).status).to.equal(200)
    const room = 10 * 1024 * 1024
    await world
      .db('files')
      .where({ id: UNKNOWN })
      .update({ size: 25 * 1024 * 1024 - room })
    const waiting = open(yuki.cookie, 'POST', '/api/files', {
      'content-type': 'multipart/form-data; boundary=b',
      'content-length': room,
    })
    waiting.on('error', () => undefined)
    waiting.write('--b\r\n')
    await new Promise(resolve => setTimeout(resolve, 200))
    expect((await yuki.upload('one more.txt', 'a')).codes, 'what is under way counts').to.deep.equal(['file.quota'])
    waiting.destroy()
    await new Promise(resolve => setTimeout(resolve, 200))
    expect((await yuki.upload('one more.txt', 'a')).status, 'and is let go of with it').to.equal(200)
  })

  it('downloads that are broken off hold nothing', async function () {
    this.timeout(60_000)
    const pilar = await world.as('Pilar')
    const order = await world.db('orders').where({ state: 'issued' }).first('id')
    const file = await pilar.upload('long.txt', Buffer.alloc(20 * 1024 * 1024, 'a '))
    const { id } = await pilar.do(Attach, {
      body: { documentKind: 'order', documentId: order!.id, fileId: file.body.id },
    })
    for (let round = 0; round < 40; round++) {
      const request = open(pilar.cookie, 'GET', `/api/attachments/${id}`)
      request.end()
      const [response] = (await once(request, 'response')) as [IncomingMessage]
      response.on('error', () => undefined)
      response.destroy()
    }
    await pilar.do(ReadOrder, { params: { id: order!.id } })
    const whole = await fetch(`${world.address}/api/attachments/${id}`, { headers: { cookie: pilar.cookie } })
    expect((await whole.arrayBuffer()).byteLength).to.equal(20 * 1024 * 1024)
  })

  it('an export that cannot be made is refused before it begins', async () => {
    const call: Read = reading(world.db, await settingOf(world.jobs))
    const broken = { ...BROKEN, base: (one: Read) => one.trx('no_such_table as t') } as ListDefinition<unknown>
    for (const format of ['csv', 'xlsx'] as const) {
      const failure: unknown = await exportList(broken, call, {}, format, 'x').catch((error: unknown) => error)
      expect(failure).to.be.an('error').with.property('code', '42P01')
    }
  })

  describe('heavy input', () => {
    /** The longest time for which nothing else could run while something was done: what the machine took for others is not there every time. */
    async function held(work: () => Promise<unknown>): Promise<number> {
      let least = Infinity
      for (let tries = 0; tries < 6 && least >= MOST_HELD; tries++) {
        if (tries > 0) await new Promise(resolve => setTimeout(resolve, 300))
        least = Math.min(least, await heldOnce(work))
      }
      return least
    }
    async function heldOnce(work: () => Promise<unknown>): Promise<number> {
      const watch = monitorEventLoopDelay({ resolution: 5 })
      await new Promise(resolve => setTimeout(resolve, 30))
      watch.enable()
      await work()
      watch.disable()
      return watch.max / 1e6
    }

    it('in the quick line is read in time that grows with its length', async () => {
      const pilar = await world.as('Pilar')
      const texts = [
        '1,'.repeat(50_000),
        'by '.repeat(33_000),
        'to x '.repeat(20_000),
        ',  '.repeat(33_000),
        '1 x a\n'.repeat(16_000),
      ]
      for (const text of texts) {
        const most = await held(() => pilar.do(ReadQuickLines, { body: { text, choices: {} } }))
        expect(most, text.slice(0, 12)).to.be.below(MOST_HELD)
      }
      const { lines } = await pilar.do(ReadQuickLines, { body: { text: texts[0]!, choices: {} } })
      expect(lines[0]!.reasons.map(reason => reason.code)).to.deep.equal(['quick.tooLong'])
    })

    it('in invoices, tables and workbooks is read beside the other requests, and not without end', async function () {
      this.timeout(120_000)
      const leonie = await world.as('Leonie')
      const read = async (name: string, bytes: Buffer | string) =>
        leonie.call(ReadInvoiceFile, { body: { fileId: (await leonie.upload(name, bytes)).body.id } })
      let refused: { codes: readonly string[] } = { codes: [] }
      const wide = `<a>${'<b/>'.repeat(500_000)}</a>`
      expect(await held(async () => void (refused = await read('wide.xml', wide)))).to.be.below(MOST_HELD)
      expect(refused.codes).to.deep.equal(['xml.tooLarge'])
      refused = await read('deep.xml', '<a>'.repeat(200_000))
      expect(refused.codes).to.deep.equal(['xml.tooLarge'])

      const pilar = await world.as('Pilar')
      const take = async (name: string, bytes: Buffer | string) =>
        pilar.call(ImportItems, { body: { fileId: (await pilar.upload(name, bytes)).body.id, dryRun: true } })
      const rows = `${ITEM_COLUMNS.join(',')}\n${`${ITEM_COLUMNS.map(() => 'x').join(',')}\n`.repeat(25_000)}`
      expect(await held(async () => void (refused = await take('many.csv', rows)))).to.be.below(MOST_HELD)
      expect(refused.codes).to.deep.equal(['import.tooManyRows'])

      const book = new exceljs.Workbook()
      const sheet = book.addWorksheet('a')
      sheet.getCell('A1').value = 'name'
      sheet.getCell('XFD2').value = 'far away'
      const bytes = Buffer.from(await book.xlsx.writeBuffer())
      const look = async () =>
        pilar.call(LookAtImport, { body: { fileId: (await pilar.upload('s.xlsx', bytes)).body.id } })
      expect((await look()).codes).to.deep.equal(['import.tooManyColumns'])
    })
  })

  it('heads and bodies that do not come are given up', async function () {
    this.timeout(60_000)
    const running = await startWebServer(
      { ...world.jobs.settings, databaseUrl: world.url, port: 0 },
      { head: 300, whole: 600 },
    )
    try {
      for (const sent of [
        'GET /api/session HTTP/1.1\r\nhost: a\r\n',
        'POST /api/session HTTP/1.1\r\nhost: a\r\nx-ivory-order: 1\r\ncontent-type: application/json\r\ncontent-length: 100\r\n\r\n{',
      ]) {
        const socket = connectSocket(running.port, '127.0.0.1')
        socket.on('error', () => undefined)
        socket.write(sent)
        let answer = ''
        socket.on('data', (part: Buffer) => (answer += part.toString()))
        await once(socket, 'close')
        expect(answer, sent.slice(0, 5)).to.match(/^HTTP\/1\.1 408/)
      }
    } finally {
      await running.stop()
    }
  })
})

const BROKEN: Omit<ListDefinition<unknown>, 'base'> = {
  id: 't.id',
  select: ['t.id'],
  views: { all: () => undefined },
  sorts: { newest: { sql: 't.at', descending: true, type: 'timestamptz' } },
  search: 't.search',
  columns: [],
  row: () => {
    throw new Error('there are no rows')
  },
}
