import { stringify } from 'csv-stringify/sync'
import type { ImportResult } from '#contract/files/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { whyNotRate } from '#core/money/exchange.ts'
import { toBaseRates } from '#core/money/referenceRates.ts'
import { isCurrency } from '#core/money/currency.ts'
import { isDay } from '#core/calendar/days.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { identityOf, readEntry, type RegisterKey, REGISTERS, type Values } from '#core/setup/registers.ts'
import type { Read, Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { json } from '#server/database/json.ts'
import { MOST_ROWS_AT_ONCE } from '#server/formats/cells.ts'
import { importResult, type RowFaults, slices } from '#server/formats/importResult.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { saveRate } from '#server/setup/centreActs.ts'
import { addEntry, judgedAnew, knownCodes, moreAgainst } from '#server/setup/registers.ts'
import { move } from '#server/documents/move.ts'
import { hold } from '#server/documents/hold.ts'

const snake = (name: string): string => name.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)
const csv = (call: Read, name: string, rows: readonly (readonly string[])[]): FileAnswer => ({
  name: `${name}-${call.today}.csv`,
  mediaType: 'text/csv; charset=utf-8',
  bytes: Buffer.from(stringify(rows as string[][], { bom: true, record_delimiter: 'windows' })),
})

/** A register as the file that it can be taken in from. */
export async function exportRegister(call: Read, register: RegisterKey): Promise<FileAnswer> {
  const keys = REGISTERS[register].fields.map(field => field.key)
  const rows = await call.trx('setupEntries').where({ register, open: true }).orderBy('code').select('values')
  return csv(call, register, [keys.map(snake), ...rows.map(row => keys.map(key => row.values[key] ?? ''))])
}

/** Takes in a register: all rows or none. What is there under the same name is changed, the rest is added. */
export async function importRegister(
  call: Write,
  register: RegisterKey,
  bytes: Buffer,
  dryRun: boolean,
): Promise<ImportResult> {
  const { fields } = REGISTERS[register]
  const table = await compute('tableOf', {
    bytes,
    known: fields.map(field => snake(field.key)),
    needed: fields.filter(field => !field.optional).map(field => snake(field.key)),
    most: MOST_ROWS_AT_ONCE,
  })
  const rows = table.rows.map(row => Object.fromEntries(fields.map(field => [field.key, row[snake(field.key)] ?? ''])))
  return await takeIn(call, register, rows, table, dryRun)
}

async function takeIn(
  call: Write,
  register: RegisterKey,
  rows: readonly Values[],
  table: Parameters<typeof importResult>[0],
  dryRun: boolean,
): Promise<ImportResult> {
  const known = await knownCodes(call)
  const there = new Map((await call.trx('setupEntries').where({ register })).map(row => [row.code, row] as const))
  const seen = new Set<string>()
  const faults: RowFaults[] = []
  const entries: Values[] = []
  for await (const { row, index } of slices(rows)) {
    const code = identityOf(register, readEntry(register, row, known).values)
    const before = there.get(code)
    const { values, reasons } = readEntry(register, row, known, before?.values)
    reasons.push(...(await moreAgainst(call, register, values, before?.id ?? null)))
    const twice: Reason[] = seen.has(code) ? [stop('import.codeTwice', { value: code }, { place: 'code' })] : []
    if (reasons.length + twice.length > 0) faults.push({ row: index + 2, reasons: [...reasons, ...twice] })
    else entries.push(values)
    seen.add(code)
  }
  const load = !dryRun && faults.length === 0
  if (load) for (const values of entries) await putEntry(call, register, values)
  if (load) await judgedAnew(call, register)
  return importResult({ ...table, rows: rows as Record<string, string>[] }, faults, load)
}

async function putEntry(call: Write, register: RegisterKey, values: Values): Promise<void> {
  const there = await call
    .trx('setupEntries')
    .where({ register, code: identityOf(register, values) })
    .first('id')
  if (!there) return void (await addEntry(call, register, values))
  const before = await hold(call, 'setupEntry', there.id)
  const same = REGISTERS[register].fields.every(({ key }) => before.values[key] === values[key])
  if (before.open && same) return
  const changes = { before: before.values, after: values }
  await move(
    call,
    'setupEntry',
    before,
    { values: json(values), open: true },
    { action: 'changed', changes, reason: null },
  )
}

/** Bytes of an iCalendar file: a land's holidays of a century take less. */
const MOST_CALENDAR = 1_000_000
const YEARS_BACK = 400
const YEARS_AHEAD = 365 * 10

/** Takes the days of an iCalendar file as holidays of a calendar. */
export async function importHolidays(
  call: Write,
  calendar: string,
  bytes: Buffer,
  dryRun: boolean,
): Promise<ImportResult> {
  if (bytes.length > MOST_CALENDAR) throw new RuleBroken(stop('calendar.tooLarge', { most: '1 MB' }))
  const days = await compute('holidaysOf', {
    bytes,
    from: addDays(call.today, -YEARS_BACK),
    to: addDays(call.today, YEARS_AHEAD),
  })
  const rows = days.map(({ day, name }) => ({ calendar, day, name }))
  return await takeIn(call, 'holidays', rows, { rows: [], delimiter: 'iCalendar', encoding: 'UTF-8' }, dryRun)
}

/** Every rate that was entered, as the file that rates can be taken in from. */
export async function exportRates(call: Read): Promise<FileAnswer> {
  const rows = await call.trx('exchangeRates').orderBy(['currency', 'validFrom'])
  return csv(call, 'rates', [
    ['currency', 'valid_from', 'rate'],
    ...rows.map(row => [row.currency, row.validFrom, row.rate]),
  ])
}

/** Takes in dated rates. A rate that holds already as it stands in the file is left alone; another one from the same day is a fault. */
export async function importRates(call: Write, bytes: Buffer, dryRun: boolean): Promise<ImportResult> {
  const { rates, table } = await ratesIn(call, bytes)
  const faults: RowFaults[] = []
  const fresh: typeof rates = []
  const seen = new Set<string>()
  const there = new Map(
    (await call.trx('exchangeRates')).map((row): [string, string] => [`${row.currency} ${row.validFrom}`, row.rate]),
  )
  for (const [index, rate] of rates.entries()) {
    const key = `${rate.currency} ${rate.validFrom}`
    const reasons = seen.has(key)
      ? [stop('import.codeTwice', { value: key }, { place: 'valid_from' })]
      : whyNotRateRow(rate, call.base, there.get(key))
    if (reasons.length > 0) faults.push({ row: index + 2, reasons })
    else if (!there.has(key)) fresh.push(rate)
    seen.add(key)
  }
  const load = !dryRun && faults.length === 0
  if (load) for (const rate of fresh) await saveRate(call, rate)
  return importResult(table, faults, load)
}

interface Rate {
  readonly currency: string
  readonly validFrom: string
  readonly rate: string
}
/** The rates of a file, in units of the base currency. */
export async function ratesIn(
  call: Read,
  bytes: Buffer,
): Promise<{ rates: Rate[]; table: Parameters<typeof importResult>[0] }> {
  if (
    bytes
      .subarray(0, 200)
      .toString('latin1')
      .trimStart()
      .replace(/^[^<]{0,3}/, '')
      .startsWith('<')
  ) {
    const reference = await compute('referenceRatesOf', { bytes })
    const rates = toBaseRates(reference, 'EUR', call.base).filter(rate => isCurrency(rate.currency))
    return { rates, table: { rows: rates as never, delimiter: 'XML', encoding: 'UTF-8' } }
  }
  const known = ['currency', 'valid_from', 'rate'] as const
  const table = await compute('tableOf', { bytes, known, needed: known, most: MOST_ROWS_AT_ONCE })
  const rates = table.rows.map(row => ({
    currency: (row.currency ?? '').trim().toUpperCase(),
    validFrom: (row.valid_from ?? '').trim(),
    rate: (row.rate ?? '').trim().replace(',', '.'),
  }))
  return { rates, table }
}

function whyNotRateRow(rate: Rate, base: string, there: string | undefined): Reason[] {
  const fault = (place: string, value: string): Reason => stop('import.badValue', { column: place, value }, { place })
  if (!isCurrency(rate.currency)) return [fault('currency', rate.currency.slice(0, 10))]
  if (!isDay(rate.validFrom)) return [fault('valid_from', rate.validFrom.slice(0, 20))]
  if (!/^\d{1,10}(\.\d{1,8})?$/.test(rate.rate)) return [fault('rate', rate.rate.slice(0, 20))]
  const same = there !== undefined && Number(there) === Number(rate.rate)
  return same ? [] : whyNotRate(rate, base, there)
}
