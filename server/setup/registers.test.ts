import { expect } from 'chai'
import { Find } from '#contract/people/endpoints.ts'
import {
  DropEntry,
  ExportRates,
  ExportRegister,
  ImportHolidays,
  ImportRates,
  ImportRegister,
  ReadRegister,
  SaveEntry,
} from '#contract/setup/registers.ts'
import { REGISTER_KEYS, type RegisterKey, type Values } from '#core/setup/registers.ts'
import { addDays } from '#core/calendar/days.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { goodsLine, ordered, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('registers of Setup', () => {
  const world = useWorld()
  const at = (register: RegisterKey) => ({ params: { register } })
  const entries = async (register: RegisterKey) =>
    (await (await world.as('Wren')).do(ReadRegister, at(register))).entries
  const save = async (register: RegisterKey, values: Values, id: string | null = null, version = 0, open = true) =>
    await (
      await world.as('Wren')
    ).call(SaveEntry, { ...at(register), body: { id, values: { ...values }, open, version } })
  const upload = async (name: string, text: string | Buffer): Promise<string> =>
    (await (await world.as('Wren')).upload(name, text)).body.id

  it('hold a second site with its own calendar, holidays and dock, each change in the history', async () => {
    expect((await save('calendars', { code: 'NO', name: 'Norway', restDays: 'SA SU' })).status).to.equal(200)
    expect(
      (
        await save('sites', {
          code: 'FJORD',
          name: 'Fjord station',
          country: 'NO',
          zone: 'Europe/Oslo',
          calendar: 'NO',
        })
      ).status,
    ).to.equal(200)
    expect(
      (await save('docks', { code: 'PIER', name: 'Pier', site: 'FJORD', hours: 'Mo-Fr 08:00-15:00' })).status,
    ).to.equal(200)
    const calendar = (await entries('calendars')).find(entry => entry.values.code === 'NO')!
    expect(calendar.pointed).to.equal(1)
    const site = (await entries('sites')).find(entry => entry.values.code === 'FJORD')!
    const changed = await save('sites', { ...site.values, name: 'Fjord station, north' }, site.id, site.version)
    expect(changed.body.version).to.equal(2)
    const history = await world.db('history').where({ documentId: site.id }).orderBy('sequence').select('action')
    expect(history.map(row => row.action)).to.deep.equal(['created', 'changed'])
  })

  it('refuse what two people change at once, what is there twice, and what points to nothing', async () => {
    const site = (await entries('sites')).find(entry => entry.values.code === 'FJORD')!
    const stale = await save('sites', { ...site.values, name: 'Elsewhere' }, site.id, site.version - 1)
    expect([stale.status, stale.codes]).to.deep.equal([409, ['document.changed']])
    const twice = await save('sites', { ...site.values, name: 'Again' })
    expect([twice.codes, twice.reasons[0]?.place]).to.deep.equal([['register.there'], 'code'])
    const nowhere = await save('docks', { code: 'X', name: 'X', site: 'NOWHERE', hours: 'Mo 08:00-09:00' })
    expect([nowhere.codes, nowhere.reasons[0]?.place]).to.deep.equal([['register.noSuch'], 'site'])
  })

  it('keep what is used: it is closed, not dropped, and has no new entries pointing to it from then on', async () => {
    const wren = await world.as('Wren')
    const calendar = (await entries('calendars')).find(entry => entry.values.code === 'NO')!
    const drop = (register: RegisterKey, id: string, version: number) =>
      wren.call(DropEntry, { params: { register, id }, body: { version } })
    expect((await drop('calendars', calendar.id, calendar.version)).codes).to.deep.equal(['register.used'])
    expect(
      (await save('calendars', { ...calendar.values, code: 'NOR' }, calendar.id, calendar.version)).codes,
    ).to.deep.equal(['register.used'])
    expect((await save('calendars', calendar.values, calendar.id, calendar.version, false)).status).to.equal(200)
    const late = await save('sites', { code: 'NEW', name: 'New', country: 'NO', zone: 'Europe/Oslo', calendar: 'NO' })
    expect(late.codes).to.deep.equal(['register.noSuch'])
    const dock = (await entries('docks')).find(entry => entry.values.code === 'PIER')!
    expect((await drop('docks', dock.id, dock.version)).status).to.equal(200)
    expect((await entries('docks')).map(entry => entry.values.code)).to.not.include('PIER')
    const own = (await entries('calendars')).find(entry => entry.values.code === 'HOUSE')!
    expect((await drop('calendars', own.id, own.version)).codes).to.deep.equal(['register.house'])
    expect((await drop('sites', own.id, own.version)).codes).to.deep.equal(['document.notFound'])
  })

  it('leave as a file and come back as the same', async () => {
    const wren = await world.as('Wren')
    await save('taxRates', {
      country: 'NL',
      category: 'S',
      percent: '21',
      from: '2012-10-01',
      name: 'Standard; "high"',
    })
    await save('taxRates', { country: 'NL', category: 'S', percent: '9', from: '2019-01-01', name: '=Low' })
    for (const register of REGISTER_KEYS) {
      const before = (await entries(register)).filter(entry => entry.open)
      const fileId = await upload(`${register}.csv`, await wren.text(ExportRegister, at(register)))
      const result = await wren.do(ImportRegister, { ...at(register), body: { fileId, dryRun: false } })
      expect([result.faults, result.rows], register).to.deep.equal([[], before.length])
      expect(
        (await entries(register)).filter(entry => entry.open),
        register,
      ).to.deep.equal(before)
    }
  })

  it('take in all rows of a file or none', async () => {
    const wren = await world.as('Wren')
    const fileId = await upload(
      'tax.csv',
      'country,category,percent,from,name\nBE,S,21,1996-01-01,Standard\nBE,S,twenty,1996-01-01,Odd\nBE,S,21,1996-01-01,Twice\n',
    )
    const result = await wren.do(ImportRegister, { ...at('taxRates'), body: { fileId, dryRun: false } })
    expect(result.faults.map(fault => [fault.row, fault.place, fault.code])).to.deep.equal([
      [3, 'percent', 'register.percent'],
      [4, 'code', 'import.codeTwice'],
    ])
    expect((await entries('taxRates')).some(entry => entry.values.country === 'BE')).to.equal(false)
  })

  it('count days by the house’s calendar: a holiday from an iCalendar file rests', async () => {
    const wren = await world.as('Wren')
    const day = addDays(today(), 20)
    const text = `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:${day.replaceAll('-', '')}\r\nSUMMARY:Founders’ day\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`
    const fileId = await upload('days.ics', text)
    const body = { fileId, calendar: 'HOUSE', dryRun: true }
    expect((await wren.do(ImportHolidays, { body })).loaded).to.equal(0)
    expect((await teamCalendar({ trx: world.db })).holidays).to.not.include(day)
    expect((await wren.do(ImportHolidays, { body: { ...body, dryRun: false } })).loaded).to.equal(1)
    expect((await teamCalendar({ trx: world.db })).holidays).to.include(day)
    expect((await entries('holidays')).find(entry => entry.values.day === day)?.values.name).to.equal('Founders’ day')
    const large = await upload('large.ics', Buffer.alloc(10 * 1024 * 1024, 'A'))
    const refused = await wren.call(ImportHolidays, { body: { ...body, fileId: large } })
    expect(refused.codes).to.deep.equal(['calendar.tooLarge'])
    const none = await wren.do(ImportHolidays, { body: { ...body, calendar: 'NOWHERE' } })
    expect(none.faults[0]?.code).to.equal('register.noSuch')
  })

  it('take dated rates from CSV and from XML of euro reference rates, a day never twice', async () => {
    const wren = await world.as('Wren')
    const take = async (name: string, text: string, dryRun = false) =>
      await wren.do(ImportRates, { body: { fileId: await upload(name, text), dryRun } })
    const day = addDays(today(), -1)
    const xml = `<?xml version="1.0"?><Envelope><Cube><Cube time="${day}"><Cube currency="SEK" rate="11.25"/><Cube currency="XQQ" rate="2"/></Cube></Cube></Envelope>`
    expect(await take('rates.xml', xml)).to.deep.include({ loaded: 1, faults: [], faultCount: 0 })
    const kept = await world.db('exchangeRates').where({ currency: 'SEK', validFrom: day }).first('rate')
    expect(Number(kept?.rate)).to.equal(0.08888889)
    expect(await take('again.xml', xml), 'the same again changes nothing').to.deep.include({ faultCount: 0 })
    const other = await take(
      'rates.csv',
      `currency;valid_from;rate\nSEK;${day};0,09\nUSD;${addDays(today(), 3)};0.91\nUSD;${addDays(today(), 3)};0.92\nXYZ;${day};1\n`,
    )
    expect(other.faults.map(fault => [fault.row, fault.code])).to.deep.equal([
      [2, 'rate.there'],
      [4, 'import.codeTwice'],
      [5, 'import.badValue'],
    ])
    expect(other.loaded).to.equal(0)
    expect(await wren.text(ExportRates))
      .to.match(/currency,valid_from,rate\r\n/)
      .and.include(`SEK,${day},0.08888889`)
  })

  it('begin the numbers of a kind as the house wants, in one run, and are found by either spelling', async () => {
    const first = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    expect((await save('numberRanges', { kind: 'order', prefix: 'po26-', digits: '6' })).status).to.equal(200)
    const second = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    const after = Number(first.number.slice(2)) + 1
    expect(second.number).to.equal(`PO26-00${after}`)
    const pilar = await world.as('Pilar')
    for (const text of [`po26 ${after}`, second.number, first.number]) {
      const { found } = await pilar.do(Find, { query: { q: text } })
      expect(found[0]?.exact, text).to.equal(true)
    }
    const alike = await save('numberRanges', { kind: 'invoice', prefix: 'PO26-', digits: '' })
    expect([alike.status, alike.codes]).to.deep.equal([422, ['register.there']])
    const range = (await entries('numberRanges'))[0]!
    await save('numberRanges', { ...range.values, prefix: 'PO27-' }, range.id, range.version)
    const { found: earlier } = await pilar.do(Find, { query: { q: second.number } })
    expect(earlier[0], 'numbered before the beginning changed').to.include({ exact: true, detail: second.number })
    const now = (await entries('numberRanges'))[0]!
    await save('numberRanges', now.values, now.id, now.version, false)
    const third = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    expect(third.number).to.equal(`O-${after + 1}`)
  })

  it('are read by who reads Setup and changed by who changes it', async () => {
    const ines = await world.as('Ines')
    expect((await ines.call(ReadRegister, at('sites'))).status).to.equal(403)
    const adaeze = await world.as('Adaeze')
    const body = { id: null, values: { code: 'A', name: 'A', restDays: '' }, open: true, version: 0 }
    expect((await adaeze.call(SaveEntry, { ...at('calendars'), body })).status).to.equal(403)
  })
})
