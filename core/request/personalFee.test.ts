import { expect } from 'chai'
import { lineWords, PERSONAL_FEE, plainWords, seesFee } from '#core/request/personalFee.ts'

describe('a personal fee', () => {
  it('says for whom it is to those with the right, to whoever asked for it, and to the supplier itself', () => {
    const actor = (id: string, realm: string, ...rights: string[]) => ({ id, realm, rights: new Set(rights) })
    expect(seesFee(actor('yuki', 'team', 'order.read'), 'ines')).to.equal(false)
    expect(seesFee(actor('yuki', 'team'), null)).to.equal(false)
    expect(seesFee(actor('ines', 'team'), 'ines')).to.equal(true)
    expect(seesFee(actor('pilar', 'team', 'requisition.personal'), 'ines')).to.equal(true)
    expect(seesFee(actor('sales', 'supplier'), 'ines')).to.equal(true)
  })

  it('is masked for everybody else; other lines are not', () => {
    const fee = { kind: 'personalFee', description: 'Dr Alma Reyes, talk' } as const
    expect([lineWords(fee, false), lineWords(fee, true)]).to.deep.equal([PERSONAL_FEE, fee.description])
    expect(lineWords({ kind: 'goods', description: 'Salt' }, false)).to.equal('Salt')
    expect([plainWords(fee), plainWords({ kind: 'goods', description: 'Salt' })]).to.deep.equal([PERSONAL_FEE, 'Salt'])
  })
})
