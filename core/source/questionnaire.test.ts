import { expect } from 'chai'
import fc from 'fast-check'
import {
  answerDifferences,
  answerText,
  checkAnswers,
  checkQuestionnaire,
  isAsked,
  type Question,
  questionsOf,
  type Section,
} from '#core/source/questionnaire.ts'
import { COMPANY_QUESTIONS, PERSON_QUESTIONS } from '#demo/questionnaire.ts'

const ask = (key: string, kind: Question['kind'], more: Partial<Question> = {}): Question => ({
  key,
  kind,
  label: key,
  help: '',
  required: true,
  when: null,
  choices: [],
  fills: null,
  ...more,
})
const one = (...questions: Question[]): Section[] => [{ title: 'One', questions }]
const codes = (sections: Section[], answers: Parameters<typeof checkAnswers>[1], complete = true): string[] =>
  checkAnswers(sections, answers, complete).map(reason => reason.code)

describe('a questionnaire', () => {
  it('asks a question that hangs on another only when that is asked and answered so', () => {
    const sections = one(
      ask('sells', 'choices', { choices: ['Feed', 'Pumps'] }),
      ask('catch', 'choice', { choices: ['wild', 'farmed'], when: { key: 'sells', equals: 'Feed' } }),
      ask('areas', 'text', { when: { key: 'catch', equals: 'wild' } }),
    )
    const asked = (answers: Parameters<typeof isAsked>[2]): string[] =>
      questionsOf(sections)
        .filter(question => isAsked(question, questionsOf(sections), answers))
        .map(question => question.key)
    expect(asked({})).to.deep.equal(['sells'])
    expect(asked({ sells: ['Feed'] })).to.deep.equal(['sells', 'catch'])
    expect(asked({ sells: ['Feed'], catch: 'wild' })).to.deep.equal(['sells', 'catch', 'areas'])
    expect(asked({ sells: ['Pumps'], catch: 'wild' })).to.deep.equal(['sells'])
  })

  it('lets half-way answers be kept, and wants the rest at handing in', () => {
    const sections = one(ask('name', 'text'), ask('note', 'text', { required: false }))
    expect(codes(sections, {}, false)).to.deep.equal([])
    expect(codes(sections, {})).to.deep.equal(['question.missing'])
    expect(codes(sections, { name: '  ' })).to.deep.equal(['question.missing'])
    expect(codes(sections, { name: 'A' })).to.deep.equal([])
  })

  for (const [kind, bad, good, code] of [
    ['yesNo', 'maybe', 'yes', 'question.choice'],
    ['number', '1e9', '12.5', 'question.number'],
    ['date', '2026-02-29', '2028-02-29', 'question.date'],
    ['country', 'nl', 'NL', 'question.country'],
    ['mail', 'nobody', 'a@b.example', 'question.mail'],
    ['text', ['a list'], 'a line', 'question.form'],
    ['file', 'text', { fileId: '1', fileName: 'a.pdf' }, 'question.form'],
  ] as const)
    it(`holds an answer that is ${kind} to its form`, () => {
      expect(codes(one(ask('q', kind)), { q: bad }, false)).to.deep.equal([code])
      expect(codes(one(ask('q', kind)), { q: good }, false)).to.deep.equal([])
    })

  it('takes only answers that were offered', () => {
    const sections = one(ask('a', 'choice', { choices: ['x', 'y'] }), ask('b', 'choices', { choices: ['x', 'y'] }))
    expect(codes(sections, { a: 'z', b: ['x', 'z'] })).to.deep.equal(['question.choice', 'question.choice'])
    expect(codes(sections, { a: 'x', b: ['x', 'y'] })).to.deep.equal([])
  })

  it('holds numbers and accounts to the rules of the record', () => {
    const sections = one(
      ask('country', 'country', { fills: 'country' }),
      ask('registration', 'text', { fills: 'registration' }),
      ask('iban', 'text', { fills: 'iban' }),
    )
    expect(codes(sections, { country: 'NO', registration: '999900012', iban: 'NL00' })).to.deep.equal([
      'source.registrationInvalid',
      'source.ibanInvalid',
    ])
  })

  it('wants a certificate with issuer, number and days in order', () => {
    const sections = one(ask('c', 'certificate'))
    const answer = { issuer: 'Board', number: '1', validFrom: '2026-01-01', validTo: '', fileId: '', fileName: '' }
    expect(codes(sections, { c: answer })).to.deep.equal([])
    for (const wrong of [{ number: '' }, { issuer: ' ' }, { validFrom: '' }, { validFrom: '2026-02-30' }])
      expect(codes(sections, { c: { ...answer, ...wrong } }), JSON.stringify(wrong)).to.deep.equal([
        'question.certificate',
      ])
    expect(codes(sections, { c: { ...answer, validTo: '2026-01-01' } }), 'one day').to.deep.equal([])
    expect(codes(sections, { c: { ...answer, validTo: '2026-13-01' } })).to.deep.equal(['question.certificateEnd'])
    expect(codes(sections, { c: 'a text' })).to.deep.equal(['question.form'])
    expect(codes(sections, { c: ['a', 'list'] })).to.deep.equal(['question.form'])
    expect(codes(sections, { c: { ...answer, validTo: '2025-01-01' } })).to.deep.equal(['question.certificateEnd'])
  })

  it('shows what changed, question by question', () => {
    const sections = one(ask('a', 'text'), ask('b', 'choices', { choices: ['x', 'y'] }), ask('c', 'text'))
    const changed = answerDifferences(sections, { a: '1', b: ['x'], c: 'same ' }, { a: '2', b: ['x', 'y'], c: 'same' })
    expect(changed.map(difference => [difference.key, difference.before, difference.after])).to.deep.equal([
      ['a', '1', '2'],
      ['b', 'x', 'x, y'],
    ])
    expect(answerText({ fileId: '1', fileName: 'a.pdf' })).to.equal('a.pdf')
  })

  it('has no difference to itself, whatever the answers', () => {
    const keys = questionsOf(COMPANY_QUESTIONS).map(question => question.key)
    fc.assert(
      fc.property(fc.dictionary(fc.constantFrom(...keys), fc.string()), answers => {
        expect(answerDifferences(COMPANY_QUESTIONS, answers, answers)).to.deep.equal([])
      }),
    )
  })

  it('cannot be put in force with faults', () => {
    expect(checkQuestionnaire([])[0]!.code).to.equal('questionnaire.empty')
    const faulty = one(
      ask('a', 'choice', { choices: ['only'], label: ' ' }),
      ask('a', 'text', { fills: 'name' }),
      ask('b', 'text', { fills: 'name', when: { key: 'later', equals: 'x' } }),
      ask('later', 'text'),
    )
    expect(checkQuestionnaire(faulty).map(reason => reason.code)).to.deep.equal([
      'questionnaire.noLabel',
      'questionnaire.choices',
      'questionnaire.keyTwice',
      'questionnaire.fillsTwice',
      'questionnaire.condition',
    ])
    expect([...checkQuestionnaire(COMPANY_QUESTIONS), ...checkQuestionnaire(PERSON_QUESTIONS)]).to.deep.equal([])
  })
})
