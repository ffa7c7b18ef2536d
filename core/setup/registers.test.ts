import { expect } from 'chai'
import { readHours } from '#core/setup/hours.ts'
import {
  identityOf,
  type KnownCodes,
  pointersTo,
  readEntry,
  REGISTER_KEYS,
  type RegisterKey,
  REGISTERS,
  type Values,
  whyNotDrop,
  whyNotRename,
} from '#core/setup/registers.ts'

const KNOWN: KnownCodes = new Map([
  ['calendars', new Set(['HOUSE', 'NO'])],
  ['sites', new Set(['QUAY'])],
])
const GOOD: Readonly<Record<RegisterKey, Values>> = {
  sites: { code: 'QUAY', name: 'Saltmere Quay', country: 'NL', zone: 'Europe/Amsterdam', calendar: 'HOUSE' },
  docks: { code: 'GATE', name: 'Quay gate', site: 'QUAY', hours: 'Mo-Fr 07:00-16:00' },
  calendars: { code: 'NO', name: 'Norway', restDays: 'SU SA' },
  holidays: { calendar: 'NO', day: '2026-05-17', name: 'Constitution Day' },
  ownAccounts: { code: 'MAIN', name: 'Saltmere', iban: 'NL91ABNA0417164300', bic: 'INGBNL2A', currency: 'EUR' },
  mailTexts: { template: 'order.cancelled', language: 'en', subject: 'Order {number}', text: 'Dear {name},\n\ngone.' },
  tolerances: { of: 'price', supplier: 'S-9', category: 'Pumps', currency: 'EUR', above: '1000', percent: '2', absolute: '0.5', combine: 'looser', ways: 'both', from: '2026-01-01' }, // prettier-ignore
  numberRanges: { kind: 'order', prefix: 'PO-', digits: '6' },
  units: { code: 'DZN' },
  tagRanges: { code: 'SAT', name: 'Equipment', prefix: 'SAT-', digits: '6', first: '1', last: '9999' },
  countryCosts: { country: 'NO', category: 'Pumps', freight: '3.5', duty: '0' },
  taxRates: { country: 'NL', category: 'S', percent: '21', from: '2012-10-01', name: 'Standard' },
}
const faults = (register: RegisterKey, change: Values): string[] =>
  readEntry(register, { ...GOOD[register], ...change }, KNOWN).reasons.map(reason => `${reason.place} ${reason.code}`)

describe('registers of the house', () => {
  it('take what is right as it is', () => {
    for (const register of REGISTER_KEYS)
      expect(readEntry(register, GOOD[register], KNOWN), register).to.deep.equal({
        values: GOOD[register],
        reasons: [],
      })
  })

  it('write codes, countries and weekdays in capitals, percent with a point, words without needless blanks', () => {
    expect(
      readEntry('sites', { ...GOOD.sites, code: ' quay ', country: 'nl', calendar: 'house' }, KNOWN).values,
    ).to.include({
      code: 'QUAY',
      country: 'NL',
      calendar: 'HOUSE',
    })
    expect(readEntry('calendars', { ...GOOD.calendars, restDays: 'su  sa' }, KNOWN).values.restDays).to.equal('SU SA')
    expect(readEntry('taxRates', { ...GOOD.taxRates, percent: '9,5' }, KNOWN).values.percent).to.equal('9.5')
    expect(readEntry('docks', { ...GOOD.docks, name: ' Quay   gate ' }, KNOWN).values.name).to.equal('Quay gate')
  })

  it('say at the field what is wrong with it', () => {
    expect(faults('sites', { code: 'two words' })).to.deep.equal(['code register.code'])
    expect(faults('sites', { country: 'NLD' })).to.deep.equal(['country register.country'])
    expect(faults('sites', { zone: 'Mars/Olympus' })).to.deep.equal(['zone register.zone'])
    expect(faults('sites', { calendar: 'SE' })).to.deep.equal(['calendar register.noSuch'])
    expect(faults('docks', { site: 'NOWHERE', hours: 'always' })).to.deep.equal([
      'site register.noSuch',
      'hours register.hours',
    ])
    expect(faults('calendars', { restDays: 'SU XX' })).to.deep.equal(['restDays register.restDays'])
    expect(faults('holidays', { day: '2026-02-29' })).to.deep.equal(['day register.day'])
    expect(faults('holidays', { name: 'x'.repeat(121) })).to.deep.equal(['name register.words'])
    expect(faults('taxRates', { category: 'VAT' })).to.deep.equal(['category register.choice'])
    for (const percent of ['-1', '100.01', '7.125', 'seven'])
      expect(faults('taxRates', { percent }), percent).to.deep.equal(['percent register.percent'])
    expect(faults('taxRates', { percent: '0' })).to.deep.equal([])
    expect(faults('taxRates', { percent: '100' })).to.deep.equal([])
  })

  it('know accounts by their check digits, and begin numbers so that no two kinds look alike', () => {
    expect(faults('ownAccounts', { iban: 'NL91ABNA0417164301' })).to.deep.equal(['iban register.iban'])
    expect(faults('ownAccounts', { bic: 'ING' })).to.deep.equal(['bic register.bic'])
    expect(faults('ownAccounts', { currency: 'XXX' })).to.deep.equal(['currency register.currency'])
    const typed = { ...GOOD.ownAccounts, iban: 'nl91 abna 0417 1643 00', bic: 'ingbnl2a' }
    expect(readEntry('ownAccounts', typed, KNOWN).values).to.deep.equal(GOOD.ownAccounts)
    expect(faults('numberRanges', { prefix: 'I-' })).to.deep.equal(['prefix register.there'])
    expect(faults('numberRanges', { prefix: 'O-' })).to.deep.equal([])
    for (const prefix of ['4-', 'P O', 'TOOLONGA-', 'PO--', 'PO/', '-'])
      expect(faults('numberRanges', { prefix }), prefix).to.deep.equal(['prefix register.prefix'])
    expect(faults('numberRanges', { digits: '10' })).to.deep.equal(['digits register.digits'])
    expect(faults('numberRanges', { kind: 'person' })).to.deep.equal(['kind register.choice'])
  })

  it('may go on pointing to what was closed meanwhile, but not to something else that is closed', () => {
    const before = { ...GOOD.sites, calendar: 'OLD' }
    const codes = (calendar: string): string[] =>
      readEntry('sites', { ...GOOD.sites, calendar }, KNOWN, before).reasons.map(reason => reason.code)
    expect([codes('old'), codes('HOUSE'), codes('OTHER'), codes('')]).to.deep.equal([
      [],
      [],
      ['register.noSuch'],
      ['register.missing'],
    ])
  })

  it('want every field but those that may be empty', () => {
    for (const register of REGISTER_KEYS)
      for (const { key, optional } of REGISTERS[register].fields)
        expect(faults(register, { [key]: ' ' }), `${register} ${key}`).to.deep.equal(
          optional ? [] : [`${key} register.missing`],
        )
  })

  it('tell entries apart by what names them, and keep what others point to', () => {
    expect(identityOf('holidays', GOOD.holidays)).to.equal('NO 2026-05-17')
    expect(identityOf('docks', GOOD.docks)).to.equal('GATE')
    expect(pointersTo('calendars')).to.deep.equal([
      ['sites', 'calendar'],
      ['holidays', 'calendar'],
    ])
    expect(pointersTo('docks')).to.deep.equal([])
    const codes = (register: RegisterKey, values: Values, pointed: number): string[] =>
      whyNotDrop(register, values, pointed).map(reason => reason.code)
    expect(codes('sites', GOOD.sites, 0)).to.deep.equal([])
    expect(codes('sites', GOOD.sites, 2)).to.deep.equal(['register.used'])
    expect(codes('calendars', { code: 'HOUSE' }, 0)).to.deep.equal(['register.house'])
    expect(codes('calendars', { code: 'NO' }, 0)).to.deep.equal([])
    expect(whyNotRename('A', 'B', 1).map(reason => reason.code)).to.deep.equal(['register.used'])
    expect([whyNotRename('A', 'A', 1), whyNotRename('A', 'B', 0)]).to.deep.equal([[], []])
  })
})

describe('opening hours', () => {
  it('are read day by day, Monday first', () => {
    const week = readHours('Mo-Fr 07:00-12:00,13:00-16:00; Sa 08:00-12:00')
    expect(week?.map(day => day.length)).to.deep.equal([2, 2, 2, 2, 2, 1, 0])
    expect(week?.[5]).to.deep.equal([{ from: '08:00', to: '12:00' }])
    expect(readHours('mo,we 00:00-24:00')?.map(day => day.length)).to.deep.equal([1, 0, 1, 0, 0, 0, 0])
  })

  it('are refused where they cannot be meant', () => {
    for (const text of [
      '',
      'Mo',
      'Mo 7-16',
      'Mo 16:00-07:00',
      'Mo 08:00-08:00',
      'Mo 08:00-25:00',
      'Fr-Mo 08:00-12:00',
      'Mo-We-Fr 08:00-12:00',
      'Mo 08:00-12:00; Mo 13:00-14:00',
      'Mo 08:00-12:00,11:00-14:00',
      'Xx 08:00-12:00',
      'Mo 08:00-12:00 or so',
      Array.from({ length: 15 }, () => 'Mo 08:00-12:00').join(';'),
    ])
      expect(readHours(text), text).to.equal(undefined)
  })
})
