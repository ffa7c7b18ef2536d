import { APPROVAL_RIGHT } from '#core/request/submitRequisition.ts'
import type { ConsentPurpose } from '#core/consent/consent.ts'
import type { Read } from '#server/call.ts'
import { withinLimit } from '#server/people/stoodFor.ts'

/**
 * Whether a step `s` of a question `c` asks this person by name, or somebody in whose place they decide such a thing: how far that reaches is
 * said by the away times, with the question's kind and amount.
 */
export const MINE_TO_DECIDE = `exists (select 1 from unnest(:deciders::uuid[], :upTo::bigint[], :within::text[]) as d (id, up_to, unit)
  where d.id = any(s.approver_ids) and ${withinLimit('d.up_to', 'd.unit', "(c.about->>'amount')::bigint", "c.about->>'currency'")})`

/** What fills it, for questions of a purpose; those who have lost the right to decide count for nobody. */
export function mineToDecide(call: Read, purpose: ConsentPurpose, right = APPROVAL_RIGHT): Record<string, unknown> {
  const { actor } = call
  const own = actor.rights.has(right as never) ? [{ id: actor.id, limit: null }] : []
  const others = actor.standsInFor.filter(
    one => one.rights.has(right) && (one.kinds === null || one.kinds.includes(purpose)),
  )
  const all = [...own, ...others]
  return {
    deciders: all.map(one => one.id),
    upTo: all.map(one => one.limit?.amount ?? null),
    within: all.map(one => one.limit?.currency ?? null),
  }
}
