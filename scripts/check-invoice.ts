import { readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { parseArgs } from 'node:util'
import { FILE_LIMIT } from '#contract/files/endpoints.ts'
import { ruleWords } from '#contract/messages/invoiceRules.ts'
import { say } from '#contract/messages/say.ts'
import { checkInvoice, RULE_SETS, type RuleSet, type Violation } from '#core/bill/en16931.ts'
import { Mendable } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'
import { type FoundInvoice, invoicesIn } from '#server/formats/invoiceFile.ts'

/** Good, a rule broken, unreadable: the worst of all files is how it ends. */
const GOOD = 0
const VIOLATED = 1
const UNREADABLE = 2

await command(async () => {
  const { files, sets, json } = asked()
  const today = new Date().toISOString().slice(0, 10)
  const reports = []
  for (const file of files) for (const found of await invoicesIn(basename(file), readFile(file))) reports.push(reportOf(found, today, sets)) // prettier-ignore
  const shown = reports.length === 1 ? reports[0] : reports
  process.stdout.write(json ? `${JSON.stringify(shown, null, 2)}\n` : reports.map(inWords).join('\n'))
  return Math.max(...reports.map(one => one.ends))
}, UNREADABLE)

function asked(): { files: string[]; sets: RuleSet[]; json: boolean } {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: { json: { type: 'boolean' }, set: { type: 'string', multiple: true } },
  })
  if (positionals.length === 0) throw new Mendable('Name the invoice: ./ivory check-invoice FILE… [--json] [--set german] [--set peppol].') // prettier-ignore
  const sets = values.set ?? []
  const unknown = sets.find(set => !RULE_SETS.some(one => one === set))
  if (unknown !== undefined) throw new Mendable(`There is no set of rules “${unknown}”: ${RULE_SETS.join(', ')}.`)
  return { files: positionals, sets: sets as RuleSet[], json: values.json ?? false }
}

function reportOf({ name, encoding, invoice, reasons }: FoundInvoice, today: string, sets: readonly RuleSet[]) {
  if (!invoice) {
    const unreadable = reasons.map(reason => ({ rule: reason.code, place: '', expected: '', found: say(reason.code, reason.details), severity: 'stop' as const, set: 'en16931' as const, words: '' })) // prettier-ignore
    return { file: name, encoding, invoice, violations: unreadable, ends: UNREADABLE }
  }
  const violations = checkInvoice(invoice, today, sets).map(one => ({ ...one, words: ruleWords(one.rule) }))
  return { file: name, encoding, invoice, violations, ends: violations.some(one => one.severity === 'stop') ? VIOLATED : GOOD } // prettier-ignore
}

function inWords({ file, invoice, violations, ends }: ReturnType<typeof reportOf>): string {
  const what = invoice
    ? `${invoice.syntax.toUpperCase()} ${invoice.typeCode} ${invoice.number} of ${invoice.seller.name}, ${invoice.totals.payable} ${invoice.currency}, ${invoice.lines.length} lines`
    : 'cannot be read'
  const broken = violations.filter(one => one.severity === 'stop').length
  const verdict = ends === UNREADABLE ? '' : broken > 0 ? `: ${broken} broken` : ': no rule is broken'
  return `${[`${file}: ${what}${verdict}`, ...violations.map(inLine)].join('\n')}\n`
}

function inLine({ rule, place, found, expected, severity, words }: Violation & { words: string }): string {
  if (place === '') return `  ${found}`
  const apart = [found === '' ? '' : `found “${found}”`, expected === '' ? '' : `expected ${expected}`].filter(Boolean)
  return `  ${severity === 'stop' ? 'stop ' : 'check'} ${rule} at ${place}: ${words}${apart.length > 0 ? ` (${apart.join(', ')})` : ''}` // prettier-ignore
}

function readFile(path: string): Buffer {
  try {
    const bytes = readFileSync(path)
    if (bytes.length > FILE_LIMIT)
      throw new Mendable(`${path} has more than ${FILE_LIMIT / 1024 / 1024} MB: an e-invoice is never that large.`)
    return bytes
  } catch (error) {
    if (error instanceof Mendable) throw error
    throw new Mendable(`${path} cannot be read: check the name and the rights.`, { cause: error })
  }
}
