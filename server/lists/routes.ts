import type { defineList } from '#contract/list.ts'
import { glances, reads, type Route } from '#server/http/route.ts'
import { exportList } from '#server/lists/export.ts'
import { type ListDefinition, listFilters, listPage } from '#server/lists/list.ts'

/** The routes of a list: its pages, what it can be narrowed by, and its export. */
export function listRoutes<Row>(
  endpoints: ReturnType<typeof defineList>,
  definition: ListDefinition<Row>,
  name: string,
): Route[] {
  return [
    glances(endpoints.page, (call, { query }) => listPage(definition, call, query)),
    reads(endpoints.filters, call => listFilters(definition, call)),
    reads(endpoints.export, (call, { params, query }) =>
      Promise.resolve(exportList(definition, call, query, params.format, name)),
    ),
  ]
}
