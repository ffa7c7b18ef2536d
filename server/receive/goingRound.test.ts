import { expect } from 'chai'
import { ReadInvoice } from '#contract/bill/endpoints.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import {
  DespatchUbl,
  OwnDespatches,
  OwnDespatchFile,
  ReadExpected,
  DeliveryFile,
  OwnOrderFile,
  SaveDespatch,
  UploadOrderFile,
  SetUnloader,
  WithdrawDespatch,
} from '#contract/receive/despatch.ts'
import { ReadDelivery, Receive } from '#contract/receive/endpoints.ts'
import { AnswerReports, OwnReports, ReadReports, SaveOwnReport } from '#contract/receive/reports.ts'
import { EndReturn, ReadReturns, ReturnPaper, SaveReturn } from '#contract/receive/returns.ts'
import { addDays } from '#core/calendar/days.ts'
import { readUblDespatch } from '#core/formats/ublDespatch.ts'
import { gs1CheckDigit } from '#core/text/gs1.ts'
import { audit } from '#server/insight/audit.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { reading } from '#server/call.ts'
import { billed, goodsLine, type Issued, ordered, PLACE, posted, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const SSCC = `34012345000000002${gs1CheckDigit('34012345000000002')}`

describe('what is announced, goes back and is reported', () => {
  const world = useWorld()
  const audited = async (): Promise<unknown[]> =>
    await world.db.transaction(
      async trx =>
        (await audit(reading(trx, await settingOf({ db: world.db, clock: () => new Date().toISOString() }))))
          .differences,
    )
  const count = async (order: Issued, line: object, more: object = {}) =>
    (await world.as('Yuki')).call(Receive, {
      params: { id: order.id },
      body: {
        receivedOn: today(),
        placeId: PLACE,
        note: '',
        lines: [{ lineId: order.lines[0]!.id, ...line } as { lineId: string; quantity: string }],
        ...more,
      },
    })

  describe('a despatch', () => {
    let order: Issued
    const entry = (line: object = {}, changed: object = {}) => ({
      number: 'LS-1',
      despatchedOn: today(),
      arrivesOn: addDays(today(), 2),
      carrier: 'Norsped',
      tracking: 'NS-77',
      note: '',
      packages: [{ kind: 'CT' as const, sscc: SSCC, weight: '12.5', size: '60 x 40 x 30' }],
      lines: [
        {
          lineId: order.lines[0]!.id,
          quantity: '6',
          batch: 'B1',
          bestBefore: '2030-01-31',
          serials: ['S1', 'S2'],
          package: 0,
          ...line,
        },
      ],
      ...changed,
    })
    const save = async (body: object, who = `at ${order.company}`) =>
      (await world.as(who)).call(SaveDespatch, {
        params: { id: order.id },
        body: { despatchId: null, version: 0, revision: 0, send: true, entry: entry(), ...body } as never,
      })
    const despatched = async (): Promise<string> =>
      (await (await world.as('Pilar')).do(ReadDelivery, { params: { id: order.id } })).lines[0]!.gauge.despatched
    before(async () => {
      order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    })

    it('is announced by its supplier, and nothing that cannot be', async () => {
      for (const [changed, codes] of [
        [entry({ quantity: '11' }), ['despatch.tooMuch']],
        [entry({ quantity: '0' }), ['despatch.quantity']],
        [entry({ lineId: '00000000-0000-4000-8000-0000000000ff' }), ['despatch.foreignLine']],
        [entry({ serials: ['S1', 's1'] }), ['despatch.serialTwice']],
        [entry({ quantity: '1' }), ['despatch.tooManySerials']],
        [entry({ package: 3 }), ['despatch.noPackage']],
        [entry({}, { arrivesOn: addDays(today(), -1) }), ['despatch.arrivesEarly']],
        [
          entry({}, { packages: [{ kind: 'CT', sscc: `${SSCC.slice(0, 17)}x`, weight: '0', size: '' }] }),
          ['despatch.sscc', 'despatch.weight'],
        ],
        [entry({}, { lines: [] }), ['despatch.nothing']],
      ] as const)
        expect((await save({ entry: changed })).codes, JSON.stringify(codes)).to.deep.equal(codes)
      expect((await save({ revision: 3 })).codes).to.deep.equal(['order.superseded'])
      expect((await save({}, 'at Seefelder Pumpen GmbH')).status).to.equal(404)
      expect(await despatched()).to.equal('0')
      const draft = await save({ send: false })
      expect([draft.status, await despatched()]).to.deep.equal([200, '0'])
      const { id, version } = draft.body as { id: string; version: number }
      expect((await save({ despatchId: id, version })).status).to.equal(200)
      expect(await despatched()).to.equal('6')
    })

    it('is corrected until it is received, and taken back', async () => {
      const own = await world.as(`at ${order.company}`)
      const [known] = (await own.do(OwnDespatches, { params: { id: order.id } })).despatches
      expect(
        (await save({ despatchId: known!.id, version: known!.version, entry: entry({ quantity: '4' }) })).status,
      ).to.equal(200)
      expect(await despatched()).to.equal('4')
      expect((await save({ despatchId: known!.id, version: known!.version })).codes).to.deep.equal(['document.changed'])
      const other = (await save({ entry: entry({ quantity: '6', serials: [] }, { number: 'LS-2' }) })).body as {
        id: string
      }
      expect(await despatched()).to.equal('10')
      await own.do(WithdrawDespatch, { params: { id: other.id }, body: {} })
      expect([await despatched(), await audited()]).to.deep.equal(['4', []])
    })

    it('stands in the calendar with who unloads, and is received as announced, once', async () => {
      const yuki = await world.as('Yuki')
      const sheet = await yuki.do(ReadDelivery, { params: { id: order.id } })
      const [one] = sheet.announced
      await yuki.do(SetUnloader, {
        params: { id: one!.id },
        body: { personId: ((await world.db('people').where('name', 'like', 'Dov%').first('id')) as { id: string }).id },
      })
      const { coming } = await yuki.do(ReadExpected, { query: {} })
      expect(
        coming
          .filter(each => each.orderId === order.id)
          .map(each => [each.day, each.packages, each.unloader, each.dockId]),
      ).to.deep.equal([[one!.arrivesOn, 1, 'Dov Halloran', PLACE]])
      const took = await count(order, { quantity: '4', batch: 'B1', serials: ['S1', 'S2'] }, { despatchId: one!.id })
      expect(took.status).to.equal(200)
      expect((await count(order, { quantity: '1' }, { despatchId: one!.id })).codes).to.deep.equal(['state.notNow'])
      expect((await save({ despatchId: one!.id, version: one!.version + 2 })).codes[0]).to.be.oneOf([
        'state.notNow',
        'document.changed',
      ])
    })

    it('is written and read as UBL; the file of another order is refused', async () => {
      const [{ id } = { id: '' }] = (await world
        .db('despatches')
        .where({ orderId: order.id, state: 'received' })
        .select('id')) as { id: string }[]
      const text = await (await world.as('Pilar')).text(DespatchUbl, { params: { id } })
      expect(readUblDespatch(text)).to.deep.include({
        number: 'LS-1',
        orderNumber: order.number,
        carrier: 'Norsped',
        tracking: 'NS-77',
        arrivesOn: addDays(today(), 2),
      })
      expect(readUblDespatch(text).lines[0]).to.deep.include({
        orderLine: '1',
        quantity: '4',
        batch: 'B1',
        bestBefore: '2030-01-31',
        serials: ['S1', 'S2'],
      })
      const own = await world.as(`at ${order.company}`)
      const read = await own.do(OwnDespatchFile, { params: { id: order.id }, body: { text } })
      expect([read.entry.lines[0]!.quantity, read.entry.packages[0]!.sscc, read.left]).to.deep.equal(['4', SSCC, []])
      const wrong = text.replaceAll(order.number, 'O-1')
      expect(
        (await own.call(OwnDespatchFile, { params: { id: order.id }, body: { text: wrong } })).codes,
      ).to.deep.equal(['despatch.otherOrder'])
      expect(
        (await own.call(OwnDespatchFile, { params: { id: order.id }, body: { text: '<Order/>' } })).codes,
      ).to.deep.equal(['despatch.notOne'])
      const unit = text.replace(/unitCode="\w+">4</, 'unitCode="KGM">4<')
      expect(
        (await own.do(OwnDespatchFile, { params: { id: order.id }, body: { text: unit } })).left.map(one => one.code),
      ).to.deep.equal(['despatch.unit'])
    })
  })

  describe('a return', () => {
    it('opens the line again, and takes what is billed off by a debit note where the supplier’s setting says so', async () => {
      const line = await goodsLine(world, 'FA-1200', '10')
      await world
        .db('suppliers')
        .where({ id: line.supplierId! })
        .update({ defaults: world.db.raw(`defaults || '{"debitOnReturn": "yes"}'`) as never })
      const order = await ordered(world, [line])
      await count(order, { quantity: '10' })
      const invoice = await billed(world, order)
      await posted(world, invoice.id)
      const yuki = await world.as('Yuki')
      const { returnable, debits } = await yuki.do(ReadReturns, { params: { id: order.id } })
      expect(debits).to.equal(true)
      const part = returnable[0]!
      const save = (quantity: string, changed: object = {}) =>
        yuki.call(SaveReturn, {
          params: { id: order.id },
          body: {
            returnId: null,
            version: 0,
            send: true,
            entry: {
              reason: 'Scratched.',
              supplierNumber: 'RMA-7',
              wish: 'credit',
              pickUpOn: null,
              carrier: '',
              lines: [{ partId: part.partId, lineId: part.lineId, quantity, pieces: [] }],
              ...changed,
            },
          } as never,
        })
      expect((await save('11')).codes).to.deep.equal(['return.tooMuch'])
      expect((await save('2', { reason: ' ' })).codes).to.deep.equal(['return.why'])
      expect((await save('2', { lines: [] })).codes).to.deep.equal(['return.nothing'])
      const spent = async () => {
        const { rows } = await world.db.raw<{ rows: [{ sum: string }] }>(
          `select sum(amount)::text as sum from budget_entries where kind = 'spent' and line_id = ?`,
          [order.lines[0]!.id],
        )
        return BigInt(rows[0].sum)
      }
      const before = await spent()
      const back = await save('2')
      expect((back.body as { debitNumber: string }).debitNumber).to.match(/^DN-\d+$/)
      const sheet = await yuki.do(ReadDelivery, { params: { id: order.id } })
      expect([sheet.lines[0]!.done, sheet.lines[0]!.open, sheet.lines[0]!.gauge.billed]).to.deep.equal(['8', '2', '8'])
      expect(Number(before - (await spent()))).to.be.closeTo(Number(before) / 5, 1)
      expect((await (await world.as('Leonie')).do(ReadInvoice, { params: { id: invoice.id } })).state).to.equal(
        'cleared',
      )
      expect((await save('9')).codes).to.deep.equal(['return.tooMuch'])
      const [one] = (await yuki.do(ReadReturns, { params: { id: order.id } })).returns
      for (const paper of ['note', 'label', 'debit'] as const)
        expect((await yuki.bytes(ReturnPaper, { id: one!.id, paper }, {})).subarray(0, 5).toString()).to.equal('%PDF-')
      expect(
        readUblDespatch(await yuki.text(ReturnPaper, { params: { id: one!.id, paper: 'ubl' } })).lines[0]!.quantity,
      ).to.equal('2')
      await yuki.do(EndReturn, { params: { id: one!.id }, body: { version: one!.version, how: 'settle', reason: '' } })
      expect(
        (
          await yuki.call(EndReturn, {
            params: { id: one!.id },
            body: { version: one!.version + 1, how: 'withdraw', reason: '' },
          })
        ).codes,
      ).to.deep.equal(['state.notNow'])
      expect(await audited()).to.deep.equal([])
    })

    it('without a debit note makes the bill wait again; a draft moves nothing', async () => {
      const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
      await count(order, { quantity: '4' })
      const invoice = await billed(world, order)
      await posted(world, invoice.id)
      const yuki = await world.as('Yuki')
      const { returnable } = await yuki.do(ReadReturns, { params: { id: order.id } })
      const body = (send: boolean, returnId: string | null, version: number) => ({
        returnId,
        version,
        send,
        entry: {
          reason: 'Wrong size.',
          supplierNumber: '',
          wish: 'replacement' as const,
          pickUpOn: null,
          carrier: '',
          lines: [{ partId: returnable[0]!.partId, lineId: returnable[0]!.lineId, quantity: '1', pieces: [] }],
        },
      })
      const draft = await yuki.do(SaveReturn, { params: { id: order.id }, body: body(false, null, 0) })
      expect((await yuki.do(ReadDelivery, { params: { id: order.id } })).lines[0]!.done).to.equal('4')
      await yuki.do(SaveReturn, { params: { id: order.id }, body: body(true, draft.id, draft.version) })
      const sheet = await (await world.as('Leonie')).do(ReadInvoice, { params: { id: invoice.id } })
      expect([sheet.state, (await yuki.do(ReadDelivery, { params: { id: order.id } })).lines[0]!.open]).to.deep.equal([
        'onHold',
        '1',
      ])
      await count(order, { quantity: '1' })
      expect((await (await world.as('Leonie')).do(ReadInvoice, { params: { id: invoice.id } })).state).to.equal(
        'matched',
      )
      expect(await audited()).to.deep.equal([])
    })
  })

  describe('a work report', () => {
    let order: Issued
    const entry = (quantity: string, changed: object = {}) => ({
      number: 'R-1',
      quantity,
      from: today(),
      to: today(),
      place: '',
      people: [],
      note: '',
      ...changed,
    })
    const save = async (quantity: string, changed: object = {}, more: object = {}) =>
      (await world.as(`at ${order.company}`)).call(SaveOwnReport, {
        params: { id: order.id },
        body: {
          reportId: null,
          version: 0,
          lineId: order.lines[0]!.id,
          send: true,
          entry: entry(quantity, changed),
          ...more,
        } as never,
      })
    const reports = async () => (await (await world.as('Joren')).do(ReadReports, { params: { id: order.id } })).reports
    const answer = async (answered: 'accept' | 'refuse', list: object[], reason = '', who = 'Joren') =>
      (await world.as(who)).call(AnswerReports, { body: { answer: answered, reason, reports: list } as never })
    before(async () => {
      const goods = await goodsLine(world, 'PS-1200', '1')
      order = await ordered(world, [
        {
          ...goods,
          kind: 'workByRate',
          itemId: null,
          offerId: null,
          description: 'Diver hours',
          quantity: '10',
          unit: 'HUR',
          price: '85',
          priceBase: '1',
        } as never,
      ])
    })

    it('is handed in by the supplier, under the ceiling, with what others wait for', async () => {
      expect((await save('11')).codes).to.deep.equal(['report.ceiling'])
      expect((await save('2', { to: addDays(today(), -1) })).codes).to.deep.equal(['report.period'])
      expect((await save('2', { people: [{ name: 'Ida', quantity: '1' }] })).codes).to.deep.equal(['report.people'])
      expect((await save('0')).codes).to.deep.equal(['report.quantity'])
      expect(
        (
          await save('6', {
            people: [
              { name: 'Ida', quantity: '4' },
              { name: 'Ole', quantity: '2' },
            ],
          })
        ).status,
      ).to.equal(200)
      expect((await save('5')).codes).to.deep.equal(['report.ceiling'])
      expect((await save('3')).status).to.equal(200)
      const own = await (await world.as(`at ${order.company}`)).do(OwnReports, { params: { id: order.id } })
      expect(own.lines[0]).to.deep.include({
        ceiling: '10',
        accepted: '0',
        waiting: '9',
        left: '1',
        order: 'reportFirst',
      })
    })

    it('is accepted by whoever asked for the work, all or a part with the reason; refused it is told anew', async () => {
      const [second, first] = await reports()
      expect((await answer('accept', [{ id: first!.id }], '', 'Pilar')).codes).to.deep.equal([
        'receive.workByRequester',
      ])
      expect((await answer('accept', [{ id: first!.id, quantity: '7' }])).codes).to.deep.equal(['report.moreThanTold'])
      expect((await answer('accept', [{ id: first!.id, quantity: '4' }])).codes).to.deep.equal(['report.whyPart'])
      expect((await answer('accept', [{ id: first!.id, quantity: '4' }], 'Two hours were travel.')).status).to.equal(
        200,
      )
      expect((await answer('refuse', [{ id: second!.id }])).codes).to.deep.equal(['report.whyRefused'])
      expect((await answer('refuse', [{ id: second!.id }], 'Nobody was here.')).status).to.equal(200)
      const refused = (await reports())[0]!
      expect([refused.state, refused.answerReason]).to.deep.equal(['refused', 'Nobody was here.'])
      expect((await save('2', {}, { reportId: refused.id, version: refused.version })).status).to.equal(200)
      expect((await answer('accept', [{ id: refused.id }])).status).to.equal(200)
      expect((await answer('accept', [{ id: refused.id }])).codes).to.deep.equal(['state.notNow'])
      const sheet = await (await world.as('Joren')).do(ReadDelivery, { params: { id: order.id } })
      expect([sheet.lines[0]!.done, sheet.receipts.map(one => one.source)]).to.deep.equal([
        '6',
        ['workReport', 'workReport'],
      ])
      expect(await audited()).to.deep.equal([])
    })

    it('several are accepted at once, or none of them', async () => {
      await save('1')
      await save('2')
      const waiting = (await reports()).filter(one => one.state === 'sent')
      expect((await answer('accept', [...waiting.map(one => ({ id: one.id })), { id: order.id }])).status).to.equal(404)
      expect((await reports()).filter(one => one.state === 'sent')).to.have.length(2)
      expect(
        (
          await answer(
            'accept',
            waiting.map(one => ({ id: one.id })),
          )
        ).status,
      ).to.equal(200)
      expect(
        (await (await world.as('Pilar')).do(ReadOrder, { params: { id: order.id } })).lines[0]!.gauge.accepted,
      ).to.equal('9')
    })
  })

  describe('files', () => {
    const upload = async (who: string, name = 'note.txt', content: Buffer | string = 'two pallets', path?: string) =>
      (await (await world.as(who)).upload(name, content, path)).body.id

    it('hang on what a supplier announces and reports; both sides read them, nobody else, and none of another company', async () => {
      const goods = await goodsLine(world, 'PS-1200', '2')
      const order = await ordered(world, [goods, { ...goods, kind: 'workByRate', itemId: null, offerId: null, description: 'Fitting', quantity: '4', unit: 'HUR', price: '85', priceBase: '1' } as never]) // prettier-ignore
      const own = `at ${order.company}`
      const supplier = await world.as(own)
      const [note, sheet] = [await upload(own, 'note.txt', 'two pallets', UploadOrderFile.path), await upload(own, 'hours.txt', 'four hours', UploadOrderFile.path)] // prettier-ignore
      const entry = { number: '', despatchedOn: today(), arrivesOn: today(), carrier: '', tracking: '', note: '', packages: [], lines: [{ lineId: order.lines[0]!.id, quantity: '2', batch: '', bestBefore: null, serials: [], package: null }] } // prettier-ignore
      const announce = async (fileIds?: string[], more: object = {}) =>
        supplier.call(SaveDespatch, { params: { id: order.id }, body: { despatchId: null, version: 0, revision: 0, send: true, entry: { ...entry, fileIds }, ...more } as never }) // prettier-ignore
      expect((await announce([await upload('Pilar')])).codes).to.deep.equal(['document.notFound'])
      const zip = await upload(own, 'a.zip', Buffer.from([0x50, 0x4b, 3, 4, 20, 0, 0, 0, 0, 0]), UploadOrderFile.path)
      expect((await announce([zip])).codes).to.deep.equal(['file.type'])
      const { id, version } = (await announce([note])).body
      const announced = async () => (await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })).announced[0]!.files // prettier-ignore
      expect(await announced()).to.deep.equal([{ id: note, name: 'note.txt' }])
      const corrected = await announce(undefined, { despatchId: id, version })
      expect(await announced()).to.have.length(1)
      const report = { number: '', quantity: '4', from: today(), to: today(), place: '', people: [], note: '', fileIds: [sheet] } // prettier-ignore
      await supplier.do(SaveOwnReport, { params: { id: order.id }, body: { reportId: null, version: 0, lineId: order.lines[1]!.id, send: true, entry: report } }) // prettier-ignore
      expect((await (await world.as('Joren')).do(ReadReports, { params: { id: order.id } })).reports[0]!.files).to.deep.equal([{ id: sheet, name: 'hours.txt' }]) // prettier-ignore
      const read = async (who: string, endpoint: typeof OwnOrderFile | typeof DeliveryFile, fileId: string) => (await (await world.as(who)).call(endpoint, { params: { id: order.id, fileId } })).status // prettier-ignore
      for (const file of [note, sheet]) {
        expect(await read(own, OwnOrderFile, file)).to.equal(200)
        expect(await read('Yuki', DeliveryFile, file)).to.equal(200)
        expect(await read('at Seefelder Pumpen GmbH', OwnOrderFile, file)).to.equal(404)
      }
      expect(await read(own, OwnOrderFile, zip)).to.equal(404)
      await announce([], { despatchId: id, version: corrected.body.version })
      expect([await announced(), await read('Yuki', DeliveryFile, note)]).to.deep.equal([[], 404])
    })
  })
})
