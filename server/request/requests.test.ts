import { expect } from 'chai'
import { json } from '#server/database/json.ts'
import { PostInvoice, ReadInvoice } from '#contract/bill/endpoints.ts'
import { Decide, RemindHolders } from '#contract/decide/endpoints.ts'
import { ReadDelivery, Receive } from '#contract/receive/endpoints.ts'
import { AnswerReports, ReadReports } from '#contract/receive/reports.ts'
import {
  ActOnRequisition,
  CheckRequisition,
  CreateRequisition,
  ProposeAccounts,
  ReadNeeds,
  ReadRequisition,
  RequisitionPdf,
  SaveRequisition,
  SubmitRequisition,
} from '#contract/request/endpoints.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { ProposeSupplier } from '#contract/source/onboarding.ts'
import { addDays } from '#core/calendar/days.ts'
import {
  account,
  approved,
  billed,
  draft,
  draftedFrom,
  figures,
  goodsLine,
  issuedFrom,
  moved,
  ordered,
  PLACE,
  today,
} from '#test-helpers/steps.ts'
import { useWorld, type World } from '#test-helpers/world.ts'

const supplierId = async (world: World, name: string): Promise<string> =>
  ((await world.db('suppliers').where({ name }).first('id')) as { id: string }).id

async function plain(world: World, changed: Partial<LineBody> = {}): Promise<LineBody> {
  return {
    kind: 'fixedPriceWork',
    itemId: null,
    offerId: null,
    description: 'Sealing of the pump pit',
    quantity: '1',
    unit: 'E48',
    price: '900',
    priceBase: '1',
    currency: 'EUR',
    supplierId: await supplierId(world, 'Brightwater Diving'),
    needBy: addDays(today(), 40),
    addressId: PLACE,
    splits: [{ accountId: await account(world, 'LS-210', '6220'), share: '1' }],
    ...changed,
  }
}

describe('the five kinds of line', () => {
  const world = useWorld()
  const checked = async (lines: LineBody[]) => {
    const { id } = await draft(world, lines)
    return await (await world.as('Joren')).do(CheckRequisition, { params: { id } })
  }
  const stops = async (line: LineBody): Promise<string[]> =>
    (await checked([line])).reasons.filter(reason => reason.level === 'stop').map(reason => reason.code)

  it('are each accepted with their own fields', async () => {
    const person = { name: 'Linde Kvistgaard', taxStatus: 'selfEmployed' as const, taxNumber: '' }
    const lines = [
      await goodsLine(world, 'PS-1200', '2'),
      await plain(world, { kind: 'goodsByAmount', quantity: '400', unit: 'M4', price: '1' }),
      await plain(world),
      await plain(world, { kind: 'workByRate', quantity: '24', unit: 'HUR', price: '96', details: { expected: '16' } }),
      await plain(world, { kind: 'personalFee', price: '1450', details: { person } }),
    ]
    const { reasons, lines: facts } = await checked(lines)
    expect(reasons.filter(reason => reason.level === 'stop')).to.deep.equal([])
    expect(facts.map(one => [one.unit, one.amount, one.proof.proof])).to.deep.equal([
      ['C62', '170.00', 'count'],
      ['M4', '400.00', 'count'],
      ['E48', '900.00', 'acceptWork'],
      ['HUR', '2304.00', 'acceptWork'],
      ['E48', '1450.00', 'acceptWork'],
    ])
  })

  it('refuse what their kind cannot be', async () => {
    expect(await stops(await plain(world, { kind: 'personalFee' }))).to.deep.equal(['line.feeFor', 'line.taxStatus'])
    expect(
      await stops(await plain(world, { kind: 'workByRate', unit: 'HUR', quantity: '8', details: { expected: '9' } })),
    ).to.deep.equal(['line.overCeiling'])
    const parts = (amount: string) => ({
      instalments: [
        { title: 'First', amount: '400', due: '' },
        { title: 'Second', amount, due: '' },
      ],
    })
    expect(await stops(await plain(world, { details: parts('499.99') }))).to.deep.equal(['line.instalmentsAdd'])
    expect(await stops(await plain(world, { details: parts('500') }))).to.deep.equal([])
    expect(await stops(await plain(world, { quantity: '2' }))).to.include('line.workQuantity')
  })

  it('with instalments count money, so that each is accepted and billed by itself', async () => {
    const { lines } = await checked([
      await plain(world, { details: { instalments: [{ title: 'All', amount: '900', due: '' }] } }),
    ])
    expect(lines[0]).to.deep.include({ unit: 'M4', quantity: '900', price: '1', amount: '900.00' })
  })

  it('stop at quantities that are no quantities, closed places, currencies without a rate and foreign terms', async () => {
    for (const quantity of ['0', '-3'])
      expect(await stops(await goodsLine(world, 'PS-1200', quantity)), quantity).to.include('line.quantity')
    expect(await stops(await goodsLine(world, 'PS-1200', '999999999999'))).to.include('line.quantityTooLarge')
    const joren = await world.as('Joren')
    const tooFine = { ...(await goodsLine(world, 'PS-1200', '1')), quantity: '0.0000001' }
    expect(
      (await joren.call(CreateRequisition, { body: { title: 'x', reason: '', lines: [tooFine] } })).status,
    ).to.equal(400)
    const onlyWork = (await world.db('addresses').where({ code: 'KELP' }).first('id')) as { id: string }
    expect(await stops(await goodsLine(world, 'PS-1200', '1', { addressId: onlyWork.id }))).to.deep.equal([
      'line.addressNot.delivery',
    ])
    await world.db('addresses').where({ id: onlyWork.id }).update({ open: false })
    expect(await stops(await plain(world, { addressId: onlyWork.id }))).to.deep.equal(['line.addressClosed'])
    expect(await stops(await plain(world, { currency: 'KWD' }))).to.include('line.noRate')
    expect(
      await stops(await goodsLine(world, 'PS-1200', '1', { incoterm: 'EXW', incotermPlace: 'Nordhavn' })),
    ).to.include('term.notAllowed')
    expect(await stops(await goodsLine(world, 'PS-1200', '1', { incoterm: 'DAP' }))).to.include('term.noPlace')
    const past = await stops(await goodsLine(world, 'PS-1200', '1', { needBy: addDays(today(), -1) as 'x' }))
    expect(past).to.deep.equal(['line.needByPast'])
    const leap = await joren.call(CreateRequisition, {
      body: {
        title: 'x',
        reason: '',
        lines: [await goodsLine(world, 'PS-1200', '1', { needBy: '2027-02-29' as 'x' })],
      },
    })
    expect(leap.status).to.equal(400)
  })

  it('stop at splits that do not add, closed accounts and closed projects', async () => {
    const [a, b] = [await account(world, 'LS-210', '6210'), await account(world, 'EX-310', '6210')]
    const split = (splitBy: 'percent' | 'amount', first: string, second: string) =>
      goodsLine(world, 'PS-1200', '2', {
        splitBy,
        splits: [
          { accountId: a, share: first },
          { accountId: b, share: second },
        ],
      })
    expect(await stops(await split('percent', '60', '41'))).to.deep.equal(['line.splitsAdd'])
    expect(await stops(await split('amount', '100', '70'))).to.deep.equal([])
    expect(await stops(await split('amount', '100', '70.01'))).to.deep.equal(['line.splitsAdd'])
    const jelly = await account(world, 'RS-710', '1510', 'JELLY-NURS')
    await world.db('projects').where({ code: 'JELLY-NURS' }).update({ open: false })
    expect(
      await stops(await goodsLine(world, 'PS-1200', '1', { splits: [{ accountId: jelly, share: '1' }] })),
    ).to.deep.equal(['line.projectClosed'])
    await world.db('budgetAccounts').where({ id: b }).update({ open: false })
    expect(await stops(await split('percent', '50', '50'))).to.deep.equal(['budget.closed'])
  })

  it('are narrowed in what may happen next by value and category, and say which rule', async () => {
    const { reasons, lines } = await checked([
      await goodsLine(world, 'CP-1260', '10', { routes: ['orderNow', 'askForQuotes'] }),
    ])
    expect(lines[0]!.routes).to.deep.equal(['askForQuotes'])
    expect(reasons.find(reason => reason.code === 'route.ruled')!.details.rule).to.equal('Quotes from 40 000')
    expect(await stops(await goodsLine(world, 'CP-1260', '10', { routes: ['orderNow'] }))).to.deep.equal(['route.none'])
  })

  it('ask about carriage only where the term leaves it to us, and nobody said', async () => {
    const offer = (await world.db('offers').where({ supplierItem: 'SECP1200' }).first('id')) as { id: string }
    const line = { ...(await goodsLine(world, 'CP-1200', '1')), offerId: offer.id }
    const asks = async (changed: Partial<LineBody>): Promise<boolean> =>
      (await checked([{ ...line, ...changed }])).reasons.some(reason => reason.code === 'line.freight')
    expect(await asks({})).to.equal(true)
    expect(await asks({ freight: 'own' })).to.equal(false)
    expect(await asks({ incoterm: 'DAP', incotermPlace: 'Saltmere' })).to.equal(false)
  })
})

describe('an offer that changes while a draft is open', () => {
  const world = useWorld()

  it('is shown as a difference; its price is kept, or renewed by choice', async () => {
    const joren = await world.as('Joren')
    const line = await goodsLine(world, 'PS-1200', '2')
    const made = await draft(world, [line])
    const read = () => joren.do(ReadRequisition, { params: { id: made.id } })
    const first = await read()
    await world
      .db('offers')
      .where({ id: line.offerId! })
      .update({ tiers: json([{ from: '1', price: '99' }]) })
    const again = await joren.do(SaveRequisition, {
      params: { id: made.id },
      body: { version: first.version, title: 'Kept', reason: '', lines: [{ ...line, id: first.lines[0]!.id }] },
    })
    expect((await read()).lines[0]!.facts).to.deep.include({
      price: '85',
      amount: '170.00',
      offerNow: { kept: '85', now: '99', endedOn: null },
    })
    await joren.do(SaveRequisition, {
      params: { id: made.id },
      body: {
        version: again.version,
        title: 'New',
        reason: '',
        lines: [{ ...line, id: first.lines[0]!.id, refresh: true }],
      },
    })
    expect((await read()).lines[0]!.facts).to.deep.include({ price: '99', amount: '198.00', offerNow: null })
  })

  it('and one that ended wants a reason, and keeps its price', async () => {
    const line = await goodsLine(world, 'PS-1220', '1')
    const { id, version } = await draft(world, [line])
    await world
      .db('offers')
      .where({ id: line.offerId! })
      .update({ validTo: addDays(today(), -1) })
    const joren = await world.as('Joren')
    const { reasons } = await joren.do(CheckRequisition, { params: { id } })
    expect(reasons.find(one => one.code === 'line.offerExpired')!.level).to.equal('check')
    const refused = await joren.call(SubmitRequisition, { params: { id }, body: { version } })
    expect(refused.codes).to.include('requisition.wantsReason')
    await joren.do(SubmitRequisition, {
      params: { id },
      body: { version, checkReason: 'The supplier keeps the price by word.' },
    })
  })
})

describe('budgets of a request with every kind', () => {
  const world = useWorld()

  it('equal the ledger after submitting, after sending back, and after withdrawing', async () => {
    const [a, b] = [await account(world, 'LS-210', '6210'), await account(world, 'LS-210', '6220')]
    const before = [await figures(world, a), await figures(world, b)]
    const joren = await world.as('Joren')
    const proposed = await joren.do(ProposeSupplier, {
      body: {
        name: 'Tidepool Masonry',
        kind: 'company',
        country: 'NL',
        city: '',
        web: '',
        contactName: 'Jip',
        contactMail: 'jip@tidepool.example',
        categories: [],
        need: 'Seals',
        requisitionId: null,
      },
    })
    const lines = [
      await goodsLine(world, 'PS-1200', '3', {
        splitBy: 'percent',
        splits: [
          { accountId: a, share: '33.33' },
          { accountId: b, share: '66.67' },
        ],
      }),
      await plain(world, {
        supplierId: proposed.supplierId,
        price: '333.33',
        splits: [
          { accountId: a, share: '1' },
          { accountId: b, share: '2' },
        ],
      }),
    ]
    const made = await draft(world, lines)
    const { version } = await joren.do(SubmitRequisition, {
      params: { id: made.id },
      body: { version: made.version, checkReason: 'Needed.' },
    })
    const sum = async (): Promise<bigint> =>
      (await figures(world, a)).reserved -
      before[0]!.reserved +
      (await figures(world, b)).reserved -
      before[1]!.reserved
    expect(await sum()).to.equal(25500n + 33333n)
    expect(moved(before[0]!, await figures(world, a)).reserved).to.equal(8499n + 11111n)
    await joren.do(ActOnRequisition, {
      params: { id: made.id },
      body: { version, action: 'withdraw', reason: 'Not now.' },
    })
    expect(await sum()).to.equal(0n)
  })

  it('are proposed from what paid for such things before, in the year in which it is needed', async () => {
    const joren = await world.as('Joren')
    const { itemId } = await goodsLine(world, 'BV-1240', '1')
    const year = Number(today().slice(0, 4))
    const ask = async (needBy: string, category = '', item: string | null = itemId) =>
      (
        await joren.do(ProposeAccounts, {
          body: { lines: [{ itemId: item, category, needBy: needBy as 'x', project: null }] },
        })
      ).lines[0]!.proposals
    const [first] = await ask(today())
    expect(first!.because).to.equal('sameItem')
    expect(first!.label).to.match(/^LS-210 \/ \d{4}, \d{4}/)
    expect((await ask(`${year + 1}-02-01`))[0]!.label).to.include(String(year + 1))
    const categories = await ask(today(), 'Diving & rope access', null)
    expect(categories.map(one => one.because)).to.include('sameCategory')
  })
})

describe('a personal fee', () => {
  const world = useWorld()

  it('shows whom it is for to those concerned only', async () => {
    const person = { name: 'Linde Kvistgaard', taxStatus: 'selfEmployed' as const, taxNumber: 'DK-1' }
    const id = await approved(world, [
      await plain(world, {
        kind: 'personalFee',
        description: 'Talk by Linde',
        price: '300',
        details: { person },
        supplierId: await supplierId(world, 'Linde Kvistgaard'),
      }),
    ])
    const seen = async (who: string) => (await (await world.as(who)).do(ReadRequisition, { params: { id } })).lines[0]!
    for (const who of ['Joren', 'Marit', 'Pilar', 'Adaeze'])
      expect((await seen(who)).details.person?.name, who).to.equal('Linde Kvistgaard')
    const hidden = await seen('Henrik')
    expect([hidden.confidential, hidden.description, hidden.supplier, hidden.details, hidden.baseAmount]).to.deep.equal(
      [true, '', null, {}, '300.00'],
    )
    const pdf = await (await world.as('Henrik')).call(RequisitionPdf, { params: { id } })
    expect(pdf.status).to.equal(200)
    const row = (await world.db('requisitions').where({ id }).first('search')) as { search: string }
    expect(row.search).to.not.include('linde')
  })
})

describe('how work is proven', () => {
  const world = useWorld()
  /** An order for work at a price of its own, whose line is proven as said. */
  const work = async (proof: 'billFirst' | 'none', price: string) => {
    const requisitionId = await approved(world, [await plain(world, { price })])
    await world.db('requisitionLines').where({ requisitionId }).update({ proof })
    return await issuedFrom(world, await draftedFrom(world, requisitionId))
  }

  it('billed first: the bill makes the report, waits until that is accepted, and nothing is accrued twice', async () => {
    const accountId = await account(world, 'LS-210', '6220')
    const order = await work('billFirst', '500')
    const before = await figures(world, accountId)
    const invoice = await billed(world, order)
    expect(invoice.state).to.equal('onHold')
    const joren = await world.as('Joren')
    const { reports } = await joren.do(ReadReports, { params: { id: order.id } })
    expect(reports.map(one => [one.origin, one.state, one.mayAnswer])).to.deep.equal([['invoice', 'sent', true]])
    await joren.do(AnswerReports, { body: { answer: 'accept', reason: '', reports: [{ id: reports[0]!.id }] } })
    const leonie = await world.as('Leonie')
    const sheet = await leonie.do(ReadInvoice, { params: { id: invoice.id } })
    expect(sheet.state).to.equal('matched')
    await leonie.do(PostInvoice, { params: { id: invoice.id }, body: { version: sheet.version } })
    expect(moved(before, await figures(world, accountId))).to.deep.equal({
      reserved: 0n,
      committed: -50000n,
      spent: 50000n,
      accrued: 0n,
    })
  })

  it('not at all: nothing waits to be accepted, and the bill passes', async () => {
    const order = await work('none', '620')
    const joren = await world.as('Joren')
    const delivery = await joren.do(ReadDelivery, { params: { id: order.id } })
    expect(delivery.lines[0]).to.deep.include({ open: '0', mayProve: false })
    const refused = await joren.call(Receive, {
      params: { id: order.id },
      body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity: '1' }] },
    })
    expect(refused.codes).to.deep.equal(['receive.notProven'])
    expect((await billed(world, order)).state).to.equal('matched')
  })

  it('is changed by those with the right only', async () => {
    const joren = await world.as('Joren')
    const refused = await joren.call(CreateRequisition, {
      body: { title: 'x', reason: '', lines: [await plain(world, { proof: 'none' })] },
    })
    expect([refused.status, refused.codes]).to.deep.equal([403, ['right.missing']])
    const pilar = await world.as('Pilar')
    const { id } = await pilar.do(CreateRequisition, {
      body: { title: 'x', reason: '', lines: [await plain(world, { proof: 'none' })] },
    })
    expect((await pilar.do(ReadRequisition, { params: { id } })).lines[0]!.facts.proof).to.deep.equal({
      proof: 'none',
      from: 'line',
    })
  })

  it('instalments are accepted one by one, in money', async () => {
    const order = await ordered(world, [
      await plain(world, {
        price: '900',
        details: {
          instalments: [
            { title: 'First', amount: '300', due: '' },
            { title: 'Second', amount: '600', due: '' },
          ],
        },
      }),
    ])
    const joren = await world.as('Joren')
    const accept = (quantity: string) =>
      joren.call(Receive, {
        params: { id: order.id },
        body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity }] },
      })
    expect(
      (await joren.do(ReadDelivery, { params: { id: order.id } })).lines[0]!.instalments.map(one => one.title),
    ).to.deep.equal(['First', 'Second'])
    expect((await accept('300')).status).to.equal(200)
    expect((await billed(world, order, { quantity: '300' })).state).to.equal('matched')
    expect((await accept('601')).codes).to.deep.equal(['receive.overTolerance'])
    expect((await accept('600')).status).to.equal(200)
  })
})

describe('what a requester sees of it', () => {
  const world = useWorld()

  it('is every need with its state and what is theirs to do', async () => {
    const { needs } = await (await world.as('Ines')).do(ReadNeeds, { query: { view: 'all' } })
    expect(needs.length).to.be.above(10)
    const asked = needs.find(need => need.title === 'Calcium and magnesium')!
    expect(asked.toDo.map(one => one.what)).to.include('answer')
    expect(needs.find(need => need.state === 'draft')!.toDo[0]!.what).to.equal('submit')
    expect((await (await world.as('Yuki')).do(ReadNeeds, { query: {} })).needs).to.deep.equal([])
  })

  it('reminds those who hold it, once a day', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const joren = await world.as('Joren')
    const remind = () => joren.call(RemindHolders, { params: { id } })
    expect((await remind()).codes).to.deep.equal(['remind.notWaiting'])
    await joren.do(SubmitRequisition, { params: { id }, body: { version } })
    expect((await remind()).status).to.equal(200)
    expect((await remind()).codes).to.deep.equal(['remind.already'])
    const mails = (await world.db('outbox').where({ documentId: id }).whereRaw("key like 'remind:%'")) as unknown[]
    expect(mails).to.have.length(1)
    const sheet = await joren.do(ReadRequisition, { params: { id } })
    expect(sheet.sentence.code).to.equal('requisition.is.waitingUsually')
    const marit = await world.as('Marit')
    expect((await marit.call(RemindHolders, { params: { id } })).status).to.equal(403)
    await marit.do(Decide, { params: { id }, body: { version: sheet.version, decision: 'approve', reason: '' } })
  })

  it('is taken back to be changed in one step, as long as nothing is bought', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const joren = await world.as('Joren')
    const sent = await joren.do(SubmitRequisition, { params: { id }, body: { version } })
    const back = await joren.do(ActOnRequisition, { params: { id }, body: { version: sent.version, action: 'change' } })
    const sheet = await joren.do(ReadRequisition, { params: { id } })
    expect([sheet.state, sheet.lines.length]).to.deep.equal(['draft', 1])
    expect(moved(before, await figures(world, accountId)).reserved).to.equal(0n)
    const line = { ...(await goodsLine(world, 'PS-1200', '3')), id: sheet.lines[0]!.id }
    const saved = await joren.do(SaveRequisition, {
      params: { id },
      body: { version: back.version, title: 'More of them', reason: '', lines: [line] },
    })
    await joren.do(SubmitRequisition, { params: { id }, body: { version: saved.version } })
    expect(moved(before, await figures(world, accountId)).reserved).to.equal(25_500n)
  })

  it('begins with the empty draft that is there, not with one more', async () => {
    const joren = await world.as('Joren')
    const begin = async () => (await joren.do(CreateRequisition, { body: { title: '', reason: '', lines: [] } })).id
    const first = await begin()
    expect(await begin()).to.equal(first)
    const { version } = await joren.do(ReadRequisition, { params: { id: first } })
    await joren.do(SaveRequisition, { params: { id: first }, body: { version, title: 'Named', reason: '', lines: [] } })
    expect(await begin()).to.not.equal(first)
    expect(
      (await (await world.as('Ines')).do(CreateRequisition, { body: { title: '', reason: '', lines: [] } })).id,
    ).to.not.equal(first)
  })

  it('prints as a PDF', async () => {
    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '1')], 'Printed')
    const answer = await fetch(`${world.address}/api/requisitions/${id}/pdf`, {
      headers: { cookie: (await world.as('Joren')).cookie },
    })
    expect(
      Buffer.from(await answer.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).to.equal('%PDF-')
  })
})
