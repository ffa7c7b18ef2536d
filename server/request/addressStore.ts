import type { z } from 'zod'
import type { AddressBody } from '#contract/request/forms.ts'

/** A place of the address book. */
export type AddressRow = z.output<typeof AddressBody> & { id: string }

declare module 'knex/types/tables.js' {
  interface Tables {
    addresses: AddressRow
  }
}
