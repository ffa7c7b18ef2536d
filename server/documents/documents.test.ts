import { expect } from 'chai'
import { Attach, WriteNote } from '#contract/files/endpoints.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { Find } from '#contract/people/endpoints.ts'
import { ReadDelivery } from '#contract/receive/endpoints.ts'
import { ActOnRequisition, ReadRequisition, Requisitions, SubmitRequisition } from '#contract/request/endpoints.ts'
import { documentKind, DOCUMENT_KINDS, NUMBERED_KINDS, PAPER_KINDS } from '#core/documents/kinds.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { draft, goodsLine, ordered, received } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('documents of every kind', () => {
  const world = useWorld()

  const rowsOf = (kind: (typeof DOCUMENT_KINDS)[number]): string =>
    documentKind(kind).rows.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)

  it('are found by their numbers by whoever may see them, with a page that is theirs', async () => {
    const people = { budgetTransfer: 'Adaeze', paymentRun: 'Adaeze', invoice: 'Leonie' } as Record<string, string>
    for (const kind of NUMBERED_KINDS) {
      const { rows } = await world.db.raw<{ rows: { number: string }[] }>(
        `select number from ${rowsOf(kind)} order by number limit 1`,
      )
      expect(rows, kind).to.have.length(1)
      const client = await world.as(people[kind] ?? 'Pilar')
      const { found } = await client.do(Find, { query: { q: rows[0]!.number } })
      const hit = found.find(one => one.kind === kind && one.exact)
      expect(`${hit?.label} ${hit?.detail}`, `${kind} ${rows[0]!.number}`).to.include(rows[0]!.number)
    }
  })

  it('are not found by whoever may not see them', async () => {
    const { rows } = await world.db.raw<{ rows: { number: string }[] }>('select number from payment_runs limit 1')
    const { found } = await (await world.as('Joren')).do(Find, { query: { q: rows[0]!.number } })
    expect(found.filter(one => one.exact)).to.deep.equal([])
  })

  it('take notes and files only from whoever may see them', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    const [pilar, joren] = [await world.as('Pilar'), await world.as('Joren')]
    const note = { documentKind: 'order' as const, documentId: order.id, text: 'As agreed by telephone.' }
    await pilar.do(WriteNote, { body: note })
    expect((await joren.call(WriteNote, { body: note })).status).to.equal(404)
    const onDelivery = { ...note, documentKind: 'delivery' as const, text: 'Behind the pump house.' }
    await joren.do(WriteNote, { body: onDelivery })
    const seen = (await pilar.do(ReadOrder, { params: { id: order.id } })).notes.map(one => one.text)
    expect(seen).to.include.members(['As agreed by telephone.', 'Behind the pump house.'])
    const own = (await joren.do(ReadDelivery, { params: { id: order.id } })).notes.map(one => one.text)
    expect(own).to.deep.equal(['Behind the pump house.'])
  })

  it('that nobody has submitted are their drafter’s alone, whatever rights others have', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')], 'Quite private')
    const [pilar, marit, joren] = [await world.as('Pilar'), await world.as('Marit'), await world.as('Joren')]
    const { number } = await joren.do(ReadRequisition, { params: { id } })
    const hidden = async (who: typeof pilar): Promise<unknown[]> => [
      (await who.call(ReadRequisition, { params: { id } })).status,
      (await who.call(WriteNote, { body: { documentKind: 'requisition', documentId: id, text: 'Hello.' } })).status,
      (await who.do(Find, { query: { q: number } })).found.length,
      (await who.do(Find, { query: { q: 'Quite private' } })).found.length,
      (await who.do(Requisitions.page, { query: { view: 'all', q: 'Quite private' } })).rows.length,
    ]
    for (const other of [pilar, marit]) expect(await hidden(other)).to.deep.equal([404, 404, 0, 0, 0])
    expect(await hidden(joren)).to.deep.equal([200, 200, 1, 1, 1])
    await joren.do(SubmitRequisition, { params: { id }, body: { version } })
    for (const other of [pilar, marit]) expect(await hidden(other)).to.deep.equal([200, 200, 1, 1, 1])
    const submitted = await joren.do(ReadRequisition, { params: { id } })
    await joren.do(ActOnRequisition, {
      params: { id },
      body: { version: submitted.version, action: 'change', reason: 'Two instead.' },
    })
    expect(await hidden(marit), 'asked before it was taken back').to.deep.equal([200, 200, 1, 1, 1])
  })

  it('without papers take none', async () => {
    const without = DOCUMENT_KINDS.filter(kind => !PAPER_KINDS.includes(kind))
    expect(without).to.include('person')
    const answer = await (
      await world.as('Wren')
    ).call(WriteNote, {
      body: { documentKind: 'person' as never, documentId: '00000000-0000-4000-8000-000000000000', text: 'Hello.' },
    })
    expect(answer.status).to.equal(400)
  })

  it('keep files while something uses them', async () => {
    const pilar = await world.as('Pilar')
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    await received(world, order)
    const file = await pilar.upload('note.txt', 'as agreed')
    await pilar.do(Attach, { body: { documentKind: 'delivery', documentId: order.id, fileId: file.body.id } })
    await world.db('files').where({ id: file.body.id }).update({ at: '2020-01-01T00:00:00Z' })
    const { tidyUp } = await import('#server/app/jobs.ts')
    await tidyUp(world.jobs)
    expect(await world.db('files').where({ id: file.body.id }).select('id')).to.have.length(1)
  })

  it('take no text that the audit or an XML file could not carry', async () => {
    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    const joren = await world.as('Joren')
    for (const text of ['half \ud83d a sign', 'no\ufffecharacter', 'nothing\u0000here'])
      expect(
        (await joren.call(WriteNote, { body: { documentKind: 'requisition', documentId: id, text } })).status,
      ).to.equal(400)
    const version = (await joren.do(ReadRequisition, { params: { id } })).version
    const reason = 'Ångström is one word however it is typed \ud83d\udc1f'
    await joren.do(ActOnRequisition, { params: { id }, body: { version, action: 'cancel', reason } })
    const sheet = await joren.do(ReadRequisition, { params: { id } })
    expect(sheet.history[0]!.reason).to.equal(reason.normalize('NFC'))
    expect((await auditDatabase(world.db)).differences).to.deep.equal([])
  })
})
