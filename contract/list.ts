import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ListPage, ListQuery } from '#contract/fields.ts'
import type { Permission } from '#contract/permissions.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'

/** A list and the export of exactly what it shows; both take the same query as the address bar. `kinds`: the documents whose changes it shows. */
export function defineList(name: string, path: string, permission: Permission, kinds: readonly DocumentKind[]) {
  return {
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
    export: defineEndpoint({
      name: `export.${name}`,
      method: 'get',
      path: `${path}/export/:format`,
      permission,
      params: z.strictObject({ format: z.enum(['csv', 'xlsx']) }),
      query: ListQuery,
      answers: 'file',
    }),
  }
}
