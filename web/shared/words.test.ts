import { expect } from 'chai'
import {
  amountText,
  day,
  label,
  priceText,
  quantityText,
  readFor,
  since,
  stamp,
  unit,
  viewLabel,
  words,
} from '#web/shared/words.ts'

const blank = (text: string): string => text.replaceAll('\u00a0', ' ')
const ago = (minutes: number): string => new Date(Date.now() - minutes * 60_000).toISOString()

describe('figures as people read them', () => {
  it('group thousands with a blank that does not break, and keep every digit', () => {
    expect(['18420.00', '1304.97', '612000', '-5280.00', '0.00', '999'].map(amountText).map(blank)).to.deep.equal([
      '18 420.00',
      '1 304.97',
      '612 000',
      '-5 280.00',
      '0.00',
      '999',
    ])
    expect(amountText('1234567.891')).to.include('\u00a0')
  })

  it('show prices with at least two digits, and all that they have', () => {
    expect(['85', '2.1', '0.0861', '1250.5'].map(priceText).map(blank)).to.deep.equal([
      '85.00',
      '2.10',
      '0.0861',
      '1 250.50',
    ])
  })

  it('show quantities as they are', () => {
    expect(['12', '1200', '0.5'].map(quantityText).map(blank)).to.deep.equal(['12', '1 200', '0.5'])
    expect([unit('C62'), unit('MTR')]).to.not.include('')
  })
})

describe('days and times', () => {
  it('name the year only where it is another one', () => {
    const year = new Date().getFullYear()
    expect(day(`${year}-12-04`)).to.equal('4 Dec')
    expect(day('2019-12-04')).to.equal('4 Dec 2019')
    expect([day(null), day(undefined), day('')]).to.deep.equal(['', '', ''])
  })

  it('read a stamp by its day, whatever its hour', () => {
    const year = new Date().getFullYear()
    expect([day(`${year}-12-04T00:30:00Z`), day(`${year}-12-04T23:30:00Z`)]).to.deep.equal(['4 Dec', '4 Dec'])
    expect(stamp(`${year}-12-04T12:00:00Z`)).to.include('4 Dec')
  })

  it('say how long ago it was, coarser the longer', () => {
    expect([0, 5, 130, 1500, 3 * 1440].map(minutes => since(ago(minutes)))).to.deep.equal([
      'just now',
      '5 minutes ago',
      '2 h ago',
      'yesterday',
      '3 days ago',
    ])
    expect(since('2019-12-04T12:00:00Z')).to.equal('4 Dec 2019')
  })
})

describe('words', () => {
  it('fill a sentence with dates, amounts, states and roles as people read them', () => {
    const held = words({ code: 'desk.hold', details: { who: '', title: 'BRI-4015', extra: 'price', number: 'I-1' } })
    expect(held).to.include('price')
    const year = new Date().getFullYear()
    const late = words({
      code: 'order.short.late',
      details: { needBy: `${year}-11-26`, issuedAt: '' },
    })
    expect(late).to.include('26 Nov')
  })

  it('say nothing for nothing, and show a code that they do not know', () => {
    expect([words(null), words(undefined)]).to.deep.equal(['', ''])
    expect(words({ code: 'no.such.code', details: {} })).to.include('no.such.code')
    expect(label('state', 'noSuchState')).to.equal('noSuchState')
  })

  it('call a view by its own name before the one that all lists share', () => {
    expect(viewLabel('bankMessages', 'open')).to.equal('To look at')
    expect(viewLabel('nothing', 'all')).to.not.equal('')
  })
})

describe('a reader', () => {
  afterEach(() => readFor('en-GB', 'UTC'))

  it('reads dates, times and figures as they are used to, in their own time zone', () => {
    const at = `${new Date().getFullYear()}-05-03T22:30:00.000Z`
    readFor('de-DE', 'Europe/Berlin')
    expect([day('2019-12-04'), blank(amountText('18420.50')), stamp(at)]).to.deep.equal([
      '4. Dez. 2019',
      '18 420,50',
      '4. Mai, 00:30',
    ])
    readFor('en-US', 'America/New_York')
    expect([day('2019-12-04'), blank(amountText('18420.50'))]).to.deep.equal(['Dec 4, 2019', '18 420.50'])
    expect(stamp(at)).to.match(/^May 3, 0?6:30\sPM$/)
  })

  it('sees a calendar day as that day, wherever they are', () => {
    for (const zone of ['Pacific/Kiritimati', 'Pacific/Pago_Pago', 'UTC']) {
      readFor('en-GB', zone)
      expect(day('2019-12-04'), zone).to.equal('4 Dec 2019')
    }
  })
})
