import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { expect } from 'chai'
import { HOLD_KIND_CODES } from '#core/bill/holds.ts'
import { CONSENT_STATES, STEP_STATES } from '#core/consent/consent.ts'
import { LONG_JOB_STATES } from '#core/desk/longJob.ts'
import { DOCUMENT_KINDS, DOCUMENTS } from '#core/documents/kinds.ts'
import { BANK_OUTCOMES } from '#core/formats/bankAnswers.ts'
import { BUDGET_KINDS } from '#core/ledger/budget.ts'
import { QUANTITY_KINDS } from '#core/ledger/quantity.ts'
import { ANSWER_STATES } from '#core/order/states.ts'
import { PAYMENT_STATES, RUN_STATES } from '#core/pay/states.ts'
import { LINE_STATES } from '#core/request/states.ts'
import { STAGES } from '#core/desk/entry.ts'
import { REGISTER_KEYS, REGISTERS } from '#core/setup/registers.ts'
import { ROLES, TEAM_PERMISSIONS } from '#contract/permissions.ts'
import { COMPARED } from '#core/decide/changes.ts'
import { EDIT_EFFECTS, EDIT_FIELDS } from '#core/consent/settings.ts'
import { STALLS } from '#core/consent/stalled.ts'
import { NEEDS, SCOPES } from '#core/rules/rule.ts'
import { LABELS } from '#web/shared/labels.ts'
import { LATER_LABELS } from '#web/shared/laterLabels.ts'

const ALL = { ...LABELS, ...LATER_LABELS }
const without = (group: keyof typeof ALL, codes: readonly string[]): string[] =>
  [...new Set(codes)].filter(code => !(code in ALL[group]))

const sources = (...folders: string[]): string[] =>
  execFileSync('git', ['ls-files', ...folders], { encoding: 'utf8' })
    .split('\n')
    .filter(name => name.endsWith('.ts') && !name.endsWith('.test.ts'))
    .map(name => readFileSync(name, 'utf8'))

const found = (pattern: RegExp, texts: readonly string[]): string[] =>
  texts.flatMap(text => [...text.matchAll(pattern)].map(([, code]) => code!))

describe('labels', () => {
  it('are there for every state of every kind of document, of payments, lines, answers, questions and jobs', () => {
    const states = DOCUMENT_KINDS.flatMap(kind => DOCUMENTS[kind].states)
    expect(states.length).to.be.above(40)
    expect(without('state', [...states, ...LINE_STATES, ...ANSWER_STATES, ...CONSENT_STATES])).to.deep.equal([])
    expect(without('state', [...STEP_STATES, ...LONG_JOB_STATES, ...Object.keys(RUN_STATES)])).to.deep.equal([])
    expect(without('payment', Object.keys(PAYMENT_STATES))).to.deep.equal([])
  })

  it('are there for every kind of document, hold, role, stage and ledger entry', () => {
    expect(without('kind', DOCUMENT_KINDS)).to.deep.equal([])
    expect(without('hold', HOLD_KIND_CODES)).to.deep.equal([])
    expect(without('held', HOLD_KIND_CODES)).to.deep.equal([])
    expect(without('role', Object.keys(ROLES))).to.deep.equal([])
    expect(without('permission', TEAM_PERMISSIONS)).to.deep.equal([])
    expect(without('stage', STAGES)).to.deep.equal([])
    const fields = REGISTER_KEYS.flatMap(key => REGISTERS[key].fields.map(field => field.key))
    expect(without('register field', fields)).to.deep.equal([])
    expect(without('entry', [...BUDGET_KINDS, ...QUANTITY_KINDS])).to.deep.equal([])
  })

  it('are there for everything that the history records', () => {
    const recorded = found(/(?:action|did):? ?(?:=> )?'([a-zA-Z.]+)'/g, sources('core', 'server'))
    expect(recorded.length).to.be.above(60)
    expect(
      without(
        'history',
        recorded.filter(code => !['edit', 'link'].includes(code)),
      ),
    ).to.deep.equal([])
  })

  it('are there for everything that can be done with a document', () => {
    const acts = found(/\b(?:action|own)\('(\w+)'/g, sources('core/*/actions.ts'))
    expect(acts.length).to.be.above(25)
    expect(without('action', acts)).to.deep.equal([])
  })

  it('are there for everything that a change of a request can be, and what follows from it', () => {
    expect(without('changed', [...Object.keys(COMPARED), 'title', 'reason', 'come', 'gone'])).to.deep.equal([])
    expect(without('edit field', EDIT_FIELDS)).to.deep.equal([])
    expect(without('edit effect', EDIT_EFFECTS)).to.deep.equal([])
    expect(without('stall', STALLS)).to.deep.equal([])
    expect(without('rule need', NEEDS)).to.deep.equal([])
    expect(without('rule scope', SCOPES)).to.deep.equal([])
  })

  it('are told apart by their groups, be they loaded at once or later', () => {
    expect(Object.keys(LABELS).filter(group => group in LATER_LABELS)).to.deep.equal([])
  })

  it('are there for everything that a bank says and for what became of it', () => {
    expect(without('bank outcome', BANK_OUTCOMES)).to.deep.equal([])
  })

  it('are there for every act that a Desk offers', () => {
    const acts = found(/\bact: '(\w+)'/g, sources('core/*/desk.ts', 'core/desk/longJob.ts'))
    expect(acts.length).to.be.above(15)
    expect(without('desk act', acts)).to.deep.equal([])
  })

  it('are there for every column, view and order of the lists', () => {
    const lists = sources('server').filter(text => text.includes('ListDefinition'))
    expect(without('column', found(/\{ key: '(\w+)', numeric/g, lists))).to.deep.equal([])
    const block = (name: string): string[] =>
      lists.flatMap(text => {
        const inside = new RegExp(`^  ${name}: \\{(?:\\n([\\s\\S]*?)\\n  \\}| (.*) \\}),$`, 'm').exec(text)
        return [...(inside?.[1] ?? inside?.[2] ?? '').matchAll(/(?:^ {4}|^|, )(\w+): (?:\{|\(|q)/gm)].map(
          ([, key]) => key!,
        )
      })
    expect(block('views').length).to.be.above(20)
    expect(without('sort', block('sorts'))).to.deep.equal([])
    expect(
      block('views').filter(view => !Object.keys(LABELS.view).some(key => key.split('.').at(-1) === view)),
    ).to.deep.equal([])
  })

  it('say nothing twice in two ways within one group of verbs', () => {
    for (const text of Object.values(LABELS.action)) expect(text).to.match(/^[A-Z]/)
    for (const text of Object.values(LABELS.state)) expect(text).to.not.match(/^[A-Z]/)
  })
})
