import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ListPage, ListQuery, Uuid } from '#contract/fields.ts'
import type { Permission } from '#contract/permissions.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'

/** What a list shows, put together by one or two of its columns, such as `supplier,needBy`. */
const SumsQuery = ListQuery.extend({ group: z.string().max(100).optional() })

/** How many rows there are and what they come to, for each group; one group of all where none is asked for. */
export const ListSums = z.strictObject({
  by: z.array(z.string()),
  groups: z.array(
    z.strictObject({
      /** The value of each column that is grouped by: a month where it holds days, null where it is empty. */
      values: z.array(z.string().nullable()),
      count: z.int(),
      /** In the base currency; null where rows have no amount. */
      amount: AmountText.nullable(),
      figures: z.array(z.strictObject({ key: z.string(), sum: z.string() })),
    }),
  ),
  more: z.boolean(),
  currency: z.string(),
})
export type ListSums = z.output<typeof ListSums>

/** A list and the export of exactly what it shows; both take the same query as the address bar. `kinds`: the documents whose changes it shows. */
export function defineList(name: string, path: string, permission: Permission, kinds: readonly DocumentKind[]) {
  return {
    name,
    kinds,
    page: defineEndpoint({
      name: `list.${name}`,
      method: 'get',
      path,
      permission,
      query: ListQuery,
      response: ListPage,
    }),
    filters: defineEndpoint({
      name: `filters.${name}`,
      method: 'get',
      path: `${path}/narrow/options`,
      permission,
      response: z.strictObject({
        filters: z.array(
          z.strictObject({
            key: z.string(),
            options: z.array(z.strictObject({ value: z.string(), label: z.string() })),
          }),
        ),
      }),
    }),
    sums: defineEndpoint({
      name: `sums.${name}`,
      method: 'get',
      path: `${path}/narrow/sums`,
      permission,
      query: SumsQuery,
      response: ListSums,
    }),
    ids: defineEndpoint({
      name: `ids.${name}`,
      method: 'get',
      path: `${path}/narrow/ids`,
      permission,
      query: ListQuery,
      response: z.strictObject({ ids: z.array(Uuid), more: z.boolean() }),
    }),
    export: defineEndpoint({
      name: `export.${name}`,
      method: 'get',
      path: `${path}/export/:format`,
      permission,
      params: z.strictObject({ format: z.enum(['csv', 'xlsx']) }),
      query: SumsQuery.extend({
        /** The columns to write, in their order; all of them where nothing is said. */
        columns: z.string().max(2000).optional(),
      }),
      answers: 'file',
    }),
  }
}
