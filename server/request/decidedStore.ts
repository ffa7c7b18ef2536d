import { minor } from '#core/money/amount.ts'
import { type DecidedAround, decidedRequest, type DecidedRequestLine } from '#core/request/decided.ts'
import type { DecidedDocument } from '#core/rules/facts.ts'
import type { Read } from '#server/call.ts'
import { parentCategories } from '#server/source/categoryStore.ts'
import { byId, someIds } from '#server/database/rows.ts'
import type { RequisitionLine, RequisitionRow } from '#server/request/requisitionStore.ts'

type Head = Pick<RequisitionRow, 'id' | 'requesterId' | 'total'>

/** Requests as rules see them, with what is known of their lines today. `over`: those that go over a budget. */
export async function decidedRequests(
  call: Read,
  heads: readonly Head[],
  lines: readonly RequisitionLine[],
  over: ReadonlySet<string> = new Set(),
): Promise<Map<string, DecidedDocument>> {
  const around = await aroundOf(call, lines)
  const roles = await rolesOf(
    call,
    heads.map(head => head.requesterId),
  )
  return new Map(
    heads.map(head => {
      const own = lines.filter(line => line.requisitionId === head.id).map(toLine)
      const requester = { id: head.requesterId, roles: roles.get(head.requesterId) ?? [] }
      return [head.id, decidedRequest(minor(head.total), own, { ...around, requester, overBudget: over.has(head.id) })]
    }),
  )
}

const toLine = (line: RequisitionLine): DecidedRequestLine => ({ ...line, baseAmount: minor(line.baseAmount) })

async function aroundOf(
  call: Read,
  lines: readonly RequisitionLine[],
): Promise<Omit<DecidedAround, 'requester' | 'overBudget'>> {
  const parents = await parentCategories(call)
  const { rows: items } = await call.trx
    .raw<{ rows: { id: string; number: string; suppliers: number }[] }>(
      `select i.id, i.number, (select count(distinct o.supplier_id)::int from offers o where o.item_id = i.id and (o.valid_to is null or o.valid_to >= ?)) as suppliers from items i where i.id = any(?)`,
      [call.today, someIds(lines.map(line => line.itemId))],
    )
    .options({ name: 'decided-items' })
  return {
    parents,
    items: byId(items),
    suppliers: byId(
      await call
        .trx('suppliers')
        .whereIn('id', someIds(lines.map(line => line.supplierId)))
        .select<{ id: string; number: string; state: string }[]>('id', 'number', 'state'),
    ),
    sites: byId(
      await call
        .trx('addresses')
        .whereIn('id', someIds(lines.map(line => line.addressId)))
        .select<{ id: string; code: string }[]>('id', 'code'),
    ),
    accounts: byId(
      await call
        .trx('budgetAccounts')
        .whereIn('id', someIds(lines.flatMap(line => line.splits.map(split => split.accountId))))
        .select<{ id: string; costCentre: string; account: string; project: string | null }[]>(
          'id',
          'costCentre',
          'naturalAccount as account',
          'project',
        ),
    ),
  }
}

async function rolesOf(call: Read, personIds: readonly string[]): Promise<Map<string, string[]>> {
  const rows = await call
    .trx('personRoles')
    .whereIn('personId', [...new Set(personIds)])
    .orderBy('role')
    .select('personId', 'role')
  const roles = new Map<string, string[]>()
  for (const { personId, role } of rows) roles.set(personId, [...new Set([...(roles.get(personId) ?? []), role])])
  return roles
}
