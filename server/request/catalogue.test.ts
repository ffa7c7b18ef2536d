import { expect } from 'chai'
import {
  CatalogueFacts,
  CataloguePictures,
  type CatalogueQuery,
  KeepAsList,
  ReadBasket,
  ReadItem,
  RepeatLists,
  SaveBasket,
  SaveRepeatList,
  SearchCatalogue,
  UseRepeatList,
} from '#contract/request/catalogue.ts'
import { ActOnRequisition, ReadRequisition } from '#contract/request/endpoints.ts'
import { type AnswersOf, filledForms } from '#test-helpers/forms.ts'
import {
  AddressBody,
  EndNotice,
  FillForm,
  ListForms,
  ListNotices,
  PublishForm,
  ReadNotice,
  ReadRequestSettings,
  SaveAddress,
  SaveForm,
  SaveNotice,
  SaveRequestSettings,
} from '#contract/request/forms.ts'
import { SaveCategory } from '#contract/source/onboarding.ts'
import { addDays } from '#core/calendar/days.ts'
import { draft, goodsLine, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('finding in the catalogue', () => {
  const world = useWorld()
  const find = async (query: CatalogueQuery) => (await world.as('Ines')).do(SearchCatalogue, { query })
  const numbers = async (query: CatalogueQuery): Promise<string[]> => (await find(query)).items.map(item => item.number)

  it('takes words that mean the same, other names, parts of words and typing errors', async () => {
    expect(await numbers({ q: 'stopcock 32' })).to.include('BV-1240')
    expect(await numbers({ q: 'foam fractionator' })).to.include('SK-1220')
    expect(await numbers({ q: 'mittens' })).to.include('LB-1240')
    expect(await numbers({ q: 'klaxxon' })).to.deep.equal([])
    const typo = await find({ q: 'sterilizer' })
    expect(typo.items[0]!.number).to.match(/^UV-/)
    expect(typo.takenFor).to.deep.equal([{ typed: 'sterilizer', taken: ['steriliser'] }])
    expect(await numbers({ q: 'exchang' })).to.include('HX-1220')
    expect((await numbers({ q: 'pump circulation' }))[0]).to.match(/^CP-/)
  })

  it('opens the one item of a number, GTIN, maker’s or supplier’s number', async () => {
    const { id, gtin, makerNumber } = (await world
      .db('items')
      .where({ number: 'CP-1200' })
      .first('id', 'gtin', 'makerNumber')) as { id: string; gtin: string; makerNumber: string }
    for (const q of ['cp-1200', gtin, makerNumber, 'NOCP1200', 'SECP1200'])
      expect((await find({ q })).exact, q).to.equal(id)
    expect((await find({ q: 'pump' })).exact).to.equal(null)
  })

  it('narrows by the facts of items and offers', async () => {
    const supplier = (await world.db('suppliers').where({ name: 'Seefelder Pumpen GmbH' }).first('id')) as {
      id: string
    }
    expect((await numbers({ supplier: supplier.id })).every(number => number.startsWith('CP-'))).to.equal(true)
    const agreed = await find({ agreement: 'yes' })
    expect(agreed.items.every(item => item.agreement !== '')).to.equal(true)
    expect(agreed.items.map(item => item.number)).to.include('BV-1200')
    expect((await find({ stocked: 'yes', q: 'lamp' })).items.every(item => item.stocked)).to.equal(true)
    expect((await find({ certified: 'yes' })).items.every(item => item.certified)).to.equal(true)
    expect(await numbers({ q: 'pump', upTo: '1500' })).to.not.include('CP-1240')
    expect(await numbers({ q: 'pump', within: '21' })).to.include('CP-1200')
    expect(await numbers({ q: 'pump', within: '5' })).to.not.include('CP-1200')
    expect(await numbers({ q: 'salt', country: 'DE' })).to.not.include('SW-1200')
    expect(await numbers({ q: 'salt', country: 'NL' })).to.include('SW-1200')
  })

  it('knows the tree: a category holds what hangs under it', async () => {
    const { categories } = await (await world.as('Ines')).do(CatalogueFacts)
    expect(categories.find(one => one.name === 'Pumps')!.parent).to.equal('Water technology')
    expect(await numbers({ category: 'Water technology', q: 'pump' })).to.include('CP-1200')
    expect(await numbers({ category: 'Living stock', q: 'pump' })).to.deep.equal([])
    const wren = await world.as('Wren')
    const save = (name: string, parent: string | null) =>
      wren.call(SaveCategory, {
        body: { name, parent, ownerId: null, needsFinance: true, certificates: [], thresholds: {}, version: 2 },
      })
    expect((await save('Water technology', 'Pumps')).codes).to.deep.equal(['category.circle'])
    expect((await save('Pumps', 'Nothing such')).codes).to.deep.equal(['category.noParent'])
  })

  it('says what is discontinued and what takes its place, last', async () => {
    const { items } = await find({ q: 'uv steriliser' })
    const gone = items.find(item => item.number === 'UV-1200')!
    expect(gone).to.deep.include({ discontinued: true, replacedBy: 'UV steriliser 80 W' })
    expect(items[0]!.number).to.not.equal('UV-1200')
    const item = await (await world.as('Ines')).do(ReadItem, { params: { id: gone.id } })
    expect(item.replacedBy!.number).to.equal('UV-1220')
  })

  it('shows what was paid, who asked, and other people’s requests only to those who may see them', async () => {
    const { id } = (await world.db('items').where({ number: 'CP-1200' }).first('id')) as { id: string }
    const [ines, pilar] = [
      await (await world.as('Ines')).do(ReadItem, { params: { id } }),
      await (await world.as('Pilar')).do(ReadItem, { params: { id } }),
    ]
    expect(pilar.paid[0]).to.deep.include({
      supplier: 'Nordhavn Pumpeverk',
      price: '2190',
      currency: 'EUR',
      baseUnitPrice: '2190',
    })
    expect(pilar.askedBy[0]!.number).to.match(/^R-/)
    expect(ines.askedBy.filter(one => one.person !== 'Ines Castellane').every(one => one.number === '')).to.equal(true)
    expect((await (await world.as('Ines')).do(CataloguePictures)).pictures.length).to.be.above(90)
  })

  it('answers whatever is typed', async () => {
    for (const q of [
      `a'b`,
      '((',
      '!!!',
      '&|',
      'ß',
      '漢字',
      'x'.repeat(200),
      '   ',
      '\\',
      '12 34 56 78 90 12 34 56 78 90',
    ])
      expect((await (await world.as('Ines')).call(SearchCatalogue, { query: { q } })).status, q).to.equal(200)
  })
})

describe('the basket', () => {
  const world = useWorld()

  it('takes units that convert exactly, and refuses the others without losing what is in it', async () => {
    const ines = await world.as('Ines')
    const bolt = await goodsLine(world, 'FA-1200', '100')
    const put = (quantity: string, unit?: string) =>
      ines.call(SaveBasket, {
        body: { lines: [{ itemId: bolt.itemId!, offerId: bolt.offerId!, quantity, ...(unit ? { unit } : {}) }] },
      })
    expect((await put('3', 'BX')).status).to.equal(200)
    const { lines } = await ines.do(ReadBasket)
    expect(lines[0]).to.deep.include({ quantity: '3', unit: 'BX', amount: '95.70' })
    expect(lines[0]!.units).to.include.members(['C62', 'BX'])
    expect((await put('3', 'KGM')).codes).to.deep.equal(['units.noConversion'])
    expect((await put('0')).codes).to.deep.equal(['line.quantity'])
    expect((await ines.do(ReadBasket)).lines[0]!.unit).to.equal('BX')
  })
})

describe('repeat lists', () => {
  const world = useWorld()

  it('are kept from a request, used again with the prices of today, and name what is no longer offered', async () => {
    const joren = await world.as('Joren')
    const { id } = await draft(
      world,
      [await goodsLine(world, 'PS-1200', '2'), await goodsLine(world, 'PS-1220', '3')],
      'Pump parts',
    )
    const list = await joren.do(KeepAsList, { body: { name: 'Pump parts', from: id, listId: null } })
    const offer = (await goodsLine(world, 'PS-1220', '1')).offerId
    await world
      .db('offers')
      .where({ id: offer! })
      .update({ validTo: addDays(today(), -1) })
    const used = await joren.do(UseRepeatList, { params: { id: list.id }, body: { to: 'request' } })
    expect([used.lines, used.left]).to.deep.equal([1, ['Shaft seal set']])
    const made = await joren.do(ReadRequisition, { params: { id: used.id! } })
    expect([made.title, made.lines[0]!.quantity, made.lines[0]!.needBy]).to.deep.equal(['Pump parts', '2', null])
    const basket = await joren.do(UseRepeatList, { params: { id: list.id }, body: { to: 'basket' } })
    expect(basket.lines).to.equal(1)
  })

  it('are seen by colleagues when shared, and changed by their owner only', async () => {
    const [ines, joren] = [await world.as('Ines'), await world.as('Joren')]
    const own = (await ines.do(RepeatLists)).lists.find(one => one.name === 'Feed for two weeks')!
    expect((await joren.do(RepeatLists)).lists.map(one => one.name))
      .to.include('Laboratory, monthly')
      .and.not.include('Feed for two weeks')
    expect((await joren.call(UseRepeatList, { params: { id: own.id }, body: { to: 'basket' } })).status).to.equal(404)
    const shared = (await joren.do(RepeatLists)).lists.find(one => one.name === 'Laboratory, monthly')!
    const body = {
      id: shared.id,
      version: shared.version,
      name: 'Mine now',
      sharedWith: [],
      sharedWithAll: false,
      lines: [],
    }
    expect((await joren.call(SaveRepeatList, { body })).status).to.equal(403)
    await ines.do(SaveRepeatList, { body })
    expect((await ines.call(SaveRepeatList, { body })).status).to.equal(409)
  })

  it('never hold a personal fee, and an old request is asked for again as a copy', async () => {
    const joren = await world.as('Joren')
    const { id } = (await world
      .db('requisitions')
      .where({ title: 'Kelp hall opening: what is still missing' })
      .first('id')) as { id: string }
    const list = await joren.do(KeepAsList, { body: { name: 'Hall', from: id, listId: null } })
    const { lists } = await joren.do(RepeatLists)
    expect(lists.find(one => one.id === list.id)!.lines.map(line => line.kind)).to.deep.equal([
      'goods',
      'goodsByAmount',
      'fixedPriceWork',
      'workByRate',
    ])
    const copy = await joren.do(ActOnRequisition, { params: { id }, body: { version: 1, action: 'copy' } })
    expect((await joren.do(ReadRequisition, { params: { id: copy.id } })).lines).to.have.length(5)
  })
})

describe('what a steward and purchasing set up', () => {
  const world = useWorld()

  it('forms have versions; a filled one is one request with what was answered', async () => {
    const [wren, joren] = [await world.as('Wren'), await world.as('Joren')]
    const form = (await joren.do(ListForms, { query: {} })).forms.find(one => one.code === 'divinginspection')!
    const fill = (answers: AnswersOf) => joren.call(FillForm, { params: { id: form.id }, body: { answers } })
    expect((await fill({})).codes).to.include('question.missing')
    expect((await fill({ ...filledForms.dive, hours: 'many' })).codes).to.deep.equal(['question.number'])
    const done = await fill(filledForms.dive)
    const made = await joren.do(ReadRequisition, { params: { id: done.body.id } })
    expect(made.lines[0]).to.deep.include({
      kind: 'workByRate',
      quantity: '12.5',
      price: '96',
      category: 'Diving & rope access',
    })
    expect(made.form!.said[0]).to.deep.equal({ question: 'Which tank?', answer: 'Ray tank' })
    const { id: _id, number: _number, state: _state, changedBy: _by, changedAt: _at, used: _used, ...body } = form
    const faulty = await wren.do(SaveForm, { body: { ...body, fills: { title: 'gone' }, version: 0 } })
    expect(faulty.reasons.map(one => one.code)).to.deep.equal(['form.fill'])
    expect(
      (await wren.call(PublishForm, { params: { id: faulty.id }, body: { version: faulty.version } })).codes,
    ).to.deep.equal(['form.fill'])
    const next = await wren.do(SaveForm, { body: { ...body, name: 'Diving, anew', version: faulty.version } })
    await wren.do(PublishForm, { params: { id: next.id }, body: { version: next.version } })
    expect((await fill(filledForms.dive)).codes).to.deep.equal(['form.notLive'])
    expect((await joren.do(ReadRequisition, { params: { id: done.body.id } })).form!.number).to.equal(1)
    expect((await joren.call(SaveForm, { body: { ...body, version: 0 } })).status).to.equal(403)
  })

  it('notices are shown where and when they matter, until they are read, changed or withdrawn', async () => {
    const [pilar, joren] = [await world.as('Pilar'), await world.as('Joren')]
    const seen = async (categories: string) =>
      (await joren.do(ListNotices, { query: { categories } })).notices.filter(one => !one.read).map(one => one.title)
    const body = {
      id: null,
      version: 0,
      title: 'Pumps: ask early',
      body: '',
      fromDay: today() as 'x',
      toDay: addDays(today(), 5) as 'x',
      costCentres: [],
      categories: ['Pumps'],
      suppliers: [],
    }
    const { id } = await pilar.do(SaveNotice, { body })
    expect(await seen('Pumps|Feed')).to.include('Pumps: ask early')
    expect(await seen('Feed')).to.not.include('Pumps: ask early')
    await joren.do(ReadNotice, { params: { id } })
    expect(await seen('Pumps')).to.not.include('Pumps: ask early')
    await pilar.do(SaveNotice, { body: { ...body, id, version: 1, title: 'Pumps: ask earlier' } })
    expect(await seen('Pumps')).to.include('Pumps: ask earlier')
    await pilar.do(EndNotice, { params: { id }, body: { version: 2 } })
    expect(await seen('Pumps')).to.not.include('Pumps: ask earlier')
    expect(
      (await pilar.call(SaveNotice, { body: { ...body, toDay: addDays(today(), -1) as 'x' } })).codes,
    ).to.deep.equal(['notice.days'])
    expect((await joren.call(SaveNotice, { body })).status).to.equal(403)
    expect((await joren.call(ListNotices, { query: { all: 'yes' } })).status).to.equal(403)
  })

  it('settings refuse terms that do not exist, and preferred ones that are forbidden', async () => {
    const wren = await world.as('Wren')
    const settings = await wren.do(ReadRequestSettings)
    const save = (terms: { allowed: string[]; preferred: string[] }) =>
      wren.call(SaveRequestSettings, { body: { ...settings, terms: { ...terms, because: {} } } })
    expect((await save({ allowed: ['DAT'], preferred: [] })).codes).to.deep.equal(['term.unknown'])
    expect((await save({ allowed: ['DAP'], preferred: ['FCA'] })).codes).to.deep.equal(['term.preferredForbidden'])
    expect((await save({ allowed: ['DAP'], preferred: ['DAP'] })).status).to.equal(200)
  })

  it('addresses have one code each', async () => {
    const wren = await world.as('Wren')
    const address = {
      id: null,
      code: 'QUAY',
      name: 'Twin',
      dock: '',
      street: '',
      postalCode: '',
      city: '',
      country: 'NL',
      hours: '',
      contact: '',
      phone: '',
      purposes: ['delivery' as const],
      open: true,
    }
    expect(AddressBody.safeParse({ ...address, id: undefined, country: 'Netherlands' }).success).to.equal(false)
    expect((await wren.call(SaveAddress, { body: address })).codes).to.deep.equal(['address.codeTaken'])
    expect((await wren.call(SaveAddress, { body: { ...address, code: 'TWIN' } })).status).to.equal(200)
  })
})
