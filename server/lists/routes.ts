import type { defineList } from '#contract/lists/list.ts'
import { KeepView, ChangeView, DropView, ReadViewAudience, ReadViews } from '#contract/lists/views.ts'
import { glances, reads, type Route, writes } from '#server/http/route.ts'
import { exportList } from '#server/lists/export.ts'
import { type ListDefinition, listFilters, listIds, listPage } from '#server/lists/list.ts'
import { listSums } from '#server/lists/sums.ts'
import { changeView, dropView, keepView, readAudience, readViews } from '#server/lists/views.ts'

/** The routes of a list: its pages, what it can be narrowed by, and its export. */
export function listRoutes<Row>(
  endpoints: ReturnType<typeof defineList>,
  definition: ListDefinition<Row>,
  name: string,
): Route[] {
  return [
    glances(endpoints.page, (call, { query }) => listPage(definition, call, query)),
    reads(endpoints.filters, call => listFilters(definition, call)),
    reads(endpoints.sums, (call, { query }) => listSums(definition, call, query)),
    reads(endpoints.ids, (call, { query }) => listIds(definition, call, query)),
    reads(endpoints.export, (call, { params, query }) =>
      Promise.resolve(exportList(definition, call, query, params.format, name)),
    ),
  ]
}

/** Saved views of every list. */
export const viewRoutes: Route[] = [
  reads(ReadViews, (call, { params }) => readViews(call, params.list)),
  reads(ReadViewAudience, (call, { params }) => readAudience(call, params.list)),
  writes(KeepView, (call, { params, body }) => keepView(call, params.list, body)),
  writes(ChangeView, (call, { params, body }) => changeView(call, params.id, body)),
  writes(DropView, (call, { params }) => dropView(call, params.id)),
]
