import type { ReadCreditable, SupplierCredit } from '#contract/bill/credits.ts'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'

export type CreditableLine = ResponseOf<typeof ReadCreditable>['lines'][number]
type Note = BodyOf<typeof SupplierCredit>['note']

/** A credit note as it is written in a form. */
export interface CreditEntry {
  number: string
  issueDate: string
  reason: string
  charges: string
  lines: Record<number, { way: 'quantity' | 'price'; quantity: string; priceOff: string }>
}

/** Nothing credited yet. */
export const freshEntry = (lines: readonly CreditableLine[], today: string): CreditEntry => ({
  number: '',
  issueDate: today,
  reason: '',
  charges: '0',
  lines: Object.fromEntries(lines.map(line => [line.of, { way: 'quantity', quantity: '0', priceOff: '0' }])),
})

/** The note as the server takes it: lines on which something is credited. */
export const noteOf = (entry: CreditEntry): Note => ({
  number: entry.number.trim(),
  issueDate: entry.issueDate,
  reason: entry.reason.trim(),
  charges: entry.charges || '0',
  lines: Object.entries(entry.lines)
    .filter(([, line]) => !/^[0.,]*$/.test(line.quantity))
    .map(([of, line]) => ({ of: Number(of), way: line.way, quantity: line.quantity, priceOff: line.way === 'price' ? line.priceOff || '0' : '0' })), // prettier-ignore
})
