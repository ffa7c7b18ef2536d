import type { DespatchLine, DespatchPackage, DespatchState } from '#core/receive/despatch.ts'
import type { Read } from '#server/call.ts'
import { namesOfFiles } from '#server/files/fileActs.ts'

export interface DespatchRow {
  id: string
  number: string
  orderId: string
  supplierId: string
  state: DespatchState
  /** The supplier's own number of it. */
  supplierNumber: string
  despatchedOn: string
  arrivesOn: string
  carrier: string
  tracking: string
  note: string
  packages: readonly DespatchPackage[]
  lines: readonly DespatchLine[]
  fileIds: readonly string[]
  /** What it has announced: what stands of it in the ledger. */
  announced: readonly DespatchLine[]
  unloaderId: string | null
  byId: string
  version: number
  createdAt: string
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    despatches: DespatchRow
  }
}

/** Announcements as they are shown, with the names of their files. */
export async function despatchesJson(call: Read, rows: readonly DespatchRow[]) {
  const names = await namesOfFiles(call, rows.flatMap(row => row.fileIds)) // prettier-ignore
  return rows.map(row => ({ ...despatchJson(row), files: row.fileIds.map(id => ({ id, name: names.get(id) ?? '' })) }))
}

const despatchJson = (row: DespatchRow) => ({
  id: row.id,
  ours: row.number,
  state: row.state,
  version: row.version,
  number: row.supplierNumber,
  despatchedOn: row.despatchedOn,
  arrivesOn: row.arrivesOn,
  carrier: row.carrier,
  tracking: row.tracking,
  note: row.note,
  packages: row.packages.map(one => ({ ...one })),
  lines: row.lines.map(one => ({ ...one, serials: [...one.serials] })),
})

/** What is announced of an order and was not received. */
export const announcedOf = (call: Read, orderId: string): Promise<DespatchRow[]> =>
  call.trx('despatches').where({ orderId, state: 'sent' }).orderBy('arrivesOn')
