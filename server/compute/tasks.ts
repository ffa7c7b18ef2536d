import { match, type Match, type Party, ready } from '#core/source/match.ts'
import { readCells } from '#server/formats/cells.ts'

/** How alike one party is to each of others. */
export function matchAll({ party, others }: { party: Party; others: readonly Party[] }): Match[] {
  const mine = ready(party)
  return others.map(other => match(mine, ready(other)))
}

/** The cells of a spreadsheet or delimited file. */
export const cellsOf = ({ bytes }: { bytes: Uint8Array }): ReturnType<typeof readCells> => readCells(Buffer.from(bytes))
