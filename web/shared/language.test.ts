import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { parse } from '@vue/compiler-sfc'
import { expect } from 'chai'
import ts from 'typescript'
import { de } from '#contract/messages/de/index.ts'
import { en as first } from '#contract/messages/en.ts'
import { later } from '#contract/messages/later.ts'
import { mailsEn } from '#contract/messages/mails.ts'
import { billing } from '#contract/messages/billing.ts'
import { receiving } from '#contract/messages/receiving.ts'

const en: Readonly<Record<string, string>> = { ...first, ...later, ...receiving, ...billing }

/** What outsiders, and people at the door, see. */
const PAGES = [
  'web/supplier-pages',
  'web/account',
  'web/bill/CreditLines.vue',
  'web/bill/DisputeTalk.vue',
  'web/frame/DoorFrame.vue',
  'web/source/QuestionForm.vue',
  'web/source/AnswerForm.vue',
  'web/source/AnswerTiers.vue',
  'web/source/AnswerAlternatives.vue',
  'web/order/AnswerFromFile.vue',
  'web/order/AnswerDays.vue',
  'web/order/ClauseList.vue',
  'web/order/chargeSums.ts',
  'web/order/DatedRows.vue',
  'web/order/DeliveryList.vue',
  'web/order/DifferenceList.vue',
  'web/receive/WorkReports.vue',
  'web/shared/ActDialog.vue',
  'web/shared/HungFiles.vue',
  'web/shared/NumberField.vue',
  'web/shared/ReasonList.vue',
  'web/shared/SheetFailure.vue',
]
/** Where sentences are said that can reach an outsider. */
const SAID_IN = [
  'core/order/answerOrder.ts',
  'core/order/schedule.ts',
  'core/bill/disputes.ts',
  'core/receive/despatch.ts',
  'core/receive/despatchFile.ts',
  'core/receive/workReport.ts',
  'core/bill/billOrder.ts',
  'core/bill/writeCredit.ts',
  'server/bill/supplierInvoices.ts',
  'core/source/companyPeople.ts',
  'core/source/questionnaire.ts',
  'core/source/answer.ts',
  'core/source/answerSheet.ts',
  'core/source/invitedActs.ts',
  'core/source/placeBid.ts',
  'core/formats/quotationAnswer.ts',
  'core/formats/ublQuotation.ts',
  'core/people/password.ts',
  'core/files/quota.ts',
  'core/money',
  'core/calendar/days.ts',
  'core/units',
  'server/http/app.ts',
  'server/http/perform.ts',
  'server/http/upload.ts',
  'server/http/answers.ts',
  'server/source/companyActs.ts',
  'server/source/companyPeopleActs.ts',
  'server/source/registerActs.ts',
  'server/account',
  'server/people/oneTimeLinks.ts',
  'server/people/secondFactor.ts',
  'server/people/signIn.ts',
  'server/documents/hold.ts',
]
/** Sentences in these files that only the team can be told. */
const TEAM_ONLY = new Set([
  'questionnaire.choices', 'questionnaire.condition', 'questionnaire.empty', 'questionnaire.fillsTwice', 'questionnaire.keyTwice',
  'questionnaire.noLabel', 'questionnaire.retired', 'questionnaire.notDraft', 'revision.whyRefused', 'onboarding.openAlready', 'person.forgotten', 'document.theirs',
  'job.running', 'behalf.consent', 'behalf.future', 'behalf.who', 'event.notOpen', 'invited.notSent', 'invited.notSuspended', 'invited.suspended', 'money.noShares', 'money.noRate', 'rate.none', 'rate.there', 'person.stillHere', 'server.workerAway',
]) // prettier-ignore

const filesIn = (places: readonly string[], ending: RegExp): string[] =>
  execFileSync('git', ['ls-files', '-co', '--exclude-standard', ...places], { encoding: 'utf8' })
    .split('\n')
    .filter(name => ending.test(name) && !name.endsWith('.test.ts'))
const holes = (text: string): string[] =>
  [...new Set([...text.matchAll(/[{[](\w+)[}|]/g)].map(([, name]) => name!))].sort()

/** Every text that is given to a function of this name, written out on the spot. */
function textsIn(file: string, names: RegExp): string[] {
  const source = readFileSync(file, 'utf8')
  const { descriptor } = file.endsWith('.vue') ? parse(source) : { descriptor: undefined }
  const parts = descriptor
    ? [descriptor.scriptSetup?.content ?? '', ...expressionsIn(descriptor.template?.content ?? '')]
    : [source]
  return parts.flatMap(part => {
    const found: string[] = []
    const walk = (node: ts.Node): void => {
      if (ts.isCallExpression(node) && names.test(node.expression.getText())) {
        const first = node.arguments[0]
        if (first && ts.isStringLiteral(first)) found.push(first.text)
      }
      ts.forEachChild(node, walk)
    }
    walk(ts.createSourceFile('part.ts', part, ts.ScriptTarget.Latest, true))
    return found
  })
}
/** What a template computes: in braces and in bound attributes. */
const expressionsIn = (template: string): string[] => [
  ...[...template.matchAll(/\{\{([\s\S]*?)\}\}/g)].map(([, text]) => `(${text!})`),
  ...[...template.matchAll(/\s[:#@v][\w:.-]*="([^"]*)"/g)].map(([, text]) => `(${text!})`),
]

interface Node {
  readonly type: number
  readonly content?: unknown
  readonly tag?: string
  readonly props?: readonly { type: number; name: string; value?: { content: string } }[]
  readonly children?: readonly Node[]
}
const READ_OUT = new Set(['label', 'placeholder', 'title', 'aria-label', 'alt', 'what', 'button', 'help'])
/** Words that stand in a template as they are: nobody could translate them. */
function bare(file: string): string[] {
  const ast = parse(readFileSync(file, 'utf8')).descriptor.template?.ast as Node | undefined
  const found: string[] = []
  const walk = (node: Node): void => {
    if (node.type === 2 && typeof node.content === 'string' && /\p{L}{2,}/u.test(node.content))
      found.push(node.content.trim())
    for (const prop of node.props ?? [])
      if (prop.type === 6 && READ_OUT.has(prop.name) && /\p{L}{2,}/u.test(prop.value?.content ?? ''))
        found.push(prop.value!.content)
    for (const child of node.children ?? []) walk(child)
  }
  if (ast) walk(ast)
  return found
}

/** How an order says when it is paid. */
const termsSaid = (): string[] => [
  ...[
    ...readFileSync('server/order/orderDocument.ts', 'utf8').matchAll(/'(Payment \{days\}[^']*|\{percent\} %[^']*)'/g),
  ].map(([, text]) => text!),
]
/** The mark, what the demo and the first start say, and fields that only the team has. */
const ONLY_HERE =
  /Ivory Order$|: PDF$|: UBL$|: CII$|set this house up|that does it;|on the server shows another|ivory setup|People of the demo|made-up aquarium|At the suppliers|After signing in|Rows of wide lists|: calm|: dense|Mails about the work|concerns your account|: at once|together, in the morning|: none$|Mails about decisions|decide out of the mail|with everything that decides|only a link|Quiet hours|no mail|No mail|: from|: to$/i

describe('the languages of outsiders', () => {
  const pages = filesIn(PAGES, /\.(vue|ts)$/)
  const used = [
    ...pages.flatMap(file => textsIn(file, /^t$/)),
    ...filesIn(['web/shared/words.ts'], /\.ts$/).flatMap(file => textsIn(file, /^t$/)),
    ...termsSaid(),
    ...filesIn(
      ['server/formats/orderPdf.ts', 'server/formats/askedPdf.ts', 'server/formats/invoicePdf.ts'],
      /\.ts$/,
    ).flatMap(file => textsIn(file, /^say$/)),
  ]

  it('have German words for whatever pages and documents say', () => {
    expect(used.length).to.be.above(180)
    expect([...new Set(used.filter(text => !(text in de.texts)))]).to.deep.equal([])
  })

  it('have no words that nobody uses any more', () => {
    expect(Object.keys(de.texts).filter(text => !used.includes(text))).to.deep.equal([])
  })

  it('leave no word of a page as it stands, but the mark, the demo’s and the commands', () => {
    const found = pages
      .filter(file => file.endsWith('.vue'))
      .flatMap(file => bare(file).map(text => `${file}: ${text.replace(/\s+/g, ' ')}`))
      .filter(line => !ONLY_HERE.test(line))
    expect(found).to.deep.equal([])
  })

  it('have German sentences for every code that can reach an outsider', () => {
    const files = filesIn(SAID_IN, /\.ts$/)
    const said = files.flatMap(file =>
      [...readFileSync(file, 'utf8').matchAll(/'([a-z]\w*(?:\.\w+)+)'/g)].map(([, code]) => code!),
    )
    const wanted = [...new Set(said)].filter(code => code in en && !TEAM_ONLY.has(code))
    expect(wanted.length).to.be.above(60)
    expect(wanted.filter(code => !(code in de.codes))).to.deep.equal([])
  })

  it('ask for the same details as the English ones, in sentences, texts and mails', () => {
    const differ = [
      ...Object.entries(de.codes).filter(
        ([code, text]) => !(code in en) || holes(text).some(name => !holes(en[code]!).includes(name)),
      ),
      ...Object.entries(de.texts).filter(([text, german]) => holes(text).join() !== holes(german).join()),
    ].map(([text]) => text)
    const mails = Object.entries(mailsEn).filter(([name, mail]) => {
      const other = de.mails[name]
      return (
        !other ||
        holes(mail.text).join() !== holes(other.text).join() ||
        holes(mail.subject).join() !== holes(other.subject).join()
      )
    })
    expect([...differ, ...mails.map(([name]) => name)]).to.deep.equal([])
  })
})
