import { expect } from 'chai'
import { ENDPOINTS } from '#contract/api/endpoints.ts'
import { Attach, ReadAttachment, WriteNote } from '#contract/files/endpoints.ts'
import { Budgets, ReadBudget, RunAudit } from '#contract/insight/endpoints.ts'
import { Invoices, LinkInvoiceLine, ReadInvoice, ReadInvoiceFile } from '#contract/bill/endpoints.ts'
import { Orders } from '#contract/order/endpoints.ts'
import { SupplierOrder, SupplierOrders } from '#contract/order/supplierOrders.ts'
import { ReadCounts, ReadDesk } from '#contract/desk/endpoints.ts'
import { Find, ReadSession, SignOut } from '#contract/people/endpoints.ts'
import {
  CatalogueFacts,
  ReadBasket,
  ReadItem,
  RequestBasket,
  SaveBasket,
  SearchCatalogue,
} from '#contract/request/catalogue.ts'
import {
  ActOnRequisition,
  CreateRequisition,
  ReadChoices,
  ReadRequisition,
  SaveRequisition,
  SubmitRequisition,
} from '#contract/request/endpoints.ts'
import { AnswerPowerChange, ListPowerChanges } from '#contract/setup/people.ts'
import { dayOf } from '#server/call.ts'
import {
  BeginRules,
  PublishRules,
  ReadRules,
  ReadRuleSet,
  type RuleJson,
  SaveRules,
} from '#contract/rules/endpoints.ts'
import { ChangePerson, ListPeople } from '#contract/setup/endpoints.ts'
import {
  ActOnSupplier,
  ChangeSupplier,
  CreateSupplier,
  ReadSupplier,
  FindSuppliers,
  AnswerSecondYes,
} from '#contract/source/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { inventedVat } from '#demo/identifiers.ts'
import { vatOf } from '#demo/world.ts'
import { openApi } from '#server/app/openApi.ts'
import { CRONTAB, JOBS } from '#server/app/jobs.ts'
import { SYSTEM_PERSON } from '#server/jobs/parts.ts'
import { startWorker } from '#server/jobs/worker.ts'
import { account, approved, billed, draft, goodsLine, ordered, received, today } from '#test-helpers/steps.ts'
import { listen } from '#test-helpers/news.ts'
import { plainInvoice } from '#test-helpers/invoices.ts'
import { supplierBody } from '#test-helpers/suppliers.ts'
import { Client, useWorld } from '#test-helpers/world.ts'

const SUPPLIER = supplierBody({
  identifiers: [
    { scheme: 'vat', value: inventedVat('NO', 4000) },
    { scheme: 'gln', value: '4006381333931' },
  ],
  locations: [
    ...supplierBody().locations,
    { ...supplierBody().locations[0]!, name: 'Drying house', street: 'Ytre 2', city: 'Ytre', roles: ['shipsFrom'] },
  ],
})

describe('the record of a supplier', () => {
  const world = useWorld()

  it('is kept with its numbers, places and people, and changed as a whole', async () => {
    const rasmus = await world.as('Rasmus')
    const { id } = await rasmus.do(CreateSupplier, { body: SUPPLIER })
    const sheet = await rasmus.do(ReadSupplier, { params: { id } })
    expect(sheet.supplier.identifiers.map(one => one.value)).to.have.members([inventedVat('NO', 4000), '4006381333931'])
    expect(sheet.supplier.locations.map(one => one.city)).to.deep.equal(['Havnsund', 'Ytre'])
    expect(sheet.sentence.code).to.equal('supplier.is.withoutAccount')
    const changed = await rasmus.do(ChangeSupplier, {
      params: { id },
      body: { ...SUPPLIER, name: 'Havnsund Tang & Tare', contacts: [], version: sheet.version },
    })
    const now = await rasmus.do(ReadSupplier, { params: { id } })
    expect([now.title, now.supplier.contacts.length, now.version]).to.deep.equal([
      'Havnsund Tang & Tare',
      0,
      changed.version,
    ])
    expect(now.history.map(one => one.action)).to.deep.equal(['changed', 'created'])
  })

  it('is not saved over somebody else’s change', async () => {
    const [rasmus, pilar] = [await world.as('Rasmus'), await world.as('Pilar')]
    const { id } = await rasmus.do(CreateSupplier, { body: { ...SUPPLIER, name: 'Two at once', identifiers: [] } })
    const body = { ...SUPPLIER, name: 'Two at once', identifiers: [], version: 1 }
    const answers = await Promise.all([
      rasmus.call(ChangeSupplier, { params: { id }, body }),
      pilar.call(ChangeSupplier, { params: { id }, body }),
    ])
    expect(answers.map(answer => answer.status).sort()).to.deep.equal([200, 409])
  })

  it('refuses numbers with wrong check digits, beside their field', async () => {
    const rasmus = await world.as('Rasmus')
    const answer = await rasmus.call(CreateSupplier, {
      body: {
        ...SUPPLIER,
        identifiers: [
          { scheme: 'gln', value: '4006381333930' },
          { scheme: 'lei', value: '5493001KJTIIGC8Y1R13' },
        ],
      },
    })
    expect(answer.reasons.map(reason => reason.place)).to.deep.equal(['identifiers.0.value', 'identifiers.1.value'])
  })

  it('that looks alike is shown while a name is typed, with how alike', async () => {
    const rasmus = await world.as('Rasmus')
    const look = async (name: string) =>
      (
        await rasmus.do(FindSuppliers, {
          body: {
            name,
            country: '',
            postalCode: '',
            city: '',
            street: '',
            web: '',
            iban: '',
            identifiers: [],
            except: null,
          },
        })
      ).candidates
    const found = await look('aldis membrane')
    expect(found.map(one => one.name)).to.include.members(['Aldis Membranes', 'ALDIS Membrane Ltd.'])
    expect(found[0]!.percent).to.be.greaterThan(60)
    expect(await look('al')).to.deep.equal([])
  })

  it('paused takes no new order until it is resumed; barred it cannot be asked for', async () => {
    const [rasmus, joren] = [await world.as('Rasmus'), await world.as('Joren')]
    const { id, version } = (await world.db('suppliers').where({ name: 'Ferrolund Fastenings' }).first()) as {
      id: string
      version: number
    }
    const act = async (action: 'pause' | 'resume' | 'bar', at: number) =>
      rasmus.do(ActOnSupplier, {
        params: { id },
        body: { version: at, action, reason: 'Their line is down.', until: null },
      })
    const paused = await act('pause', version)
    const request = await draft(world, [await goodsLine(world, 'FA-1200', '100')])
    const asked = await joren.call(SubmitRequisition, {
      params: { id: request.id },
      body: { version: request.version },
    })
    expect(asked.codes).to.include.members(['requisition.wantsReason', 'line.supplier.paused'])
    const resumed = await act('resume', paused.version)
    const asked2 = await act('bar', resumed.version)
    const waiting = (await world.db('consents').where({ documentId: id, purpose: 'bar' }).first('id', 'version')) as {
      id: string
      version: number
    }
    const agree = {
      params: { id: waiting.id },
      body: { version: waiting.version, answer: 'agree', reason: 'I agree.' },
    }
    expect((await rasmus.call(AnswerSecondYes, agree as never)).codes).to.deep.equal(['secondYes.own'])
    await (await world.as('Adaeze')).do(AnswerSecondYes, agree as never)
    const barred = { version: asked2.version + 1 }
    expect(
      (
        await joren.call(SubmitRequisition, {
          params: { id: request.id },
          body: { version: request.version, checkReason: 'Please.' },
        })
      ).codes,
    ).to.include('line.supplier.barred')
    expect(
      (
        await rasmus.call(ActOnSupplier, {
          params: { id },
          body: { version: barred.version, action: 'pause', reason: 'Not now.', until: null },
        })
      ).codes,
    ).to.deep.equal(['state.notNow'])
  })
})

describe('the catalogue', () => {
  const world = useWorld()

  const numbers = async (q: string, category?: string): Promise<string[]> => {
    const ines = await world.as('Ines')
    return (await ines.do(SearchCatalogue, { query: category ? { q, category } : { q } })).items.map(
      item => item.number,
    )
  }

  it('is searched by words, parts of words, typing errors, numbers and GTIN', async () => {
    expect((await numbers('circulation pump')).slice(0, 4).every(number => number.startsWith('CP-'))).to.equal(true)
    expect(await numbers('skimm')).to.include('SK-1220')
    expect(await numbers('titanum exchanger')).to.include('HX-1220')
    expect((await numbers('bv-1240'))[0]).to.equal('BV-1240')
    const { gtin } = (await world.db('items').where({ number: 'PR-1200' }).first('gtin')) as { gtin: string }
    expect(await numbers(gtin)).to.deep.equal(['PR-1200'])
    expect(await numbers('zzzzqqqq')).to.deep.equal([])
  })

  it('takes quotes, operators and wildcards as words', async () => {
    for (const q of [`'; drop table items; --`, '"unclosed', '%', '_', '\\', 'a & | ! b', ':*', '🐟']) {
      const answer = await (await world.as('Ines')).call(SearchCatalogue, { query: { q } })
      expect(answer.status, q).to.equal(200)
    }
  })

  it('narrows by category and counts each', async () => {
    const ines = await world.as('Ines')
    const all = await ines.do(CatalogueFacts)
    expect(all.categories.reduce((sum, one) => sum + one.count, 0)).to.equal(
      await world.db('items').then(rows => (rows as unknown[]).length),
    )
    const pumps = await ines.do(SearchCatalogue, { query: { category: 'Pumps' } })
    expect(pumps.items).to.have.length(all.categories.find(one => one.name === 'Pumps')!.count)
  })

  it('shows an item with every offer and when it can be there', async () => {
    const { id } = (await world.db('items').where({ number: 'PF-1200' }).first('id')) as { id: string }
    const item = await (await world.as('Ines')).do(ReadItem, { params: { id } })
    expect(item.offers.map(offer => offer.supplier).sort()).to.deep.equal([
      'Krillfisk Samvirke',
      'Levende Rotiferen Kwekerij',
    ])
    for (const offer of item.offers) expect(offer.earliest > today()).to.equal(true)
    expect(item.picture).to.match(/^<svg/)
  })

  it('fills a basket that is there on the next day and becomes one request', async () => {
    const ines = await world.as('Ines')
    const [salt, krill] = [await goodsLine(world, 'SW-1200', '40'), await goodsLine(world, 'FK-1200', '50')]
    const lines = [salt, krill].map(line => ({ itemId: line.itemId!, offerId: line.offerId!, quantity: line.quantity }))
    await ines.do(SaveBasket, { body: { lines } })
    const later = await (await world.as('Ines')).do(ReadBasket)
    expect(later.lines.map(line => [line.name, line.amount])).to.deep.equal([
      ['Synthetic sea salt 25 kg bag', '924.00'],
      ['Frozen krill, whole', '3100.00'],
    ])
    const { id } = await ines.do(RequestBasket)
    expect((await ines.do(ReadRequisition, { params: { id } })).lines.map(line => line.price)).to.deep.equal([
      '23.1',
      '62',
    ])
    expect((await ines.do(ReadBasket)).lines).to.deep.equal([])
    expect((await ines.call(RequestBasket)).codes).to.deep.equal(['basket.empty'])
  })
})

describe('a draft', () => {
  const world = useWorld()

  it('takes the price of an offered line from the offer, whatever the page says', async () => {
    const joren = await world.as('Joren')
    const { id, version } = await draft(world, [
      await goodsLine(world, 'SW-1200', '200', { price: '0.01', currency: 'JPY' }),
    ])
    expect((await joren.do(ReadRequisition, { params: { id } })).lines[0]).to.deep.include({
      price: '21.8',
      currency: 'EUR',
      amount: '4360.00',
    })
    await joren.do(SaveRequisition, {
      params: { id },
      body: { version, title: 'Less', reason: '', lines: [await goodsLine(world, 'SW-1200', '10')] },
    })
    expect((await joren.do(ReadRequisition, { params: { id } })).lines[0]!.price).to.equal('24.6')
  })

  it('keeps half-filled lines and says what is missing only when it is submitted', async () => {
    const joren = await world.as('Joren')
    const line = {
      kind: 'goods' as const,
      itemId: null,
      offerId: null,
      description: '',
      quantity: '0',
      unit: 'C62',
      price: '0',
      priceBase: '1',
      currency: 'EUR' as const,
      supplierId: null,
      needBy: null,
      addressId: null,
      splits: [],
    }
    const { id, version } = await joren.do(CreateRequisition, { body: { title: '', reason: '', lines: [line] } })
    const refused = await joren.call(SubmitRequisition, { params: { id }, body: { version } })
    expect(refused.status).to.equal(422)
    expect(refused.codes).to.include.members([
      'requisition.noTitle',
      'line.quantity',
      'line.noDescription',
      'line.noNeedBy',
      'line.noAccount',
      'line.noAddress',
      'line.noSupplier',
    ])
  })

  it('is nobody else’s to see, change or submit', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const ines = await world.as('Ines')
    expect((await ines.call(ReadRequisition, { params: { id } })).status).to.equal(404)
    expect(
      (await ines.call(SaveRequisition, { params: { id }, body: { version, title: 'Mine', reason: '', lines: [] } }))
        .codes,
    ).to.deep.equal(['right.notYours'])
    expect((await ines.call(SubmitRequisition, { params: { id }, body: { version } })).codes).to.deep.equal([
      'right.notYours',
    ])
    expect(
      (await ines.call(ActOnRequisition, { params: { id }, body: { version, action: 'cancel' } })).codes,
    ).to.deep.equal(['right.notYours'])
  })

  it('holds five hundred lines', async function () {
    this.timeout(60_000)
    const joren = await world.as('Joren')
    const line = await goodsLine(world, 'PT-1200', '10')
    const lines = Array.from({ length: 500 }, () => line)
    const { id, version } = await draft(world, lines, 'Everything')
    await joren.do(SubmitRequisition, { params: { id }, body: { version, checkReason: 'The whole rebuild.' } })
    expect((await joren.do(ReadRequisition, { params: { id } })).lines).to.have.length(500)
    expect(
      (await joren.call(CreateRequisition, { body: { title: 'Too many', reason: '', lines: [...lines, line] } }))
        .status,
    ).to.equal(400)
  })

  it('offers only open accounts and places, and what the person used last', async () => {
    const ines = await world.as('Ines')
    const choices = await ines.do(ReadChoices)
    expect(choices.accounts.every(one => one.open && one.year >= new Date().getFullYear())).to.equal(true)
    expect(choices.usual.accountId).to.be.a('string')
    await world.db('budgetAccounts').where({ id: choices.usual.accountId! }).update({ open: false })
    expect((await ines.do(ReadChoices)).usual.accountId).to.equal(null)
    await world.db('budgetAccounts').where({ id: choices.usual.accountId! }).update({ open: true })
  })

  it('copied from any request begins anew, without its dates', async () => {
    const id = await approved(world, [await goodsLine(world, 'PS-1200', '3')], 'To be copied')
    const joren = await world.as('Joren')
    const { version } = await joren.do(ReadRequisition, { params: { id } })
    const copy = await joren.do(ActOnRequisition, { params: { id }, body: { version, action: 'copy' } })
    const sheet = await joren.do(ReadRequisition, { params: { id: copy.id } })
    expect([sheet.state, sheet.title, sheet.lines[0]!.quantity, sheet.lines[0]!.needBy]).to.deep.equal([
      'draft',
      'To be copied',
      '3',
      null,
    ])
  })
})

describe('notes and files', () => {
  const world = useWorld()

  it('stand on the Sheet of whoever may see the document, and nowhere else', async () => {
    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const [joren, ines] = [await world.as('Joren'), await world.as('Ines')]
    await joren.do(WriteNote, { body: { documentKind: 'requisition', documentId: id, text: 'Seals are porous.' } })
    const file = await joren.upload('seals.txt', 'porous')
    const attached = await joren.do(Attach, {
      body: { documentKind: 'requisition', documentId: id, fileId: file.body.id },
    })
    const sheet = await joren.do(ReadRequisition, { params: { id } })
    expect([sheet.notes[0]!.text, sheet.attachments[0]!.name]).to.deep.equal(['Seals are porous.', 'seals.txt'])
    expect(
      (await ines.call(WriteNote, { body: { documentKind: 'requisition', documentId: id, text: 'Hello' } })).status,
    ).to.equal(404)
    expect((await ines.call(ReadAttachment, { params: { id: attached.id } })).status).to.equal(404)
    expect(await joren.text(ReadAttachment, { params: { id: attached.id } })).to.equal('porous')
  })

  it('are refused when empty, attached twice, or somebody else’s upload', async () => {
    const { id } = await draft(world, [])
    const [joren, ines] = [await world.as('Joren'), await world.as('Ines')]
    expect(
      (await joren.call(WriteNote, { body: { documentKind: 'requisition', documentId: id, text: '  ' } })).codes,
    ).to.deep.equal(['note.empty'])
    const file = await joren.upload('a.txt', 'a')
    const body = { documentKind: 'requisition' as const, documentId: id, fileId: file.body.id }
    await joren.do(Attach, { body })
    expect((await joren.call(Attach, { body })).codes).to.deep.equal(['file.attachedAlready'])
    const other = await ines.upload('b.txt', 'b')
    expect((await joren.call(Attach, { body: { ...body, fileId: other.body.id } })).status).to.equal(404)
  })

  it('keep strange names harmless', async () => {
    const joren = await world.as('Joren')
    for (const [sent, kept] of [
      ['../../etc/passwd', 'passwd'],
      ['C:\\temp\\plan.txt', 'plan.txt'],
      ['Zeichnung für Kelp.txt', 'Zeichnung für Kelp.txt'],
    ] as const)
      expect((await joren.upload(sent, 'x')).body.name).to.equal(kept)
  })
})

describe('the Desk and the Course', () => {
  const world = useWorld()

  it('show each person what waits for them, and nothing of others', async () => {
    const kinds = async (who: string): Promise<Set<string>> => {
      const desk = await (await world.as(who)).do(ReadDesk)
      return new Set(desk.items.map(item => item.key.split(':')[0]!))
    }
    expect([...(await kinds('Marit'))]).to.include('decide')
    expect([...(await kinds('Pilar'))]).to.include.members(['toBuy', 'answer', 'issue', 'late', 'hold'])
    expect([...(await kinds('Yuki'))].sort()).to.deep.equal(['expected', 'inspect'])
    expect([...(await kinds('Leonie'))]).to.include('post')
    expect([...(await kinds('Casimir'))]).to.include.members(['refused', 'prove'])
    expect([...(await kinds('Adaeze'))]).to.include.members(['approveRun', 'prove'])
    expect([...(await kinds('Wren'))]).to.deep.equal(['stalled'])
  })

  it('put what stops and what is needed soonest first', async () => {
    const { items } = await (await world.as('Pilar')).do(ReadDesk)
    const stops = items.map(item => item.tone === 'stop')
    expect(stops.lastIndexOf(true)).to.be.lessThan(stops.indexOf(false))
    const dates = items.filter(item => item.tone !== 'stop').map(item => item.needBy ?? '9999')
    expect(dates).to.deep.equal([...dates].sort())
  })

  it('count alike', async () => {
    for (const who of ['Pilar', 'Marit', 'Adaeze']) {
      const client = await world.as(who)
      const [desk, counts] = [await client.do(ReadDesk), await client.do(ReadCounts)]
      expect(counts.desk, who).to.equal(desk.items.length)
      expect(
        counts.stages.reduce((sum, stage) => sum + stage.waiting, 0),
        who,
      ).to.equal(desk.items.length)
    }
  })

  it('find an exact number whatever its age, and otherwise by name', async () => {
    const pilar = await world.as('Pilar')
    for (const q of ['O-4001', 'o 4001', '4001'])
      expect((await pilar.do(Find, { query: { q } })).found.map(one => [one.kind, one.exact])).to.deep.equal([
        ['order', true],
      ])
    const kinds = (await pilar.do(Find, { query: { q: 'nordhavn' } })).found.map(one => one.kind)
    expect(kinds).to.include.members(['supplier', 'order'])
    expect((await (await world.as('Ines')).do(Find, { query: { q: 'O-4001' } })).found).to.deep.equal([])
  })

  it('hear of what they show over one open connection, and of nothing else', async () => {
    const joren = await world.as('Joren')
    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const other = await draft(world, [await goodsLine(world, 'PS-1200', '2')])
    const news = await listen(world, joren, [`document:${id}`, 'kind:order'])
    for (const one of [other, { id, version: 1 }])
      await joren.do(WriteNote, {
        body: { documentKind: 'requisition', documentId: one.id, text: 'As discussed.' },
      })
    expect(await news.next()).to.deep.equal({ event: 'changed', topics: [`document:${id}`] })
    news.stop()
    expect((await fetch(`${world.address}/api/events`)).status).to.equal(401)
  })

  it('hear what changed while they were not listening', async () => {
    const joren = await world.as('Joren')
    const { at } = await joren.do(ReadSession)
    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const news = await listen(world, joren, [`document:${id}`], `&since=${Date.parse(at)}`)
    expect(await news.next()).to.deep.equal({ event: 'changed', topics: [`document:${id}`] })
    news.stop()
    const later = await listen(world, joren, [`document:${id}`], '&since=1')
    expect(await later.next()).to.deep.equal({ event: 'missed', topics: [] })
    later.stop()
  })

  it('of a supplier hear of their own orders, not of another supplier’s', async () => {
    const [own, other] = [
      await ordered(world, [await goodsLine(world, 'PS-1200', '1')]),
      await ordered(world, [await goodsLine(world, 'SW-1200', '1')], { answer: false }),
    ]
    expect(own.company).to.not.equal(other.company)
    const news = await listen(world, await world.as(`at ${own.company}`), [
      `document:${other.id}`,
      `document:${own.id}`,
    ])
    for (const order of [other, own]) await received(world, order)
    expect(await news.next()).to.deep.equal({ event: 'changed', topics: [`document:${own.id}`] })
    news.stop()
  })

  it('end with signing out', async () => {
    const ines = await world.as('Ines')
    expect((await ines.do(ReadSession)).person?.name).to.equal('Ines Castellane')
    await ines.do(SignOut)
    expect((await ines.do(ReadSession)).person).to.equal(null)
    expect((await ines.call(ReadDesk)).status).to.equal(401)
  })
})

describe('Setup', () => {
  const world = useWorld()

  it('a new rule counts for what is submitted from then on', async () => {
    const wren = await world.as('Wren')
    const waiting = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const joren = await world.as('Joren')
    await joren.do(SubmitRequisition, {
      params: { id: waiting.id },
      body: { version: waiting.version, checkReason: 'Needed.' },
    })
    await wren.do(BeginRules)
    const draftOf = async () => {
      const { sets } = await wren.do(ReadRules)
      return await wren.do(ReadRuleSet, { params: { id: sets.find(one => one.state === 'draft')!.id } })
    }
    const before = await draftOf()
    const director: RuleJson = {
      ...before.rules[0]!,
      name: 'Director sees all of LS-210',
      conditions: [{ fact: 'costCentre', not: false, values: ['LS-210'] }],
      stage: 5,
      who: { kind: 'role', role: 'director', inCentre: false },
    }
    const rules = [...before.rules.filter(rule => rule.who.kind !== 'people'), director]
    const params = { id: before.id }
    await wren.do(SaveRules, { params, body: { version: before.version, rules } })
    const { version } = await draftOf()
    const today = dayOf(new Date().toISOString(), 'Europe/Amsterdam')
    const asked = await wren.do(PublishRules, { params, body: { version, fromDay: today, note: 'More eyes.' } })
    expect(asked.waits, 'rules decide over money: a second person agrees').to.equal(true)
    const adaeze = await world.as('Adaeze')
    const [change] = (await adaeze.do(ListPowerChanges)).changes
    await adaeze.do(AnswerPowerChange, {
      params: { id: change!.id },
      body: { version: change!.version, answer: 'agree', reason: '' },
    })
    const steps = async (id: string): Promise<string[]> =>
      (await joren.do(ReadRequisition, { params: { id } })).steps.flatMap(step => step.approvers.map(one => one.name))
    const after = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    await joren.do(SubmitRequisition, {
      params: { id: after.id },
      body: { version: after.version, checkReason: 'Needed.' },
    })
    expect(await steps(waiting.id)).to.deep.equal(['Marit Oland'])
    expect(await steps(after.id)).to.deep.equal(['Marit Oland', 'Henrik Solvang-Abe'])
    expect((await wren.call(SaveRules, { params, body: { version: version + 1, rules } })).codes).to.deep.equal([
      'rule.published',
    ])
  })

  it('leaves the account of the jobs alone: nobody sees it among the people, and nobody opens it', async () => {
    const wren = await world.as('Wren')
    const { people } = await wren.do(ListPeople)
    expect(people.map(person => person.name)).to.not.include('Ivory Order')
    const opened = await wren.call(ChangePerson, {
      params: { id: SYSTEM_PERSON },
      body: { version: 1, active: true, roles: [{ role: 'treasurer', costCentre: null }] },
    })
    expect([opened.status, opened.codes]).to.deep.equal([404, ['document.notFound']])
    expect(await world.db('people').where({ id: SYSTEM_PERSON, active: true })).to.deep.equal([])
  })

  it('closes an account at once, and a steward cannot lock themselves out', async () => {
    const [wren, dov] = [await world.as('Wren'), await world.as('Dov')]
    const { people } = await wren.do(ListPeople)
    const find = (name: string) => people.find(person => person.name.startsWith(name))!
    await wren.do(ChangePerson, {
      params: { id: find('Dov').id },
      body: { version: find('Dov').version, active: false, roles: find('Dov').roles },
    })
    expect((await dov.call(ReadDesk)).status).to.equal(401)
    const self = find('Wren')
    expect(
      (
        await wren.call(ChangePerson, {
          params: { id: self.id },
          body: { version: self.version, active: false, roles: self.roles },
        })
      ).codes,
    ).to.deep.equal(['person.ownStewardship'])
    expect(
      (
        await wren.call(ChangePerson, {
          params: { id: self.id },
          body: {
            version: self.version,
            active: true,
            roles: [{ role: 'supplierSales', costCentre: null }, ...self.roles],
          },
        })
      ).codes,
    ).to.deep.equal(['person.role'])
  })
})

describe('Insight', () => {
  const world = useWorld()

  it('opens a budget to the entries behind its figures, and they re-add', async () => {
    const marit = await world.as('Marit')
    const page = await marit.do(Budgets.page, { query: { view: 'mine', limit: 200 } })
    expect(new Set(page.rows.map(row => row.title.slice(0, 6)))).to.deep.equal(new Set(['EX-310', 'LS-210']))
    const sheet = await marit.do(ReadBudget, { params: { id: await account(world, 'LS-210', '6020') } })
    const sum = (kind: string): number =>
      Math.round(
        sheet.entries.filter(entry => entry.kind === kind).reduce((total, entry) => total + Number(entry.amount), 0) *
          100,
      )
    for (const kind of ['reserved', 'committed', 'spent', 'allotted'] as const)
      expect(sum(kind), kind).to.equal(Math.round(Number(sheet.figures[kind]) * 100))
  })

  it('re-adds the books for those who may', async () => {
    const report = await (await world.as('Adaeze')).do(RunAudit)
    expect(report.differences).to.deep.equal([])
    expect(report.historyRecords).to.be.greaterThan(400)
    expect((await (await world.as('Pilar')).call(RunAudit)).status).to.equal(403)
  })
})

describe('invoices from files', () => {
  const world = useWorld()

  it('that name no order are linked by the clerk to the line they bill', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
    await received(world, order)
    const leonie = await world.as('Leonie')
    const file = await leonie.upload(
      'x.xml',
      plainInvoice({
        number: 'N-1',
        order: '',
        vat: vatOf('nordhavn'),
        quantity: '4',
        price: '85.00',
        net: '340.00',
        issueDate: today(),
      }),
    )
    const invoice = await leonie.do(ReadInvoiceFile, { body: { fileId: file.body.id } })
    expect(invoice.state).to.equal('onHold')
    const sheet = await leonie.do(ReadInvoice, { params: { id: invoice.id } })
    expect(sheet.holds.map(hold => hold.kind)).to.deep.equal(['noOrderLine'])
    await leonie.do(LinkInvoiceLine, {
      params: { id: invoice.id, lineId: sheet.lines[0]!.id },
      body: { version: sheet.version, orderLineId: order.lines[0]!.id },
    })
    expect((await leonie.do(ReadInvoice, { params: { id: invoice.id } })).state).to.equal('matched')
  })

  it('in another unit are held, in one that converts they are not', async () => {
    const order = await ordered(world, [await goodsLine(world, 'FK-1220', '100')])
    const lines = await world
      .db('orderLines')
      .where({ orderId: order.id })
      .select('unit', 'currency')
      .join('orders', 'orders.id', 'orderLines.orderId')
    expect(lines[0]).to.deep.equal({ unit: 'KGM', currency: 'NOK' })
    await received(world, order)
    const leonie = await world.as('Leonie')
    const read = async (number: string, unit: string, quantity: string, price: string): Promise<string> => {
      const xml = plainInvoice({
        number,
        order: order.number,
        vat: vatOf('krill'),
        quantity,
        unit,
        price,
        net: '4402.00',
        issueDate: today(),
      }).replaceAll('EUR', 'NOK')
      const file = await leonie.upload('x.xml', xml)
      const { id } = await leonie.do(ReadInvoiceFile, { body: { fileId: file.body.id } })
      return (await leonie.do(ReadInvoice, { params: { id } })).holds
        .filter(hold => !hold.endedAt)
        .map(hold => hold.kind)
        .join()
    }
    expect(await read('KG-1', 'TNE', '0.1', '44020.00')).to.equal('')
    expect(await read('KG-2', 'LTR', '100', '44.02')).to.include('unit')
  })

  it('with freight that nobody agreed are held by the amount', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
    await received(world, order)
    const invoice = await billed(world, order, { freight: '60.00' })
    const sheet = await (await world.as('Leonie')).do(ReadInvoice, { params: { id: invoice.id } })
    expect(sheet.holds.map(hold => [hold.kind, hold.amount, hold.clearedBy])).to.deep.equal([
      ['charges', '60.00', 'buyer'],
    ])
  })

  it('are listed with what holds them', async () => {
    const page = await (await world.as('Leonie')).do(Invoices.page, { query: { state: 'onHold', limit: 100 } })
    expect(page.rows.length).to.be.greaterThan(3)
    expect(page.rows.every(row => row.note!.code.startsWith('invoice.short.held'))).to.equal(true)
  })
})

describe('the supplier’s pages', () => {
  const world = useWorld()

  it('hold the orders of one company, what waits for it first', async () => {
    const aslaug = await world.as('at Nordhavn Pumpeverk')
    const { orders } = await aslaug.do(SupplierOrders)
    const own = (await world
      .db('orders')
      .join('suppliers', 'suppliers.id', 'supplierId')
      .where({ name: 'Nordhavn Pumpeverk' })
      .whereNot('orders.state', 'draft')
      .select('orders.number')) as { number: string }[]
    expect(orders.map(order => order.number)).to.have.members(own.map(row => row.number))
    expect(orders.map(order => order.waiting)).to.include.members(['answer', 'buyer'])
  })

  it('show the order as it was issued, with what changed since', async () => {
    const { id } = (await world.db('orders').where({ title: 'Six pumps for skids 1 to 3' }).first('id')) as {
      id: string
    }
    const aslaug = await world.as('at Nordhavn Pumpeverk')
    const current = await aslaug.do(SupplierOrder, { params: { id } })
    expect([current.revision, current.lines[0]!.quantity, current.differences[0]!.fields[0]]).to.deep.equal([
      1,
      '5',
      { field: 'quantity', before: '6', after: '5' },
    ])
    const first = await aslaug.do(SupplierOrder, { params: { id }, query: { revision: 0 } })
    expect([first.lines[0]!.quantity, first.answerable, first.billable]).to.deep.equal(['6', false, false])
    expect((await aslaug.call(SupplierOrder, { params: { id }, query: { revision: 9 } })).status).to.equal(404)
  })
})

describe('the job worker', () => {
  const world = useWorld()

  it('sends what waits by itself and tries again after a fault', async function () {
    this.timeout(60_000)
    world.mail.faults.forgetToAnswer = 1
    const runner = await startWorker(world.jobs, JOBS, CRONTAB, { pollInterval: 200 })
    try {
      const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')], { answer: false })
      for (let waited = 0; waited < 150; waited++) {
        const row = (await world.db('outbox').where({ documentId: order.id }).first('state')) as { state: string }
        if (row.state === 'sent') break
        await new Promise(resolve => setTimeout(resolve, 200))
      }
      expect((await world.db('outbox').where({ documentId: order.id }).first('state')) as object).to.deep.equal({
        state: 'sent',
      })
    } finally {
      await runner.stop()
    }
  })
})

describe('the contract as a document', () => {
  it('is OpenAPI with every endpoint and its permission', () => {
    const document = openApi() as {
      openapi: string
      paths: Record<string, Record<string, { operationId: string; 'x-permission': string }>>
    }
    expect(document.openapi).to.equal('3.1.0')
    const operations = Object.values(document.paths).flatMap(methods => Object.values(methods))
    expect(operations.map(one => one.operationId).sort()).to.deep.equal(ENDPOINTS.map(endpoint => endpoint.name).sort())
    expect(document.paths['/api/orders/{id}']!.get!['x-permission']).to.equal('order.read')
  })
})

describe('exports', () => {
  const world = useWorld()

  it('hold every row that the list shows, page after page', async () => {
    const pilar = await world.as('Pilar')
    const csv = await pilar.text(Orders.export, { params: { format: 'csv' }, query: { view: 'all' } })
    const count = ((await world.db('orders').select('id')) as unknown[]).length
    expect(csv.trim().split('\r\n')).to.have.length(count + 1)
    expect(csv.split('\r\n')[0]).to.include('Number,What,State,Supplier')
  })

  it('refuse a format that is not there', async () => {
    const answer = await fetch(`${world.address}/api/orders/export/pdf`, {
      headers: { cookie: (await world.as('Pilar')).cookie },
    })
    expect(answer.status).to.equal(404)
  })

  it('are nobody’s without the right', async () => {
    expect((await new Client(world.address, '').call(Orders.export, { params: { format: 'csv' } })).status).to.equal(
      401,
    )
    expect((await (await world.as('Ines')).call(Orders.export, { params: { format: 'csv' } })).status).to.equal(403)
  })
})

it('days in tests are days of the team', () => {
  expect(addDays(today(), 1) > today()).to.equal(true)
})
