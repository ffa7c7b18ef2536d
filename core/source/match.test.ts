import { expect } from 'chai'
import fc from 'fast-check'
import { splitLegalForm } from '#core/source/legalForms.ts'
import { edits, jaroWinkler, leastLikeness, nameLikeness, tellingKey, wordLikeness } from '#core/source/likeness.ts'
import { domainOf, match, type Party, PROBABLY, ready } from '#core/source/match.ts'
import { normalName, plainLetters } from '#core/source/names.ts'
import { LABELLED_PAIRS } from '#test-helpers/supplierPairs.ts'

const party = (name: string, more: Partial<Party> = {}): Party => ({
  names: [name],
  country: '',
  postalCode: '',
  city: '',
  street: '',
  identifiers: [],
  ibans: [],
  domains: [],
  ...more,
})
const compare = (a: Party, b: Party) => match(ready(a), ready(b))

describe('names of suppliers', () => {
  it('lose case, diacritics, punctuation, legal form and joining words', () => {
    expect(normalName('Peltier & Soane Acrylics G.m.b.H.')).to.deep.include({
      form: 'gmbh',
      key: 'acrylics peltier soane',
    })
    expect(normalName('PELTIER UND SOANE  Acrylics').key).to.equal(normalName('Soane-Acrylics, Peltier').key)
  })

  it('read ü, ue and u, ø, oe and o as one', () => {
    const keys = ['Müller Rør', 'Mueller Roer', 'Muller Ror'].map(name => normalName(name).key)
    expect(new Set(keys)).to.have.length(1)
  })

  it('are transliterated from Cyrillic (ISO 9 digraphs) and Greek (ELOT 743)', () => {
    expect(plainLetters('Морская Соль')).to.equal('morskaya sol')
    expect(plainLetters('Θαλασσινό Αλάτι')).to.equal('thalassino alati')
    expect(normalName('ООО «Морская соль»').key).to.equal(normalName('Morskaya Sol OOO').key)
  })

  for (const [name, form] of [
    ['Nordhavn Pumpeverk A/S', 'as'],
    ['Kroonvis B.V.', 'bv'],
    ['Salgado, Unipessoal Lda.', 'unipessoallda'],
    ['Mewa Transport Sp. z o.o.', 'spzoo'],
    ['Toshima K.K.', 'kk'],
    ['Groß GmbH & Co. KG', 'gmbhcokg'],
    ['Oy Merilaite Ab', 'oyab'],
    ['Varech SARL', 'sarl'],
    ['Acquanera S.p.A.', 'spa'],
    ['Orrin Valve Company Inc.', 'companyinc'],
    ['Νότος ΕΠΕ', 'epe'],
    ['Merrow plc', 'plc'],
  ] as const)
    it(`find the legal form of ${name}`, () => expect(normalName(name).form).to.equal(form))

  it('that are nothing but a legal form stay whole', () => {
    expect(splitLegalForm(['co'])).to.deep.equal({ words: ['co'], form: '' })
    expect(normalName('AS').words).to.deep.equal(['as'])
  })

  it('of emoji, right-to-left letters and 300 letters are taken as they are', () => {
    expect(normalName('🐟🐟').words).to.deep.equal([])
    expect(normalName('شركة البحر').words).to.have.length(2)
    expect(normalName('m'.repeat(400)).joined.length).to.be.at.most(300)
  })

  it('leave out of the search key what many firms are called', () => {
    expect(tellingKey('Kelpie Marine Services Ltd')).to.equal('kelpie')
    expect(tellingKey('Marine Services')).to.equal('marine services')
  })
})

describe('likeness', () => {
  it('follows Winkler 1990 for words', () => {
    expect(jaroWinkler('martha', 'marhta')).to.be.closeTo(0.9611, 0.0001)
    expect(jaroWinkler('dixon', 'dicksonx')).to.be.closeTo(0.8133, 0.0001)
  })

  it('counts a swap of neighbours as one edit (Damerau 1964)', () => {
    expect(edits('krill', 'kirll')).to.equal(1)
    expect(edits('abc', '')).to.equal(3)
  })

  it('takes slips of the pen but not another word', () => {
    expect(wordLikeness('halvorsen', 'havlorsen')).to.be.above(0.85)
    expect(wordLikeness('lund', 'sund')).to.equal(0)
    expect(wordLikeness('2000', '3000')).to.equal(0)
  })

  it('of two words by what differs: an ending, a stem, a letter, a swap', () => {
    const pairs: readonly [string, string, number][] = [
      ['pump', 'pumps', 0.93],
      ['pump', 'pumpen', 0.93],
      ['pump', 'pumping', 0.72],
      ['pum', 'pump', 0],
      ['divers', 'diving', 0.75],
      ['a', 'abc', 0.8],
      ['b', 'abc', 0],
      ['garnet', 'gannet', 0.72],
      ['acrylics', 'acrylica', 0.9],
      ['abcd', 'abxd', 0],
    ]
    for (const [a, b, wanted] of pairs) {
      expect(wordLikeness(a, b), `${a} ${b}`).to.be.closeTo(wanted, 0.001)
      expect(wordLikeness(b, a), `${b} ${a}`).to.be.closeTo(wanted, 0.001)
    }
    expect(wordLikeness('kirll', 'krill')).to.be.above(0.85)
    expect(wordLikeness('abc', 'acb')).to.equal(0)
  })

  it('of two names takes blanks put elsewhere, more words, and initials', () => {
    const like = (a: string, b: string): number => nameLikeness(normalName(a), normalName(b))
    expect(like('Sea Salt Works', 'Seasaltworks')).to.be.above(0.9)
    expect(like('Sea Salt Works', 'Seasaltwork')).to.be.above(0.85)
    expect(like('Priel Analytik', 'Priel Analytik Doktor Harmsen')).to.be.at.least(0.86)
    expect(like('KSV', 'Krillfisk Samvirke Vest')).to.be.above(0)
    expect(like('KS', 'Krillfisk Samvirke')).to.be.below(0.3)
    expect(like('Krillfisk', 'Anchorstone')).to.equal(0)
  })

  it('is the same in both directions and whole for a name and itself', () => {
    const name = fc
      .array(fc.stringMatching(/^[a-zæøåü]{2,9}$/), { minLength: 1, maxLength: 4 })
      .map(words => words.join(' '))
    fc.assert(
      fc.property(name, name, (a, b) => {
        const [x, y] = [normalName(a), normalName(b)]
        expect(nameLikeness(x, y)).to.be.closeTo(nameLikeness(y, x), 1e-9)
        if (x.joined !== '') expect(nameLikeness(x, x)).to.equal(1)
      }),
    )
  })
})

describe('how alike keys have to be to be looked at', () => {
  it('grows with their length, so that a slip is still found', () => {
    expect(leastLikeness('kelpie')).to.equal(0.45)
    expect(leastLikeness('priandberg')).to.equal(0.466)
    expect(leastLikeness('priandbergstad')).to.equal(0.55)
    expect(leastLikeness('oda moen')).to.equal(0.55)
    expect(leastLikeness('prousundrpust trequistruks')).to.equal(0.636)
    expect(leastLikeness('prousundrpustvik trequistrukshavn')).to.equal(0.65)
  })

  it('is never more than what a swap of two letters leaves of a long word', () => {
    const trigrams = (word: string): Set<string> =>
      new Set([...`  ${word} `].slice(0, -2).map((_, at) => `  ${word} `.slice(at, at + 3)))
    for (const word of ['priandberg', 'kroonvisser', 'noordhavnpump']) {
      const swapped = `${word.slice(0, 5)}${word[6]}${word[5]}${word.slice(7)}`
      const [a, b] = [trigrams(word), trigrams(swapped)]
      const common = [...a].filter(one => b.has(one)).length
      expect(common / (a.size + b.size - common), word).to.be.at.least(leastLikeness(word))
    }
  })
})

describe('find before create', () => {
  it('says why: same name but for the legal form, same postcode, other VAT number', () => {
    const found = compare(
      party('Aldis Membranes Ltd', {
        country: 'GB',
        postalCode: 'WX9 9ZZ',
        identifiers: [{ scheme: 'vat', value: 'GB1' }],
      }),
      party('ALDIS MEMBRANE LLP', {
        country: 'GB',
        postalCode: 'WX99ZZ',
        identifiers: [{ scheme: 'vat', value: 'GB2' }],
      }),
    )
    expect(found.reasons.map(reason => reason.code)).to.include.members([
      'name.sameButForm',
      'postalCode.same',
      'vat.other',
      'country.same',
    ])
    expect(found.percent).to.be.within(25, 75)
  })

  it('adds up the weights of its reasons and nothing else', () => {
    const found = compare(party('Kelpie Rigging', { country: 'GB' }), party('Kelpie Rigging', { country: 'GB' }))
    expect(found.reasons.reduce((sum, reason) => sum + reason.bits, -5)).to.equal(6)
    expect(found.percent).to.equal(98)
  })

  it('is certain with a shared strong identifier and a like name only', () => {
    const vat = { identifiers: [{ scheme: 'vat' as const, value: 'NO1' }] }
    expect(compare(party('Fyrlykt', vat), party('Fyrlykt AS', vat))).to.deep.include({ percent: 100 })
    const other = compare(party('Fyrlykt', vat), party('Something else', vat))
    expect(other.shared).to.deep.equal([{ scheme: 'vat', value: 'NO1' }])
    expect(other.percent).to.be.below(100)
  })

  it('says nothing of what only one of them has, and something of what both have', () => {
    const codes = (a: Partial<Party>, b: Partial<Party>): string[] =>
      compare(party('Fyrlykt', a), party('Fyrlykt', b)).reasons.map(reason => reason.code)
    expect(codes({ ibans: ['NO1'], domains: ['fyrlykt.example'] }, {})).to.deep.equal(['name.same'])
    expect(codes({}, { ibans: ['NO1'], domains: ['fyrlykt.example'] })).to.deep.equal(['name.same'])
    expect(codes({ ibans: ['NO1'] }, { ibans: ['NO2'] })).to.include('iban.other')
    expect(codes({ domains: ['a.example', 'b.example'] }, { domains: ['b.example'] })).to.include('domain.same')
  })

  it('holds a name that tells little for little, in whichever record it stands', () => {
    const bits = (name: string): number =>
      compare(party(name), party(name)).reasons.find(reason => reason.code.startsWith('name.'))!.bits
    expect(bits('Kelpie Rigging')).to.equal(10)
    expect(bits('International')).to.be.below(10)
    expect(bits('International')).to.be.above(0)
    const mixed = (a: string, b: string): number =>
      compare(party(a), party(b)).reasons.find(reason => reason.code.startsWith('name.'))?.bits ?? 0
    expect(mixed('International', 'Internationale'), 'the one that tells more counts').to.equal(6.5)
    expect(mixed('Kelpie', 'Kelpie International')).to.equal(mixed('Kelpie International', 'Kelpie'))
  })

  it('knows a firm by the name it trades under', () => {
    const found = compare(
      party('NFF Cargo'),
      party('Northern Fulmar Freight', { names: ['Northern Fulmar Freight', 'NFF Cargo'] }),
    )
    expect(found.reasons[0]!.code).to.equal('name.sameTrade')
  })

  it('takes web domains from addresses and mails, but not those of mail providers', () => {
    expect(domainOf('https://www.krillfisk.example/om?x=1')).to.equal('krillfisk.example')
    expect(domainOf('orders@krillfisk.example')).to.equal('krillfisk.example')
    expect(domainOf('someone@gmail.com')).to.equal('')
    expect(domainOf('not a domain')).to.equal('')
  })

  it('is right on the labelled pairs: precision at least 0.97, recall at least 0.95', () => {
    const judged = LABELLED_PAIRS.map(pair => ({ same: pair.same, found: compare(pair.a, pair.b).percent >= PROBABLY }))
    const right = judged.filter(one => one.same && one.found).length
    expect(judged.length).to.be.at.least(300)
    expect(right / judged.filter(one => one.found).length).to.be.at.least(0.97)
    expect(right / judged.filter(one => one.same).length).to.be.at.least(0.95)
  })

  it('gives the same figure whichever record is held against the other', () => {
    for (const pair of LABELLED_PAIRS)
      expect(compare(pair.a, pair.b).percent, pair.line).to.equal(compare(pair.b, pair.a).percent)
  })
})
