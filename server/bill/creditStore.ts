import { randomUUID } from 'node:crypto'
import type { CreditFigures, CreditIssuer, CreditWay } from '#core/bill/creditFacts.ts'
import { CREDIT_GROUPS, type CreditState } from '#core/bill/creditStates.ts'
import type { InvoiceTax } from '#core/bill/facts.ts'
import { minor } from '#core/money/amount.ts'
import type { Read, Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'

export interface CreditRow {
  id: string
  number: string
  issuer: CreditIssuer
  source: 'file' | 'supplierPages' | 'team'
  state: CreditState
  supplierId: string
  supplierNumber: string
  normalNumber: string
  invoiceId: string
  currency: string
  issueDate: string
  reason: string
  charges: bigint
  net: bigint
  baseNet: bigint
  tax: bigint
  gross: bigint
  baseGross: bigint
  setOff: bigint
  taxes: InvoiceTax[]
  fileId: string | null
  receivedAt: string
  byId: string
  postedAt: string | null
  version: number
  changedAt: string
  search: string
}
export interface CreditLineRow {
  id: string
  creditId: string
  position: number
  of: number
  orderLineId: string | null
  description: string
  way: CreditWay
  quantity: string
  unit: string
  price: string
  priceBase: string
  net: bigint
  taxCategory: string
  taxRate: string
}
export interface SetOffRow {
  id: string
  creditId: string
  invoiceId: string
  amount: bigint
  at: string
  byId: string
  endedAt: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    creditNotes: CreditRow
    creditLines: CreditLineRow
    setOffs: SetOffRow
  }
}

/** Credit notes with their lines, of these states, by the invoice that they are against. */
export async function creditsAgainst(
  call: Read,
  invoiceIds: readonly string[],
  states: readonly CreditState[] = CREDIT_GROUPS.standing,
): Promise<Map<string, (CreditFigures & { readonly row: CreditRow })[]>> {
  if (invoiceIds.length === 0) return new Map()
  const heads = await call.trx('creditNotes').whereIn('invoiceId', [...invoiceIds]).whereIn('state', [...states]).orderBy(['receivedAt', 'number']) // prettier-ignore
  if (heads.length === 0) return new Map()
  const lines = groupBy(await call.trx('creditLines').whereIn('creditId', heads.map(one => one.id)).orderBy(['creditId', 'position']), line => line.creditId) // prettier-ignore
  return groupBy(
    heads.map(row => ({ ...figuresOf(row, lines.get(row.id) ?? []), row })),
    one => one.row.invoiceId,
  )
}

export const figuresOf = (row: CreditRow, lines: readonly CreditLineRow[]): CreditFigures => ({
  charges: minor(row.charges),
  net: minor(row.net),
  baseNet: minor(row.baseNet),
  tax: minor(row.tax),
  gross: minor(row.gross),
  taxes: row.taxes,
  lines: lines.map(({ id: _id, creditId: _credit, net, ...line }) => ({ ...line, net: minor(net) })),
})

/** Writes the lines of a credit note anew. */
export async function writeCreditLines(call: Write, id: string, lines: CreditFigures['lines']): Promise<void> {
  await call.trx('creditLines').where({ creditId: id }).delete()
  if (lines.length > 0) await call.trx('creditLines').insert(lines.map(line => ({ ...line, id: randomUUID(), creditId: id }))) // prettier-ignore
}
