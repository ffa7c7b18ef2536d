import type { Read } from '#server/call.ts'
import { MINE_TO_DECIDE, mineToDecide } from '#server/consent/mine.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { askedWhere, type ListedRequest, requestListing } from '#server/request/requisitionListStore.ts'

const asked = (call: Read, state: 'open' | 'later') =>
  askedWhere(call, `c.state = 'open' and s.state = '${state}' and ${MINE_TO_DECIDE}`, mineToDecide(call, 'approval'))

/** Requests by what there is to decide about them. */
export const decisionList: ListDefinition<ListedRequest> = {
  ...requestListing(id => `/decide/${id}`, true),
  views: {
    forMe: (query, call) => void query.whereRaw(asked(call, 'open')),
    coming: (query, call) => void query.whereRaw(asked(call, 'later')),
    decided: (query, call) => void query.whereRaw(askedWhere(call, 's.decided_by = :me', { me: call.actor.id })),
    stalled: (query, call) => void query.whereRaw(askedWhere(call, "c.state = 'open' and s.stall is not null")),
    waiting: query => void query.whereIn('requisitions.state', [...REQUISITION_GROUPS.deciding]),
  },
}
