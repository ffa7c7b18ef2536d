import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { expect } from 'chai'
import ts from 'typescript'
import { en as first } from '#contract/messages/en.ts'
import { later } from '#contract/messages/later.ts'
import { mailsEn } from '#contract/messages/mails.ts'
import { billing } from '#contract/messages/billing.ts'
import { receiving } from '#contract/messages/receiving.ts'
import { say } from '#contract/messages/say.ts'
import { HOLD_KINDS, HOLD_KIND_CODES } from '#core/bill/holds.ts'
import { CREDIT_STATES } from '#core/bill/creditStates.ts'
import { INVOICE_STATES } from '#core/bill/states.ts'
import { DESK_KEYS } from '#core/desk/entry.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { RUN_STATES } from '#core/pay/states.ts'
import { WHY_OPEN } from '#core/pay/takeBankMessage.ts'
import { REQUISITION_STATES } from '#core/request/states.ts'
import { ONBOARDING_STATES, SUPPLIER_STATES } from '#core/source/states.ts'

const en: Readonly<Record<string, string>> = { ...first, ...later, ...receiving, ...billing }

interface Said {
  readonly where: string
  readonly code: string
  /** Names of the details that are handed over; null where they are not written out on the spot. */
  readonly details: readonly string[] | null
}

const program = execFileSync('git', ['ls-files', 'core', 'server', 'contract', 'demo'], { encoding: 'utf8' })
  .split('\n')
  .filter(name => name.endsWith('.ts') && !name.endsWith('.test.ts'))

/** Everything that the program says by a code written out on the spot: reasons, and sentences as { code, details }. */
function saidIn(file: string): Said[] {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true)
  const said: Said[] = []
  const namesOf = (node: ts.Node | undefined): string[] | null =>
    node === undefined
      ? []
      : ts.isObjectLiteralExpression(node) && node.properties.every(one => !ts.isSpreadAssignment(one))
        ? node.properties.map(one => (one.name ? one.name.getText().replace(/'/g, '') : ''))
        : null
  const walk = (node: ts.Node): void => {
    if (ts.isCallExpression(node) && /^(stop|check|note|fail|refuse)$/.test(node.expression.getText())) {
      const [code, details] = node.arguments
      if (code && ts.isStringLiteral(code) && code.text.includes('.'))
        // the reader of XML adds the line itself
        said.push({
          where: file,
          code: code.text,
          details: node.expression.getText() === 'refuse' ? null : namesOf(details),
        })
    }
    if (ts.isObjectLiteralExpression(node)) {
      const of = (name: string): ts.Expression | undefined =>
        node.properties.filter(ts.isPropertyAssignment).find(one => one.name.getText() === name)?.initializer
      const code = of('code')
      if (code && ts.isStringLiteral(code) && code.text.includes('.') && of('details'))
        said.push({ where: file, code: code.text, details: namesOf(of('details')) })
    }
    ts.forEachChild(node, walk)
  }
  walk(source)
  return said
}

const holes = (text: string): string[] => [...text.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!)

describe('words', () => {
  const said = program.flatMap(saidIn)

  it('are there for every code that is said', () => {
    expect(said.length).to.be.above(250)
    expect(said.filter(({ code }) => !(code in en)).map(({ where, code }) => `${where}: ${code}`)).to.deep.equal([])
  })

  it('ask for no detail that is not handed over', () => {
    const asked = said.flatMap(({ where, code, details }) =>
      details === null
        ? []
        : holes(en[code] ?? '')
            .filter(name => !details.includes(name))
            .map(name => `${where}: ${code} {${name}}`),
    )
    expect(asked).to.deep.equal([])
  })

  it('are said by somebody: no sentence stands in the table for nobody', () => {
    const text = program
      .concat(
        execFileSync('git', ['ls-files', 'web'], { encoding: 'utf8' })
          .split('\n')
          .filter(name => /\.(ts|vue)$/.test(name)),
      )
      .map(name => readFileSync(name, 'utf8'))
      .filter(source => !/^import (type \{ Messages|\{ learn)/.test(source))
      .join('\n')
    const heads = [...text.matchAll(/`([a-zA-Z]+\.(?:\w+\.)*)\$\{/g)].map(([, head]) => head!)
    const idle = Object.keys(en).filter(
      code => !text.includes(`'${code}'`) && !heads.some(head => code.startsWith(head)),
    )
    expect(idle).to.deep.equal([])
  })

  const keys = (table: object, but: readonly string[] = []): string[] =>
    Object.keys(table).filter(state => !but.includes(state))
  const lists: readonly [string, readonly string[]][] = [
    ['requisition.is', keys(REQUISITION_STATES)],
    ['requisition.short', keys(REQUISITION_STATES)],
    ['order.is', keys(ORDER_STATES, ['acknowledged'])],
    ['order.short', keys(ORDER_STATES)],
    ['invoice.is', keys(INVOICE_STATES, ['onHold'])],
    ['invoice.short', keys(INVOICE_STATES)],
    ['invoice.is.heldBy', HOLD_KIND_CODES],
    ['invoice.short.held', HOLD_KIND_CODES],
    ['bill.clearOtherwise', HOLD_KIND_CODES.filter(kind => !HOLD_KINDS[kind].byReason)],
    ['run.is', keys(RUN_STATES)],
    ['run.short', keys(RUN_STATES)],
    ['supplier.is', keys(SUPPLIER_STATES)],
    ['supplier.short', keys(SUPPLIER_STATES, ['active'])],
    ['order.supplier', keys(SUPPLIER_STATES, ['active'])],
    ['line.supplier', keys(SUPPLIER_STATES, ['active'])],
    ['onboarding.is', keys(ONBOARDING_STATES)],
    ['onboarding.short', keys(ONBOARDING_STATES)],
    ['creditNote.is', keys(CREDIT_STATES)],
    ['creditNote.short', keys(CREDIT_STATES)],
    ['supplierInvoice.waits', HOLD_KIND_CODES],
    ['desk', DESK_KEYS],
  ]
  for (const [head, codes] of lists)
    it(`are there for every code under ${head}`, () => {
      expect(codes.length).to.be.above(2)
      expect(codes.filter(code => !(`${head}.${code}` in en))).to.deep.equal([])
    })

  it('are there for everything that a bank can say and nobody here can assign', () => {
    expect(WHY_OPEN.filter(code => !(code in en))).to.deep.equal([])
  })

  it('end as sentences do, where they are refusals', () => {
    const open = said.filter(({ code }) => /^(bill|order|pay|receive|secondYes)\.\w+$/.test(code))
    expect(open.filter(({ code }) => !/[.?]$/.test(en[code]!)).map(({ code }) => code)).to.deep.equal([])
  })

  it('are filled in, and an unknown code is shown rather than nothing', () => {
    expect(say('order.superseded', { revision: 0, current: 2 })).to.equal(
      'Revision 0 was replaced by revision 2: open that one.',
    )
    expect(say('pay.wantsReason')).to.equal('Say why: it stands in the history.')
    expect(say('no.such')).to.equal('no.such')
    expect(say('supplier.is.closed', {})).to.equal('Closed.')
  })
})

describe('words of mails', () => {
  it('are there for every template that is sent', () => {
    const text = program.map(name => readFileSync(name, 'utf8')).join('\n')
    const sent = [...text.matchAll(/template: '([\w.]+)'/g)].map(([, template]) => template!)
    expect(sent.length).to.be.above(10)
    expect(sent.filter(template => !(template in mailsEn))).to.deep.equal([])
  })

  it('have a subject of one line and say whom they are to', () => {
    for (const [template, { subject, text }] of Object.entries(mailsEn)) {
      expect(subject, template).to.match(/^[^\n]+$/)
      expect(text, template).to.match(/\n$/)
    }
  })
})
