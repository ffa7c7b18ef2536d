import { expect } from 'chai'
import { PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { type Answers, type Question, type Section } from '#core/source/questionnaire.ts'
import { checkForm, filledForm, type RequestForm } from '#core/request/forms.ts'
import { isShown, type Notice } from '#core/request/notices.ts'
import { cutOff, timeRisk, usualHours } from '#core/request/pool.ts'
import { allowedErrors, hitScore, meantWords, typingErrors } from '#core/request/typing.ts'

const MONDAY = '2026-11-23'

describe('a line that waits to be bought', () => {
  const risk = (needBy: string | null, days: number | null) => timeRisk(MONDAY, needBy, days, PLAIN_CALENDAR)

  it('is late, tight or fine by its lead time in business days', () => {
    expect(risk('2026-11-27', 5)).to.deep.equal({ risk: 'late', latest: '2026-11-30', spare: -3 })
    expect(risk('2026-11-30', 5).risk).to.equal('tight')
    expect(risk('2026-12-01', 5).risk).to.equal('tight')
    expect(risk('2026-12-02', 5)).to.deep.equal({ risk: 'fine', latest: '2026-11-30', spare: 2 })
  })

  it('counts holidays', () => {
    const calendar = { ...PLAIN_CALENDAR, holidays: ['2026-11-24', '2026-11-25'] }
    expect(timeRisk(MONDAY, '2026-12-01', 5, calendar)).to.deep.include({ risk: 'late', latest: '2026-12-02' })
  })

  it('is unknown without a day or a lead time, but late when its day has passed', () => {
    expect(risk(null, 5).risk).to.equal('unknown')
    expect(risk('2026-12-01', null).risk).to.equal('unknown')
    expect(risk('2026-11-20', null).risk).to.equal('late')
  })

  it('is cut in two parts that are both above zero', () => {
    expect(cutOff('10', '4', 1)).to.deep.equal({ kept: '6', cut: '4', reasons: [] })
    expect(cutOff('1', '0.000001', 1).kept).to.equal('0.999999')
    for (const wanted of ['10', '11', '0', '-1', '', '1e1', 'four'])
      expect(cutOff('10', wanted, 1).reasons[0]!.code, wanted).to.equal('pool.cut')
  })

  it('usually takes the middle of what it took before', () => {
    expect(usualHours([2, 30, 6])).to.equal(6)
    expect(usualHours([0.1, 0.2, 0.3])).to.equal(1)
    expect(usualHours([4, 5])).to.equal(null)
    expect(usualHours([1, 2, 3, 100])).to.equal(2)
  })
})

describe('a notice from purchasing', () => {
  const notice: Notice = { from: '2026-11-01', to: '2026-11-30', costCentres: [], categories: [], suppliers: [] }
  const facts = { today: MONDAY, costCentres: ['LS-210'], categories: ['Pumps'], suppliers: ['s1'] }

  it('is shown on its days, the first and the last among them', () => {
    expect(isShown(notice, facts)).to.equal(true)
    expect(isShown(notice, { ...facts, today: '2026-11-01' })).to.equal(true)
    expect(isShown(notice, { ...facts, today: '2026-11-30' })).to.equal(true)
    expect(isShown(notice, { ...facts, today: '2026-10-31' })).to.equal(false)
    expect(isShown(notice, { ...facts, today: '2026-12-01' })).to.equal(false)
  })

  it('is shown to those whom all of its audiences meet', () => {
    expect(isShown({ ...notice, categories: ['Feed', 'Pumps'] }, facts)).to.equal(true)
    expect(isShown({ ...notice, categories: ['Feed'] }, facts)).to.equal(false)
    expect(isShown({ ...notice, categories: ['Pumps'], costCentres: ['AC-110'] }, facts)).to.equal(false)
    expect(isShown({ ...notice, suppliers: ['s1'], costCentres: ['LS-210'] }, facts)).to.equal(true)
  })
})

describe('a form', () => {
  const question = (key: string, changed: Partial<Question> = {}): Question => ({
    key, kind: 'text', label: key, help: '', required: false, when: null, choices: [], fills: null, ...changed,
  }) // prettier-ignore
  const sections: Section[] = [
    {
      title: 'What',
      questions: [
        question('what', { required: true }),
        question('hours', { kind: 'number' }),
        question('night', { kind: 'yesNo' }),
        question('lamp', { when: { key: 'night', equals: 'yes' } }),
      ],
    },
  ]
  const form: RequestForm = {
    name: 'Diving inspection',
    category: 'Diving & rope access',
    line: {
      kind: 'workByRate',
      description: 'Diver-hours',
      unit: 'HUR',
      price: '95',
      currency: 'EUR',
      routes: ['callOff'],
    },
    sections,
    fills: { quantity: 'hours', reason: 'what' },
  }

  it('fills the line from its answers and its own defaults', () => {
    const answers: Answers = { what: 'Ray tank liner', hours: '7,5', night: 'yes', lamp: 'two' }
    expect(filledForm(form, answers)).to.deep.equal({
      title: 'Diving inspection',
      reason: 'Ray tank liner',
      description: 'Diver-hours',
      quantity: '7.5',
      price: '95',
      needBy: null,
      said: [
        { question: 'what', answer: 'Ray tank liner' },
        { question: 'hours', answer: '7,5' },
        { question: 'night', answer: 'yes' },
        { question: 'lamp', answer: 'two' },
      ],
    })
  })

  it('does not say what was not asked, and never guesses a number', () => {
    const filled = filledForm(form, { what: 'x', hours: '1,200', night: 'no', lamp: 'two' })
    expect(filled.said.map(one => one.question)).to.deep.equal(['what', 'hours', 'night'])
    expect(filled.quantity).to.equal('1')
  })

  it('by amount carries its amount as quantity', () => {
    const byAmount = { ...form, line: { ...form.line, kind: 'goodsByAmount' as const }, fills: { price: 'hours' } }
    expect(filledForm(byAmount, { what: 'x', hours: '250' })).to.deep.include({ quantity: '250', price: '1' })
  })

  it('is refused with its faults', () => {
    const codes = (changed: Partial<RequestForm>): string[] => checkForm({ ...form, ...changed }).map(one => one.code)
    expect(codes({})).to.deep.equal([])
    expect(codes({ fills: { quantity: 'gone' } })).to.deep.equal(['form.fill'])
    expect(codes({ line: { ...form.line, routes: [] } })).to.deep.equal(['form.noRoute'])
    expect(codes({ name: ' ' })).to.deep.equal(['form.noName'])
    expect(codes({ line: { ...form.line, kind: 'fixedPriceWork' } })).to.deep.equal(['form.noQuantity'])
    expect(codes({ sections: [] })).to.include('questionnaire.empty')
  })
})

describe('mistyped words', () => {
  it('count letters left out, added, exchanged and swapped', () => {
    expect(typingErrors('slat', 'salt', 2)).to.equal(1)
    expect(typingErrors('sterilzer', 'steriliser', 2)).to.equal(2)
    expect(typingErrors('pump', 'pumps', 2)).to.equal(1)
    expect(typingErrors('krill', 'krill', 2)).to.equal(0)
    expect(typingErrors('krill', 'valves', 2)).to.equal(3)
    expect(typingErrors('', 'ab', 2)).to.equal(2)
  })

  it('are taken for the words with the fewest errors; short words and numbers as they are', () => {
    const words = ['titanium', 'exchanger', 'exchange', 'valve', 'salt', 'malt', 'c62']
    expect(meantWords('titanum', words)).to.deep.equal(['titanium'])
    expect(meantWords('exchnager', words)).to.deep.equal(['exchanger'])
    expect(meantWords('slat', words)).to.deep.equal(['salt'])
    expect(meantWords('sal', words)).to.deep.equal([])
    expect(meantWords('c61', words)).to.deep.equal([])
    expect([
      allowedErrors('abc'),
      allowedErrors('abcd'),
      allowedErrors('abcdef'),
      allowedErrors('ab12cd'),
    ]).to.deep.equal([0, 1, 2, 0])
  })

  it('and hits stand with whole words of the name first, agreements next, discontinued last', () => {
    const hit = { number: 'CP-1', name: 'Circulation pump', hasAgreement: false, stocked: false, discontinued: false }
    const score = (tokens: string[], changed: Partial<typeof hit> = {}): number =>
      hitScore(tokens, new Map(), { ...hit, ...changed })
    expect(score(['pump'])).to.be.above(score(['pum']))
    expect(score(['pum'])).to.be.above(score(['ump']))
    expect(score(['cp'])).to.be.above(score(['ump']))
    expect(score(['pump'], { hasAgreement: true })).to.be.above(score(['pump']))
    expect(score(['pump'], { discontinued: true })).to.be.below(score(['pump']))
  })
})
