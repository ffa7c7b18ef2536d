import { expect } from 'chai'
import fc from 'fast-check'
import { judgeMail, readReply } from '#core/decide/mailReply.ts'
import { whyNotWay, type WayFacts } from '#core/decide/way.ts'

const said = (text: string, language = 'en') => {
  const reply = readReply(text, language)
  return reply && `${reply.answer}|${reply.words}`
}

describe('an answer by mail', () => {
  it('says with its first word what is decided, whatever stands around it', () => {
    expect(said('yes')).to.equal('approve|')
    expect(said('  "Yes", go on.')).to.equal('approve|go on.')
    expect(said('Approved!')).to.equal('approve|')
    expect(said('NO: too dear')).to.equal('reject|too dear')
    expect(said('reject - not this year')).to.equal('reject|not this year')
    expect(said('Question\nHow many?')).to.equal('ask|How many?')
  })

  it('is read in its language, and in English', () => {
    expect(said('Ja, gern.', 'de-AT')).to.equal('approve|gern.')
    expect(said('Nein, zu teuer', 'de')).to.equal('reject|zu teuer')
    expect(said('Frage: wie viele?', 'de')).to.equal('ask|wie viele?')
    expect(said('no, why', 'de')).to.equal('reject|why')
    expect(said('Ja', 'en')).to.equal(null)
  })

  it('says nothing with other words, nor with the word inside others', () => {
    for (const text of [
      '',
      '   ',
      'Thanks, yes',
      'yesterday I saw it',
      'noted',
      '> yes',
      '123',
      'constructor',
      'toString',
    ])
      expect(said(text), text).to.equal(null)
  })

  it('ends where the mail that is answered is quoted, as programs do it, and at the signature', () => {
    const quotes = [
      '> Approve: https://x',
      'On Mon, 30 Nov 2026 at 10:12, Ivory Order <x@y.example> wrote:',
      'On Mon, 30 Nov 2026 at 10:12, Ivory Order\n<x@y.example> wrote:',
      'Am Mo., 30. Nov. 2026 um 10:12 Uhr schrieb Ivory Order <x@y.example>:',
      '-----Original Message-----',
      '-----Ursprüngliche Nachricht-----',
      'From: Ivory Order',
      'Von: Ivory Order',
      '________________________________',
      '-- ',
      '--',
    ]
    for (const quote of quotes) expect(said(`no, too dear\n\n${quote}\nyes`), quote).to.equal('reject|too dear')
    expect(said('no, on Monday we wrote this: too dear')).to.equal('reject|on Monday we wrote this: too dear')
    expect(said('\n\n> yes')).to.equal(null)
  })

  it('is cut where nobody writes on, however long it is', () => {
    expect(readReply(`no ${'x'.repeat(9000)}`, 'en')!.words.length).to.be.at.most(2000)
    expect(said(`${'\n'.repeat(300)}yes`)).to.equal(null)
  })

  it('never fails, whatever came', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 400 }), text => void readReply(text, 'de')), { numRuns: 300, seed: 4 }) // prettier-ignore
  })

  it('counts from the address that was asked, written by a person', () => {
    const marit = { email: 'Marit@Saltmere.example', language: 'en' }
    const judge = (changed: object, text = 'yes') =>
      judgeMail({ from: 'marit@saltmere.example', text, automatic: false, ...changed }, marit)
    expect(judge({})).to.deep.equal({ ok: true, reply: { answer: 'approve', words: '' } })
    const why = (changed: object, text?: string) => {
      const judged = judge(changed, text)
      return judged.ok ? 'ok' : judged.why
    }
    expect(why({ from: 'marit@elsewhere.example' })).to.equal('way.otherSender')
    expect(why({ automatic: true })).to.equal('way.automatic')
    expect(why({ automatic: true, from: 'x@y.example' })).to.equal('way.automatic')
    expect(why({}, 'well')).to.equal('way.unread')
    expect(why({}, 'no')).to.equal('way.noReason')
    expect(why({}, 'no ab')).to.equal('way.noReason')
    expect(why({}, 'no abc')).to.equal('ok')
    expect(why({}, 'question ?')).to.equal('way.noQuestion')
  })
})

describe('a way to decide', () => {
  const NOW = '2026-06-02T08:00:00.000Z'
  const way: WayFacts = {
    expiresAt: '2026-06-02T08:00:00.001Z',
    usedAt: null,
    seenHash: 'a',
    hashNow: 'a',
    stepState: 'open',
    active: true,
  }
  const codes = (changed: Partial<WayFacts>) => whyNotWay({ ...way, ...changed }, NOW).map(one => one.code)
  it('works once, in its time, while the same is asked of somebody who is there', () => {
    expect(codes({})).to.deep.equal([])
    expect(codes({ usedAt: NOW })).to.deep.equal(['way.used'])
    expect(codes({ expiresAt: NOW })).to.deep.equal(['way.expired'])
    expect(codes({ hashNow: 'b' })).to.deep.equal(['way.changed'])
    expect(codes({ active: false })).to.deep.equal(['way.unknown'])
    for (const stepState of ['later', 'approved', 'rejected', 'returned', 'dropped'] as const)
      expect(codes({ stepState }), stepState).to.deep.equal(['way.decided'])
  })
})
