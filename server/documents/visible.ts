import { documentKind, type DocumentKind } from '#core/documents/kinds.ts'
import type { Permission } from '#contract/permissions.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { actsAs } from '#core/acts/actor.ts'
import { may, type Read } from '#server/call.ts'

const snake = (name: string): string => name.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)

/**
 * Who sees a document is said once, in the list of kinds, and asked here by everything that shows one: those with the right to all of its
 * kind, and those whom this one concerns. In SQL because lists filter by it too; `row` names the document's row in the query, and
 * `visibleBindings` fills its names.
 */
export function visibleSql(call: Read, kind: DocumentKind, row: string): string {
  const { own, privateUntil } = documentKind(kind).seenBy
  const seen = seesAll(call, kind) ? 'true' : concernsSql(kind, row)
  return privateUntil && own
    ? `(${row}.${snake(own)} = :me or ${row}.${snake(privateUntil)} is not null and ${seen})`
    : seen
}

/** Whom a document concerns, whatever rights they have. */
export function concernsSql(kind: DocumentKind, row: string): string {
  const { own, linked, scorers, deciders, payers, requesters, costCentre, holders, chargers } =
    documentKind(kind).seenBy
  const ways = [
    own ? `${row}.${snake(own)} = :me` : '',
    deciders
      ? `${row}.id in (select c.document_id from consents c join consent_steps s on s.consent_id = c.id where s.approver_ids && :mine::uuid[]
          union all select c.document_id from consents c join consent_steps s on s.consent_id = c.id where s.decided_by = :me)`
      : '',
    linked
      ? `exists (select 1 from build_readers r join build_links k on k.id = r.link_id where k.costing_id = ${row}.id and r.person_id = :me and k.ended_at is null and k.ends_on >= :day)`
      : '',
    scorers ? `exists (select 1 from event_scorers s where s.event_id = ${row}.id and s.person_id = :me)` : '',
    payers ? `${row}.${snake(payers)} && :centres` : '',
    requesters
      ? `exists (select 1 from order_lines l join requisition_lines q on q.id = l.requisition_line_id join requisitions r on r.id = q.requisition_id where l.order_id = ${row}.id and r.requester_id = :me)`
      : '',
    costCentre ? `${row}.${snake(costCentre)} = any(:centres)` : '',
    ...(holders ?? []).map(
      column =>
        `exists (select 1 from budget_accounts a where a.id = ${row}.${snake(column)} and a.cost_centre = any(:centres))`,
    ),
    chargers
      ? `${row}.id in (select p.account_id from requisitions r join requisition_lines l on l.requisition_id = r.id join line_splits p on p.requisition_line_id = l.id where r.requester_id = :me and r.submitted_at is not null)`
      : '',
  ].filter(Boolean)
  return ways.length === 0 ? 'false' : `(${ways.join(' or ')})`
}

/** What fills the names in `visibleSql`. */
export const visibleBindings = (call: Read): { me: string; mine: string[]; centres: string[]; day: string } => ({
  me: call.actor.id,
  day: call.today,
  mine: actsAs(call.actor),
  centres: [...call.actor.costCentres],
})

/** Whether this person may see all documents of a kind. */
export function seesAll(call: Read, kind: DocumentKind): boolean {
  const { right } = documentKind(kind)
  return right !== null && may(call, right as Permission)
}

/** Those of some documents of a kind that this person may see. */
export async function visibleIds(call: Read, kind: DocumentKind, ids: readonly string[]): Promise<Set<string>> {
  if (ids.length === 0) return new Set()
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select document.id from ${snake(documentKind(kind).rows)} document where document.id = any(:ids) and ${visibleSql(call, kind, 'document')}`,
    { ids: [...ids], ...visibleBindings(call) },
  )
  return new Set(rows.map(row => row.id))
}

/** Whether this person may see this one. A document that is not there is seen by nobody. */
export const isVisible = async (call: Read, kind: DocumentKind, id: string): Promise<boolean> =>
  (await visibleIds(call, kind, [id])).has(id)

/** To whom it is not visible, it is as if it were not there. @throws RuleBroken document.notFound */
export async function needVisible(call: Read, kind: DocumentKind, id: string): Promise<void> {
  if (!(await isVisible(call, kind, id))) throw new RuleBroken(stop('document.notFound', { kind }))
}
