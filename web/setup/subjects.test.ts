import { expect } from 'chai'
import { findSubjects, SUBJECTS } from '#web/setup/subjects.ts'
import { REGISTER_KEYS } from '#core/setup/registers.ts'

describe('the pages of Setup', () => {
  it('have an address each, and every register has one', () => {
    expect(new Set(SUBJECTS.map(subject => subject.key)).size).to.equal(SUBJECTS.length)
    expect(SUBJECTS.flatMap(subject => subject.register ?? [])).to.have.members(
      // mails have a page of their own, with a look at each
      REGISTER_KEYS.filter(key => key !== 'mailTexts'),
    )
    for (const subject of SUBJECTS) if (subject.register) expect(subject.key).to.equal(subject.register)
  })

  it('are found by what people call them', () => {
    const first = (text: string): string[] => findSubjects(text).map(subject => subject.key)
    expect(first('vat country')).to.deep.equal(['taxRates'])
    expect(first('ICAL')).to.deep.equal(['holidays'])
    expect(first('approval')).to.deep.equal(['rules'])
    expect(first('opening hours')).to.deep.equal(['docks'])
    expect(first('')).to.have.length(SUBJECTS.length)
    expect(first('submarine')).to.deep.equal([])
  })
})
