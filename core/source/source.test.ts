import { expect } from 'chai'
import { checkRecord } from '#core/source/checkRecord.ts'
import { gs1CheckDigit, isGtin } from '#core/text/gs1.ts'
import { checkIban, checkIdentifier, mod97, normalIdentifier } from '#core/source/identifiers.ts'
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

  it('say where they stand, and take other numbers of one letter to forty', () => {
    expect(checkIdentifier('gln', '1', 'identifiers.0.value')[0]).to.deep.include({ place: 'identifiers.0.value' })
    expect(checkIdentifier('gln', '1')[0]).to.not.have.property('place')
    expect(checkIban('NL00', 'ibans.0')[0]).to.deep.include({ place: 'ibans.0' })
    expect(checkIban('NL00')[0]).to.not.have.property('place')
    for (const [text, good] of [
      ['7', true],
      ['x'.repeat(40), true],
      ['', false],
      ['x'.repeat(41), false],
    ] as const)
      expect(checkIdentifier('other', text).length === 0, text).to.equal(good)
  })

  it('know a GTIN of 8, 12, 13 and 14 digits', () => {
    for (const good of ['40170725', '036000291452', '4006381333931', '14006381333938'])
      expect(isGtin(good), good).to.equal(true)
    for (const bad of ['40170726', '4006381333930', '400638133393', '140063813339381', '4006381-33393', ''])
      expect(isGtin(bad), bad).to.equal(false)
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
    expect(readSupplierRow({ ...row, name: 'x'.repeat(300) }, 5).reasons).to.deep.equal([])
    expect(readSupplierRow({ ...row, name: 'x'.repeat(301) }, 5).reasons.map(reason => reason.code)).to.deep.equal([
      'import.tooLong',
    ])
  })
})

describe('a record', () => {
  const record = {
    name: 'Kroonvis',
    kind: 'company' as const,
    person: null,
    tax: { number: '' },
    identifiers: [],
    locations: [{ country: 'NL', defaults: {} }],
    defaults: {},
  }
  const places = (changed: object, state: 'active' | 'proposed' = 'active'): string[] =>
    checkRecord({ ...record, ...changed } as Parameters<typeof checkRecord>[0], state).map(
      reason => `${reason.code} ${reason.place}`,
    )

  it('has a name, numbers that pass, and a place with each Incoterm', () => {
    expect(places({})).to.deep.equal([])
    expect(places({ name: ' ' })).to.deep.equal(['source.noName name'])
    expect(
      places({
        identifiers: [
          { scheme: 'gln', value: '4006381333931' },
          { scheme: 'gln', value: '1' },
        ],
      }),
    ).to.deep.equal(['source.glnInvalid identifiers.1.value'])
    expect(places({ defaults: { incoterm: 'FCA' } })).to.deep.equal(['source.incotermPlace defaults.incotermPlace'])
    expect(places({ defaults: { incoterm: 'FCA', incotermPlace: ' ' } })).to.have.length(1)
    expect(places({ defaults: { incoterm: 'FCA', incotermPlace: 'Rotterdam' } })).to.deep.equal([])
    expect(places({ locations: [{ country: 'NL', defaults: { incoterm: 'DAP' } }] })).to.deep.equal([
      'source.incotermPlace locations.0.defaults.incotermPlace',
    ])
  })

  it('of a person has its data from when anything can be ordered', () => {
    const nobody = { kind: 'person' }
    expect(places(nobody)).to.deep.equal(['source.personData person', 'source.taxNumber tax.number'])
    expect(places(nobody, 'proposed')).to.deep.equal([])
    expect(places({ ...nobody, person: { birthDate: '' }, tax: { number: '1' } })).to.deep.equal([
      'source.birthDate person.birthDate',
    ])
    expect(places({ ...nobody, person: { birthDate: '1990-01-01' }, tax: { number: '1' } })).to.deep.equal([])
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
