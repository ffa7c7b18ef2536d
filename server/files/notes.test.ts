import { expect } from 'chai'
import { ReadDesk } from '#contract/desk/endpoints.ts'
import { ListNameable, SeeNotes, WriteNote } from '#contract/files/endpoints.ts'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import { draft, goodsLine } from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'
import { SubmitRequisition } from '#contract/request/endpoints.ts'

describe('notes that name people', () => {
  const world = useWorld()
  const idOf = async (name: string): Promise<string> =>
    (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id as string
  const onDesk = async (who: string) =>
    (await (await world.as(who)).do(ReadDesk)).items.filter(item => item.key.startsWith('mentioned'))
  const submitted = async (): Promise<string> => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '3')], 'Named in a note')
    await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    return id
  }
  const write = async (who: string, documentId: string, names: string[], text = 'Can it wait?') =>
    (await world.as(who)).call(WriteNote, {
      body: { documentKind: 'requisition', documentId, text, names: await Promise.all(names.map(idOf)) },
    })

  it('stand on the Desks of those named until they have seen them, and go out by mail, once', async () => {
    const id = await submitted()
    const written = await write('Marit', id, ['Joren', 'Adaeze', 'Joren'])
    expect(written.body.names).to.deep.equal(['Adaeze Nwoko', 'Joren Vaskuil'])
    const [item] = await onDesk('Joren')
    expect([item!.path, item!.sentence.details.extra, item!.sentence.details.who]).to.deep.equal([
      `/request/${id}`,
      'Can it wait?',
      'Marit Oland',
    ])
    const joren = await world.as('Joren')
    const notes = async () => (await joren.do(ReadRequisition, { params: { id } })).notes
    expect((await notes())[0]).to.deep.include({ toSee: true, names: ['Adaeze Nwoko', 'Joren Vaskuil'] })
    const seen = { documentKind: 'requisition' as const, documentId: id }
    expect((await joren.do(SeeNotes, { body: seen })).seen).to.equal(1)
    expect((await joren.do(SeeNotes, { body: seen })).seen, 'once').to.equal(0)
    expect([(await onDesk('Joren')).length, (await onDesk('Adaeze')).length]).to.deep.equal([0, 1])
    expect((await notes())[0]!.toSee).to.equal(false)
    await sendAll(world)
    const { email } = (await world.db('people').where('name', 'like', 'Joren %').first('email'))!
    const sent = await fetch(`http://127.0.0.1:${world.mail.httpPort}/?to=${encodeURIComponent(String(email))}`)
    const { mails } = (await sent.json()) as { mails: { subject: string; text: string }[] }
    const told = mails.filter(one => one.subject.startsWith('Marit Oland names you'))
    expect(told.map(one => one.text.includes('Can it wait?'))).to.deep.equal([true])
  })

  it('lead nobody to what they may not see, nor to a closed account; who may not see it names nobody there', async () => {
    const id = await submitted()
    const refused = await write('Marit', id, ['Tomas'])
    expect([refused.codes, refused.reasons[0]!.details.name]).to.deep.equal([['note.cannotSee'], 'Tomas Brackenfeld'])
    expect((await write('Marit', id, ['Orla'])).codes).to.deep.equal(['person.closed'])
    expect((await write('Ines', id, ['Marit'])).status).to.equal(404)
    expect(await world.db('notes').where({ documentId: id }), 'nothing was written').to.deep.equal([])
  })

  it('can name everybody of the team but oneself, and nobody from outside', async () => {
    const { people } = await (await world.as('Marit')).do(ListNameable)
    expect(people.map(one => one.name))
      .to.include('Joren Vaskuil')
      .and.not.include('Marit Oland')
      .and.not.include('Orla Pemberwick')
    const seller = (await world.db('people').where({ realm: 'supplier', active: true }).first('id', 'supplierId'))!
    const company = (await world.db('suppliers').where({ id: seller.supplierId! }).first('name'))!
    const outside = await world.as(`at ${String(company.name)}`)
    expect((await outside.call(ListNameable)).status).to.equal(403)
    const id = await submitted()
    expect((await (await world.as('Marit')).call(WriteNote, { body: { documentKind: 'requisition', documentId: id, text: 'Hm', names: [seller.id as string] } })).status).to.equal(404) // prettier-ignore
  })
})
