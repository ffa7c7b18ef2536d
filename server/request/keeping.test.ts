import { expect } from 'chai'
import { ExportItems, ImportItems, ReadItem, SearchCatalogue } from '#contract/request/catalogue.ts'
import {
  ChangePrices,
  PreviewPrices,
  ReadPriceList,
  ReadPrices,
  SaveItem,
  SaveOffer,
  SetPicture,
  TakePriceList,
} from '#contract/request/keeping.ts'
import { ITEM_COLUMNS } from '#core/request/itemImport.ts'
import { addDays } from '#core/calendar/days.ts'
import { inTransaction } from '#server/jobs/parts.ts'
import { beginPrices } from '#server/request/priceStore.ts'
import { today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

/** The beginning of a PNG file that says it has this size. */
function picture(width: number, height: number): Buffer {
  const png = Buffer.alloc(64)
  Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex').copy(png)
  png.writeUInt32BE(width, 16)
  png.writeUInt32BE(height, 20)
  return png
}

describe('keeping the catalogue', () => {
  const world = useWorld()
  const keeper = () => world.as('Pilar')
  const idOf = async (number: string): Promise<string> =>
    ((await world.db('items').where({ number }).first('id')) as { id: string }).id
  const supplierId = async (name: string): Promise<string> =>
    ((await world.db('suppliers').where({ name }).first('id')) as { id: string }).id
  const offerRow = (row: unknown) => row as { id: string; supplierItem: string }
  const read = async (id: string) => (await keeper()).do(ReadItem, { params: { id } })
  const item = {
    number: 'KEEP-1',
    name: 'Pleated filter',
    description: 'For the quarantine tanks.',
    category: 'Pumps',
    unit: 'C62',
    gtin: '4006381333931',
    maker: '',
    makerNumber: '',
    alsoCalled: 'cartridge',
    packs: [{ unit: 'BX', holds: '6' }],
    stocked: true,
    certified: false,
    discontinuedOn: null,
    replacedBy: null,
  }
  const offer = {
    supplierItem: 'PF-6',
    currency: 'EUR' as const,
    unit: 'BX',
    priceBase: '1',
    minimum: '1',
    multiple: '1',
    leadTimeDays: 4,
    validFrom: today(),
    validTo: null,
    tiers: [{ from: '1', price: '42' }],
    agreement: '',
    incoterm: null,
    incotermPlace: '',
    countries: [],
    freight: null,
    inStock: null,
  }
  let id = ''
  let categories: string[] = []

  before(async () => {
    categories = (await world.db('supplyCategories').orderBy('name').select('name')).map(row => row.name)
  })

  it('adds an item that is found at once, changes it, and lets another take its place', async () => {
    const body = { ...item, category: categories[0]! }
    id = (await (await keeper()).do(SaveItem, { body: { ...body, id: null, version: 0 } })).id
    const found = await (await world.as('Ines')).do(SearchCatalogue, { query: { q: 'cartridge pleated' } })
    expect(found.items.map(one => one.number)).to.include('KEEP-1')
    const other = await idOf('CP-1200')
    const again = await (await keeper()).call(SaveItem, { body: { ...body, id: null, version: 0 } })
    expect(again.codes).to.deep.equal(['item.numberTaken'])
    const ended = { ...body, discontinuedOn: today(), replacedBy: other }
    expect((await (await keeper()).call(SaveItem, { body: { ...ended, id, version: 1 } })).body.version).to.equal(2)
    expect((await read(id)).replacedBy?.number).to.equal('CP-1200')
    const stale = await (await keeper()).call(SaveItem, { body: { ...body, id, version: 1 } })
    expect([stale.status, stale.codes]).to.deep.equal([409, ['document.changed']])
    await (await keeper()).do(SaveItem, { body: { ...body, id, version: 2 } })
    const trail = await world.db('history').where({ documentId: id }).orderBy('sequence').select('action')
    expect(trail.map(row => row.action)).to.deep.equal(['created', 'discontinued', 'changed'])
  })

  it('refuses a ring of items that take each other’s place, and another unit than they are counted in', async () => {
    const pump = await idOf('CP-1200')
    const { offers: _, paid: __, askedBy: ___, baseCurrency: ____, picture: _____, version, id: ______, ...facts } = await read(pump) // prettier-ignore
    const after = await (
      await keeper()
    ).do(SaveItem, {
      body: { ...item, category: categories[0]!, discontinuedOn: today(), replacedBy: pump, id, version: 3 },
    })
    const ring = { ...facts, discontinuedOn: today(), replacedBy: id, id: pump, version }
    expect((await (await keeper()).call(SaveItem, { body: ring })).codes).to.deep.equal(['item.replacedByItself'])
    const unit = { ...facts, replacedBy: null, unit: 'KGM', id: pump, version }
    expect((await (await keeper()).call(SaveItem, { body: unit })).codes).to.deep.equal(['item.unitUsed'])
    await (await keeper()).do(SaveItem, { body: { ...item, category: categories[0]!, id, version: after.version } })
  })

  it('gives a number once, also to two who ask for it at the same moment', async () => {
    const body = { ...item, number: 'KEEP-2', category: categories[0]!, id: null, version: 0 }
    const pilar = await keeper()
    const answers = await Promise.all([1, 2, 3].map(() => pilar.call(SaveItem, { body })))
    expect(answers.map(one => one.codes[0] ?? 'kept').sort()).to.deep.equal(['item.numberTaken', 'item.numberTaken', 'kept']) // prettier-ignore
  })

  it('is for who keeps it: a requester may not', async () => {
    const asked = await (
      await world.as('Joren')
    ).call(SaveItem, { body: { ...item, category: categories[0]!, id: null, version: 0 } })
    expect(asked.status).to.equal(403)
  })

  it('takes a picture that pages can show, and refuses others with the reason', async () => {
    const send = async (name: string, bytes: Buffer): Promise<readonly string[]> => {
      const fileId = (await (await keeper()).upload(name, bytes)).body.id as string
      const { version } = await read(id)
      return (await (await keeper()).call(SetPicture, { params: { id }, body: { fileId, version } })).codes
    }
    expect(await send('filter.png', picture(600, 400))).to.deep.equal([])
    expect((await read(id)).picture).to.match(/^data:image\/png;base64,/)
    expect(await send('huge.png', picture(8000, 5000))).to.deep.equal(['picture.large'])
    expect(await send('list.csv', Buffer.from('a;b'))).to.deep.equal(['picture.type'])
    const { version } = await read(id)
    await (await keeper()).do(SetPicture, { params: { id }, body: { fileId: null, version } })
    expect((await read(id)).picture).to.equal(null)
  })

  it('adds an offer, whose new prices hold from their day and not before', async () => {
    const supplier = await supplierId('Seefelder Pumpen GmbH')
    const save = async (changed: object, offerId: string | null, version: number) =>
      (await keeper()).call(SaveOffer, {
        params: { id },
        body: { ...offer, supplierId: supplier, pricesFrom: today(), ...changed, offerId, version },
      })
    const added = await save({}, null, 0)
    expect(added.status).to.equal(200)
    expect((await save({}, null, 0)).codes).to.deep.equal(['offer.there'])
    expect((await save({ supplierItem: 'PF-KG', unit: 'KGM' }, null, 0)).codes).to.deep.equal(['offer.unitOfItem'])
    const offerId = added.body.id as string
    const at = async () => (await read(id)).offers.find(one => one.id === offerId)!
    const dearer = { tiers: [{ from: '1', price: '45' }] }
    const other = await save({ currency: 'USD', tiers: [{ from: '1', price: '50' }] }, offerId, (await at()).version)
    expect(other.codes, 'prices to come would be read in the wrong currency').to.deep.equal(['offer.stays'])
    const past = await save({ ...dearer, pricesFrom: addDays(today(), -1) }, offerId, (await at()).version)
    expect(past.codes).to.deep.equal(['price.past'])
    const later = addDays(today(), 30)
    await save({ ...dearer, pricesFrom: later }, offerId, (await at()).version)
    expect([(await at()).tiers[0]!.price, (await at()).next]).to.deep.equal(['42', { fromDay: later, price: '45', priceBase: '1' }]) // prettier-ignore
    expect(await inTransaction(world.jobs, beginPrices)).to.equal(0)
    expect(await inTransaction({ ...world.jobs, clock: () => `${later}T10:00:00Z` }, beginPrices)).to.equal(1)
    expect((await at()).tiers[0]!.price).to.equal('45')
    const { prices } = await (await world.as('Joren')).do(ReadPrices, { params: { id: offerId } })
    expect(prices.map(one => [one.fromDay, one.tiers[0]!.price, one.by])).to.deep.equal([[later, '45', 'Pilar Quenneville'], [today(), '42', 'Pilar Quenneville']]) // prettier-ignore
  })

  it('changes all prices of a supplier as they were seen, and refuses what changed meanwhile', async () => {
    const supplier = await supplierId('Seefelder Pumpen GmbH')
    const change = { supplierId: supplier, category: '', percent: '4', places: 2 }
    const seen = await (await keeper()).do(PreviewPrices, { body: change })
    expect(seen.counts.dearer).to.equal(seen.differences.length)
    expect(seen.differences.every(one => Number(one.percent) > 3 && Number(one.percent) < 5)).to.equal(true)
    const count = { from: today(), reason: 'As agreed for next year' }
    const stale = await (
      await keeper()
    ).call(ChangePrices, { body: { ...change, percent: '5', stamp: seen.stamp, ...count } })
    expect(stale.codes).to.deep.equal(['price.changedMeanwhile'])
    const done = await (await keeper()).do(ChangePrices, { body: { ...change, stamp: seen.stamp, ...count } })
    expect(done).to.deep.equal({ offers: seen.differences.length, ended: 0 })
    const first = seen.differences[0]!
    const row = await world.db('offers').where({ id: first.offerId! }).first('tiers')
    expect(row!.tiers[0]!.price).to.equal(first.after!.tiers[0]!.price)
    const nothing = await (await keeper()).call(PreviewPrices, { body: { ...change, percent: '0' } })
    expect(nothing.codes).to.deep.equal(['price.percent'])
  })

  it('takes a supplier’s price list in once its differences were seen; what it lacks ends if so wished', async () => {
    const supplier = await supplierId('Seefelder Pumpen GmbH')
    const own = await world.db('offers').join('items', 'items.id', 'offers.itemId').where({ supplierId: supplier }).orderBy('items.number').select('offers.id', 'supplierItem', 'tiers') // prettier-ignore
    const [one, two] = own.map(offerRow)
    const send = async (text: string): Promise<string> => (await (await keeper()).upload('prices.csv', text)).body.id
    const look = async (fileId: string) =>
      (await keeper()).do(ReadPriceList, { body: { supplierId: supplier, fileId } })
    const bad = await look(
      await send(
        `supplier_item;price;currency\n${one!.supplierItem};10;\n${one!.supplierItem};11;\n${two!.supplierItem};12;USD\n`,
      ),
    )
    expect(bad.faults.map(fault => [fault.row, fault.code])).to.deep.equal([[3, 'import.twice'], [4, 'priceList.currency']]) // prettier-ignore
    const fileId = await send(`supplier_item;price\n${one!.supplierItem};9999,5\nNOT-OURS;4,00\n`)
    const seen = await look(fileId)
    expect(seen.counts).to.deep.include({ dearer: 1, unknown: 1, missing: own.length - 1 })
    const from = addDays(today(), 3)
    const body = {
      supplierId: supplier,
      fileId,
      stamp: seen.stamp,
      from,
      endMissing: true,
      reason: 'The list of January',
    }
    expect(await (await keeper()).do(TakePriceList, { body })).to.deep.equal({ offers: 1, ended: own.length - 1 })
    expect((await look(fileId)).counts, 'what ends on a day to come is offered until then').to.deep.include({ missing: own.length - 1 }) // prettier-ignore
    const rows = await world.db('offers').where({ supplierId: supplier }).select('id', 'validTo')
    expect(rows.filter(row => row.validTo === addDays(from, -1))).to.have.length(own.length - 1)
    const [next] = await world.db('offerPrices').where({ offerId: one!.id, fromDay: from })
    expect([next!.tiers[0]!.price, next!.begun]).to.deep.equal(['9999.5', false])
    await inTransaction({ ...world.jobs, clock: () => `${from}T10:00:00Z` }, beginPrices)
    const late = await (await keeper()).call(TakePriceList, { body })
    expect(late.codes).to.deep.equal(['price.changedMeanwhile'])
  })

  it('gives the whole catalogue out as the file that it is taken in from, and taking it in changes nothing', async () => {
    const pilar = await keeper()
    const state = async () => ({
      items: await world
        .db('items')
        .orderBy('number')
        .select('number', 'name', 'unit', 'packs', 'category', 'replacedBy'),
      offers: await world
        .db('offers')
        .orderBy('id')
        .select('id', 'unit', 'tiers', 'priceBase', 'minimum', 'validTo', 'countries', 'freight', 'agreement'),
    })
    const file = await pilar.text(ExportItems, {})
    const lines = file.trimEnd().split('\r\n')
    expect(lines[0]!.replace('\ufeff', '')).to.equal(ITEM_COLUMNS.join(','))
    const before = await state()
    expect(lines.length - 1).to.be.at.least(before.items.length)
    const send = async (text: string, dryRun = false) =>
      pilar.do(ImportItems, { body: { fileId: (await pilar.upload('items.csv', text)).body.id, dryRun } })
    const result = await send(file)
    expect(result.faults).to.deep.equal([])
    expect(await state()).to.deep.equal(before)
    // an item alone, and a row that names half of an offer
    await send('number;name;category\nALONE-1;Lamp oil;Salt\n')
    expect((await read(await idOf('ALONE-1'))).offers).to.deep.equal([])
    const half = await send('number;name;category;supplier;price\nALONE-2;Wick;Salt;Salines;\n', true)
    expect(half.faults.map(fault => fault.code)).to.deep.equal(['import.missing'])
    expect((await (await world.as('Joren')).call(ExportItems, {})).status).to.equal(403)
  })

  it('leaves what an agreement offers to the agreement: by hand, by per cent, by list and by file', async () => {
    const pilar = await keeper()
    const agreed = (await world.db('offers').whereNotNull('agreementLineId').orderBy('agreement').first())!
    const { number } = (await world.db('items').where({ id: agreed.itemId }).first('number'))!
    const offers = async () => (await read(agreed.itemId)).offers
    const shown = (await offers()).find(one => one.id === agreed.id)!
    expect([shown.agreed, shown.agreementPath]).to.deep.equal([true, `/source/agreements/${(await world.db('agreementLines').where({ id: agreed.agreementLineId! }).first('agreementId'))!.agreementId}`]) // prettier-ignore
    const byHand = await pilar.call(SaveOffer, {
      params: { id: agreed.itemId },
      body: { ...offer, supplierId: agreed.supplierId, supplierItem: agreed.supplierItem, unit: agreed.unit, offerId: agreed.id, version: shown.version, pricesFrom: today() },
    }) // prettier-ignore
    expect(byHand.codes).to.deep.equal(['offer.agreed'])
    const change = { supplierId: agreed.supplierId, percent: '10', places: 2, category: '' }
    const { differences, stamp } = await pilar.do(PreviewPrices, { body: change })
    expect(differences.find(one => one.offerId === agreed.id)?.kind).to.equal('agreed')
    await pilar.do(ChangePrices, { body: { ...change, stamp, from: today(), reason: 'A year later.' } })
    const listed = await pilar.upload('prices.csv', `item;price\n${number};9999\n`)
    const list = await pilar.do(ReadPriceList, { body: { supplierId: agreed.supplierId, fileId: listed.body.id } })
    await pilar.do(TakePriceList, { body: { supplierId: agreed.supplierId, fileId: listed.body.id, stamp: list.stamp, from: today(), reason: 'Their list.', endMissing: true } }) // prettier-ignore
    const supplier = (await world.db('suppliers').where({ id: agreed.supplierId }).first('name'))!.name
    const file = `number;name;category;supplier;supplier_item;price;unit\n${number};Renamed;Salt;${supplier};${agreed.supplierItem};1;${agreed.unit}\n` // prettier-ignore
    const taken = await pilar.do(ImportItems, { body: { fileId: (await pilar.upload('items.csv', file)).body.id, dryRun: false } }) // prettier-ignore
    expect(taken.faults).to.deep.equal([])
    const after = (await offers()).find(one => one.id === agreed.id)!
    expect([after.tiers, after.validTo, after.version]).to.deep.equal([shown.tiers, shown.validTo, shown.version])
  })
})
