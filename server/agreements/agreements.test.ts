import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import {
  ActOnAgreement,
  Agreements,
  CreateAgreement,
  PreviewAmendment,
  PreviewWindDown,
  ReadAgreement,
  SaveIndex,
  WriteAgreement,
} from '#contract/agreements/agreements.ts'
import { PostInvoice, ReadInvoice } from '#contract/bill/endpoints.ts'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { ActOnOrder, DraftOrders, IssueOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { CreateRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { reading } from '#server/call.ts'
import { audit } from '#server/insight/audit.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { windDownJob } from '#server/agreements/windDownActs.ts'
import { nightly } from '#server/app/jobs.ts'
import { approved, billed, goodsLine, issuedFrom, posted, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

type Content = BodyOf<typeof WriteAgreement>['content']
type Sheet = ResponseOf<typeof ReadAgreement>

describe('framework agreements', () => {
  const world = useWorld()
  const read = async (id: string): Promise<Sheet> =>
    await (await world.as('Rasmus')).do(ReadAgreement, { params: { id } })
  const act = async (
    id: string,
    what: BodyOf<typeof ActOnAgreement>['act'],
    more: Partial<BodyOf<typeof ActOnAgreement>> = {},
    who = 'Rasmus',
  ) =>
    // prettier-ignore
    (await world.as(who)).call(ActOnAgreement, {
      params: { id },
      body: { version: (await read(id)).version, act: what, reason: '', ...more },
    })
  const write = async (id: string, change: (content: Content) => Content) => {
    const sheet = await read(id)
    return await (
      await world.as('Rasmus')
    ).call(WriteAgreement, {
      params: { id },
      body: { version: sheet.version, content: change(sheet.wanted ?? sheet.content) },
    })
  }

  /** An agreement in force over an item, with a ceiling of an amount. */
  async function inForce(item: string, ceiling: string, change: (content: Content) => Content = one => one) {
    const offered = await goodsLine(world, item, '1')
    const { supplierId } = offered
    const { id, number } = await (
      await world.as('Rasmus')
    ).do(CreateAgreement, { body: { supplierId: supplierId!, title: `Agreement over ${item}`, fromOffers: false } })
    await write(id, content =>
      change({
        ...content,
        currency: offered.currency,
        ceilings: [{ scope: 'whole', category: '', lineId: null, amount: ceiling, quantity: '' }],
        lines: [
          {
            id: randomUUID(),
            itemId: offered.itemId,
            description: offered.description,
            category: 'Pumps',
            unit: offered.unit,
            currency: offered.currency,
            pricing: { kind: 'tiers', tiers: [{ from: '0', price: '10' }] },
            priceBase: '1',
            listPrice: '12.50',
            minimum: '1',
            multiple: '0',
            leadTimeDays: 3,
            incoterm: '',
            incotermPlace: '',
          },
        ],
      }),
    )
    await act(id, 'putForward')
    const sheet = await read(id)
    expect(sheet.state).to.equal('active')
    return { id, number, sheet }
  }

  /** A line that calls off an agreement by its offer. */
  async function callOff(agreementId: string, item: string, quantity: string) {
    const offer = (await world
      .db('offers')
      .join('agreementLines', 'agreementLines.id', 'offers.agreementLineId')
      .where('agreementLines.agreementId', agreementId)
      .first('offers.id', 'offers.unit', 'offers.currency')) as { id: string; unit: string; currency: 'EUR' }
    return await goodsLine(world, item, quantity, { offerId: offer.id, routes: ['callOff'], unit: offer.unit, currency: offer.currency }) // prettier-ignore
  }
  const sums = async (id: string): Promise<string[]> => {
    const use = (await read(id)).uses[0]!
    return [use.byKind.reserved, use.byKind.committed, use.byKind.used].map(one => one!.amount)
  }
  const ids = async (requisitionId: string): Promise<string[]> =>
    (await world.db('requisitionLines').where({ requisitionId }).orderBy('position').pluck('id')) as string[]
  const order = async (requisitionId: string) =>
    (await (await world.as('Pilar')).do(DraftOrders, { body: { lineIds: await ids(requisitionId), route: 'callOff' } }))
      .orders[0]!
  const clean = async (): Promise<void> => {
    expect((await audit(reading(world.db, await settingOf(world.jobs)))).differences).to.deep.equal([])
  }

  it('say what is missing before they come into force, and then feed the catalogue', async () => {
    const { supplierId } = await goodsLine(world, 'PS-1200', '1')
    const { id } = await (
      await world.as('Rasmus')
    ).do(CreateAgreement, { body: { supplierId: supplierId!, title: 'Pumps', fromOffers: false } })
    expect((await act(id, 'putForward')).codes).to.deep.equal(['agreement.noLines'])
    const { id: other, sheet, number } = await inForce('PS-1200', '100')
    expect(sheet).to.deep.include({ revision: 1, state: 'active' })
    const offer = (await world.db('offers').where({ agreement: number }).first('tiers', 'validTo')) as { tiers: unknown; validTo: string } // prettier-ignore
    expect(offer).to.deep.equal({ tiers: [{ from: '0', price: '10' }], validTo: sheet.content.endsOn })
    expect((await (await world.as('Rasmus')).do(Agreements.page, { query: { view: 'open' } })).rows.map(row => row.id)).to.include(other) // prettier-ignore
  })

  it('are reserved by requests, committed by orders and used by bills, and give back what is not taken', async () => {
    const { id } = await inForce('PS-1220', '1000')
    const request = await approved(world, [await callOff(id, 'PS-1220', '20')])
    expect(await sums(id)).to.deep.equal(['200.00', '0.00', '0.00'])
    const drafted = await order(request)
    expect(await sums(id)).to.deep.equal(['200.00', '0.00', '0.00'])
    const pilar = await world.as('Pilar')
    const issued = await issuedFrom(world, drafted)
    expect(await sums(id)).to.deep.equal(['0.00', '200.00', '0.00'])
    await received(world, issued, '8')
    await posted(world, (await billed(world, issued, { quantity: '8' })).id)
    expect(await sums(id)).to.deep.equal(['0.00', '120.00', '80.00'])
    const before = await pilar.do(ReadOrder, { params: { id: drafted.id } })
    expect(before.agreementPath).to.equal(`/source/agreements/${id}`)
    await pilar.do(ActOnOrder, {
      params: { id: drafted.id },
      body: { version: before.version, action: 'close', reason: 'Enough.', needRemains: false },
    })
    expect(await sums(id)).to.deep.equal(['0.00', '0.00', '80.00'])
    expect((await read(id)).saved).to.equal('20.00')
    await clean()
  })

  it('stop what would pass a ceiling, exactly at it still passes, and vanish from the catalogue when used up', async () => {
    const { id, number } = await inForce('PS-1240', '100')
    const joren = await world.as('Joren')
    const over = await joren.do(CreateRequisition, {
      body: { title: 'Too much', reason: '', lines: [await callOff(id, 'PS-1240', '11')] },
    })
    const refused = await joren.call(SubmitRequisition, {
      params: { id: over.id },
      body: { version: over.version, checkReason: 'It is needed.' },
    })
    expect(refused.codes).to.deep.equal(['agreement.over'])
    await approved(world, [await callOff(id, 'PS-1240', '10')])
    expect((await read(id)).state).to.equal('usedUp')
    const told = (await world.db('outbox').where('documentId', over.id).where('key', 'like', 'agreement-spent:%')).map(row => row.payload as { to: string; text: string }) // prettier-ignore
    expect(told, 'whose draft names it is told once').to.have.lengthOf(1)
    expect(told[0]!.text).to.match(
      /still names it:\n\n- [^\n]+: (nobody else offers it|[^\n]+ offers it at [A-Z]{3} [\d.]+ for )/,
    )
    const offer = (await world.db('offers').where({ agreement: number }).first('validTo')) as { validTo: string }
    expect(offer.validTo).to.equal(addDays(today(), -1))
    expect((await (await world.as('Rasmus')).do(Agreements.page, { query: { view: 'spent' } })).rows.map(row => row.id)).to.include(id) // prettier-ignore
    await clean()
  })

  it('hold against fifty at once: nothing is overdrawn', async () => {
    const { id } = await inForce('PS-1260', '100')
    const joren = await world.as('Joren')
    const line = await callOff(id, 'PS-1260', '3')
    const drafts = []
    for (let at = 0; at < 12; at++)
      drafts.push(await joren.do(CreateRequisition, { body: { title: `Three ${at}`, reason: '', lines: [line] } }))
    const answers = await Promise.all(
      drafts.map(one =>
        joren.call(SubmitRequisition, {
          params: { id: one.id },
          body: { version: one.version, checkReason: 'It is needed.' },
        }),
      ),
    )
    expect(answers.filter(one => one.status === 200)).to.have.length(3)
    expect(await sums(id)).to.deep.equal(['90.00', '0.00', '0.00'])
    await clean()
  })

  it('are called off only by those whom they name', async () => {
    const { id } = await inForce('PP-1200', '500', content => ({
      ...content,
      callers: { ...content.callers, costCentres: ['AC-110'] },
    }))
    const joren = await world.as('Joren')
    const made = await joren.do(CreateRequisition, {
      body: { title: 'Not ours', reason: '', lines: [await callOff(id, 'PP-1200', '1')] },
    })
    const refused = await joren.call(SubmitRequisition, {
      params: { id: made.id },
      body: { version: made.version, checkReason: 'It is needed.' },
    })
    expect(refused.codes).to.deep.equal(['agreement.notThisCentre'])
  })

  it('are amended by revisions; open orders take the new price only where that is said', async () => {
    const { id } = await inForce('UL-1200', '1000')
    const pilar = await world.as('Pilar')
    const drafted = await order(await approved(world, [await callOff(id, 'UL-1200', '5')]))
    expect((await write(id, one => one)).codes).to.deep.equal(['agreement.notWritten'])
    await act(id, 'amend')
    await write(id, content => ({
      ...content,
      lines: content.lines.map(line => ({ ...line, pricing: { kind: 'tiers', tiers: [{ from: '0', price: '9' }] } })),
    }))
    expect((await read(id)).differences.map(one => [one.field, one.before, one.after])).to.deep.equal([['price', '10', '9']]) // prettier-ignore
    const preview = await (await world.as('Rasmus')).do(PreviewAmendment, { params: { id } })
    expect(preview.orders.map(one => [one.before, one.after, one.state])).to.deep.equal([['10', '9', 'draft']])
    expect((await act(id, 'putForward')).codes).to.deep.equal(['agreement.wantsReason'])
    await act(id, 'putForward', { reason: 'Cheaper from now on.', openOrders: 'drafts' })
    const sheet = await read(id)
    expect([sheet.revision, sheet.revisions[0]!.reason]).to.deep.equal([2, 'Cheaper from now on.'])
    expect((await pilar.do(ReadOrder, { params: { id: drafted.id } })).lines[0]!.price).to.equal('9')
    await clean()
  })

  it('are amended while they are called off: each is one or the other, and the books re-add', async () => {
    const { id } = await inForce('UL-1200', '1000')
    const drafts = []
    for (const quantity of ['2', '3', '4']) drafts.push(await order(await approved(world, [await callOff(id, 'UL-1200', quantity)]))) // prettier-ignore
    await act(id, 'amend')
    await write(id, content => ({ ...content, ceilings: content.ceilings.map(one => ({ ...one, amount: '95' })) }))
    const pilar = await world.as('Pilar')
    const issue = ({ id: draft, version }: { id: string; version: number }) => pilar.call(IssueOrder, { params: { id: draft }, body: { version } }) // prettier-ignore
    const [amended, ...issued] = await Promise.all([act(id, 'putForward', { reason: 'A lower ceiling.', openOrders: 'keep' }), ...drafts.map(issue)]) // prettier-ignore
    expect([amended.status, ...issued.map(one => one.status)]).to.deep.equal([200, 200, 200, 200])
    expect(await sums(id)).to.deep.equal(['0.00', '90.00', '0.00'])
    expect((await read(id)).revision).to.equal(2)
    await clean()
  })

  it('follow an index: a value that comes later changes the catalogue, not what was ordered', async () => {
    const rasmus = await world.as('Rasmus')
    const month = `${today().slice(0, 7)}-01`
    const params = { code: 'STEEL' }
    await rasmus.do(SaveIndex, { params, body: { name: 'Steel', source: '', values: [{ month: addDays(month, -40).slice(0, 8) + '01', value: '100' }] } }) // prettier-ignore
    const { id, number } = await inForce('PR-1200', '1000', content => ({
      ...content,
      lines: content.lines.map(line => ({
        ...line,
        pricing: { kind: 'index', index: 'STEEL', basePrice: '10', fixedShare: '0.4', baseValue: '100', lowest: '', highest: '10.5' }, // prettier-ignore
      })),
    }))
    const line = async () => (await read(id)).lines[0]!
    expect([(await line()).tiers[0]!.price, (await line()).index!.provisional]).to.deep.equal(['10', true])
    await rasmus.do(SaveIndex, { params, body: { name: 'Steel', source: '', values: [{ month, value: '105' }] } })
    expect([(await line()).tiers[0]!.price, (await line()).index!.provisional]).to.deep.equal(['10.3', false])
    const price = async () => (await world.db('offers').where({ agreement: number }).first<{ tiers: { price: string }[] }>('tiers'))!.tiers[0]!.price // prettier-ignore
    expect(await price()).to.equal('10.3')
    await rasmus.do(SaveIndex, { params, body: { name: 'Steel', source: '', values: [{ month, value: '120' }] } })
    expect([await price(), (await line()).index!.held]).to.deep.equal(['10.5', 'highest'])
  })

  it('are wound down in order, going on behind what was done when the server dies, and stop where a person is needed', async () => {
    const { id, number } = await inForce('DV-1200', '1000')
    const pilar = await world.as('Pilar')
    const made = []
    for (const quantity of ['2', '3', '4'])
      made.push(await order(await approved(world, [await callOff(id, 'DV-1200', quantity)])))
    const [closed, open, drafted] = made
    for (const one of [closed!, open!])
      await pilar.do(IssueOrder, { params: { id: one.id }, body: { version: one.version } })
    const before = await pilar.do(ReadOrder, { params: { id: closed!.id } })
    await pilar.do(ActOnOrder, { params: { id: closed!.id }, body: { version: before.version, action: 'close', reason: 'Enough.', needRemains: false } }) // prettier-ignore
    const { hanging } = await (await world.as('Rasmus')).do(PreviewWindDown, { params: { id } })
    expect(new Map(hanging.filter(one => one.kind === 'order').map(one => [one.number, one.deed]))).to.deep.equal(
      new Map([[closed!.number, 'seal'], [open!.number, 'person'], [drafted!.number, 'cancel']]), // prettier-ignore
    )
    expect((await act(id, 'windDown', { number: 'F-0', reason: 'Used.' })).codes).to.deep.equal(['agreement.typeNumber']) // prettier-ignore
    expect((await act(id, 'windDown', { number, reason: 'Used.' })).status).to.equal(200)
    // the first run dies after its first step
    const { db } = world
    let transactions = 0
    const dying = new Proxy(db, {
      get: (target, key) =>
        key === 'transaction'
          ? async (work: never) => {
              if (++transactions > 1) throw new Error('The server died.')
              return await target.transaction(work)
            }
          : (Reflect.get(target, key) as unknown),
    })
    await windDownJob({ ...world.jobs, db: dying }, id).catch(() => undefined)
    expect((await read(id)).windDown.filter(step => step.state !== 'todo')).to.have.length(1)
    await windDownJob(world.jobs, id)
    const stopped = await read(id)
    expect(stopped.windDown.map(step => `${step.kind} ${step.state}`)).to.have.members(['order done', 'order done', 'order person', 'end todo', 'seal todo']) // prettier-ignore
    expect(stopped.sentence.code).to.equal('agreement.is.stopped')
    const again = await pilar.do(ReadOrder, { params: { id: open!.id } })
    await pilar.do(ActOnOrder, { params: { id: open!.id }, body: { version: again.version, action: 'cancel', reason: 'Not needed.', needRemains: false } }) // prettier-ignore
    expect((await act(id, 'goOn')).status).to.equal(200)
    await windDownJob(world.jobs, id)
    // the cancelled draft gave its need back, and a request still has it reserved
    expect((await read(id)).windDown.find(step => step.kind === 'seal')!.reasons.map(one => one.code)).to.deep.equal(['agreement.stillCalled']) // prettier-ignore
    await clean()
  })

  it('are wound down while an invoice is being posted: both happen, one after the other, and nothing is sealed over an open invoice', async () => {
    const { id, number } = await inForce('DV-1200', '1000')
    const made = await order(await approved(world, [await callOff(id, 'DV-1200', '4')]))
    const issued = await issuedFrom(world, made)
    await received(world, issued)
    const invoice = await billed(world, issued)
    expect((await act(id, 'windDown', { number, reason: 'Used.' })).status).to.equal(200)
    const { version } = await (await world.as('Leonie')).do(ReadInvoice, { params: { id: invoice.id } })
    const post = async () =>
      (await world.as('Leonie')).call(PostInvoice, { params: { id: invoice.id }, body: { version } })
    // a job that lost a deadlock is tried again by its queue
    const wind = async () => {
      for (let tries = 0; tries < 5; tries++)
        if (await windDownJob(world.jobs, id).then(() => true, () => false)) return // prettier-ignore
      throw new Error('The wind-down never ended.')
    }
    const [given] = await Promise.all([post(), wind()])
    expect(given.status).to.equal(200)
    const sheet = await (await world.as('Pilar')).do(ReadOrder, { params: { id: issued.id } })
    expect(sheet.state).to.not.equal('sealed')
    const step = (await read(id)).windDown.find(one => one.kind === 'order')!
    expect([step.state, step.reasons.length > 0]).to.deep.equal(['person', true])
    await clean()
  })

  it('warn their owner of what comes near, once', async () => {
    const { id } = await inForce('FA-1200', '100', content => ({ ...content, endsOn: addDays(today(), 20) }))
    await approved(world, [await callOff(id, 'FA-1200', '9')])
    const mails = async (): Promise<number> =>
      Number((await world.db('outbox').where({ documentId: id }).count('* as count').first<{ count: string }>())!.count)
    await nightly(world.jobs)
    const first = await mails()
    expect(first).to.equal(2)
    await nightly(world.jobs)
    expect(await mails()).to.equal(first)
  })
})
