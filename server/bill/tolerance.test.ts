import { expect } from 'chai'
import { ReadInvoice } from '#contract/bill/endpoints.ts'
import { SaveEntry } from '#contract/setup/registers.ts'
import { ChangeSupplier, ReadSupplier } from '#contract/source/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { audit } from '#server/insight/audit.ts'
import { reading } from '#server/call.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { billed, goodsLine, type Issued, ordered, posted, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('how far an invoice may differ', () => {
  const world = useWorld()
  /** No two invoices over the same amount. */
  let pieces = 0
  const audited = async () => await world.db.transaction(async trx => (await audit(reading(trx, await settingOf(world.jobs)))).differences) // prettier-ignore
  const save = async (values: Record<string, string>) =>
    await (await world.as('Wren')).call(SaveEntry, { params: { register: 'tolerances' }, body: { id: null, version: 0, open: true, values: { of: 'price', from: today(), ...values } } }) // prettier-ignore
  const held = async (order: Issued, number: string, price: string) => {
    const { id } = await billed(world, order, { number, price, quantity: String(++pieces) })
    const sheet = await (await world.as('Leonie')).do(ReadInvoice, { params: { id } })
    return { id, kinds: sheet.holds.filter(hold => hold.endedAt === null).map(hold => hold.kind) }
  }
  const defaults = async (
    where: { number: string } | { id: string },
    values: { toleranceProfile?: 'strict'; matchLevel?: '2' },
  ) => {
    const { id } = (await world.db('suppliers').where(where).first('id'))!
    const rasmus = await world.as('Rasmus')
    const { supplier, version } = await rasmus.do(ReadSupplier, { params: { id } })
    await rasmus.do(ChangeSupplier, { params: { id }, body: { ...supplier, defaults: values, version } })
  }
  const dearer = (order: Issued, percent: number) => (Number(order.lines[0]!.price) * (1 + percent / 100)).toFixed(4)
  const supplierNumber = async (order: Issued) => (await world.db('orders').join('suppliers', 'suppliers.id', 'orders.supplierId').where('orders.id', order.id).first<{ number: string }>('suppliers.number')).number // prettier-ignore

  it('is said for all, for a supplier and by value, from a day on, and by nobody but who sets up', async () => {
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '90')])
    await received(world, order)
    const supplier = await supplierNumber(order)
    expect((await held(order, 'TOL-1', dearer(order, 4))).kinds).to.deep.equal(['price'])
    expect((await save({ supplier, percent: '5', from: addDays(today(), 1) })).status).to.equal(200)
    expect((await held(order, 'TOL-2', dearer(order, 4))).kinds).to.deep.equal(['price'])
    expect((await save({ supplier, percent: '5' })).status).to.equal(200)
    const clean = await held(order, 'TOL-3', dearer(order, 4))
    expect(clean.kinds).to.deep.equal([])
    expect((await held(order, 'TOL-4', dearer(order, 6))).kinds).to.deep.equal(['price'])
    expect((await save({ supplier, percent: '7', above: '1' })).status).to.equal(200)
    expect((await held(order, 'TOL-5', dearer(order, 6))).kinds).to.deep.equal([])
    await posted(world, clean.id)
    expect(await audited()).to.deep.equal([])
  })

  it('is refused for nobody we know, without a limit, and below where less is never held', async () => {
    const codes = async (values: Record<string, string>) => (await save(values)).codes
    expect(await codes({ percent: '1', supplier: 'S-99999' })).to.deep.equal(['register.noSuch'])
    expect(await codes({ percent: '1', category: 'Moon dust' })).to.deep.equal(['register.noSuch'])
    expect(await codes({ percent: '1', category: 'Pumps' })).to.deep.equal([])
    expect(await codes({ percent: '1', category: 'Pumps' })).to.deep.equal(['register.there'])
    expect(await codes({})).to.deep.equal(['tolerance.noLimit'])
    expect(await codes({ of: 'tax', absolute: '1', ways: 'both' })).to.deep.equal(['tolerance.oneWay'])
    expect(await codes({ absolute: '-1' })).to.deep.equal(['register.decimal'])
    expect(await codes({ percent: '1', from: '2026-02-30' })).to.deep.equal(['register.day'])
    const leonie = await world.as('Leonie')
    expect((await leonie.call(SaveEntry, { params: { register: 'tolerances' }, body: { id: null, version: 0, open: true, values: {} } })).status).to.equal(403) // prettier-ignore
  })

  it('is nothing at all for a supplier that is judged strictly', async () => {
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '90')])
    await received(world, order)
    expect((await held(order, 'STRICT-1', dearer(order, 4))).kinds).to.deep.equal([])
    const number = await supplierNumber(order)
    await defaults({ number }, { toleranceProfile: 'strict' })
    expect((await held(order, 'STRICT-2', dearer(order, 4))).kinds).to.deep.equal(['price'])
  })

  it('a supplier that agreed to be held against the order only waits for no receipt', async () => {
    const line = await goodsLine(world, 'SW-1200', '90')
    const before = await ordered(world, [line])
    await defaults({ id: line.supplierId! }, { matchLevel: '2' })
    const after = await ordered(world, [line])
    expect((await held(before, 'LEVEL-3', before.lines[0]!.price)).kinds).to.deep.equal(['proof'])
    const early = await held(after, 'LEVEL-2', after.lines[0]!.price)
    expect(early.kinds).to.deep.equal([])
    await posted(world, early.id)
    expect(await audited()).to.deep.equal([])
  })
})
