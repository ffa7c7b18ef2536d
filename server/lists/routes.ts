import type { defineList } from '#contract/list.ts'
import { route, type Route } from '#server/http/app.ts'
import { exportList } from '#server/lists/export.ts'
import { type ListDefinition, listFilters, listPage } from '#server/lists/list.ts'

/** The routes of a list: its pages, what it can be narrowed by, and its export. */
export function listRoutes<Row>(endpoints: ReturnType<typeof defineList>, definition: ListDefinition<Row>, name: string): Route[] {
  return [
    route(endpoints.page, (call, { query }) => listPage(definition, call, query)),
    route(endpoints.filters, call => listFilters(definition, call)),
    route(endpoints.export, (call, { params, query }) => Promise.resolve(exportList(definition, call, query, params.format, name))),
  ]
}
