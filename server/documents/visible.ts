import { documentKind, type DocumentKind } from '#core/documents/kinds.ts'
import type { Permission } from '#contract/permissions.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { may, type Read } from '#server/call.ts'

/**
 * Who sees a document is said once, in the list of kinds, and asked here by everything that shows one: those with the right to all of its
 * kind, and those whom this one concerns. In SQL because lists filter by it too; `row` names the document's row in the query.
 */
export function visibleSql(kind: DocumentKind, row: string): string {
  const { own, deciders, payers, requesters } = documentKind(kind).seenBy
  const column = (name: string): string => name.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)
  const ways = [
    own ? `${row}.${column(own)} = :me` : '',
    deciders
      ? `exists (select 1 from consents c join consent_steps s on s.consent_id = c.id where c.document_id = ${row}.id and (s.person_id = any(:mine) or s.decided_by = :me))`
      : '',
    payers
      ? `exists (select 1 from ${column(payers.rows)} l join line_splits p on p.line_id = l.id join budget_accounts a on a.id = p.account_id where l.${column(payers.head)} = ${row}.id and a.cost_centre = any(:centres))`
      : '',
    requesters
      ? `exists (select 1 from order_lines l join requisition_lines q on q.id = l.requisition_line_id join requisitions r on r.id = q.requisition_id where l.order_id = ${row}.id and r.requester_id = :me)`
      : '',
  ].filter(Boolean)
  return ways.length === 0 ? 'false' : `(${ways.join(' or ')})`
}

/** What fills the names in `visibleSql`. */
export const visibleBindings = (call: Read): { me: string; mine: string[]; centres: string[] } => ({
  me: call.actor.id,
  mine: [call.actor.id, ...call.actor.standsInFor],
  centres: [...call.actor.costCentres],
})

/** Whether this person may see all documents of a kind. */
export function seesAll(call: Read, kind: DocumentKind): boolean {
  const { right } = documentKind(kind)
  return right !== null && may(call, right as Permission)
}

/** Whether this person may see this one. A document that is not there is seen by nobody. */
export async function isVisible(call: Read, kind: DocumentKind, id: string): Promise<boolean> {
  const rows = documentKind(kind).rows.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)
  const seen = seesAll(call, kind) ? 'true' : visibleSql(kind, 'document')
  const answer = await call.trx.raw<{ rows: { seen: boolean }[] }>(
    `select ${seen} as seen from ${rows} document where document.id = :id`,
    { id, ...visibleBindings(call) },
  )
  return answer.rows[0]?.seen ?? false
}

/** To whom it is not visible, it is as if it were not there. @throws RuleBroken document.notFound */
export async function needVisible(call: Read, kind: DocumentKind, id: string): Promise<void> {
  if (!(await isVisible(call, kind, id))) throw new RuleBroken(stop('document.notFound', { kind }))
}
