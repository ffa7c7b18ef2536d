import { expect } from 'chai'
import {
  AddAlternate,
  AskUnpriced,
  ChangeCosting,
  ChangeLines,
  Costings,
  CreateCosting,
  EndLink,
  ExportCosting,
  KnownSenders,
  MoveCosting,
  OpenLink,
  PriceAgain,
  ReadCosting,
  ReadPartsList,
  RequestParts,
  ShareCosting,
} from '#contract/build/costings.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { Find } from '#contract/people/endpoints.ts'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import { ListEventKinds } from '#contract/source/eventKinds.ts'
import { ReadEvent } from '#contract/source/events.ts'
import { computeBuild } from '#core/build/computeBuild.ts'
import { costingRows } from '#core/build/costingRows.ts'
import { partKey } from '#core/build/partsList.ts'
import { addDays } from '#core/calendar/days.ts'
import { readCells } from '#server/formats/cells.ts'
import { today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

type Costing = ResponseOf<typeof ReadCosting>

/** Three parts that everybody knows, one that nobody does, one line without a quantity. */
const LIST = [
  'Skid 27',
  'Part no.;Designation;Qty;Unit',
  'CP-1220;Circulation pump 6 m³/h;1;pcs',
  'PP-1220;PVC-U pipe 32 mm;14,5;m',
  'SR-1212;Seal ring 12 mm;12;pcs',
  'SR-1212;Seal ring 12 mm, again;1.000,5;pcs',
  ';Frame, welded;1;pcs',
  'BV-1240;Ball valve;?;pcs',
  'Total;;5;',
].join('\n')
const SENDER = 'Atelier Norddeich'

describe('build costings', () => {
  const world = useWorld()
  const source = { sender: SENDER, fileId: null, pasted: LIST }
  const read = async (id: string, who = 'Joren'): Promise<Costing> =>
    (await world.as(who)).do(ReadCosting, { params: { id } })
  const make = async (): Promise<Costing> => {
    const joren = await world.as('Joren')
    const { columns, firstRow } = await joren.do(ReadPartsList, { body: { ...source, how: null } })
    const { id } = await joren.do(CreateCosting, {
      body: { ...source, title: 'Skid 27', builds: 4, how: { columns, firstRow } },
    })
    return read(id)
  }
  const rowsOf = (costing: Costing) => {
    const facts = { ...costing.known, lines: costing.lines, pricedOn: costing.pricedOn }
    const { ready, costed } = computeBuild(facts, costing.settings, costing.parts)
    return costingRows(facts, ready, costed)
  }
  const itemId = async (number: string): Promise<string> =>
    ((await world.db('items').where({ number }).first('id')) as { id: string }).id
  const change = (costing: Costing, more: Partial<Pick<Costing, 'settings' | 'parts' | 'beside' | 'title'>>) => ({
    params: { id: costing.id },
    body: {
      version: costing.version,
      title: costing.title,
      settings: costing.settings,
      parts: costing.parts,
      beside: costing.beside,
      ...more,
    },
  })

  it('reads a list, says what it understood, and keeps nothing', async () => {
    const joren = await world.as('Joren')
    const before = await world.db('buildCostings').count<{ count: bigint }[]>('* as count')
    const list = await joren.do(ReadPartsList, { body: { ...source, sender: 'Nobody yet', how: null } })
    expect([list.lines, list.firstRow, list.remembered, list.deepest]).to.deep.equal([6, 2, false, 1])
    expect(list.skipped).to.deep.equal([{ row: 9, why: 'total' }])
    expect(list.reasons.map(one => one.code)).to.deep.equal(['parts.figure'])
    expect(await world.db('buildCostings').count<{ count: bigint }[]>('* as count')).to.deep.equal(before)
    const none = await joren.do(ReadPartsList, { body: { ...source, pasted: 'a;b\nc;d', how: null } })
    expect(none.reasons.map(one => one.code)).to.include('parts.noQuantity')
  })

  it('matches its lines, prices them as of today, and remembers columns for the sender', async () => {
    const joren = await world.as('Joren')
    const costing = await make()
    expect(costing.lines.map(line => line.matched)).to.deep.equal(['sure', 'sure', 'sure', 'sure', 'none', 'sure'])
    expect([costing.pricedOn, costing.state, costing.settings.builds]).to.deep.equal([today(), 'open', 4])
    const rows = rowsOf(costing)
    expect(rows.map(row => [row.number, row.need, row.buy])).to.deep.equal([
      ['CP-1220', '4', '4'],
      ['PP-1220', '58', '60'],
      // 4 × 1012.5
      ['SR-1212', '4050', '4500'],
      ['', '4', '0'],
    ])
    const again = await joren.do(ReadPartsList, { body: { ...source, sender: ' atelier  NORDDEICH', how: null } })
    expect(again.remembered).to.equal(true)
    expect((await joren.do(KnownSenders)).senders).to.include(SENDER)
    const list = await joren.do(Costings.page, { query: { view: 'mine' } })
    expect(list.rows.find(row => row.id === costing.id)!.cells).to.include({
      builds: '4',
      unpriced: '1',
      partCount: '4',
    })
  })

  it('says what a line is and how many; the next list of the sender knows', async () => {
    const joren = await world.as('Joren')
    const costing = await make()
    const valve = await itemId('BV-1240')
    const frame = costing.lines.findIndex(line => line.description === 'Frame, welded')
    const mark = costing.lines.findIndex(line => line.number === 'BV-1240')
    await joren.do(ChangeLines, {
      params: { id: costing.id },
      body: {
        version: costing.version,
        lines: [
          { position: frame, itemId: valve, quantity: '2', unit: 'C62' },
          { position: mark, itemId: valve, quantity: '3', unit: 'C62' },
        ],
      },
    })
    const changed = await read(costing.id)
    expect(rowsOf(changed).find(row => row.number === 'BV-1240')).to.include({ need: '20' })
    expect((await make()).lines[frame]).to.include({ itemId: valve, matched: 'said' })
    await world.db('listMatches').delete()
    expect(
      (
        await joren.call(ChangeLines, {
          params: { id: costing.id },
          body: { version: changed.version, lines: [{ position: 90, itemId: null, quantity: '1', unit: 'C62' }] },
        })
      ).codes,
    ).to.deep.equal(['document.notFound'])
    expect(
      (
        await joren.call(ChangeLines, {
          params: { id: costing.id },
          body: { version: changed.version, lines: [{ position: 0, itemId: null, quantity: '1', unit: 'XX' }] },
        })
      ).codes,
    ).to.deep.equal(['line.unit'])
  })

  it('keeps settings, refuses a stale save and what cannot be', async () => {
    const joren = await world.as('Joren')
    const costing = await make()
    const settings = { ...costing.settings, builds: 8, policy: 'earliest' as const }
    await joren.do(ChangeCosting, change(costing, { settings }))
    expect((await joren.call(ChangeCosting, change(costing, { settings }))).codes).to.deep.equal(['document.changed'])
    const now = await read(costing.id)
    expect(now.settings).to.deep.equal(settings)
    const wastage = { percent: '2000', pieces: '0' }
    expect((await joren.call(ChangeCosting, change(now, { settings: { ...settings, wastage } }))).codes).to.deep.equal([
      'build.percent',
    ])
    expect((await joren.call(ChangeCosting, change(now, { settings: { ...settings, builds: 0 } }))).status).to.equal(
      400,
    )
    expect(
      (
        await joren.call(
          ChangeCosting,
          change(now, { settings: { ...settings, wastage: { percent: '-1', pieces: '0' } } }),
        )
      ).status,
    ).to.equal(400)
    // another currency comes with its rate of today
    await joren.do(ChangeCosting, change(now, { settings: { ...settings, currency: 'CHF' } }))
    expect((await read(costing.id)).known.rates).to.have.property('CHF')
  })

  it('tells what has changed since its day, until it is priced again', async () => {
    const joren = await world.as('Joren')
    const costing = await make()
    const offer = costing.known.offers.find(
      one => costing.known.items.find(item => item.id === one.itemId)!.number === 'PP-1220',
    )!
    await world
      .db('offers')
      .where({ id: offer.id })
      .update({ tiers: JSON.stringify([{ from: '5', price: String(Number(offer.tiers[0]!.price) * 1.1) }]) as never })
    const later = await read(costing.id)
    expect(later.changes).to.deep.equal([
      { kind: 'price', itemId: offer.itemId, supplierId: offer.supplierId, percent: '10' },
    ])
    expect(later.known).to.deep.equal(costing.known)
    await joren.do(PriceAgain, { params: { id: costing.id }, body: { version: later.version } })
    expect((await read(costing.id)).changes).to.deep.equal([])
    await world
      .db('offers')
      .where({ id: offer.id })
      .update({ tiers: JSON.stringify(offer.tiers) as never })
  })

  it('names alternates, whose offers become known', async () => {
    const joren = await world.as('Joren')
    const costing = await make()
    const ring = costing.lines.find(line => line.number === 'SR-1212')!
    const cut = await itemId('SR-1213')
    const body = { version: costing.version, key: partKey(ring), itemId: cut, take: false }
    await joren.do(AddAlternate, { params: { id: costing.id }, body })
    const named = await read(costing.id)
    expect(named.parts[partKey(ring)]).to.deep.equal({ alternates: [cut] })
    expect(named.known.offers.some(one => one.itemId === cut)).to.equal(true)
    await joren.do(AddAlternate, { params: { id: costing.id }, body: { ...body, version: named.version, take: true } })
    expect(rowsOf(await read(costing.id)).map(row => row.number)).to.include('SR-1213')
  })

  it('is read by colleagues who open its link, until it ends, and changed by none of them', async () => {
    const [joren, ines] = [await world.as('Joren'), await world.as('Ines')]
    const costing = await make()
    const params = { id: costing.id }
    expect((await ines.call(ReadCosting, { params })).codes).to.deep.equal(['document.notFound'])
    for (const endsOn of [addDays(today(), -1), addDays(today(), 400)])
      expect(
        (await joren.call(ShareCosting, { params, body: { version: costing.version, endsOn } })).codes,
      ).to.deep.equal(['build.linkDay'])
    const { path } = await joren.do(ShareCosting, { params, body: { version: costing.version, endsOn: today() } })
    const token = path.split('/').at(-1)!
    expect((await ines.call(OpenLink, { body: { token: `${token}x` } })).codes).to.deep.equal(['build.linkOver'])
    expect(await ines.do(OpenLink, { body: { token } })).to.deep.equal(params)
    expect(await ines.do(OpenLink, { body: { token } })).to.deep.equal(params)
    const seen = await read(costing.id, 'Ines')
    expect([seen.mine, seen.actions.some(one => one.possible)]).to.deep.equal([false, false])
    expect((await ines.call(ChangeCosting, change(seen, { title: 'Mine now' }))).codes).to.deep.equal([
      'right.notYours',
    ])
    expect((await ines.do(Costings.page, { query: {} })).rows.map(row => row.id)).to.include(costing.id)
    const { links } = await read(costing.id)
    expect(links.map(link => link.readers)).to.deep.equal([['Ines Castellane']])
    await joren.do(EndLink, { params: { ...params, linkId: links[0]!.id } })
    expect((await ines.call(ReadCosting, { params })).codes).to.deep.equal(['document.notFound'])
    expect((await ines.call(OpenLink, { body: { token } })).codes).to.deep.equal(['build.linkOver'])
  })

  it('is found by its number and by words, by those who see it', async () => {
    const costing = await make()
    const found = async (who: string, q: string): Promise<string[]> =>
      (await (await world.as(who)).do(Find, { query: { q } })).found.map(one => one.path)
    const path = `/source/builds/${costing.id}`
    expect(await found('Joren', costing.number)).to.deep.equal([path])
    expect(await found('Joren', 'skid 27')).to.include(path)
    expect(await found('Pilar', costing.number)).to.deep.equal([path])
    expect(await found('Ines', costing.number)).to.deep.equal([])
    expect(await found('Ines', 'skid 27')).to.not.include(path)
    // events too, by those who may see them
    expect((await found('Rasmus', 'life-support skids three')).some(one => one.startsWith('/source/events/'))).to.equal(
      true,
    )
    expect((await found('Ines', 'life-support skids three')).some(one => one.startsWith('/source/events/'))).to.equal(
      false,
    )
  })

  it('opens for nobody of a supplier', async () => {
    const costing = await make()
    const { path } = await (
      await world.as('Joren')
    ).do(ShareCosting, { params: { id: costing.id }, body: { version: costing.version, endsOn: today() } })
    const supplier = await world.as('at Nordhavn Pumpeverk')
    expect((await supplier.call(OpenLink, { body: { token: path.split('/').at(-1)! } })).status).to.equal(403)
    expect((await supplier.call(ReadCosting, { params: { id: costing.id } })).status).to.equal(403)
  })

  it('asks for quotes for what has no price, with everything that the list says of it', async () => {
    const costing = await make()
    const rasmus = await world.as('Rasmus')
    const kind = (await rasmus.do(ListEventKinds)).kinds.find(one => one.state === 'live')!
    const body = { version: costing.version, kindId: kind.id, title: 'Skid 27: what has no price' }
    const made = await rasmus.do(AskUnpriced, { params: { id: costing.id }, body })
    const event = await rasmus.do(ReadEvent, { params: { id: made.id } })
    expect(event.body.lines.map(line => [line.description, line.quantity, line.unit])).to.deep.equal([
      ['Frame, welded', '4', 'C62'],
    ])
    expect((await (await world.as('Joren')).call(AskUnpriced, { params: { id: costing.id }, body })).status).to.equal(
      403,
    )
    expect((await read(costing.id)).history[0]!.action).to.equal('quotesAsked')
  })

  it('requests what is priced, by supplier, from the offers that were chosen', async () => {
    const joren = await world.as('Joren')
    const costing = await make()
    const rows = rowsOf(costing).filter(row => row.buy !== '0')
    const body = { version: costing.version, reason: 'For skid 27.', bySupplier: true }
    const { requests } = await joren.do(RequestParts, { params: { id: costing.id }, body })
    expect(requests.length).to.equal(new Set(rows.flatMap(row => row.suppliers)).size)
    const sheets = await Promise.all(requests.map(one => joren.do(ReadRequisition, { params: { id: one.id } })))
    const lines = sheets.flatMap(sheet => sheet.lines)
    expect(lines.map(line => [line.itemNumber, line.quantity]).sort()).to.deep.equal(
      rows.map(row => [row.number, row.buy]).sort(),
    )
    expect(lines.find(line => line.itemNumber === 'SR-1212')!.amount).to.equal(
      rows.find(row => row.number === 'SR-1212')!.amount,
    )
    const now = await read(costing.id)
    const one = await joren.do(RequestParts, {
      params: { id: costing.id },
      body: { ...body, version: now.version, bySupplier: false },
    })
    expect(one.requests.map(request => request.lines)).to.deep.equal([3])
  })

  it('is put away, then only read, and taken up again', async () => {
    const joren = await world.as('Joren')
    const costing = await make()
    const params = { id: costing.id }
    const away = await joren.do(MoveCosting, { params, body: { version: costing.version, to: 'putAway' } })
    const seen = await read(costing.id)
    expect((await joren.call(ChangeCosting, change(seen, { title: 'x' }))).codes).to.deep.equal(['state.notNow'])
    expect(seen.actions.filter(one => one.possible).map(one => one.action)).to.deep.equal(['takeUp'])
    await joren.do(MoveCosting, { params, body: { version: away.version, to: 'takeUp' } })
    expect((await read(costing.id)).state).to.equal('open')
  })

  it('is written as a file: the same figures in CSV, workbook and PDF', async () => {
    const joren = await world.as('Joren')
    const costing = await make()
    const file = async (format: 'csv' | 'xlsx' | 'pdf'): Promise<Buffer> =>
      joren.bytes(ExportCosting, { id: costing.id, format }, {})
    const csv = await readCells(await file('csv'))
    const pump = rowsOf(costing).find(row => row.number === 'CP-1220')!
    const amount = csv.headings.indexOf('Amount')
    expect(csv.rows.find(row => row[1] === 'CP-1220')![amount]).to.equal(pump.amount)
    const book = await readCells(await file('xlsx'))
    expect(Number(book.rows.find(row => row[1] === 'CP-1220')![amount])).to.equal(Number(pump.amount))
    expect((await file('pdf')).subarray(0, 5).toString()).to.equal('%PDF-')
  })

  it('takes a list of twenty thousand lines, and none longer', async () => {
    const joren = await world.as('Joren')
    const rows = (count: number): string =>
      ['Part number;Qty', ...Array.from({ length: count }, (_one, at) => `NONE-${at};1`)].join('\n')
    const big = { sender: '', fileId: null, pasted: rows(20_000) }
    const { columns, firstRow, lines } = await joren.do(ReadPartsList, { body: { ...big, how: null } })
    expect(lines).to.equal(20_000)
    const { id } = await joren.do(CreateCosting, {
      body: { ...big, title: 'Much', builds: 1, how: { columns, firstRow } },
    })
    expect((await read(id)).lines.length).to.equal(20_000)
    const more = { ...big, pasted: rows(20_001) }
    expect(
      (await joren.call(CreateCosting, { body: { ...more, title: 'More', builds: 1, how: { columns, firstRow } } }))
        .codes,
    ).to.deep.equal(['parts.tooMany'])
  })
})
