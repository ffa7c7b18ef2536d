import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { AskedPaper, AnswerAsked, AnswerBehalf, JoinAsked, ListAsked, LookAtAnswerFile, OpenAsked, ReadAsked, ReadBehalf, SayAsked, SayBehalf, SeeAsked, WriteAsked } from '#contract/source/asked.ts' // prettier-ignore
import { CompareEvent, GivePoints, ProposeAward, ReadLanded } from '#contract/source/comparing.ts'
import { DropEventKind, ListEventKinds, RetireEventKind, SaveEventKind } from '#contract/source/eventKinds.ts'
import { ChangeEvent, ChangeInvited, CreateEvent, DropEventLine, EndEvent, EventFile, EventLogFile, EventPaper, Events, InviteSuppliers, LeaveOutInvited, MoveEnd, ProposedSuppliers, ReadEvent, ReadEventLog, RecordConsent, RemindSuppliers, SendEvent, SuspendSupplier, TakeLines, WriteMessage } from '#contract/source/events.ts' // prettier-ignore
import { NEW_KIND } from '#core/source/eventKind.ts'
import { watchEvents } from '#server/source/watchEvents.ts'
import exceljs from 'exceljs'
import {
  answers,
  eventDraft,
  eventSent,
  inDays,
  kindOf,
  kindWith,
  lineBody,
  sheetOf,
  supplierIds,
} from '#test-helpers/events.ts'
import { Client, sendAll, useWorld, type World } from '#test-helpers/world.ts'

const NORD = 'Nordhavn Pumpeverk'
const SEE = 'Seefelder Pumpen GmbH'
const ACQUA = 'Acquanera Impianti S.r.l.'
const mailsTo = async (world: World, to: string): Promise<{ subject: string; text: string }[]> => {
  await sendAll(world)
  const answer = await fetch(`http://127.0.0.1:${world.mail.httpPort}/?to=${encodeURIComponent(to)}`)
  return ((await answer.json()) as { mails: { subject: string; text: string }[] }).mails
}
/** Moves an event's end into the past, as if its time had come. */
const endNow = (world: World, id: string) => world.db('events').where({ id }).update({ endsAt: new Date(Date.now() - 1000).toISOString() }) // prettier-ignore
const settle = async (world: World, id: string): Promise<void> => {
  await endNow(world, id)
  await watchEvents(world.jobs)
}

/** As somebody would who has the database in hand: its own guard switched off. */
async function fromOutside(world: World, change: () => PromiseLike<unknown>): Promise<void> {
  await world.db.raw('alter table event_log disable trigger append_only')
  try {
    await change()
  } finally {
    await world.db.raw('alter table event_log enable trigger append_only')
  }
}

describe('asking suppliers', () => {
  const world = useWorld()
  const rasmus = () => world.as('Rasmus')

  it('numbers events without a gap, also where two people begin at once, and refuses a used-up range', async () => {
    const kindId = await kindWith(world, {})
    const make = async (who: string) => (await world.as(who)).call(CreateEvent, { body: { kindId, title: 'At once', copyOf: null } }) // prettier-ignore
    const made = await Promise.all([make('Rasmus'), make('Pilar'), make('Rasmus')])
    const numbers = await world.db('events').whereIn('id', made.map(one => one.body.id)).pluck('number') // prettier-ignore
    expect(new Set(numbers).size).to.equal(3)
    expect(numbers.map(one => one.split('-')[1]).sort()).to.deep.equal(['1', '2', '3'])
    await world.db('eventRanges').whereIn('id', world.db('eventKinds').where({ id: kindId }).select('rangeId')).update({ last: 3n, next: 4n }) // prettier-ignore
    expect((await make('Rasmus')).codes).to.deep.equal(['event.rangeUsedUp'])
  })

  it('gives out numbers from outside one after the other: two at once get two, none is left out', async () => {
    const range = { prefix: 'FROM-OUT-', digits: 3, next: '7', last: '8' }
    const kindId = await kindWith(world, {}, 'From outside', range)
    const lead = await rasmus()
    const [one, other, third] = await Promise.all(
      ['One', 'Other', 'Third'].map(title => lead.do(CreateEvent, { body: { kindId, title, copyOf: null } })),
    )
    const take = async (who: string, id: string, outsideNumber: string) => {
      const { body, version } = await sheetOf(world, id)
      return await (await world.as(who)).call(ChangeEvent, { params: { id }, body: { ...body, version, outsideNumber } }) // prettier-ignore
    }
    expect((await sheetOf(world, one!.id)).outside).to.deep.equal({ shown: `${range.prefix}007` })
    expect((await take('Rasmus', one!.id, `${range.prefix}008`)).codes).to.deep.equal(['event.outsideNext'])
    const both = await Promise.all([
      take('Rasmus', one!.id, `${range.prefix}007`),
      take('Pilar', other!.id, `${range.prefix}007`),
    ])
    expect(both.map(answer => answer.status).sort()).to.deep.equal([200, 422])
    const without = both[0].status === 200 ? other!.id : one!.id
    expect((await sheetOf(world, without)).outside).to.deep.equal({ shown: `${range.prefix}008` })
    expect((await take('Rasmus', without, `${range.prefix}008`)).status).to.equal(200)
    expect((await take('Rasmus', without, '')).codes).to.deep.equal(['event.outsideStays'])
    expect((await sheetOf(world, third!.id)).outside).to.deep.equal({ shown: '' })
    expect((await take('Rasmus', third!.id, `${range.prefix}009`)).codes).to.deep.equal(['event.rangeUsedUp'])
  })

  it('refuses a draft that nobody could answer, and says all of it before sending', async () => {
    const { id, version } = await eventDraft(world, await kindWith(world, {}), [], () => ({ lines: [], title: '' }))
    const sheet = await sheetOf(world, id)
    expect(sheet.checks.map(one => one.code)).to.include.members(['event.title', 'event.noLines', 'event.nobody'])
    expect((await (await rasmus()).call(SendEvent, { params: { id }, body: { version, reason: 'Go on.' } })).codes).to.include('event.noLines') // prettier-ignore
  })

  it('sends each supplier a link that opens its own page, and only that', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [SEE, ACQUA])
    const [mail] = (await mailsTo(world, 'orders@seefelder.example')).filter(one => one.text.includes('/asked/'))
    const token = /\/asked\/([\w-]+)/.exec(mail!.text)![1]!
    const nobody = new Client(world.address, '')
    expect((await nobody.call(OpenAsked, { params: { token: 'x'.repeat(30) } })).codes).to.deep.equal(['asked.noLink'])
    const response = await fetch(`${world.address}/api/asked/links/${token}`, { method: 'POST', headers: { 'content-type': 'application/json', 'x-ivory-order': '1' }, body: '{}' }) // prettier-ignore
    expect(await response.json()).to.deep.equal({ eventId: id, signedIn: true })
    const guest = new Client(world.address, response.headers.getSetCookie()[0]!.split(';')[0]!)
    expect((await guest.do(ReadAsked, { params: { id } })).supplier).to.equal(SEE)
    await guest.do(SeeAsked, { params: { id } })
    expect((await sheetOf(world, id)).invited.find(one => one.name === SEE)!.standing).to.equal('opened')
    for (const path of ['/supplier/orders', '/company', `/source-events/${id}`, `/source-events/${id}/comparison`, `/source-events/${id}/log`]) // prettier-ignore
      expect((await fetch(`${world.address}/api${path}`, { headers: { cookie: guest.cookie } })).status, path).to.be.within(403, 404) // prettier-ignore
  })

  it('keeps drafts, takes answers until the very end, and keeps what was handed in before', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [NORD, SEE])
    const nord = await world.as(`at ${NORD}`)
    const asked = await nord.do(ReadAsked, { params: { id } })
    const draft = { ...asked.answer, note: 'half done' }
    await nord.do(AnswerAsked, { params: { id }, body: { answer: draft, submit: false } })
    expect((await nord.do(ReadAsked, { params: { id } })).answer.note).to.equal('half done')
    expect((await answers(nord, id, [''])).codes).to.deep.equal(['answer.priceMissing'])
    expect((await answers(nord, id, ['12'])).status).to.equal(200)
    expect((await answers(nord, id, ['11'])).status).to.equal(200)
    const rows = await world.db('eventAnswers').join('eventSuppliers', 'eventSuppliers.id', 'eventAnswers.invitedId').where({ eventId: id }) // prettier-ignore
    expect(rows.map(row => (row as { revision: number }).revision).sort()).to.deep.equal([1, 2])
    await nord.do(SayAsked, { params: { id }, body: { say: 'withdraw', reason: '' } })
    expect((await sheetOf(world, id)).invited.find(one => one.name === NORD)!.standing).to.equal('withdrawn')
    expect((await answers(nord, id, ['10'])).status).to.equal(200)
    await endNow(world, id)
    expect((await answers(nord, id, ['1'])).codes).to.deep.equal(['event.overAsk'])
    await watchEvents(world.jobs)
    const { lines, suppliers } = await (await rasmus()).do(CompareEvent, { params: { id } })
    expect(lines[0]!.cells[suppliers.findIndex(one => one.name === NORD)]!.price).to.equal('10')
    expect(suppliers.find(one => one.name === SEE)!.standing).to.equal('late')
  })

  it('refuses figures that nobody means: nothing, below it, too large, too fine, another currency', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [NORD])
    const nord = await world.as(`at ${NORD}`)
    expect((await answers(nord, id, ['0'])).codes).to.deep.equal(['answer.priceAboveZero'])
    expect((await answers(nord, id, ['-5'])).codes).to.deep.equal(['answer.priceAboveZero'])
    for (const price of ['1000000000000000', '1.1234567']) expect((await answers(nord, id, [price])).status, price).to.equal(400) // prettier-ignore
    expect((await answers(nord, id, ['5'], { currency: 'JPY' })).codes).to.deep.equal(['answer.currency'])
  })

  it('shows a sealed answer to nobody of ours before the end, by any page, list, search, count, file or mail', async () => {
    const id = await eventSent(world, await kindWith(world, { sealed: true }), [NORD, SEE])
    const secret = '4711.37'
    const nord = await world.as(`at ${NORD}`)
    await answers(nord, id, [secret], { note: 'Zeugnis im Umschlag' })
    const file = await fetch(`${world.address}/api/asked/files`, { method: 'POST', headers: { cookie: nord.cookie, 'x-ivory-order': '1' }, body: ((): FormData => { const form = new FormData(); form.append('file', new Blob(['geheim']), 'offer.txt'); return form })() }) // prettier-ignore
    const { id: fileId } = (await file.json()) as { id: string }
    await answers(nord, id, [secret], { note: 'Zeugnis im Umschlag', fileIds: [fileId] })
    const invitedId = (await sheetOf(world, id)).invited.find(one => one.name === NORD)!.id
    const lead = await rasmus()
    const eventLine = (await sheetOf(world, id)).body.lines[0]!
    const nordId = (await sheetOf(world, id)).invited.find(one => one.name === NORD)!.supplierId
    const told: string[] = []
    for (const work of [
      () => lead.call(ReadEvent, { params: { id } }),
      () => lead.call(CompareEvent, { params: { id } }),
      () => lead.call(ReadLanded, { params: { id }, query: { lineId: eventLine.id, supplierId: nordId } }),
      () => lead.call(ReadEventLog, { params: { id }, query: {} }),
      () => lead.call(EventLogFile, { params: { id } }),
      () => lead.call(Events.page, { query: { view: 'all', q: secret } }),
      () => lead.call(ReadBehalf, { params: { id, invitedId } }),
      () => lead.call(EventPaper, { params: { id }, query: { format: 'xml', invitedId } }),
      () => lead.call(ProposeAward, { params: { id }, body: { version: 1, shares: [], reason: '' } }),
    ])
      told.push(JSON.stringify((await work()).body))
    expect((await lead.call(EventFile, { params: { id, fileId } })).status).to.equal(404)
    // nor does another supplier get at it by hanging it on its own answer, nor one of us on a message
    expect((await answers(await world.as(`at ${SEE}`), id, ['9'], { fileIds: [fileId] })).codes).to.deep.equal([
      'document.notFound',
    ])
    expect((await lead.call(WriteMessage, { params: { id }, body: { text: 'See here', fileIds: [fileId], toSupplierId: null, answersId: null } })).codes).to.deep.equal(['document.notFound']) // prettier-ignore
    for (const text of told) expect(text).to.not.match(/4711|Umschlag/)
    for (const to of ['rasmus.tielemann@saltmere.example', 'orders@nordhavn.example', 'orders@seefelder.example'])
      expect(JSON.stringify(await mailsTo(world, to))).to.not.match(/4711|Umschlag/)
    for (const table of ['eventAnswers', 'eventLog', 'history', 'outbox'] as const)
      expect(JSON.stringify(await world.db(table).select('*'), (_key, value: unknown) => (typeof value === 'bigint' ? String(value) : value)), table).to.not.match(/4711\.37|Umschlag/) // prettier-ignore
    await settle(world, id)
    const { lines } = await lead.do(CompareEvent, { params: { id } })
    expect(JSON.stringify(lines)).to.include(secret)
    const { landed } = await lead.do(ReadLanded, {
      params: { id },
      query: { lineId: eventLine.id, supplierId: nordId },
    })
    expect(landed?.perUnit).to.equal(secret)
    expect((await lead.call(EventFile, { params: { id, fileId } })).status).to.equal(200)
  })

  it('stands open to every active supplier of the category, where the kind says so, and to nobody else', async () => {
    const kindId = await kindWith(world, { open: true })
    const id = await eventSent(world, kindId, [SEE], () => ({ category: 'Pumps' }))
    const closed = await eventSent(world, await kindWith(world, {}), [SEE], () => ({ category: 'Pumps' }))
    const nord = await world.as(`at ${NORD}`)
    const qualified = world.db('suppliers').where({ name: NORD })
    await qualified.clone().update({ categories: ['Valves'] })
    expect((await nord.do(ListAsked, {})).open.map(one => one.id)).to.not.include(id)
    expect((await nord.call(JoinAsked, { params: { id } })).status).to.equal(404)
    await qualified.clone().update({ categories: ['Valves', 'Pumps'] })
    expect((await nord.do(ListAsked, {})).open.map(one => one.id))
      .to.include(id)
      .and.not.include(closed)
    expect((await nord.call(ReadAsked, { params: { id } })).status).to.equal(404)
    expect((await nord.call(JoinAsked, { params: { id: closed } })).status).to.equal(404)
    await nord.do(JoinAsked, { params: { id } })
    expect((await nord.call(JoinAsked, { params: { id } })).codes).to.deep.equal(['event.askedAlready'])
    expect((await nord.do(ListAsked, {})).open.map(one => one.id)).to.not.include(id)
    expect((await answers(nord, id, ['9.5'])).status).to.equal(200)
    const { invited } = await sheetOf(world, id)
    expect(invited.find(one => one.name === NORD)).to.include({ standing: 'answered' })
    const { entries } = await (await rasmus()).do(ReadEventLog, { params: { id }, query: { action: 'joined' } })
    expect(entries.map(one => one.forWhom)).to.deep.equal([NORD])
    await settle(world, id)
    expect((await (await world.as(`at ${ACQUA}`)).call(JoinAsked, { params: { id } })).status).to.equal(404)
  })

  it('keeps one supplier’s answer, questions and messages from another, by whatever address', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [NORD, SEE])
    const only = await eventSent(world, await kindWith(world, {}), [NORD])
    const [nord, see] = [await world.as(`at ${NORD}`), await world.as(`at ${SEE}`)]
    await answers(nord, id, ['815.4739'])
    await nord.do(WriteAsked, { params: { id }, body: { text: 'Is bronze all right?', fileIds: [] } })
    const lead = await rasmus()
    const [question] = (await sheetOf(world, id)).messages
    await lead.do(WriteMessage, { params: { id }, body: { toSupplierId: null, text: 'Bronze is all right.', fileIds: [], answersId: question!.id } }) // prettier-ignore
    const seen = await see.do(ReadAsked, { params: { id } })
    expect(JSON.stringify(seen)).to.not.match(/815\.47|Is bronze|Nordhavn/)
    expect(seen.messages.map(one => one.text)).to.deep.equal(['Bronze is all right.'])
    expect(seen.messages[0]!.answersId).to.equal(null)
    expect((await see.call(ReadAsked, { params: { id: only } })).status).to.equal(404)
    expect((await see.call(WriteAsked, { params: { id: only }, body: { text: 'Hello', fileIds: [] } })).status).to.equal(404) // prettier-ignore
    expect((await see.do(ListAsked)).events.map(one => one.id)).to.not.include(only)
    for (const endpoint of [ReadEvent, CompareEvent, ReadEventLog]) expect((await see.call(endpoint as typeof ReadEvent, { params: { id } })).status).to.equal(403) // prettier-ignore
  })

  it('types in on behalf only with consent, by the same form, marked everywhere and told', async () => {
    const id = await eventSent(world, await kindOf(world, 'Quote request'), [SEE, ACQUA])
    const lead = await rasmus()
    const one = async () => (await sheetOf(world, id)).invited.find(other => other.name === SEE)!
    const params = { id, invitedId: (await one()).id }
    expect((await lead.call(SayBehalf, { params, body: { say: 'accept', reason: '' } })).codes).to.deep.equal(['behalf.consent']) // prettier-ignore
    const consent = { who: 'Lorenz Aigner', on: '2026-01-05', how: 'telephone' as const, note: '', fileId: null }
    await lead.do(RecordConsent, { params, body: { ...consent, version: (await sheetOf(world, id)).version } })
    await lead.do(SayBehalf, { params, body: { say: 'accept', reason: '' } })
    const form = await lead.do(ReadBehalf, { params })
    const lines = form.answer.lines.map(line => ({ ...line, price: '77' }))
    await lead.do(AnswerBehalf, { params, body: { answer: { ...form.answer, lines }, submit: true } })
    expect((await one()).onBehalf).to.equal(true)
    const see = await world.as(`at ${SEE}`)
    expect((await see.do(ReadAsked, { params: { id } })).onBehalfBy).to.equal('Rasmus Tielemann')
    const log = await lead.do(ReadEventLog, { params: { id }, query: { action: 'answered' } })
    expect(log.entries[0]!.details).to.deep.include({ onBehalf: true })
    const mails = await mailsTo(world, 'orders@seefelder.example')
    expect(mails.some(mail => mail.text.includes('Lorenz Aigner'))).to.equal(true)
  })

  it('extends for all alike and in the same moment, also while mail is down; declines, reminds and suspends', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [NORD, SEE, ACQUA])
    const lead = await rasmus()
    const before = await sheetOf(world, id)
    const early = await lead.call(MoveEnd, { params: { id }, body: { version: before.version, how: 'extend', endsAt: new Date().toISOString(), reason: 'Easter.' } }) // prettier-ignore
    expect(early.codes).to.deep.equal(['event.endEarlier'])
    world.mail.faults.down = true
    await lead.do(MoveEnd, { params: { id }, body: { version: before.version, how: 'extend', endsAt: inDays(12), reason: 'Easter.' } }) // prettier-ignore
    world.mail.faults.down = false
    const told = await world.db('outbox').where('key', 'like', `event-end:${id}%`)
    expect(told).to.have.lengthOf(3)
    const acqua = await world.as(`at ${ACQUA}`)
    await acqua.do(SayAsked, { params: { id }, body: { say: 'decline', reason: 'We make none of these.' } })
    const sheet = await sheetOf(world, id)
    const { reminded } = await lead.do(RemindSuppliers, { params: { id }, body: { version: sheet.version, invitedIds: [], note: '' } }) // prettier-ignore
    expect(reminded).to.equal(2)
    const nord = (await sheetOf(world, id)).invited.find(one => one.name === NORD)!
    await lead.do(SuspendSupplier, { params: { id, invitedId: nord.id }, body: { version: sheet.version + 1, lift: false, reason: 'Talks to the others.' } }) // prettier-ignore
    expect((await answers(await world.as(`at ${NORD}`), id, ['1'])).codes).to.deep.equal(['bid.suspended'])
    const after = await sheetOf(world, id)
    expect(after.invited.map(one => one.standing).sort()).to.deep.equal(['declined', 'sent', 'suspended'])
    expect((await lead.do(Events.page, { query: { view: 'lateAnswers' } })).rows.map(row => row.id)).to.not.include(id)
    await settle(world, id)
    expect((await lead.do(Events.page, { query: { view: 'lateAnswers' } })).rows.map(row => row.id)).to.include(id)
  })

  it('keeps what was answered to a line that is taken out, refuses the last one, cancels and copies', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [NORD, SEE], body => ({ lines: [lineBody(body.lots[0]!.id), lineBody(body.lots[0]!.id, { description: 'Spare seals' })] })) // prettier-ignore
    const nord = await world.as(`at ${NORD}`)
    await answers(nord, id, ['10', '3'])
    const lead = await rasmus()
    const sheet = await sheetOf(world, id)
    const [first, second] = sheet.body.lines
    const drop = (lineId: string, version: number) => lead.call(DropEventLine, { params: { id }, body: { version, lineId, reason: 'Not needed.' } }) // prettier-ignore
    expect((await drop(second!.id, sheet.version)).status).to.equal(200)
    expect((await drop(first!.id, sheet.version + 1)).codes).to.deep.equal(['event.lastLine'])
    expect((await nord.do(ReadAsked, { params: { id } })).lines.map(line => line.gone)).to.deep.equal([false, true])
    await lead.do(EndEvent, { params: { id }, body: { version: sheet.version + 1, how: 'cancel', reason: 'The project ends.' } }) // prettier-ignore
    expect((await nord.do(ReadAsked, { params: { id } })).state).to.equal('cancelled')
    const copy = await lead.do(CreateEvent, { body: { kindId: await kindWith(world, {}), title: 'Again', copyOf: id } })
    const copied = await sheetOf(world, copy.id)
    expect(copied.body.lines.map(line => line.description)).to.deep.equal(['Circulation pump'])
    expect(copied.invited.map(one => one.name)).to.have.members([NORD, SEE])
    expect(copied.copiedFrom?.number).to.equal(sheet.number)
  })

  it('takes lines from what is pasted, all or none, and proposes suppliers with reasons', async () => {
    const { id, version } = await eventDraft(world, await kindWith(world, {}), [], () => ({ lines: [], category: 'Pumps' })) // prettier-ignore
    const lead = await rasmus()
    const take = (pasted: string) => lead.call(TakeLines, { params: { id }, body: { version, fileId: null, pasted } })
    expect((await take('colour;many\nred;2')).codes).to.deep.equal(['lines.headings'])
    expect((await take('description;quantity\nPump;2\nSeal;many')).codes).to.deep.equal(['lines.figure'])
    expect((await sheetOf(world, id)).body.lines).to.have.lengthOf(0)
    expect((await take('description;quantity;unit\nPump;2;C62\nHose;1,5;MTR')).body.lines).to.equal(2)
    expect((await sheetOf(world, id)).body.lines.map(line => line.quantity)).to.deep.equal(['2', '1.5'])
    const { proposals } = await lead.do(ProposedSuppliers, { params: { id } })
    expect(proposals.map(one => one.name)).to.include.members([NORD, SEE])
    expect(proposals.every(one => one.reasons.length > 0)).to.equal(true)
  })

  it('reads a filled workbook beside the answer, leaves another event’s, and keeps nothing by looking', async () => {
    const id = await eventSent(world, await kindOf(world, 'Quote request'), [NORD])
    const nord = await world.as(`at ${NORD}`)
    await nord.do(SayAsked, { params: { id }, body: { say: 'accept', reason: '' } })
    const bytes = await nord.bytes(AskedPaper, { id }, { format: 'xlsx' })
    const book = new exceljs.Workbook()
    await book.xlsx.load(bytes as never)
    const [sheet] = book.worksheets
    const price = (sheet!.getRow(1).values as string[]).indexOf('Price')
    sheet!.getRow(2).getCell(price).value = { formula: '100+1', result: 101 } as never
    sheet!.addRow(['E-77/nothing', '', '', '', '', '', '5'])
    const upload = async (content: Buffer | string, name: string) => {
      const form = new FormData()
      form.append('file', new Blob([typeof content === 'string' ? content : new Uint8Array(content)]), name)
      return ((await (await fetch(`${world.address}/api/asked/files`, { method: 'POST', headers: { cookie: nord.cookie, 'x-ivory-order': '1' }, body: form })).json()) as { id: string }).id // prettier-ignore
    }
    const fileId = await upload(Buffer.from(await book.xlsx.writeBuffer()), 'answer.xlsx')
    const looked = await nord.do(LookAtAnswerFile, { params: { id }, body: { fileId } })
    expect(looked.differences.map(one => [one.field, one.after])).to.deep.equal([['Price', '101']])
    expect(looked.left.map(one => one.code)).to.deep.equal(['sheet.otherEvent'])
    expect((await nord.do(ReadAsked, { params: { id } })).answer.lines[0]!.price).to.equal('')
    const pdf = await nord.bytes(AskedPaper, { id }, { format: 'pdf' })
    expect(pdf.subarray(0, 4).toString()).to.equal('%PDF')
    const ubl = (await nord.bytes(AskedPaper, { id }, { format: 'xml' })).toString()
    expect(ubl).to.include('RequestForQuotation')
  })

  it('lets several people score without seeing each other until all are done', async () => {
    const id = await eventSent(world, await kindOf(world, 'Quote request for work'), ['Brightwater Diving', 'Ropeline Access Crew'], body => ({ ...body, scorerIds: [], endsAt: inDays(3), lines: [lineBody(body.lots[0]!.id)] })) // prettier-ignore
    const people = await world.db('people').whereIn('name', ['Marit Oland', 'Joren Vaskuil']).pluck<string[]>('id')
    await world.db('eventScorers').insert(people.map(personId => ({ eventId: id, personId, doneAt: null })))
    const said = { questions: { method: 'Slowly', team: 'Two', insured: 'yes', near: 'later' } }
    await answers(await world.as('at Brightwater Diving'), id, ['100'], said)
    await answers(await world.as('at Ropeline Access Crew'), id, ['120'], { questions: { ...said.questions, insured: 'no' } }) // prettier-ignore
    await settle(world, id)
    const [marit, joren] = [await world.as('Marit'), await world.as('Joren')]
    const compared = await marit.do(CompareEvent, { params: { id } })
    expect(compared.suppliers.map(one => [one.name, one.knockedOut])).to.deep.equal([['Brightwater Diving', false], ['Ropeline Access Crew', true]]) // prettier-ignore
    const points = (value: string) => compared.suppliers.flatMap(one => ['method', 'team'].map(question => ({ supplierId: one.supplierId, question, points: value, note: 'because' }))) // prettier-ignore
    await marit.do(GivePoints, { params: { id }, body: { points: points('9'), done: true } })
    const half = await joren.do(CompareEvent, { params: { id } })
    expect(half.scores!.complete).to.equal(false)
    expect(JSON.stringify(half.scores!.questions)).to.not.match(/because|"9"/)
    expect((await marit.call(GivePoints, { params: { id }, body: { points: points('1'), done: false } })).codes).to.deep.equal(['score.done']) // prettier-ignore
    await joren.do(GivePoints, { params: { id }, body: { points: points('5'), done: true } })
    const full = await marit.do(CompareEvent, { params: { id } })
    const method = full.scores!.questions.find(one => one.key === 'method')!.answers[0]!
    expect([method.points, method.spread, method.given.length]).to.deep.equal(['7', '4', 2])
    expect(full.scores!.rows.map(one => one.place)).to.deep.equal([1, null])
    expect((await (await world.as('Ines')).call(CompareEvent, { params: { id } })).status).to.equal(404)
  })

  it('keeps kinds in versions: what is in use is not taken away, and says by what', async () => {
    const wren = await world.as('Wren')
    const kindId = await kindWith(world, {}, 'Kept')
    const { id } = await (await rasmus()).do(CreateEvent, { body: { kindId, title: 'Uses it', copyOf: null } })
    const kind = (await wren.do(ListEventKinds)).kinds.find(one => one.id === kindId)!
    expect(kind.used).to.deep.equal([(await sheetOf(world, id)).number])
    const drop = await wren.call(DropEventKind, { params: { id: kindId }, body: { version: kind.version } })
    expect(drop.codes).to.deep.equal(['kind.inUse'])
    const body = { code: kind.code, version: 0, name: 'Kept', settings: { ...NEW_KIND, pricing: 'components' as const }, range: { prefix: kind.range.prefix, digits: 0, next: kind.range.next, last: '99' }, outside: null } // prettier-ignore
    const draft = await wren.do(SaveEventKind, { body: body as never })
    expect(draft.reasons.map(one => one.code)).to.deep.equal(['kind.componentsMissing'])
    expect((await wren.call(SaveEventKind, { body: { ...body, version: 1, range: { ...body.range, next: '1' } } as never })).codes).to.deep.equal(['event.rangeBack']) // prettier-ignore
    expect((await sheetOf(world, id)).settings.pricing).to.equal('one')
    await wren.do(RetireEventKind, { params: { id: kindId }, body: { version: kind.version, reason: 'Too simple.' } })
    expect((await (await rasmus()).call(CreateEvent, { body: { kindId, title: 'Not any more', copyOf: null } })).status).to.equal(404) // prettier-ignore
    expect((await (await rasmus()).call(SaveEventKind, { body: body as never })).status).to.equal(403)
  })

  it('holds its log link by link: whoever changes an entry from outside breaks it', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [NORD])
    const lead = await rasmus()
    expect((await lead.do(ReadEventLog, { params: { id }, query: {} })).holds).to.equal(true)
    const entry = await world.db('eventLog').where({ eventId: id, sequence: 1 }).first('details', 'hash')
    const change = (details: unknown) => () =>
      world
        .db('eventLog')
        .where({ eventId: id, sequence: 1 })
        .update({ details: JSON.stringify(details) as never })
    await change({ endsAt: 'x' })().then(
      () => expect.fail('the log let itself be changed'),
      (error: Error) => expect(error.message).to.include('append-only'),
    )
    await fromOutside(world, change({ endsAt: 'x' }))
    expect((await lead.do(ReadEventLog, { params: { id }, query: {} })).holds).to.equal(false)
    await fromOutside(world, change(entry!.details))
    expect((await lead.do(ReadEventLog, { params: { id }, query: {} })).holds).to.equal(true)
  })

  it('asks more suppliers later, changes whom it writes to, and leaves out who was not asked yet', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [NORD])
    const lead = await rasmus()
    const more = await lead.do(InviteSuppliers, { params: { id }, body: { version: (await sheetOf(world, id)).version, supplierIds: await supplierIds(world, [SEE]) } }) // prettier-ignore
    const see = (await sheetOf(world, id)).invited.find(one => one.name === SEE)!
    expect(see.standing).to.equal('sent')
    const leave = await lead.call(LeaveOutInvited, {
      params: { id, invitedId: see.id },
      body: { version: more.version },
    })
    expect(leave.codes).to.deep.equal(['invited.sent'])
    const change = { version: more.version, contactName: 'Ida', email: 'ida@seefelder.example', language: 'de' as const, currency: 'EUR' as const, ownNote: 'Slow', toDo: 'call' } // prettier-ignore
    await lead.do(ChangeInvited, { params: { id, invitedId: see.id }, body: change })
    expect((await sheetOf(world, id)).invited.find(one => one.name === SEE)).to.deep.include({ contactName: 'Ida', toDo: 'call' }) // prettier-ignore
    const stale = await lead.call(ChangeEvent, { params: { id }, body: { ...(await sheetOf(world, id)).body, version: 1 } }) // prettier-ignore
    expect(stale.codes).to.deep.equal(['document.changed'])
  })

  it('says by itself what its kind says, once for the times that suppliers know, also when mail is down', async () => {
    const message = { moment: 'beforeEnd' as const, hours: 2 }
    const id = await eventSent(
      world,
      await kindWith(world, {
        messages: [
          { ...message, key: 'silent', to: 'silent', words: {} },
          { ...message, key: 'all', to: 'everybody', words: { en: 'The gate closes at six.', de: 'Das Tor schließt um sechs.' } }, // prettier-ignore
          { key: 'end', moment: 'atEnd', hours: 0, to: 'answering', words: { en: 'Thank you: we compare now.' } },
        ],
      }),
      [NORD, SEE, ACQUA],
    )
    await answers(await world.as(`at ${NORD}`), id, ['10'])
    await (await world.as(`at ${ACQUA}`)).do(SayAsked, { params: { id }, body: { say: 'decline', reason: 'No.' } })
    /** Which of its messages have gone out, a name for each mail. */
    const told = async (): Promise<string[]> =>
      (await world.db('outbox').where('documentId', id).pluck('key')).flatMap(key => /^event-(?:message|reminder):[^:]+:(\w+)/.exec(key)?.[1] ?? []).sort() // prettier-ignore
    await watchEvents(world.jobs)
    expect(await told()).to.deep.equal([])
    // an hour before its end, which has been known since yesterday
    const soon = new Date(Date.now() + 3_600_000).toISOString()
    await world
      .db('events')
      .where({ id })
      .update({ endsAt: soon, messagesSince: inDays(-1) })
    world.mail.faults.down = true
    await watchEvents(world.jobs)
    await watchEvents(world.jobs)
    world.mail.faults.down = false
    expect(await told()).to.deep.equal(['all', 'all', 'silent'])
    expect((await mailsTo(world, 'orders@seefelder.example')).filter(mail => mail.text.includes('um sechs')), 'once, in its language').to.have.lengthOf(1) // prettier-ignore
    const lead = await rasmus()
    const log = await lead.do(ReadEventLog, { params: { id }, query: { action: 'told' } })
    expect(log.entries).to.have.lengthOf(2)
    await lead.do(MoveEnd, { params: { id }, body: { version: (await sheetOf(world, id)).version, how: 'extend', endsAt: inDays(1 / 12 - 1 / 1000), reason: 'Snow.' } }) // prettier-ignore
    await watchEvents(world.jobs)
    expect(await told(), 'their moment was over when the end moved').to.have.lengthOf(3)
    await settle(world, id)
    expect(await told()).to.deep.equal(['all', 'all', 'end', 'silent'])
  })

  it('compares anew whatever changes what is compared, and only that', async () => {
    const id = await eventSent(world, await kindWith(world, {}), [NORD, SEE])
    await answers(await world.as(`at ${NORD}`), id, ['10'])
    const lead = await rasmus()
    const read = () => lead.do(CompareEvent, { params: { id } })
    const best = async (): Promise<string | null | undefined> => (await read()).lines[0]!.cells[0]!.landed
    const first = await read()
    expect(await read()).to.deep.equal(first)
    expect(await best()).to.equal('10')
    await answers(await world.as(`at ${NORD}`), id, ['11'])
    expect(await best(), 'another answer').to.equal('11')
    const [nord] = await supplierIds(world, [NORD])
    const place = await world.db('supplierLocations').where({ supplierId: nord! }).orderByRaw("('shipsFrom' = any(roles)) desc, position").first('country') // prettier-ignore
    await world.db('setupEntries').where({ register: 'countryCosts', open: true }).update({ open: false })
    await world.db('setupEntries').insert({ id: randomUUID(), register: 'countryCosts', code: 'duty of a test', values: JSON.stringify({ country: place!.country, category: '', freight: '0', duty: '10' }), open: true, version: 1, changedAt: new Date().toISOString() } as never) // prettier-ignore
    expect(await best(), 'another duty').to.equal('12.1')
    await lead.do(SuspendSupplier, { params: { id, invitedId: (await sheetOf(world, id)).invited.find(one => one.name === NORD)!.id }, body: { version: (await sheetOf(world, id)).version, lift: false, reason: 'Talks.' } }) // prettier-ignore
    expect((await read()).lines[0]!.cells[0]!.best, 'another standing').to.equal(false)
  })
})
