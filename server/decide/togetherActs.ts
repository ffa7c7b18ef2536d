import { whyNotDecideRequisition } from '#core/decide/decideRequisition.ts'
import { formatAmount } from '#core/money/amount.ts'
import { decide } from '#server/decide/decideActs.ts'
import type { Together } from '#server/documents/together.ts'
import { visibleIds } from '#server/documents/visible.ts'
import { knownRequisitions } from '#server/request/requisitionStore.ts'

/** Several requests decided at once, each for itself. */
export const requisitionsTogether: Together = {
  kind: 'requisition',
  acts: ['approve', 'return', 'reject'],
  look: async (call, _act, ids) => {
    const known = await knownRequisitions(call, [...(await visibleIds(call, 'requisition', ids))])
    return ids.flatMap(id => {
      const request = known.get(id)
      if (!request) return []
      return [
        {
          id,
          number: request.number,
          title: request.title,
          reasons: whyNotDecideRequisition(request, call.actor),
          says: {
            code: 'together.requisition',
            details: { who: request.requester, amount: formatAmount(request.total, call.base), currency: call.base },
          },
        },
      ]
    })
  },
  run: async (call, act, id, reason, version) => {
    if (act === 'approve' || act === 'return' || act === 'reject') await decide(call, id, act, version, reason)
  },
}
