import { expect } from 'chai'
import fc from 'fast-check'
import { addDays } from '#core/calendar/days.ts'
import {
  lapseReasons,
  lapsesOn,
  reminderDue,
  ruleStanding,
  standing,
  standingPeriods,
} from '#core/source/certificates.ts'
import { effective, effectiveDefaults } from '#core/source/defaults.ts'
import { mappedRow, proposeMapping } from '#core/source/importMapping.ts'
import {
  mergeReasons,
  rowsToMove,
  sameContact,
  sameLocation,
  sameName,
  undoUntil,
  whyNotChange,
  whyNotTellApart,
  whyNotItself,
  whyNotUndo,
} from '#core/source/merging.ts'
import { namingNotes, proposedName, USUAL_NAMING } from '#core/source/naming.ts'
import { isRegistrationNumber, isVatNumber, VAT_PREFIXES } from '#core/source/nationalNumbers.ts'
import { fillField, readField } from '#core/source/recordFields.ts'
import { RECORD_FIELDS } from '#core/source/questionnaire.ts'
import { cameInTime, dearerBy, type SignalEntry, signalOf, thresholdOf } from '#core/source/signals.ts'
import { ONBOARDING_STATES, SUPPLIER_STATES } from '#core/source/states.ts'

describe('names as the team writes them', () => {
  for (const [given, proposed] of [
    ['ALDIS MEMBRANE LTD.', 'Aldis Membrane Ltd'],
    ['Kroonvis B.V.', 'Kroonvis BV'],
    ['peltier und soane gmbh', 'Peltier und Soane GmbH'],
    ['Merrow plc', 'Merrow plc'],
    ['KSV', 'KSV'],
    ['Havfrue ApS...', 'Havfrue ApS'],
  ] as const)
    it(`“${given}” is proposed as “${proposed}”`, () => expect(proposedName(given, USUAL_NAMING)).to.equal(proposed))

  it('can be left as they are, and the legal form can be dropped', () => {
    expect(proposedName('ALDIS LTD', { capitals: 'asGiven', legalForm: 'keep', trailingDots: 'keep' })).to.equal(
      'ALDIS LTD',
    )
    const drop = { ...USUAL_NAMING, legalForm: 'drop' as const }
    expect(proposedName('Kroonvis B.V.', drop)).to.equal('Kroonvis')
    expect(proposedName('Kroonvis Handel, GmbH', drop)).to.equal('Kroonvis Handel')
    expect(proposedName('Kroonvis', drop), 'without a legal form').to.equal('Kroonvis')
    expect(proposedName('GmbH', drop), 'nothing but a legal form').to.equal('GmbH')
    expect(proposedName('Kroonvis B.V.', { ...USUAL_NAMING, capitals: 'upper' })).to.equal('KROONVIS BV')
  })

  it('are only noted, and not at all when they follow the rules', () => {
    expect(namingNotes('Kroonvis BV', USUAL_NAMING)).to.deep.equal([])
    expect(namingNotes('KROONVIS BV', USUAL_NAMING)[0]).to.deep.include({ level: 'note', code: 'source.naming' })
  })

  it('that follow the rules stay as they are when the rules are applied again', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), name => {
        const once = proposedName(name, USUAL_NAMING)
        expect(proposedName(once, USUAL_NAMING)).to.equal(once)
      }),
    )
  })
})

describe('national numbers', () => {
  it('pass by the check digits of their country', () => {
    for (const number of ['NL999900001B83', 'DE999900016', 'NO999900011MVA', 'SE999990001301', 'IT99999011002'])
      expect(isVatNumber(number), number).to.equal(true)
    for (const number of ['NL999900001B84', 'DE999900017', 'NO999900012MVA', 'SE999990001302', 'DE12', '999'])
      expect(isVatNumber(number), number).to.equal(false)
  })

  it('begin with the letters of a country that has such numbers: XX, US and GR are none', () => {
    for (const number of ['US123456', 'XX12345678', 'GR094259216', 'EL12', 'ZZ'])
      expect(isVatNumber(number), number).to.equal(false)
    expect(isVatNumber('EL094259216')).to.equal(true)
    expect(isVatNumber('EL094259217')).to.equal(false)
    for (const prefix of ['AD', 'FO', 'IN', 'JP', 'ME', 'RS', 'UA', 'XI', 'EL']) expect(VAT_PREFIXES).to.include(prefix)
    for (const prefix of ['XX', 'US', 'GR']) expect(VAT_PREFIXES).to.not.include(prefix)
  })

  it('of a company register with check digits are held to them in every such country', () => {
    const right: Record<string, string> = {
      FR: '732829320',
      DK: '13585628',
      FI: '20774740',
      BE: '0403019261',
      CZ: '25123891',
      CH: 'CHE100155212',
      SE: '5560125790',
      PT: '500697256',
      EE: '12345678',
    }
    for (const [country, number] of Object.entries(right))
      expect(isRegistrationNumber(number, country), country).to.equal(true)
    for (const [country, number] of Object.entries(right)) {
      const last = Number(number.at(-1))
      const wrong = number.slice(0, -1) + String((last + 1) % 10)
      expect(isRegistrationNumber(wrong, country), `${country} ${wrong}`).to.equal(false)
    }
  })

  it('of a company register are held to that register', () => {
    expect(isRegistrationNumber('999900011', 'NO')).to.equal(true)
    expect(isRegistrationNumber('999900012', 'NO')).to.equal(false)
    expect(isRegistrationNumber('HRB77', 'DE')).to.equal(true)
    expect(isRegistrationNumber('?', 'DE')).to.equal(false)
  })
})

describe('defaults', () => {
  const levels = [
    ['house', { termsDays: '30', matchLevel: '3', incoterm: 'DAP', incotermPlace: 'Saltmere' }],
    ['supplier', { termsDays: '14' }],
    ['location', { incoterm: 'FCA', incotermPlace: 'Havnsund' }],
    ['document', { termsDays: '7' }],
  ] as const

  it('of a document win over those of the location, the supplier and the house, and say where they come from', () => {
    expect(effectiveDefaults(levels).filter(one => one.key === 'termsDays')).to.deep.equal([
      { key: 'termsDays', value: '7', from: 'document', otherwise: '14' },
    ])
    expect(effectiveDefaults(levels.slice(0, 2)).find(one => one.key === 'matchLevel')?.from).to.equal('house')
  })

  it('keep an Incoterm together with its place', () => {
    expect(effective(levels, 'incoterm')).to.equal('FCA')
    expect(effective(levels, 'incotermPlace')).to.equal('Havnsund')
    expect(effective([...levels.slice(0, 1), ['supplier', { incoterm: 'EXW' }]], 'incotermPlace')).to.equal('')
  })

  it('that nobody set are not there', () => {
    expect(effectiveDefaults([['house', {}]])).to.deep.equal([])
  })
})

describe('certificates', () => {
  const one = (validFrom: string, validTo: string | null) => ({
    id: 'c',
    kind: 'Food',
    category: '',
    validFrom,
    validTo,
  })
  const rule = { category: 'Feed', kind: 'Food', lapse: 'stop' as const }

  it('stand on every day as lists are told that they stand', () => {
    const kept = [one('2026-01-01', '2026-03-31'), one('2026-03-01', '2026-12-31')]
    const rules = [rule, { category: 'Feed', kind: 'Other', lapse: 'note' as const }]
    const periods = standingPeriods(rules, kept, ['Feed'])
    for (let day = '2025-12-25'; day < '2027-01-15'; day = addDays(day, 1)) {
      const told = periods.filter(({ from, to }) => (from === null || from <= day) && (to === null || day <= to))
      const wanted = new Set(rules.map(asked => ruleStanding(asked, kept, day).standing))
      expect(new Set(told.map(period => period.standing)), day).to.deep.equal(wanted)
    }
  })

  it('stand where nobody asks for them too, by the best of their kind', () => {
    const standings = (categories: string[]): string[] =>
      [...new Set(standingPeriods([rule], [one('2026-01-01', null)], categories).map(period => period.standing))].sort()
    expect(standings(['Feed'])).to.deep.equal(['holds', 'notYet'])
    expect(standings([])).to.deep.equal(['holds', 'notYet'])
  })

  it('of several kinds stand each for itself: what is asked for by its rule, the rest by itself', () => {
    const kinds = [one('2026-01-01', '2026-03-31'), { ...one('2026-01-01', null), kind: 'Organic' }]
    const on = (categories: string[], certificates = kinds): string[] =>
      standingPeriods([rule], certificates, categories)
        .filter(({ from, to }) => (from ?? '') <= '2026-07-01' && (to ?? '9999') >= '2026-07-01')
        .map(period => period.standing)
        .sort()
    expect(on(['Feed'])).to.deep.equal(['holds', 'lapsed'])
    expect(on(['Feed'], [kinds[0]!])).to.deep.equal(['lapsed'])
    expect(on(['Feed'], [{ ...kinds[1]!, kind: 'Food', category: 'Feed' }, kinds[0]!])).to.deep.equal(['holds'])
    // one of the right kind for another category is not what is asked for
    expect(on(['Feed'], [{ ...one('2026-01-01', null), category: 'Pumps' }])).to.deep.equal(['holds', 'missing'])
  })

  it('hold to the end of their last day', () => {
    expect(standing(one('2026-01-01', '2026-11-23'), '2026-11-23')).to.equal('soon')
    expect(standing(one('2026-01-01', '2026-11-22'), '2026-11-23')).to.equal('lapsed')
    expect(standing(one('2026-01-01', null), '2026-11-23')).to.equal('holds')
    expect(standing(one('2026-12-01', null), '2026-11-23')).to.equal('notYet')
    expect(lapsesOn(one('2026-01-01', '2026-11-30'))).to.equal('2026-12-01')
  })

  it('are reminded of 60, 30 and 7 days before, each once, the nearest when days were missed', () => {
    expect(reminderDue('2027-01-22', [], '2026-11-23')).to.equal(60)
    expect(reminderDue('2027-01-22', [60], '2026-11-24')).to.equal(undefined)
    expect(reminderDue('2026-12-20', [60], '2026-11-23')).to.equal(30)
    expect(reminderDue('2026-11-25', [], '2026-11-23')).to.equal(7)
    expect(reminderDue('2026-11-25', [60, 30, 7], '2026-11-23')).to.equal(undefined)
    expect(reminderDue('2026-11-22', [], '2026-11-23')).to.equal(undefined)
  })

  it('that lapsed or are missing do what their category says, and nothing in others', () => {
    const lapsed = [one('2025-01-01', '2026-11-01')]
    expect(lapseReasons([rule], lapsed, ['Feed'], '2026-11-23')[0]).to.deep.include({
      level: 'stop',
      code: 'source.certificateLapsed',
    })
    expect(lapseReasons([{ ...rule, lapse: 'check' }], [], ['Feed'], '2026-11-23')[0]).to.deep.include({
      level: 'check',
      code: 'source.certificateMissing',
    })
    expect(lapseReasons([rule], lapsed, ['Pumps'], '2026-11-23')).to.deep.equal([])
  })

  it('count by the best of them, and only for their own category', () => {
    const both = [one('2025-01-01', '2026-11-01'), one('2026-11-02', '2028-01-01')]
    expect(ruleStanding(rule, both, '2026-11-23').standing).to.equal('holds')
    expect(ruleStanding(rule, [{ ...both[1]!, category: 'Pumps' }], '2026-11-23').standing).to.equal('missing')
  })
})

describe('signals', () => {
  const entry = (on: string, good: boolean, more: Partial<SignalEntry> = {}): SignalEntry => ({
    on,
    good,
    kind: 'order',
    id: '1',
    number: 'O-1',
    value: '',
    weight: '1',
    ...more,
  })

  it('are shares of the entries of a year, with one digit, on one side of a threshold', () => {
    const entries = [
      entry('2026-11-01', true),
      entry('2026-10-01', true),
      entry('2026-09-01', false),
      entry('2024-01-01', false),
    ]
    const signal = signalOf('onTimeInFull', entries, '2026-11-23')
    expect(signal).to.deep.include({ figure: '66.7', tone: 'bad', threshold: '90', from: '2025-11-24' })
    expect(signal.entries).to.have.length(3)
    expect(signal.entries[0]!.good).to.equal(false)
    expect(signalOf('onTimeInFull', entries, '2026-11-23', '60').tone).to.equal('good')
  })

  it('say nothing where nothing happened', () => {
    expect(signalOf('disputeRate', [], '2026-11-23')).to.deep.include({ figure: null, tone: 'none' })
    expect(signalOf('certificates', [], '2026-11-23')).to.deep.include({ figure: '0', tone: 'good' })
  })

  it('have turned where they were good a quarter ago and are bad now', () => {
    const turned = (key: Parameters<typeof signalOf>[0], ...entries: SignalEntry[]): boolean =>
      signalOf(key, entries, '2026-11-23').turned
    // 91 days before is 24 August
    const good = [entry('2026-08-24', true), entry('2026-03-01', true)]
    expect(turned('onTimeInFull', ...good, entry('2026-08-25', false))).to.equal(true)
    expect(turned('onTimeInFull', ...good, entry('2026-08-24', false)), 'bad already').to.equal(false)
    expect(turned('onTimeInFull', entry('2026-08-25', false)), 'nothing before').to.equal(false)
    expect(turned('onTimeInFull', ...good), 'still good').to.equal(false)
    expect(turned('disputeRate', ...good, entry('2026-11-01', false))).to.equal(true)
    expect(turned('certificates', entry('2026-11-23', false)), 'says how it stands today').to.equal(false)
  })

  it('weigh means by amounts', () => {
    const entries = [
      entry('2026-11-01', false, { value: '10', weight: '300' }),
      entry('2026-11-01', true, { value: '-10', weight: '100' }),
    ]
    expect(signalOf('priceOnLastYear', entries, '2026-11-23').figure).to.equal('5')
    const small = [
      entry('2026-11-01', false, { value: '4', weight: '2' }),
      entry('2026-11-01', true, { value: '1', weight: '1' }),
    ]
    expect(signalOf('priceOnLastYear', small, '2026-11-23').figure).to.equal('3')
    const nothing = [entry('2026-11-01', true, { value: '4', weight: '0' })]
    expect(signalOf('priceOnLastYear', nothing, '2026-11-23').figure).to.equal(null)
  })

  it('show six quarters, with gaps where a quarter has no entries', () => {
    const { trend } = signalOf('returnRate', [entry('2026-11-20', true), entry('2026-05-01', false)], '2026-11-23')
    expect(trend).to.have.length(6)
    expect(trend.at(-1)).to.deep.equal({ until: '2026-11-23', figure: '0' })
    expect(trend.filter(point => point.figure === '100')).to.have.length(1)
    expect(trend.filter(point => point.figure === null)).to.have.length(4)
  })

  it('take the strictest threshold of the categories', () => {
    expect(thresholdOf('onTimeInFull', [{ onTimeInFull: '95' }, { onTimeInFull: '85' }, {}])).to.equal('95')
    expect(thresholdOf('returnRate', [{ returnRate: '1' }, { returnRate: '2' }])).to.equal('1')
    expect(thresholdOf('returnRate', [{}])).to.equal('3')
  })

  it('count a line as on time only when all of it had come by the day', () => {
    const receipts = [
      { on: '2026-11-01', quantity: '6' },
      { on: '2026-11-05', quantity: '4' },
    ]
    expect(cameInTime('2026-11-05', '10', receipts)).to.equal(true)
    expect(cameInTime('2026-11-04', '10', receipts)).to.equal(false)
    expect(dearerBy('11', '10')).to.equal('10')
    expect(dearerBy('11', '0')).to.equal(null)
  })
})

describe('merging', () => {
  it('moves rows that are not there yet and leaves the others', () => {
    expect(
      rowsToMove(
        [{ id: 'a', same: 'x' }],
        [
          { id: 'b', same: 'x' },
          { id: 'c', same: 'y' },
        ],
      ),
    ).to.deep.equal({
      move: ['c'],
      stay: ['b'],
    })
  })

  it('knows the same location, contact and name however they are written', () => {
    const place = { street: 'Hafenstraße 4', postalCode: '24 999', city: 'Aalsiel', country: 'DE' }
    expect(sameLocation(place)).to.equal(sameLocation({ ...place, street: 'Hafenstrasse 4', postalCode: '24999' }))
    expect(sameContact({ name: 'A', email: 'X@y.example' })).to.equal(sameContact({ name: 'B', email: 'x@Y.example' }))
    expect(sameName('Kroonvis B.V.')).to.equal(sameName('KROONVIS'))
  })

  it('is refused for records that were merged, are another kind, or are being paid', () => {
    const side = { name: 'A', state: 'active', mergedInto: null, kind: 'company' }
    const facts = {
      keptId: '1',
      mergedId: '2',
      kept: side,
      merged: side,
      sameInvoices: [],
      unpaidInvoices: [],
      openRuns: [],
    }
    expect(mergeReasons(facts)).to.deep.equal([])
    const codes = mergeReasons({
      ...facts,
      kept: { ...side, state: 'barred' },
      merged: { ...side, mergedInto: '3', kind: 'person' },
      sameInvoices: ['B-1'],
      openRuns: ['P-1'],
    }).map(reason => reason.code)
    expect(codes).to.deep.equal(['merge.already', 'merge.kinds', 'merge.keptState', 'merge.sameInvoice', 'merge.inRun'])
    expect(mergeReasons({ ...facts, mergedId: '1' })[0]!.code).to.equal('merge.itself')
  })

  it('leaves a record that is not changed any more, and nothing is merged with itself', () => {
    expect(whyNotChange({ name: 'Kroonvis', mergedInto: null })).to.deep.equal([])
    expect(whyNotChange({ name: 'Kroonvis', mergedInto: 's2' })[0]).to.deep.include({ code: 'merge.already' })
    expect(whyNotItself('s1', 's2')).to.deep.equal([])
    expect(whyNotItself('s1', 's1')[0]).to.deep.include({ code: 'merge.itself' })
  })

  it('is taken back once, in time, from a record that stands', () => {
    const merge = { at: '2026-11-01T10:00:00.000Z', undoneAt: null }
    const kept = { name: 'Kroonvis', mergedInto: null }
    const codes = (...given: Parameters<typeof whyNotUndo>): string[] => whyNotUndo(...given).map(one => one.code)
    expect(codes(merge, kept, '2026-12-01T10:00:00.000Z')).to.deep.equal([])
    expect(codes(merge, kept, '2026-12-01T10:00:00.001Z')).to.deep.equal(['merge.tooLate'])
    expect(whyNotUndo(merge, kept, '2027-01-01T00:00:00.000Z')[0]!.details).to.deep.equal({ until: '2026-12-01' })
    expect(codes({ ...merge, undoneAt: '2026-11-02' }, kept, '2026-11-03')).to.deep.equal(['merge.undone'])
    expect(codes(merge, { ...kept, mergedInto: 's3' }, '2026-11-03')).to.deep.equal(['merge.keptMerged'])
  })

  it('of a pair that looks alike is ruled out with a reason, while the two still stand', () => {
    const codes = (state: string, different: boolean, reason: string): string[] =>
      whyNotTellApart({ state }, different, reason).map(one => one.code)
    expect(codes('open', true, 'Two plants.')).to.deep.equal([])
    expect(codes('open', true, ' ')).to.deep.equal(['merge.whyDifferent'])
    expect(codes('different', false, '')).to.deep.equal([])
    expect(codes('merged', true, 'Two plants.')).to.deep.equal(['merge.pairMerged'])
  })

  it('can be undone for thirty days', () => {
    expect(undoUntil('2026-11-01T10:00:00.000Z')).to.equal('2026-12-01T10:00:00.000Z')
  })
})

describe('fields of the record that answers fill', () => {
  const record = {
    name: 'A',
    tradeNames: [],
    size: '',
    founded: null,
    web: '',
    defaults: {},
    tax: { residence: '', number: '' },
    person: { birthDate: '' },
    identifiers: [],
    locations: [],
    contacts: [],
  }

  it('can be read back as they were filled, each by itself', () => {
    const value: Record<string, string> = { founded: '1998', currency: 'NOK', country: 'NO', vat: 'NO999900011MVA' }
    for (const field of RECORD_FIELDS.filter(one => !['iban', 'bic', 'holder'].includes(one)))
      expect(readField(fillField(record, field, value[field] ?? 'x9'), field), field).to.equal(
        value[field] ?? (['lei', 'gln', 'registration'].includes(field) ? 'X9' : 'x9'),
      )
  })

  it('leave accounts to their own way, and are emptied by an empty answer', () => {
    expect(fillField(record, 'iban', 'NL1')).to.equal(record)
    expect(readField(fillField(fillField(record, 'vat', 'NO1'), 'vat', ''), 'vat')).to.equal('')
  })
})

describe('columns of a file', () => {
  it('are found by their headings in many languages, then by what stands in them', () => {
    const mapping = proposeMapping(
      ['Firma', 'PLZ', 'Ort', 'Land', 'x', 'y'],
      [['Kroonvis', '4301', 'Wemelzand', 'NL', 'NL12IVOR9900000101', 'orders@kroonvis.example']],
    )
    const at = Object.fromEntries(mapping.map(one => [one.column, [one.at, one.by]]))
    expect(at).to.deep.include({
      name: [0, 'heading'],
      postal_code: [1, 'heading'],
      city: [2, 'heading'],
      country: [3, 'heading'],
      email: [5, 'examples'],
      vat: [-1, 'none'],
    })
    expect(mappedRow(['Kroonvis', '4301'], mapping)).to.deep.include({ name: 'Kroonvis', postal_code: '4301' })
  })

  it('are used once each', () => {
    const used = proposeMapping(['Name', 'Name', 'Land'], [['A', 'B', 'NL']])
      .map(one => one.at)
      .filter(at => at >= 0)
    expect(new Set(used).size).to.equal(used.length)
  })
})

describe('states of suppliers and onboardings', () => {
  it('can be reached from the first, and every open one has a way out', () => {
    for (const [table, first, final] of [
      [SUPPLIER_STATES, 'proposed', []],
      [ONBOARDING_STATES, 'proposed', ['accepted']],
    ] as const) {
      const rows = table as Readonly<Record<string, Readonly<Record<string, string>>>>
      const reached = new Set<string>([first])
      for (const state of reached) for (const next of Object.values(rows[state]!)) reached.add(next)
      expect([...reached].sort()).to.deep.equal(Object.keys(rows).sort())
      for (const [state, actions] of Object.entries(rows))
        if (!(final as readonly string[]).includes(state)) expect(Object.keys(actions), state).to.not.deep.equal([])
    }
  })
})
