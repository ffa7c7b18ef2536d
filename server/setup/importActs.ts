import type { SetupImport } from '#contract/setup/house.ts'
import type { ImportResult } from '#contract/files/endpoints.ts'
import {
  ACCOUNT_COLUMNS,
  CENTRE_COLUMNS,
  type ImportedCode,
  type ImportedPerson,
  PEOPLE_COLUMNS,
  readCodeRow,
  readPersonRow,
} from '#core/people/setupImport.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { MOST_ROWS_AT_ONCE } from '#server/formats/cells.ts'
import { importResult, type RowFaults, slices } from '#server/formats/importResult.ts'
import { saveAccount } from '#server/setup/centreActs.ts'
import { createPerson } from '#server/setup/peopleActs.ts'
import { saveCostCentre } from '#server/setup/powerActs.ts'
import { rightsOfRoles } from '#server/setup/rolesActs.ts'

/** Takes in what a house brings along: all rows or none. What gives power over money waits for a second person, row by row. */
export async function importSetup(
  call: Write,
  what: SetupImport,
  bytes: Buffer,
  dryRun: boolean,
): Promise<ImportResult> {
  return what === 'people' ? await importPeople(call, bytes, dryRun) : await importCodes(call, what, bytes, dryRun)
}

async function importPeople(call: Write, bytes: Buffer, dryRun: boolean): Promise<ImportResult> {
  const table = await compute('tableOf', {
    bytes,
    known: PEOPLE_COLUMNS,
    needed: ['name', 'email'],
    most: MOST_ROWS_AT_ONCE,
  })
  const roles = new Set((await rightsOfRoles(call)).keys())
  const centres = new Set(await call.trx('costCentres').pluck<string[]>('code'))
  const known = await idsByMail(call)
  const people: (ImportedPerson & { readonly row: number })[] = []
  const faults: RowFaults[] = []
  const seen = new Set(known.keys())
  for await (const { row, index } of slices(table.rows)) {
    const read = readPersonRow(row, index + 2, roles, centres)
    if (!read.value) faults.push({ row: index + 2, reasons: read.reasons })
    else if (seen.has(read.value.email)) faults.push(taken(index + 2, 'email', 'person.mailTaken'))
    else people.push({ ...read.value, row: index + 2 })
    if (read.value) seen.add(read.value.email)
  }
  for (const { row, manager } of people)
    if (manager !== '' && !seen.has(manager)) faults.push(taken(row, 'manager', 'import.noPerson'))
  const load = !dryRun && faults.length === 0
  if (load) {
    for (const { name, email, roles } of people) {
      const { id } = await createPerson(call, { name, email, roles: [...roles], managerId: null })
      known.set(email, id)
    }
    for (const { email, manager } of people)
      if (manager !== '')
        await call
          .trx('people')
          .where({ id: known.get(email)! })
          .update({ managerId: known.get(manager)! })
  }
  return importResult(table, faults, load)
}

async function importCodes(
  call: Write,
  what: 'costCentres' | 'accounts',
  bytes: Buffer,
  dryRun: boolean,
): Promise<ImportResult> {
  const known = what === 'costCentres' ? CENTRE_COLUMNS : ACCOUNT_COLUMNS
  const table = await compute('tableOf', { bytes, known, needed: ['code', 'name'], most: MOST_ROWS_AT_ONCE })
  const people = await idsByMail(call)
  const codes: ImportedCode[] = []
  const faults: RowFaults[] = []
  const seen = new Set<string>()
  for await (const { row, index } of slices(table.rows)) {
    const { value, reasons } = readCodeRow(row, index + 2)
    if (!value) faults.push({ row: index + 2, reasons })
    else if (seen.has(value.code)) faults.push(taken(index + 2, 'code', 'import.codeTwice'))
    else if (value.holder !== '' && !people.has(value.holder))
      faults.push(taken(index + 2, 'holder', 'import.noPerson'))
    else codes.push(value)
    if (value) seen.add(value.code)
  }
  const load = !dryRun && faults.length === 0
  if (load)
    for (const one of codes)
      if (what === 'accounts') await saveAccount(call, { code: one.code, name: one.name })
      else await takeCentre(call, one, people.get(one.holder) ?? null)
  return importResult(table, faults, load)
}

async function takeCentre(call: Write, { code, name }: ImportedCode, holderId: string | null): Promise<void> {
  const known = await call.trx('costCentres').where({ code }).first('version', 'holderId')
  const wanted = holderId ?? known?.holderId ?? null
  await saveCostCentre(call, { code, name, holderId: wanted, version: known?.version ?? 0 })
}

async function idsByMail(call: Write): Promise<Map<string, string>> {
  const rows = await call.trx('people').where({ realm: 'team' }).select('id', 'email')
  return new Map(rows.map(row => [row.email.toLowerCase(), row.id]))
}

const taken = (row: number, column: string, code: string): { row: number; reasons: Reason[] } => ({
  row,
  reasons: [stop(code, {}, { place: `rows.${row}.${column}` })],
})
