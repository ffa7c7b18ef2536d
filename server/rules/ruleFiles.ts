import { randomUUID } from 'node:crypto'
import { stringify } from 'csv-stringify/sync'
import type { ImportResult } from '#contract/files/endpoints.ts'
import { formatAmount, type Minor, minor, parseAmount } from '#core/money/amount.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import { readRule, RULE_COLUMNS, type RuleCells, ruleCells } from '#core/rules/exchange.ts'
import type { Rule } from '#core/rules/rule.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { harmless, MOST_ROWS_AT_ONCE } from '#server/formats/cells.ts'
import type { Table } from '#server/formats/delimited.ts'
import { importResult, type RowFaults } from '#server/formats/importResult.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { faultsOf, takeRules } from '#server/rules/ruleActs.ts'
import { rulesOf } from '#server/rules/ruleStore.ts'

/** A version of the rules as a file that can be taken in again. */
export async function exportRules(call: Read, id: string, as: 'csv' | 'json'): Promise<FileAnswer> {
  const set = found(await call.trx('ruleSets').where({ id }).first('number'), 'rule')
  const mails = new Map((await call.trx('people').where({ realm: 'team' }).select('id', 'email')).map(one => [one.id, one.email])) // prettier-ignore
  const rows = (await rulesOf(call, id)).map(rule =>
    ruleCells(
      rule,
      personId => mails.get(personId) ?? '',
      amount => formatAmount(minor(amount), call.base),
    ),
  )
  const name = `rules-${set.number}.${as}`
  return as === 'json'
    ? { name, mediaType: 'application/json', bytes: Buffer.from(`${JSON.stringify(rows, null, 2)}\n`) }
    : {
        name,
        mediaType: 'text/csv; charset=utf-8',
        bytes: Buffer.from(
          stringify([[...RULE_COLUMNS], ...rows.map(row => RULE_COLUMNS.map(column => harmless(row[column])))], {
            bom: true,
            record_delimiter: 'windows',
          }),
        ),
      }
}

/** Takes rules in as the draft, all rows or none. */
export async function importRules(call: Write, bytes: Buffer, dryRun: boolean): Promise<ImportResult> {
  const table = await tableOf(bytes)
  const people = new Map((await call.trx('people').where({ realm: 'team' }).select('id', 'email')).map(one => [one.email.toLowerCase(), one.id])) // prettier-ignore
  const readAmount = (text: string): Minor | undefined => {
    try {
      return isDecimalText(text.trim()) ? parseAmount(text.trim(), call.base) : undefined
    } catch {
      return undefined
    }
  }
  const faults: RowFaults[] = []
  const rules: Rule[] = []
  for (const [index, row] of table.rows.entries()) {
    const cells = Object.fromEntries(RULE_COLUMNS.map(column => [column, (row[column] ?? '').replace(/^'(?=[=@+-])/, '')])) as RuleCells // prettier-ignore
    const read = readRule(cells, { id: randomUUID(), readAmount, personOf: mail => people.get(mail.toLowerCase()) })
    if ('faults' in read) faults.push({ row: index + 2, reasons: read.faults })
    else rules.push(read.rule)
  }
  if (faults.length === 0)
    for (const fault of await faultsOf(call, rules)) {
      const at = rules.findIndex(rule => fault.place?.startsWith(rule.id))
      faults.push({ row: at + 2, reasons: [{ ...fault, place: fault.place?.split('.').slice(1).join('.') ?? '' }] })
    }
  const load = !dryRun && faults.length === 0
  if (load) await takeRules(call, rules)
  return importResult(table, faults, load)
}

/** A file of rules: a table with a line for each, or JSON with an object for each. */
async function tableOf(bytes: Buffer): Promise<Table> {
  if (
    !/^\s*\[/.test(
      bytes
        .subarray(0, 200)
        .toString()
        .replace(/^\uFEFF/, ''),
    )
  )
    return await compute('tableOf', {
      bytes,
      known: [...RULE_COLUMNS],
      needed: ['name', 'stage', 'asks'],
      most: MOST_ROWS_AT_ONCE,
    })
  const rows = jsonRows(bytes)
  return { rows, delimiter: 'JSON', encoding: 'UTF-8' }
}

function jsonRows(bytes: Buffer): Record<string, string>[] {
  let read: unknown
  try {
    read = JSON.parse(bytes.toString().replace(/^\uFEFF/, ''))
  } catch {
    throw new RuleBroken(stop('import.notJson'))
  }
  if (!Array.isArray(read) || read.length > MOST_ROWS_AT_ONCE) throw new RuleBroken(stop('import.notJson'))
  return read.map((one: unknown) =>
    Object.fromEntries(
      RULE_COLUMNS.map(column => {
        const value = typeof one === 'object' && one !== null ? (one as Record<string, unknown>)[column] : undefined
        return [column, typeof value === 'string' || typeof value === 'number' ? String(value) : '']
      }),
    ),
  )
}
