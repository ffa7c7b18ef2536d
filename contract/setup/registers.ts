import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { Done, Uuid, Version, VersionOrNew } from '#contract/fields.ts'
import { ImportBody, ImportResult } from '#contract/files/endpoints.ts'
import { REGISTER_KEYS } from '#core/setup/registers.ts'

const Key = z.enum(REGISTER_KEYS)
const Values = z.record(z.string().max(40), z.string().max(200))
export const EntryJson = z.strictObject({
  id: Uuid,
  values: Values,
  open: z.boolean(),
  /** How many entries of other registers point to it. */
  pointed: z.int(),
  version: z.int(),
})
export type EntryJson = z.output<typeof EntryJson>

const OfRegister = z.strictObject({ register: Key })
export const ReadRegister = defineEndpoint({
  name: 'register.read',
  method: 'get',
  path: '/setup/registers/:register',
  permission: 'setup.read',
  params: OfRegister,
  response: z.strictObject({ entries: z.array(EntryJson) }),
})
/** Adds an entry, or changes or closes the one with this id. */
export const SaveEntry = defineEndpoint({
  name: 'register.save',
  method: 'post',
  path: '/setup/registers/:register',
  permission: 'setup.write',
  params: OfRegister,
  body: z.strictObject({ id: Uuid.nullable(), values: Values, open: z.boolean(), version: VersionOrNew }),
  response: Done,
})
/** Takes out an entry that nothing points to. */
export const DropEntry = defineEndpoint({
  name: 'register.drop',
  method: 'post',
  path: '/setup/registers/:register/:id/drop',
  permission: 'setup.write',
  params: z.strictObject({ register: Key, id: Uuid }),
  body: z.strictObject({ version: Version }),
})
/** Takes in a CSV file with a column for each field; what is there already under the same name is changed. */
export const ImportRegister = defineEndpoint({
  name: 'register.import',
  method: 'post',
  path: '/setup/registers/:register/import',
  permission: 'setup.write',
  params: OfRegister,
  body: ImportBody,
  response: ImportResult,
})
export const ExportRegister = defineEndpoint({
  name: 'register.export',
  method: 'get',
  path: '/setup/registers/:register/export',
  permission: 'setup.read',
  params: OfRegister,
  answers: 'file',
})
/** Takes the days of an iCalendar file (RFC 5545) as holidays of a calendar. */
export const ImportHolidays = defineEndpoint({
  name: 'holidays.import',
  method: 'post',
  path: '/setup/holidays/import',
  permission: 'setup.write',
  body: ImportBody.extend({ calendar: z.string().max(20) }),
  response: ImportResult,
})
/** Takes in dated rates: CSV with currency, day and rate, or XML of euro reference rates. */
export const ImportRates = defineEndpoint({
  name: 'rates.import',
  method: 'post',
  path: '/setup/rates/import',
  permission: 'setup.write',
  body: ImportBody,
  response: ImportResult,
})
export const ExportRates = defineEndpoint({
  name: 'rates.export',
  method: 'get',
  path: '/setup/rates/export',
  permission: 'setup.read',
  answers: 'file',
})
