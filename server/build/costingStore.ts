import type { z } from 'zod'
import type { BuildSettingsJson, KnownJson, PartSettingsJson } from '#contract/build/costings.ts'
import type { ListColumns } from '#core/build/listColumns.ts'
import type { CostingState } from '#core/build/costingActs.ts'
import type { PartMatch } from '#core/build/matchPart.ts'
import type { BuildFacts } from '#core/build/facts.ts'
import type { PartLine } from '#core/build/partsList.ts'
import { tidy } from '#core/money/decimal.ts'
import { found, type Read } from '#server/call.ts'

export type Known = z.output<typeof KnownJson>
export type Settings = z.output<typeof BuildSettingsJson>
export type Parts = Record<string, z.output<typeof PartSettingsJson>>

export interface BuildCostingRow {
  id: string
  number: string
  title: string
  state: CostingState
  sender: string
  ownerId: string
  settings: Settings
  parts: Parts
  beside: { name: string; settings: Settings }[]
  pricedOn: string
  known: Known
  partCount: number
  unpriced: number
  total: bigint
  version: number
  createdAt: string
  changedAt: string
  search: string
}
export interface BuildLineRow extends PartLine {
  costingId: string
  position: number
  row: number
  matched: 'none' | 'sure' | 'said'
  offered: PartMatch[]
}
export interface BuildLinkRow {
  id: string
  costingId: string
  tokenHash: string
  endsOn: string
  byId: string
  at: string
  endedAt: string | null
}
interface Confirmed {
  sender: string
  byId: string
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    buildCostings: BuildCostingRow
    buildLines: BuildLineRow
    buildLinks: BuildLinkRow
    buildReaders: { linkId: string; personId: string; at: string }
    listForms: Confirmed & { headings: string; columns: ListColumns; firstRow: number }
    listMatches: Confirmed & { part: string; itemId: string }
  }
}

/** A costing with its list. */
export interface KnownCosting {
  readonly row: BuildCostingRow
  readonly lines: readonly BuildLineRow[]
}

export async function knownCosting(call: Read, id: string): Promise<KnownCosting> {
  const row = found(await call.trx('buildCostings').where({ id }).first(), 'costing')
  const lines = await call.trx('buildLines').where({ costingId: id }).orderBy('position')
  return { row, lines: lines.map(line => ({ ...line, quantity: line.quantity === null ? null : tidy(line.quantity) })) }
}

/** What a costing is computed from, as it was on the day that it is priced on. */
export const factsOf = ({ row, lines }: KnownCosting): BuildFacts => ({ ...row.known, lines, pricedOn: row.pricedOn })

/** A sender as lists of the same one are told by. */
export const senderKey = (sender: string): string => sender.trim().toLowerCase().replace(/\s+/g, ' ')

/** What somebody confirmed about lists with these headings of this sender; of no sender nothing is remembered. */
export const formOf = async (
  call: Read,
  sender: string,
  headings: readonly string[],
): Promise<{ columns: ListColumns; firstRow: number } | undefined> =>
  senderKey(sender) === ''
    ? undefined
    : await call
        .trx('listForms')
        .where({ sender: senderKey(sender), headings: headings.join('|').toLowerCase().slice(0, 2000) })
        .first('columns', 'firstRow')
