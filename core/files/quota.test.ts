import { expect } from 'chai'
import { QUOTA_MB, whyNotSend } from '#core/files/quota.ts'

const MB = 1024 * 1024

describe('what may be sent in a day', () => {
  it('has a limit for each person, the last byte included', () => {
    const own = (QUOTA_MB.person - 1) * MB
    expect(whyNotSend({ own, company: null }, MB)).to.deep.equal([])
    expect(whyNotSend({ own, company: null }, MB + 1)[0]).to.deep.include({
      code: 'file.quota',
      level: 'stop',
      details: { who: 'you', limit: '1000 MB' },
    })
  })

  it('has one for the people of a company together, and none for the team together', () => {
    const company = QUOTA_MB.company * MB
    expect(whyNotSend({ own: 0, company }, 0)).to.deep.equal([])
    expect(whyNotSend({ own: 0, company }, 1)[0]?.details).to.deep.equal({ who: 'your company', limit: '2000 MB' })
    expect(whyNotSend({ own: 0, company: null }, 1)).to.deep.equal([])
    expect(whyNotSend({ own: QUOTA_MB.person * MB, company }, 1)).to.have.length(1)
  })
})
