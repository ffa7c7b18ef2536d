import { expect } from 'chai'
import { AssetLabels, Assets, DisposeAsset, ReadAsset, ReadPieces, TellAsset } from '#contract/receive/assets.ts'
import { ReadDelivery, Receive, ReverseReceipt } from '#contract/receive/endpoints.ts'
import {
  AnswerCount,
  CountStock,
  EndReservation,
  IssueStock,
  MoveStock,
  ReadHolding,
  ReserveStock,
  Stock,
} from '#contract/receive/stock.ts'
import { ADDRESSES } from '#demo/world.ts'
import { audit } from '#server/insight/audit.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { reading } from '#server/call.ts'
import { goodsLine, type Issued, ordered, PLACE, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const counted = (order: Issued, line: object) => ({
  params: { id: order.id },
  body: {
    receivedOn: today(),
    placeId: PLACE,
    note: '',
    lines: [{ lineId: order.lines[0]!.id, ...line } as { lineId: string; quantity: string }],
  },
})

describe('what a count becomes', () => {
  const world = useWorld()
  const audited = async (): Promise<unknown[]> =>
    await world.db.transaction(
      async trx =>
        (await audit(reading(trx, await settingOf({ db: world.db, clock: () => new Date().toISOString() }))))
          .differences,
    )
  async function item(number: string, receiving: object): Promise<string> {
    await world
      .db('items')
      .where({ number })
      .update({ receiving: JSON.stringify(receiving) as never })
    return ((await world.db('items').where({ number }).first('id')) as { id: string }).id
  }
  before(async () => {
    await world.db('setupEntries').insert([
      {
        id: '00000000-0000-4000-8000-00000000aa01',
        register: 'tagRanges',
        code: 'TST',
        values: { code: 'TST', name: 'Instruments', prefix: 'TST-', digits: '6', first: '4416', last: '9999' },
        open: true,
        version: 1,
        changedAt: new Date().toISOString(),
      },
      {
        id: '00000000-0000-4000-8000-00000000aa02',
        register: 'tagRanges',
        code: 'LAB',
        values: { code: 'LAB', name: 'Laboratory', prefix: 'LAB-', digits: '4', first: '1', last: '2' },
        open: true,
        version: 1,
        changedAt: new Date().toISOString(),
      },
    ] as never)
  })

  describe('an asset for each piece', () => {
    let order: Issued
    const pieces = async () => (await (await world.as('Yuki')).do(ReadPieces, { query: { orderId: order.id } })).pieces
    before(async () => {
      await item('PS-1200', { becomes: 'asset', serial: 'must', tagRange: 'TST', warrantyMonths: 24 })
      order = await ordered(world, [await goodsLine(world, 'PS-1200', '3')])
      await (await world.as('Yuki')).do(Receive, counted(order, { quantity: '2', serials: ['P-1'], bin: 'A1' }))
    })

    it('waits for its tag and serial number, and is finished with both', async () => {
      const yuki = await world.as('Yuki')
      const { pieces: all, nextTags } = await yuki.do(ReadPieces, { query: { orderId: order.id } })
      expect(all.map(one => [one.serial, one.tag, one.needsSerial])).to.deep.equal([
        ['P-1', '', true],
        ['', '', true],
      ])
      expect(nextTags.TST).to.equal('TST-004416')
      const first = await yuki.do(TellAsset, { params: { id: all[0]!.id }, body: { version: 1, tag: 'tst-004416' } })
      expect([first.state, first.nextTag, first.missing]).to.deep.equal(['inUse', 'TST-004417', []])
      const half = await yuki.do(TellAsset, { params: { id: all[1]!.id }, body: { version: 1, tag: 'TST-004420' } })
      expect([half.state, half.missing.map(one => one.code)]).to.deep.equal(['unfinished', ['asset.needsSerial']])
      expect((await pieces()).map(one => one.tag)).to.deep.equal(['TST-004420'])
    })

    it('takes no tag that is in use, of another range or of none, and no serial number twice', async () => {
      const yuki = await world.as('Yuki')
      const [left] = await pieces()
      const tell = async (body: object) =>
        (await yuki.call(TellAsset, { params: { id: left!.id }, body: { version: left!.version, ...body } as never }))
          .codes
      expect(await tell({ tag: 'TST-004416' })).to.deep.equal(['asset.tagUsed'])
      expect(await tell({ tag: 'LAB-0001' })).to.deep.equal(['asset.tagOfOther'])
      expect(await tell({ tag: 'X-1' })).to.deep.equal(['asset.tagOfNone'])
      expect(await tell({ serial: 'p-1' })).to.deep.equal(['asset.serialUsed'])
      expect(await tell({ parentId: left!.id })).to.deep.equal(['asset.partOfItself'])
      expect(await tell({ version: 7 })).to.deep.equal(['document.changed'])
      expect(
        (await (await world.as('Ines')).call(TellAsset, { params: { id: left!.id }, body: { version: left!.version } }))
          .status,
      ).to.equal(403)
      expect((await yuki.call(Receive, counted(order, { quantity: '1', serials: ['P-1'] }))).codes).to.deep.equal([
        'serial.known',
      ])
    })

    it('says where it came from, what it cost, and until when it is under warranty', async () => {
      const row = (await (await world.as('Yuki')).do(Assets.page, { query: { view: 'here', q: 'tst-004416' } }))
        .rows[0]!
      const sheet = await (await world.as('Pilar')).do(ReadAsset, { params: { id: row.id } })
      expect(sheet.cameFrom.map(one => one.kind)).to.deep.equal(['order', 'receipt'])
      expect([sheet.state, sheet.entry.bin, sheet.entry.warrantyTo?.slice(0, 4)]).to.deep.equal([
        'inUse',
        'A1',
        String(Number(today().slice(0, 4)) + 2),
      ])
      expect(Number(sheet.cost)).to.be.above(0)
    })

    it('prints labels as a PDF, on sheets and on a roll', async () => {
      const rows = (await (await world.as('Yuki')).do(Assets.page, { query: { view: 'here' } })).rows
      for (const [symbol, layout] of [
        ['code128', 'roll'],
        ['qrcode', 'sheet'],
        ['datamatrix', 'sheet'],
      ] as const) {
        const answer = await (
          await world.as('Yuki')
        ).bytes(AssetLabels, {}, { ids: rows.map(row => row.id).join(','), symbol, layout })
        expect(answer.subarray(0, 5).toString(), symbol).to.equal('%PDF-')
      }
    })

    it('is taken back by its name, and its tag is free again', async () => {
      const yuki = await world.as('Yuki')
      const { receipts } = await yuki.do(ReadDelivery, { params: { id: order.id } })
      const tagged = (await world.db('assets').where({ tag: 'TST-004416' }).first('id')) as { id: string }
      const back = (taken: string[]) =>
        yuki.call(ReverseReceipt, {
          params: { id: receipts[0]!.id },
          body: { reason: 'Wrong box.', parts: [{ partId: receipts[0]!.parts[0]!.id, quantity: '1', pieces: taken }] },
        })
      expect((await back([])).codes).to.deep.equal(['receive.whichPieces'])
      expect((await back([tagged.id])).status).to.equal(200)
      const [left] = await pieces()
      expect(
        (
          await yuki.call(TellAsset, {
            params: { id: left!.id },
            body: { version: left!.version, tag: 'TST-004416', serial: 'P-2' },
          })
        ).status,
      ).to.equal(200)
      expect(await audited()).to.deep.equal([])
    })

    it('is no longer used, with a reason', async () => {
      const yuki = await world.as('Yuki')
      const { id, version } = (await world.db('assets').where({ tag: 'TST-004416' }).first()) as {
        id: string
        version: number
      }
      await yuki.do(DisposeAsset, { params: { id }, body: { version, reason: 'Fell into the harbour.' } })
      expect(
        (await yuki.call(TellAsset, { params: { id }, body: { version: version + 1, tag: 'TST-004499' } })).codes,
      ).to.deep.equal(['state.notNow'])
    })
  })

  describe('stock', () => {
    let itemId: string
    let holdingId: string
    const lot = (changed: object = {}) => ({ itemId, placeId: PLACE, bin: 'B2', batch: 'L1', ...changed })
    const read = async (who = 'Yuki') => (await world.as(who)).do(ReadHolding, { params: { id: holdingId } })
    before(async () => {
      itemId = await item('PT-1240', { becomes: 'stock', batch: 'may' })
      const order = await ordered(world, [await goodsLine(world, 'PT-1240', '10')])
      await (
        await world.as('Yuki')
      ).do(Receive, counted(order, { quantity: '6', bin: 'B2', batch: 'L1', bestBefore: '2030-01-31' }))
      await (await world.as('Yuki')).do(Receive, counted(order, { quantity: '4', bin: 'B3' }))
      holdingId = (await (await world.as('Yuki')).do(Stock.page, { query: { view: 'here', q: 'pt-1240' } })).rows[0]!.id
    })

    it('is on hand by bin and batch at the ordered price', async () => {
      const sheet = await read()
      expect(sheet.lots).to.deep.equal([
        { bin: 'B2', batch: 'L1', quantity: '6', bestBefore: '2030-01-31' },
        { bin: 'B3', batch: '', quantity: '4', bestBefore: null },
      ])
      expect([sheet.quantity, sheet.movements.map(one => one.kind)]).to.deep.equal(['10', ['received', 'received']])
      expect(Number(sheet.averageCost) * 10).to.be.closeTo(Number(sheet.value), 0.01)
    })

    it('is handed out at average cost, never more than lies there or is set apart for others', async () => {
      const yuki = await world.as('Yuki')
      const { id } = await (
        await world.as('Pilar')
      ).do(ReserveStock, { body: { itemId, placeId: PLACE, quantity: '5', purpose: 'SKID', until: null } })
      const issue = (quantity: string, changed: object = {}) =>
        yuki.call(IssueStock, { body: { to: 'LS-210', note: '', lines: [lot({ quantity, ...changed })] } as never })
      expect((await issue('7')).codes).to.deep.equal(['stock.notThere'])
      expect((await issue('6')).codes).to.deep.equal(['stock.reserved'])
      expect((await issue('-1')).codes).to.deep.equal(['stock.quantity'])
      expect(
        (
          await (
            await world.as('Dov')
          ).call(ReserveStock, { body: { itemId, placeId: PLACE, quantity: '6', purpose: 'x', until: null } })
        ).codes,
      ).to.deep.equal(['stock.notFree'])
      const before = await read()
      expect((await issue('2')).status).to.equal(200)
      const after = await read()
      expect([after.quantity, after.reserved]).to.deep.equal(['8', '5'])
      expect(Number(before.value) - Number(after.value)).to.be.closeTo(2 * Number(before.averageCost), 0.01)
      await yuki.do(EndReservation, { params: { id }, body: {} })
    })

    it('moves to another bin and site and takes its cost along', async () => {
      const yuki = await world.as('Yuki')
      const other = ADDRESSES.hatchery.id
      const value = Number((await read()).value)
      await yuki.do(MoveStock, {
        body: { note: '', lines: [lot({ quantity: '1', toPlaceId: other, toBin: 'W1' })] } as never,
      })
      expect(
        (
          await yuki.call(MoveStock, {
            body: { note: '', lines: [lot({ quantity: '1', toPlaceId: PLACE, toBin: 'B2' })] } as never,
          })
        ).codes,
      ).to.deep.equal(['stock.sameBin'])
      const [there] = (await yuki.do(Stock.page, { query: { view: 'here', q: 'pt-1240' } })).rows.filter(
        row => row.id !== holdingId,
      )
      const moved = await yuki.do(ReadHolding, { params: { id: there!.id } })
      expect([moved.quantity, (await read()).quantity]).to.deep.equal(['1', '7'])
      expect(Number(moved.value) + Number((await read()).value)).to.be.closeTo(value, 0.001)
    })

    it('that is counted otherwise is booked once somebody else says yes', async () => {
      const yuki = await world.as('Yuki')
      const { id, state } = await yuki.do(CountStock, {
        body: { note: 'Box was open.', lines: [lot({ found: '2' })] } as never,
      })
      expect([state, (await read()).quantity]).to.deep.equal(['asked', '7'])
      expect(
        (await yuki.call(AnswerCount, { params: { id }, body: { answer: 'approve', reason: 'Sure.' } })).codes,
      ).to.deep.equal(['stock.ownCount'])
      const dov = await world.as('Dov')
      expect((await read('Dov')).counts[0]).to.deep.include({
        mayAnswer: true,
        differences: [{ bin: 'B2', batch: 'L1', found: '2', known: '3' }],
      })
      expect(
        (await dov.call(AnswerCount, { params: { id }, body: { answer: 'approve', reason: '' } })).codes,
      ).to.deep.equal(['stock.whyDiffers'])
      await dov.do(AnswerCount, { params: { id }, body: { answer: 'approve', reason: 'Seen it.' } })
      expect([(await read()).quantity, (await read()).movements[0]!.kind]).to.deep.equal(['6', 'counted'])
      expect(
        (await dov.call(AnswerCount, { params: { id }, body: { answer: 'approve', reason: 'Again.' } })).codes,
      ).to.deep.equal(['stock.countDecided'])
      const same = await yuki.do(CountStock, { body: { note: '', lines: [lot({ found: '2' })] } as never })
      expect(same.state).to.equal('posted')
    })

    it('that was handed out cannot be taken back with its receipt; the rest can', async () => {
      const yuki = await world.as('Yuki')
      const { orderId } = (await world
        .db('receipts')
        .join('receiptLines', 'receiptLines.receiptId', 'receipts.id')
        .where({ batch: 'L1' })
        .first('orderId')) as { orderId: string }
      const sheet = await yuki.do(ReadDelivery, { params: { id: orderId } })
      const receipt = sheet.receipts.find(one => one.parts[0]!.batch === 'L1')!
      const back = (quantity: string) =>
        yuki.call(ReverseReceipt, {
          params: { id: receipt.id },
          body: { reason: 'Not ours.', parts: [{ partId: receipt.parts[0]!.id, quantity, pieces: [] }] },
        })
      expect((await back('3')).codes).to.deep.equal(['receive.notThere'])
      expect((await back('2')).status).to.equal(200)
      expect((await read()).lots.map(one => one.quantity)).to.deep.equal(['4'])
      expect(await audited()).to.deep.equal([])
    })

    it('is a ledger that nothing is taken out of, and that the audit re-adds', async () => {
      const refusal = await world
        .db('stockEntries')
        .update({ quantity: '1' })
        .then(
          () => '',
          (error: Error) => error.message,
        )
      expect(refusal).to.match(/append|changed|refuse/i)
      await world.db('stockLots').where({ itemId, bin: 'B3' }).update({ quantity: '99' })
      expect((await audited()).length).to.be.above(0)
      await world.db('stockLots').where({ itemId, bin: 'B3' }).update({ quantity: '4' })
    })
  })
})
