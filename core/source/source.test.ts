import { expect } from 'chai'
import { checkIban, checkIdentifier, gs1CheckDigit, mod97, normalIdentifier } from '#core/source/identifiers.ts'
import { whyNotOrderFrom } from '#core/source/orderable.ts'
import { mergeQuestion, movesMoney } from '#core/source/questions.ts'
import { SUPPLIER_STATE_CODES } from '#core/source/states.ts'
import { readSupplierRow } from '#core/source/supplierImport.ts'

describe('identifiers', () => {
  it('are compared without blanks, points and case', () => {
    expect(normalIdentifier(' de 123-456.789 ')).to.equal('DE123456789')
  })

  it('pass or fail by their check digits', () => {
    expect(gs1CheckDigit('400638133393')).to.equal('1')
    expect(checkIdentifier('gln', '4006381333931')).to.deep.equal([])
    expect(checkIdentifier('gln', '4006381333930')[0]!.code).to.equal('source.glnInvalid')
    expect(checkIdentifier('lei', '5493001KJTIIGC8Y1R12')).to.deep.equal([])
    expect(checkIdentifier('lei', '5493001KJTIIGC8Y1R13')[0]!.code).to.equal('source.leiInvalid')
    expect(mod97('5493001KJTIIGC8Y1R12')).to.equal(1)
  })

  it('know an IBAN by ISO 13616', () => {
    expect(checkIban('GB82 WEST 1234 5698 7654 32')).to.deep.equal([])
    expect(checkIban('GB82 WEST 1234 5698 7654 33')[0]!.code).to.equal('source.ibanInvalid')
    expect(checkIban('')[0]!.code).to.equal('source.ibanInvalid')
  })

  it('want a country before a VAT number', () => {
    expect(checkIdentifier('vat', 'NL999900001B83')).to.deep.equal([])
    expect(checkIdentifier('vat', '999999891')[0]).to.deep.include({ code: 'source.vatInvalid' })
  })
})

describe('rows of a supplier file', () => {
  const row = {
    name: 'Salines du Grand Pré-Vert',
    country: 'fr',
    vat: 'FR74999900012',
    currency: '',
    terms_days: '',
    email: 'orders@salines.example',
    categories: 'Salt | Chemistry',
  }

  it('fill in what is usual', () => {
    expect(readSupplierRow(row, 2).supplier).to.deep.include({
      currency: 'EUR',
      termsDays: 30,
      country: 'FR',
      categories: ['Salt', 'Chemistry'],
    })
  })

  it('name every fault at once', () => {
    const codes = readSupplierRow(
      {
        ...row,
        name: '',
        country: 'France',
        email: 'nobody',
        terms_days: 'soon',
        currency: 'XYZ',
        iban: 'NL00',
        vat: '12',
      },
      3,
    ).reasons.map(reason => reason.code)
    expect(codes).to.have.members([
      'import.missing',
      'import.country',
      'import.email',
      'import.number',
      'money.unknownCurrency',
      'source.ibanInvalid',
      'source.vatInvalid',
    ])
  })

  it('refuse formula cells but not negative numbers', () => {
    expect(readSupplierRow({ ...row, name: '=cmd|calc' }, 4).reasons.map(reason => reason.code)).to.include(
      'import.formula',
    )
    expect(readSupplierRow({ ...row, name: '+SUM(A1)' }, 4).reasons.map(reason => reason.code)).to.include(
      'import.formula',
    )
    expect(readSupplierRow({ ...row, street: '-12' }, 4).reasons).to.deep.equal([])
  })

  it('refuse names of more than 300 letters', () => {
    expect(readSupplierRow({ ...row, name: 'x'.repeat(301) }, 5).reasons.map(reason => reason.code)).to.deep.equal([
      'import.tooLong',
    ])
  })
})

describe('ordering from a supplier', () => {
  it('is open at one that is active, and says of any other what stands in the way and who can put it right', () => {
    const facts = { name: 'Tide Pumps', ordersStopped: false }
    expect(whyNotOrderFrom({ ...facts, state: 'active' })).to.deep.equal([])
    for (const state of SUPPLIER_STATE_CODES.filter(one => one !== 'active'))
      expect(whyNotOrderFrom({ ...facts, state })).to.deep.equal([
        {
          code: `order.supplier.${state}`,
          level: 'stop',
          details: { supplier: 'Tide Pumps' },
          clearedBy: ['buyer', 'sourcingLead'],
        },
      ])
  })

  it('is stopped by its defaults too, beside its state', () => {
    const stopped = whyNotOrderFrom({ name: 'Tide Pumps', state: 'paused', ordersStopped: true })
    expect(stopped.map(reason => reason.code)).to.deep.equal(['order.supplier.paused', 'order.supplier.stopped'])
  })
})

describe('a merge that moves money', () => {
  it('is one of a record that is owed something, and is asked of somebody else than who wants it', () => {
    expect([movesMoney({ unpaidInvoices: [] }), movesMoney({ unpaidInvoices: ['I-1'] })]).to.deep.equal([false, true])
    const question = mergeQuestion('kept', 'merged', 'pilar', 'They are one.')
    expect(question).to.deep.include({ purpose: 'merge', documentId: 'kept', subject: { mergedId: 'merged' } })
    expect(question.steps[0]).to.deep.include({ notBy: ['pilar'] })
  })
})
