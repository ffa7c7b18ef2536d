import { actsAs } from '#core/acts/actor.ts'
import { APPROVAL_RIGHT } from '#core/request/submitRequisition.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import type { Read } from '#server/call.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { askedWhere, type ListedRequest, requestListing } from '#server/request/requisitionListStore.ts'

/** This person and those they stand in for, as far as they may decide. */
const mine = (call: Read): Record<string, unknown> => ({ mine: actsAs(call.actor, APPROVAL_RIGHT) })

/** Requests by what there is to decide about them. */
export const decisionList: ListDefinition<ListedRequest> = {
  ...requestListing(id => `/decide/${id}`, true),
  views: {
    forMe: (query, call) =>
      void query.whereRaw(
        askedWhere(call, "c.state = 'open' and s.state = 'open' and s.approver_ids && :mine::uuid[]", mine(call)),
      ),
    coming: (query, call) =>
      void query.whereRaw(
        askedWhere(call, "c.state = 'open' and s.state = 'later' and s.approver_ids && :mine::uuid[]", mine(call)),
      ),
    decided: (query, call) => void query.whereRaw(askedWhere(call, 's.decided_by = :me', { me: call.actor.id })),
    stalled: (query, call) =>
      void query.whereRaw(
        askedWhere(call, "exists (select 1 from desk_entries d where d.document_id = c.id and d.key = 'stalled')"),
      ),
    waiting: query => void query.whereIn('requisitions.state', [...REQUISITION_GROUPS.deciding]),
  },
}
