import { expect } from 'chai'
import { readCodeRow, readPersonRow } from '#core/people/setupImport.ts'

const ROLES = new Set(['requester', 'buyer', 'budgetHolder'])
const CENTRES = new Set(['AC-110'])
const person = (row: Record<string, string>) =>
  readPersonRow({ name: 'Ines', email: 'ines@a.example', roles: '', manager: '', ...row }, 7, ROLES, CENTRES)
const faultsOf = (read: { reasons: readonly { code: string; place?: string }[] }): string[] =>
  read.reasons.map(reason => `${reason.code} ${reason.place}`)

describe('a row of people', () => {
  it('is a name, an address in small letters, roles for all or for one cost centre, and who decides in their place', () => {
    expect(
      person({
        name: ' Ines ',
        email: 'Ines@A.example',
        roles: 'buyer | budgetHolder@ac-110|',
        manager: 'Bo@a.example',
      }),
    ).to.deep.equal({
      value: {
        name: 'Ines',
        email: 'ines@a.example',
        roles: [
          { role: 'buyer', costCentre: null },
          { role: 'budgetHolder', costCentre: 'AC-110' },
        ],
        manager: 'bo@a.example',
      },
      reasons: [],
    })
    expect(person({}).value!.roles, 'nothing said').to.deep.equal([{ role: 'requester', costCentre: null }])
  })

  it('names every fault at its place', () => {
    expect(faultsOf(person({ name: ' ' }))).to.deep.equal(['import.missing rows.7.name'])
    for (const email of ['', 'ines', 'ines@a', '@a.example', 'i nes@a.example'])
      expect(faultsOf(person({ email })), email).to.deep.equal(['import.email rows.7.email'])
    expect(faultsOf(person({ manager: 'bo' }))).to.deep.equal(['import.email rows.7.manager'])
    for (const roles of ['king', 'buyer@XX', 'buyer|king'])
      expect(faultsOf(person({ roles })), roles).to.deep.equal(['import.unknownCode rows.7.roles'])
    expect(person({ name: '', email: '' }).value).to.equal(undefined)
    expect(person({ name: '' }).value, 'one is enough').to.equal(undefined)
    expect(person({ roles: `k${'x'.repeat(80)}` }).reasons[0]!.details.value).to.have.length(40)
  })
})

describe('a row of cost centres or accounts', () => {
  it('is a code in capitals, a name, and who holds it', () => {
    expect(readCodeRow({ code: ' ac-110 ', name: 'Animals', holder: 'Bo@A.example' }, 3)).to.deep.equal({
      value: { code: 'AC-110', name: 'Animals', holder: 'bo@a.example' },
      reasons: [],
    })
    expect(readCodeRow({ code: '6010', name: 'feed' }, 3).value!.holder).to.equal('')
  })

  it('names every fault at its place', () => {
    const faults = (row: Record<string, string>) => faultsOf(readCodeRow({ code: 'A', name: 'x', ...row }, 3))
    expect(faults({ code: '' })).to.deep.equal(['import.missing rows.3.code'])
    for (const code of ['a b', '-A', 'x'.repeat(21)])
      expect(faults({ code }), code).to.deep.equal(['import.code rows.3.code'])
    expect(readCodeRow({ code: 'A', name: '' }, 3).value).to.equal(undefined)
    expect(faults({ code: 'x'.repeat(20) })).to.deep.equal([])
    expect(faults({ name: '' })).to.deep.equal(['import.missing rows.3.name'])
    expect(faults({ holder: 'bo' })).to.deep.equal(['import.email rows.3.holder'])
  })
})
