import type { LineSplit } from '#core/ledger/commitments.ts'
import type { Read, Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'

interface LineSplitRow {
  requisitionLineId: string | null
  orderLineId: string | null
  lineId: string
  position: number
  accountId: string
  share: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    lineSplits: LineSplitRow
  }
}

type Owner = 'requisitionLineId' | 'orderLineId'

/** Who pays for lines, in their order. */
export async function splitsOf(call: Read, lineIds: readonly string[]): Promise<Map<string, LineSplit[]>> {
  const splits = new Map<string, LineSplit[]>(lineIds.map(id => [id, []]))
  if (lineIds.length === 0) return splits
  const { rows } = await call.trx
    .raw<{ rows: { lineId: string; accountId: string; share: string }[] }>(
      'select line_id, account_id, share from line_splits where line_id = any(?) order by line_id, position',
      [[...lineIds]],
    )
    .options({ name: 'splits-of-lines' })
  for (const { lineId, accountId, share } of rows) splits.get(lineId)!.push({ accountId, share })
  return splits
}

/** Lines with who pays for them, of what was read for more than these. */
export const payingFor = <L extends { readonly id: string }>(
  lines: readonly L[],
  splits: ReadonlyMap<string, LineSplit[]>,
): (L & { splits: LineSplit[] })[] => lines.map(line => ({ ...line, splits: splits.get(line.id)! }))

/** Writes who pays for new lines. */
export async function insertSplits(
  call: Write,
  owner: Owner,
  lines: readonly { readonly id: string; readonly splits: readonly LineSplit[] }[],
): Promise<void> {
  const rows = lines.flatMap(line =>
    line.splits.map((split, position) => ({
      [owner]: line.id,
      position,
      accountId: split.accountId,
      share: split.share,
    })),
  )
  await insertMany(call.trx, 'lineSplits', rows)
}

/** Writes anew who pays for lines. */
export async function replaceSplits(
  call: Write,
  owner: Owner,
  lines: readonly { readonly id: string; readonly splits: readonly LineSplit[] }[],
): Promise<void> {
  await call
    .trx('lineSplits')
    .whereIn(
      'lineId',
      lines.map(line => line.id),
    )
    .delete()
  await insertSplits(call, owner, lines)
}
