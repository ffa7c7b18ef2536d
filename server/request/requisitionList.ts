import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { type ListedRequest, requestListing } from '#server/request/requisitionListStore.ts'

/** Requests, a person's own first. */
export const requisitionList: ListDefinition<ListedRequest> = {
  ...requestListing(id => pathOf('requisition', id), false),
  views: {
    mine: (query, call) => void query.where('requisitions.requesterId', call.actor.id),
    open: query => void query.whereIn('requisitions.state', [...REQUISITION_GROUPS.open]),
    all: () => undefined,
  },
}
