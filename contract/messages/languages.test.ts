import { expect } from 'chai'
import { UNIT_CODES, unitLabel } from '#core/units/units.ts'
import { fill } from '#contract/messages/fill.ts'
import { languageOf } from '#contract/messages/languages.ts'
import { detailsOf, MAIL_TEMPLATES, sampleDetails, whyNotOwnWords } from '#contract/messages/ownWords.ts'
import { say } from '#contract/messages/say.ts'
import { write, writeMail, writeUnit, writtenDay, writtenFigure } from '#contract/messages/translate.ts'

describe('texts in the reader’s language', () => {
  it('are filled in, and a part stands only where its detail says something', () => {
    expect(fill('Dear [name|{name}],[note| {note}]', { name: 'Lou', note: '' })).to.equal('Dear Lou,')
    expect(fill('{a}{b}', { a: 0 })).to.equal('0')
    expect(fill('{toString}', {})).to.equal('')
  })

  it('are in the reader’s language where the house uses it, else in the house’s first', () => {
    expect(languageOf('de-AT', ['en', 'de'])).to.equal('de')
    expect(languageOf('de', ['en'])).to.equal('en')
    expect(languageOf('fr-FR', ['de', 'en'])).to.equal('en')
    expect(languageOf('fr-FR', ['de'])).to.equal('de')
    expect(languageOf('', [])).to.equal('en')
  })

  it('fall back to English for what is not translated', () => {
    expect(write('de')('Needed by')).to.equal('Gebraucht bis')
    expect(write('de')('A text that nobody translated {n}', { n: 1 })).to.equal('A text that nobody translated 1')
    expect(write('en')('Order {number}', { number: 'O-1' })).to.equal('Order O-1')
    expect(writeUnit('de', 'C62')).to.equal('St.')
    const words = UNIT_CODES.filter(code => /^[a-z]{4,}$/.test(unitLabel(code)))
    expect(
      words.filter(code => writeUnit('de', code) === unitLabel(code)),
      'words, not signs',
    ).to.deep.equal([])
    expect(writeUnit('de', 'KGM')).to.equal('kg')
    expect(writeUnit('en', 'C62')).to.equal('pcs')
    expect(say('line.quantity', {}, {})).to.equal('The quantity must be above zero.')
  })

  it('write days and figures as their readers do, with every digit', () => {
    expect(writtenDay('2026-12-28', 'de-DE')).to.equal('28.12.2026')
    expect(writtenDay('2026-12-08', 'en')).to.equal('8 Dec 2026')
    expect(writtenFigure('12345678901234567890.10', 'de')).to.equal('12.345.678.901.234.567.890,10')
    expect(writtenFigure('1250', 'en')).to.equal('1,250')
    expect(writtenFigure('0.000001', 'de')).to.equal('0,000001')
  })

  it('may be a house’s own, if they name only what the mail has and keep its link', () => {
    const own = (text: string, more = {}) =>
      whyNotOwnWords({ template: 'order.issued', language: 'en', subject: 'Order {number}', text, ...more }).map(
        one => `${one.place} ${one.code}`,
      )
    expect(own('Please see {path}, [note|{name}]')).to.deep.equal(['text mailText.noDetail'])
    expect(own('Please see {path}, [name|{name}]')).to.deep.equal([])
    expect(own('Please see it.')).to.deep.equal(['text mailText.needs'])
    expect(own('{path}', { subject: '{price}' })).to.deep.equal(['subject mailText.noDetail'])
    expect(own('{path}', { language: 'xx' })).to.deep.equal(['language mailText.noSuch'])
    expect(own('{path}', { template: 'toString' })).to.deep.equal(['template mailText.noSuch'])
    expect(detailsOf('order.cancelled')).to.include.members(['number', 'reason', 'name', 'house'])
    for (const template of MAIL_TEMPLATES)
      expect(writeMail(template, 'en', sampleDetails(template)).text, template).to.not.match(/\{|\[/)
  })

  it('are mails with days and amounts put in, and one line of subject', () => {
    const details = { number: 'O-1', revision: 0, title: 'Pumps', currency: 'EUR', total: '1250.50', name: 'Lou', by: 'Pilar', house: 'Saltmere', path: '/x' } // prettier-ignore
    expect(writeMail('order.issued', 'de', details).text).to.include('Bestellung O-1 über EUR 1.250,50.')
    expect(writeMail('order.issued', 'en', details).text).to.include('order O-1: EUR 1,250.50.')
    expect(
      writeMail('supplier.certificate', 'de', { kind: 'ISO 9001', lapsed: '2026-11-02', days: '' }).subject,
    ).to.equal('ISO 9001: abgelaufen am 02.11.2026')
    expect(() => writeMail('no.such', 'en', {})).to.throw('no words')
  })
})
