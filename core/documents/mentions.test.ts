import { expect } from 'chai'
import { mentionDesk, mentionMails, type MentioningNote, whyNotMention } from '#core/documents/mentions.ts'

const NOTE: MentioningNote = {
  id: 'n1',
  text: 'Can this wait until spring?',
  at: '2026-11-30T08:00:00Z',
  by: 'Marit Oland',
  path: '/order/o1',
  number: 'O-1',
  title: 'Pumps',
}

describe('a note that names people', () => {
  it('stands on the Desk of those who have not seen it, in the stage of its document, as long as they have not', () => {
    expect(mentionDesk(NOTE, [])).to.deep.equal([])
    const [entry] = mentionDesk(NOTE, ['ines', 'joren'])
    expect(entry).to.deep.include({
      key: 'mentioned',
      stage: 'order',
      act: 'see',
      audiences: ['person:ines', 'person:joren'],
      path: '/order/o1',
      since: NOTE.at,
    })
    expect(entry!.details).to.deep.equal({ who: 'Marit Oland', number: 'O-1', title: 'Pumps', extra: NOTE.text })
    expect(mentionDesk({ ...NOTE, path: '/insight/b1' }, ['ines'])[0]!.stage).to.equal('request')
  })

  it('is shown there in part where it is long: 140 letters are whole', () => {
    const shown = (length: number) =>
      String(mentionDesk({ ...NOTE, text: 'x'.repeat(length) }, ['ines'])[0]!.details.extra)
    expect(shown(140)).to.equal('x'.repeat(140))
    expect(shown(141)).to.equal(`${'x'.repeat(140)} …`)
  })

  it('tells each by mail, once', () => {
    const mails = mentionMails(NOTE, ['ines', 'joren'])
    expect(mails.map(mail => [mail.to, mail.key, mail.template])).to.deep.equal([
      [{ kind: 'person', id: 'ines' }, 'note:n1:ines', 'note.mentioned'],
      [{ kind: 'person', id: 'joren' }, 'note:n1:joren', 'note.mentioned'],
    ])
    expect(mails[0]!.details).to.deep.equal({ number: 'O-1', title: 'Pumps', by: 'Marit Oland', text: NOTE.text, path: '/order/o1' }) // prettier-ignore
  })

  it('leads nobody to what they may not see, and nobody who has left', () => {
    const person = { personId: 'ines', name: 'Ines', active: true, seesDocument: true }
    expect(whyNotMention([person])).to.deep.equal([])
    expect(whyNotMention([person, { ...person, seesDocument: false }]).map(one => [one.code, one.details.name, one.place])).to.deep.equal([['note.cannotSee', 'Ines', 'text']]) // prettier-ignore
    expect(whyNotMention([{ ...person, active: false, seesDocument: false }]).map(one => one.code)).to.deep.equal(['person.closed']) // prettier-ignore
  })
})
