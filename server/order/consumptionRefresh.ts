import { againstEntries, callOffEntries } from '#core/agreements/callOff.ts'
import { refuseStops } from '#core/reasons.ts'
import type { Write } from '#server/call.ts'
import { calling, callingRows } from '#server/ledger/callingStore.ts'
import { holdAgreements, keepCallOffs, postConsumption } from '#server/ledger/consumptionStore.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'
import type { Touched } from '#server/thread/refresh.ts'

/**
 * Brings the ledger of agreements along with the requests, orders and bills that call them off, in the transaction that changed those. Whatever would
 * pass a ceiling that stops, or calls off what is no longer in force, is refused with the act that led to it.
 */
export async function refreshConsumption(call: Write, touched: Touched): Promise<Partial<Touched> | undefined> {
  const rows = await callingRows(call, touched)
  if (rows.length === 0) return undefined
  const sums = await quantitySums(
    call,
    rows.map(row => row.lineId),
  )
  const { lines, agreementOf, rates } = await calling(call, rows, sums)
  const entries = callOffEntries(lines)
  if (entries.length === 0) return undefined
  const held = await holdAgreements(
    call,
    entries.map(entry => agreementOf.get(entry.agreementLineId)!),
  )
  refuseStops(againstEntries(held, entries, call.today))
  await keepCallOffs(
    call,
    lines.flatMap(({ lineId, agreementLineId }) =>
      agreementLineId === null ? [] : [{ lineId, agreementLineId, rate: rates.get(lineId)! }],
    ),
  )
  const sources = new Map(rows.map(row => [row.lineId, row.source]))
  await postConsumption(
    call,
    entries.map(entry => ({ ...entry, source: sources.get(entry.lineId)! })),
  )
  return { agreementIds: held.map(one => one.id) }
}
