import { expect } from 'chai'
import { ExchangeFile, LoadExchange, MakeExchange, MapExchange, ReadExchange, TakeExchange } from '#contract/order/exchange.ts' // prettier-ignore
import { OrderUbl, ReadOrder } from '#contract/order/endpoints.ts'
import { goodsLine, ordered, received } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('orders of another installation', () => {
  const world = useWorld()
  const pilar = () => world.as('Pilar')
  const take = async (name: string, ...texts: string[]) => {
    const who = await pilar()
    const ids = []
    for (const text of texts) ids.push((await who.upload(name, text)).body.id)
    return await who.call(TakeExchange, { body: { fileIds: ids } })
  }
  const readIt = async (id: string) => (await pilar()).do(ReadExchange, { params: { id } })
  const mapIt = async (id: string, ...names: [string, string, string][]) => (await pilar()).call(MapExchange, { params: { id }, body: { version: (await readIt(id)).version, names: names.map(([kind, theirs, ours]) => ({ kind: kind as 'item', theirs, ours })) } }) // prettier-ignore
  const load = async (id: string, version?: number) => (await pilar()).call(LoadExchange, { params: { id }, body: { version: version ?? (await readIt(id)).version } }) // prettier-ignore
  const exported = async (orderId: string): Promise<string> => {
    const who = await pilar()
    const { id } = await who.do(MakeExchange, { body: { orderIds: [orderId] } })
    return (await who.bytes(ExchangeFile, { id }, {})).toString()
  }
  /** The file of an order as another installation would send it, with its own names. */
  const theirs = (
    text: string,
    number: string,
    change: (order: Record<string, unknown>) => object = () => ({}),
  ): string => {
    // prettier-ignore
    const file = JSON.parse(text) as { sender: string; orders: Record<string, unknown>[] }
    return JSON.stringify({ ...file, sender: 'North house', orders: file.orders.map(one => ({ ...one, number, ...change(one) })) }) // prettier-ignore
  }

  it('go out as JSON and come in again with what has come so far; names that are the same are known', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order, '4')
    const { id } = (await take('orders.json', theirs(await exported(order.id), 'N-1'))).body
    const read = await readIt(id)
    expect(read.names.map(one => [one.kind, one.ours !== '', one.kept])).to.deep.equal([['supplier', true, false], ['item', true, false], ['account', true, false], ['place', true, false]]) // prettier-ignore
    expect(read.orders.map(one => [one.number, one.state, one.reasons])).to.deep.equal([['N-1', 'ready', []]])
    expect((await load(id)).body).to.deep.equal({ made: 1 })
    const made = (await readIt(id)).orders[0]!
    expect([made.state, made.made!.number]).to.deep.equal(['made', made.made!.number])
    const sheet = await (await pilar()).do(ReadOrder, { params: { id: made.made!.path.split('/').at(-1)! } })
    expect([sheet.lines[0]!.quantity, sheet.lines[0]!.done, sheet.lines[0]!.itemNumber]).to.deep.equal(['10', '4', 'PS-1200']) // prettier-ignore
    expect((await load(id)).codes).to.deep.equal(['exchange.nothingReady'])
    // the same file again makes nothing
    const again = (await take('orders.json', theirs(await exported(order.id), 'N-1'))).body
    expect((await readIt(again.id)).orders[0]!.reasons.map(one => one.code)).to.deep.equal(['import.orderKnown'])
  })

  it('ask once what foreign names mean, and keep it for their sender', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const foreign = (number: string) => (one: Record<string, unknown>) => ({ supplier: { name: 'Pumpfabrik Nord', vat: '' }, number, charges: [{ kind: 'freight', words: '', amount: '25.00' }], lines: (one.lines as object[]).map(own => ({ ...own, item: 'X-9', gtin: '', account: 'K-7', place: 'Nowhere' })) }) // prettier-ignore
    const text = await exported(order.id)
    const { id } = (await take('orders.json', theirs(text, 'N-2', foreign('N-2')))).body
    expect((await readIt(id)).orders[0]!.reasons.map(one => one.code)).to.deep.equal(['exchange.noSupplier', 'exchange.noAccount']) // prettier-ignore
    const supplier = (await world.db('suppliers').where({ name: order.company }).first('id'))!.id
    expect((await mapIt(id, ['supplier', 'Pumpfabrik Nord', supplier], ['account', 'K-7', 'LS-210|6210|'])).status).to.equal(200) // prettier-ignore
    expect((await load(id)).body).to.deep.equal({ made: 1 })
    const { path } = (await readIt(id)).orders[0]!.made!
    const sheet = await (await pilar()).do(ReadOrder, { params: { id: path.split('/').at(-1)! } })
    expect([sheet.supplier, sheet.lines[0]!.itemNumber, sheet.charges[0]!.amount]).to.deep.equal([order.company, null, '25.00']) // prettier-ignore
    const next = (await take('orders.json', theirs(text, 'N-3', foreign('N-3')))).body
    const known = await readIt(next.id)
    expect(known.names.filter(one => one.kept).map(one => one.theirs)).to.deep.equal(['Pumpfabrik Nord', 'K-7'])
    expect(known.orders[0]!.state).to.equal('ready')
    // forgotten again
    await mapIt(next.id, ['account', 'K-7', ''])
    expect((await readIt(next.id)).orders[0]!.state).to.equal('refused')
  })

  it('come in as UBL, too, from one sender at a time', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const ubl = await (await pilar()).text(OrderUbl, { params: { id: order.id, revision: 0 } })
    const { id } = (await take('order.xml', ubl.replace(order.number, 'U-1'))).body
    const read = await readIt(id)
    expect(read.sender).to.equal('Saltmere Aquarium Trust')
    expect(read.orders[0]!.reasons.map(one => one.code)).to.deep.equal(['exchange.noAccount'])
    await mapIt(id, ['account', '', 'LS-210|6210|'])
    expect((await load(id)).body).to.deep.equal({ made: 1 })
    const other = ubl.replace('Saltmere Aquarium Trust', 'Another house').replace(order.number, 'U-2')
    expect((await take('order.xml', ubl.replace(order.number, 'U-3'), other)).codes).to.deep.equal(['exchange.senders'])
    expect((await take('order.xml', ubl.replace(order.number, 'U-3'), ubl.replace(order.number, 'U-3'))).codes).to.deep.equal(['exchange.twice']) // prettier-ignore
  })

  it('are refused where the file is none, is of a newer program, or stale; and are their taker’s', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    expect((await take('orders.json', 'no json')).codes).to.deep.equal(['exchange.noFile'])
    expect((await take('order.xml', '<Invoice/>')).codes).to.deep.equal(['exchange.notOne'])
    const text = theirs(await exported(order.id), 'N-4')
    expect((await take('orders.json', text.replace('"version":1', '"version":2'))).codes).to.deep.equal(['exchange.shape']) // prettier-ignore
    expect((await take('orders.json', text.replace('"quantity":"10"', '"quantity":10'))).codes).to.deep.equal(['exchange.shape']) // prettier-ignore
    const { id } = (await take('orders.json', text)).body
    expect((await load(id, 9)).codes).to.deep.equal(['workbook.changed'])
    expect((await (await world.as('Rasmus')).call(ReadExchange, { params: { id } })).status).to.equal(404)
    expect((await (await world.as('Joren')).call(ReadExchange, { params: { id } })).status).to.equal(403)
    const draft = await world.db('orders').where({ state: 'draft' }).first<{ id: string }>('id')
    expect((await (await pilar()).call(MakeExchange, { body: { orderIds: [draft!.id] } })).codes).to.deep.equal(['exchange.nothing']) // prettier-ignore
  })

  it('twice at once are taken over once', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const { id } = (await take('orders.json', theirs(await exported(order.id), 'N-5'))).body
    const { version } = await readIt(id)
    const both = await Promise.all([load(id, version), load(id, version)])
    expect(both.map(one => one.status).sort()).to.deep.equal([200, 422])
    expect(await world.db('orders').where({ formerNumber: 'N-5' }).select('id')).to.have.length(1)
  })
})
