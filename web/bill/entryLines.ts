import type { BodyOf } from '#contract/endpoint.ts'
import type { EnterInvoice } from '#contract/bill/entry.ts'

/** A line as it is typed from a paper; `key`: which row it is while it is typed. */
export type EntryLine = BodyOf<typeof EnterInvoice>['lines'][number] & { readonly key: number }

let keys = 0
/** A line that says nothing yet, taxed as another one. */
export const emptyLine = (like?: EntryLine): EntryLine => ({
  key: ++keys,
  orderLineId: null,
  description: '',
  quantity: '1',
  unit: 'C62',
  price: '',
  priceBase: '1',
  taxCategory: like?.taxCategory ?? 'S',
  taxRate: like?.taxRate ?? '21',
})
