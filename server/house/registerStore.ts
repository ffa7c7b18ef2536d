import type { Entry, RegisterKey, Values } from '#core/setup/registers.ts'
import { UNIT_CODES } from '#core/units/units.ts'
import type { Read } from '#server/call.ts'

export interface EntryRow {
  id: string
  register: RegisterKey
  /** What tells it from the others of its register: `identityOf`. */
  code: string
  values: Values
  open: boolean
  version: number
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    setupEntries: EntryRow
  }
}

/** The entries of a register, as the core reads them. */
export const entriesOf = (call: Pick<Read, 'trx'>, register: RegisterKey): Promise<Entry[]> =>
  call.trx('setupEntries').where({ register }).select('values', 'open')

/** Units that are offered where one is chosen, in the order of the table. */
export async function offeredUnits(call: Pick<Read, 'trx'>): Promise<string[]> {
  const codes = new Set(await call.trx('setupEntries').where({ register: 'units', open: true }).pluck('code'))
  return UNIT_CODES.filter(code => codes.has(code))
}
