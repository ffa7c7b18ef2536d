import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import fc from 'fast-check'
import { ActOnOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { ReadPieces } from '#contract/receive/assets.ts'
import { ReadDelivery, Receive } from '#contract/receive/endpoints.ts'
import { LoadDock, LookUp, SendActs, SettleAct, ToSettle } from '#contract/receive/handheld.ts'
import { audit } from '#server/insight/audit.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { reading } from '#server/call.ts'
import { goodsLine, type Issued, ordered, PLACE, today } from '#test-helpers/steps.ts'
import { type Client, useWorld } from '#test-helpers/world.ts'

const DAY = 24 * 3600 * 1000

describe('a handheld at the server', () => {
  const world = useWorld()
  const device = randomUUID()
  const personId = async (name: string): Promise<string> =>
    ((await world.db('people').where('name', 'like', `${name}%`).first('id')) as { id: string }).id
  let sequence = 0
  const make = async (order: Issued, quantity: string, changed: object = {}, who = 'Yuki') => ({
    key: randomUUID(),
    sequence: ++sequence,
    madeAt: new Date().toISOString(),
    personId: await personId(who),
    orderId: order.id,
    placeId: PLACE,
    count: { lineId: order.lines[0]!.id, quantity },
    pieces: [],
    note: '',
    checkReason: '',
    ...changed,
  })
  const send = async (acts: object[], who = 'Yuki', more: object = {}) =>
    (await world.as(who)).do(SendActs, {
      body: { deviceId: device, deviceNow: new Date().toISOString(), acts, ...more } as never,
    })
  const inSoFar = async (order: Issued) =>
    (await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })).lines[0]!.done
  const buy = async (quantity = '10', item = 'UV-1200') => ordered(world, [await goodsLine(world, item, quantity)])
  const audited = async (): Promise<unknown[]> =>
    await world.db.transaction(
      async trx =>
        (await audit(reading(trx, await settingOf({ db: world.db, clock: () => new Date().toISOString() }))))
          .differences,
    )

  it('loads what its dock expects, and finds what was not loaded by any number', async () => {
    const order = await buy()
    const yuki = await world.as('Yuki')
    const dock = await yuki.do(LoadDock, { query: { placeId: PLACE } })
    const line = dock.lines.find(one => one.orderId === order.id)!
    expect(line).to.deep.include({ order: order.number, open: '10', unit: 'C62', item: 'UV-1200' })
    for (const q of [order.number.toLowerCase(), 'uv-1200', line.supplierItem, ...line.gtins].filter(Boolean))
      expect(
        (await yuki.do(LookUp, { query: { q } })).found.map(one => one.number),
        q,
      ).to.include(order.number)
    expect((await yuki.do(LookUp, { query: { q: '4006381333932' } })).reasons.map(one => one.code)).to.deep.equal([
      'scan.checkDigit',
    ])
    expect((await yuki.do(LookUp, { query: { q: 'nothing-has-this' } })).found).to.deep.equal([])
    await send([await make(order, '10')])
    expect(
      (await yuki.do(LoadDock, { query: { placeId: PLACE } })).lines.some(one => one.orderId === order.id),
    ).to.equal(false)
    expect((await yuki.do(LookUp, { query: { q: order.number } })).found[0]).to.deep.include({ open: '0' })
  })

  it('is taken once whatever is repeated, in its order, and answered as it was then', async () => {
    const order = await buy()
    const acts = [await make(order, '4'), await make(order, '3')]
    const first = await send([...acts].reverse())
    expect(first.answers.map(one => one.state)).to.deep.equal(['taken', 'taken'])
    expect((await send(acts)).answers).to.deep.equal(first.answers)
    const many = await Promise.all([send(acts), send(acts), send([acts[1]!])])
    expect(new Set(many.flatMap(one => one.answers.map(answer => answer.state)))).to.deep.equal(new Set(['taken']))
    expect(await inSoFar(order)).to.equal('7')
    const sheet = await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })
    expect(sheet.receipts.map(one => [one.source, one.parts[0]!.quantity])).to.deep.equal([
      ['handheld', '3'],
      ['handheld', '4'],
    ])
  })

  it('keeps what no longer fits to be settled, with the reason, and goes on with the rest', async () => {
    const [gone, other] = [await buy(), await buy()]
    const pilar = await world.as('Pilar')
    const { version } = await pilar.do(ReadOrder, { params: { id: gone.id } })
    await pilar.do(ActOnOrder, {
      params: { id: gone.id },
      body: { version, action: 'cancel', reason: 'Not needed.', needRemains: false },
    })
    const acts = [await make(gone, '2'), await make(other, '5')]
    const { answers } = await send(acts)
    expect(answers.map(one => [one.state, one.reasons.map(reason => reason.code)])).to.deep.equal([
      ['settle', ['receive.notOpen']],
      ['taken', []],
    ])
    const waiting = (await (await world.as('Yuki')).do(ToSettle)).acts.find(one => one.key === acts[0]!.key)!
    expect(waiting).to.deep.include({ order: gone.number, quantity: '2', maySettle: true })
    const settle = async (how: 'again' | 'drop', who = 'Yuki') =>
      (await world.as(who)).call(SettleAct, {
        params: { key: acts[0]!.key },
        body: { how, reason: 'It stays in the van.' },
      })
    expect((await settle('drop', 'Leonie')).codes).to.deep.equal(['right.notYours'])
    expect((await settle('again')).codes).to.deep.equal(['receive.notOpen'])
    expect((await settle('drop')).body.state).to.equal('dropped')
    expect((await settle('again')).body.state).to.equal('dropped')
    expect((await send([acts[0]!])).answers[0]!.state).to.equal('dropped')
  })

  it('with too much waits for a second person, without a reason to be settled', async () => {
    const order = await buy('2')
    const { answers } = await send([await make(order, '5'), await make(order, '5', { checkReason: 'They sent it.' })])
    expect(answers.map(one => one.state)).to.deep.equal(['settle', 'taken'])
    expect(await inSoFar(order)).to.equal('0')
  })

  it('with a clock three days wrong counts on the day on which it was done', async () => {
    const order = await buy()
    for (const off of [3 * DAY, -3 * DAY]) {
      const there = new Date(Date.now() + off).toISOString()
      await send([await make(order, '1', { madeAt: there })], 'Yuki', { deviceNow: there })
    }
    const sheet = await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })
    expect(sheet.receipts.map(one => one.receivedOn)).to.deep.equal([today(), today()])
  })

  it('whose period was closed meanwhile, or whose person may no longer receive, loses nothing', async () => {
    const order = await buy()
    const before = new Date(Date.now() - 3 * DAY).toISOString()
    const closed = async (openFrom: string | null): Promise<void> =>
      void (await world.db.raw(`update settings set value = jsonb_set(value, '{openFrom}', ?::jsonb) where key = 'receiving'`, [JSON.stringify(openFrom)])) // prettier-ignore
    await closed(today())
    const late = await make(order, '1', { madeAt: before })
    expect((await send([late])).answers[0]!.reasons[0]!.code).to.equal('receive.closedPeriod')
    await closed(null)
    const theirs = await make(order, '2')
    expect((await send([theirs], 'Dov')).answers[0]!.reasons[0]!.code).to.equal('handheld.otherPerson')
    const noRight = await make(order, '1', {}, 'Ines')
    expect((await send([noRight], 'Ines')).answers[0]!.reasons[0]!.code).to.equal('right.missing')
    expect(
      (await (await world.as('Wren')).do(ToSettle)).acts.filter(one => one.maySettle).map(one => one.key),
    ).to.include.members([late.key, theirs.key, noRight.key])
    const dov = await world.as('Dov')
    expect(
      (await dov.call(SettleAct, { params: { key: late.key }, body: { how: 'again', reason: 'Counted on Friday.' } }))
        .codes,
    ).to.deep.equal(['right.notYours'])
    expect(
      (
        await (
          await world.as('Yuki')
        ).call(SettleAct, { params: { key: late.key }, body: { how: 'again', reason: 'The books are open again.' } })
      ).body.state,
    ).to.equal('taken')
    expect(await inSoFar(order)).to.equal('1')
  })

  it('gives its tags and serial numbers to the pieces that it counted; a tag in use stops the whole act', async () => {
    const order = await buy('3', 'DV-1200')
    const pieces = [
      { tag: 'SAT-004890', serial: 'X-1' },
      { tag: '', serial: '' },
    ]
    const act = await make(order, '2', { pieces })
    expect((await send([act])).answers[0]!.state).to.equal('taken')
    const left = (await (await world.as('Yuki')).do(ReadPieces, { query: { orderId: order.id } })).pieces
    expect(left.map(one => [one.tag, one.serial])).to.deep.equal([['', '']])
    const used = await make(order, '1', { pieces: [{ tag: 'SAT-004890', serial: 'X-2' }] })
    expect((await send([used])).answers[0]!.reasons[0]!.code).to.equal('asset.tagUsed')
    expect(await inSoFar(order)).to.equal('2')
  })

  it('makes one receipt of what was counted of a delivery; what needs a second person, or does not fit, keeps nothing else waiting', async () => {
    const order = await ordered(world, [await goodsLine(world, 'DV-1240', '10'), await goodsLine(world, 'DV-1200', '2'), await goodsLine(world, 'DV-1220', '6')]) // prettier-ignore
    const of = async (line: number, quantity: string, changed: object = {}) => await make(order, quantity, { count: { lineId: order.lines[line]!.id, quantity }, ...changed }) // prettier-ignore
    const piece = { tag: 'SAT-004891', serial: 'Y-1' }
    const acts = [await of(0, '4'), await of(1, '1', { pieces: [piece] }), await of(2, '3')]
    const { answers } = await send(acts)
    expect(new Set(answers.map(one => `${one.state} ${one.number}`)).size).to.equal(1)
    expect((await send(acts)).answers).to.deep.equal(answers)
    const sheet = async () => (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })
    expect((await sheet()).receipts.map(one => one.parts.map(part => part.quantity))).to.deep.equal([['4', '1', '3']])
    expect(await world.db('assets').where({ tag: piece.tag }).first('serial')).to.deep.equal({ serial: 'Y-1' })
    const more = { checkReason: 'They sent it.' }
    const then = await send([await of(0, '1', more), await of(2, '9', more), await of(1, '1', more), acts[0]!, await of(0, '2'), await of(1, '1', { pieces: [piece] })]) // prettier-ignore
    expect(then.answers.map(one => one.state)).to.deep.equal(['taken', 'taken', 'taken', 'taken', 'taken', 'settle'])
    expect(then.answers.find(one => one.key === acts[0]!.key)).to.deep.equal(answers[0])
    expect((await sheet()).lines.map(one => one.done)).to.deep.equal(['7', '2', '3'])
    expect((await sheet()).receipts.filter(one => one.state === 'asked').map(one => one.parts.map(part => part.quantity))).to.deep.equal([['9']]) // prettier-ignore
  })

  it('whatever the interleaving of two devices and a desk, with repeats and losses, ends as the acts taken once', async () => {
    const [yuki, dov] = [await world.as('Yuki'), await world.as('Dov')]
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({
            by: fc.constantFrom('a', 'b', 'desk'),
            quantity: fc.integer({ min: 1, max: 4 }),
            again: fc.integer({ min: 0, max: 2 }),
          }),
          { minLength: 2, maxLength: 7 },
        ),
        async steps => {
          const order = await buy('100', 'FA-1200')
          const sends: Promise<unknown>[] = []
          for (const { by, quantity, again } of steps) {
            if (by === 'desk') {
              const key = randomUUID()
              const body = {
                receivedOn: today(),
                placeId: PLACE,
                note: '',
                lines: [{ lineId: order.lines[0]!.id, quantity: String(quantity) }],
              }
              for (let time = 0; time <= again; time++)
                sends.push(yuki.call(Receive, { params: { id: order.id }, key, body }))
              continue
            }
            const act = await make(order, String(quantity), {}, by === 'a' ? 'Yuki' : 'Dov')
            const client: Client = by === 'a' ? yuki : dov
            for (let time = 0; time <= again; time++)
              sends.push(
                client.call(SendActs, {
                  body: { deviceId: device, deviceNow: new Date().toISOString(), acts: [act] } as never,
                }),
              )
          }
          await Promise.all(sends)
          expect(await inSoFar(order)).to.equal(String(steps.reduce((sum, step) => sum + step.quantity, 0)))
        },
      ),
      { numRuns: 6 },
    )
    expect(await audited()).to.deep.equal([])
  })
})
