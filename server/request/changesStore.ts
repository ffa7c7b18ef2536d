import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRequisition } from '#contract/request/endpoints.ts'
import type { Change } from '#core/decide/changes.ts'
import type { Read } from '#server/call.ts'
import { accountLabel } from '#server/ledger/budgetStore.ts'
import type { KnownRequisition } from '#server/request/requisitionStore.ts'
import { changesOf } from '#server/request/standingStore.ts'

type Shown = ResponseOf<typeof ReadRequisition>['changes'][number]

/** What is named by its id, and where its name is kept. */
const NAMED = { supplierId: 'suppliers', addressId: 'addresses', itemId: 'items' } as const

/** What is otherwise than when a request was asked about, in words; of a personal fee only to those whom it concerns. */
export async function shownChanges(call: Read, request: KnownRequisition, sees: boolean): Promise<Shown[]> {
  const changes = await changesOf(call, request)
  if (changes.length === 0) return []
  const secret = new Set(sees ? [] : request.rows.filter(line => line.kind === 'personalFee').map(line => line.id))
  const names = await namesIn(call, changes)
  return changes
    .filter(change => change.lineId === null || !secret.has(change.lineId))
    .map(({ line, key, before, after }) => ({
      line,
      key,
      before: said(key, before, names),
      after: said(key, after, names),
    }))
}

type Names = ReadonlyMap<string, string>

/** Plain values as they are, ids by name; what has no short words says only that it is otherwise. */
function said(key: Change['key'], value: string | null, names: Names): string | null {
  if (value === null) return null
  if (key in NAMED) return names.get(value) ?? ''
  if (key === 'splits')
    return payers(value)
      .map(one => names.get(one.accountId) ?? '')
      .join(', ')
  return key === 'details' || key === 'routes' || key === 'offerId' ? '' : value
}

const payers = (value: string): { accountId: string }[] => JSON.parse(value) as { accountId: string }[]

async function namesIn(call: Read, changes: readonly Change[]): Promise<Names> {
  const valuesOf = (key: string): string[] =>
    changes
      .filter(change => change.key === key)
      .flatMap(({ before, after }) => [before, after].filter(one => one !== null))
  const names = new Map<string, string>()
  for (const [key, table] of Object.entries(NAMED)) {
    const ids = valuesOf(key)
    if (ids.length === 0) continue
    const rows: { id: string; name: string }[] = await call.trx(table).whereIn('id', ids).select('id', 'name')
    for (const row of rows) names.set(row.id, row.name)
  }
  const accountIds = valuesOf('splits').flatMap(value => payers(value).map(one => one.accountId))
  if (accountIds.length > 0)
    for (const row of await call.trx('budgetAccounts').whereIn('id', accountIds)) names.set(row.id, accountLabel(row))
  return names
}
