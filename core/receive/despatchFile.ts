import { isDay } from '#core/calendar/days.ts'
import type { DespatchText } from '#core/formats/ublDespatch.ts'
import { isHeldDecimal } from '#core/money/decimal.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { type DespatchEntry, type DespatchLine, PACKAGE_KINDS } from '#core/receive/despatch.ts'
import { isIn } from '#core/states.ts'
import { sameNumber } from '#core/text/sameNumber.ts'

export interface DespatchRead {
  readonly entry: DespatchEntry
  /** Lines of the file that are left, and why. */
  readonly left: readonly { readonly row: number; readonly reason: Reason }[]
}

/**
 * Reads the file of a despatch against the order that it names, for somebody to look at and send. Lines are found by their position; one in another unit
 * is left.
 *
 * @throws RuleBroken despatch.otherOrder
 */
export function readDespatchFile(order: OrderFacts, file: DespatchText, today: string): DespatchRead {
  if (!sameNumber(file.orderNumber.split('/')[0]!, order.number))
    throw new RuleBroken(stop('despatch.otherOrder', { number: file.orderNumber.slice(0, 40), order: order.number }))
  const left: { row: number; reason: Reason }[] = []
  const lines = file.lines.flatMap((one, index): DespatchLine[] => {
    const line = order.lines.find(known => String(known.position) === one.orderLine.trim())
    const against = !line
      ? stop('despatch.noLine', { line: one.orderLine.slice(0, 20) })
      : one.unit !== '' && one.unit !== line.unit
        ? stop('despatch.unit', { unit: one.unit.slice(0, 10), ordered: line.unit })
        : isHeldDecimal(one.quantity)
          ? null
          : stop('despatch.quantity')
    if (!line || against) {
      left.push({ row: index + 1, reason: against! })
      return []
    }
    return [{ lineId: line.id, quantity: one.quantity, batch: one.batch.slice(0, 40), bestBefore: isDay(one.bestBefore) ? one.bestBefore : null, serials: one.serials.map(text => text.slice(0, 40)), package: null }] // prettier-ignore
  })
  const despatchedOn = isDay(file.issueDate) ? file.issueDate : today
  return {
    left,
    entry: {
      number: file.number.slice(0, 40),
      despatchedOn,
      arrivesOn: isDay(file.arrivesOn) ? file.arrivesOn : despatchedOn,
      carrier: file.carrier.slice(0, 200),
      tracking: file.tracking.slice(0, 80),
      note: file.note.slice(0, 1000),
      packages: file.packages.map(one => ({ kind: isIn(PACKAGE_KINDS, one.kind) ? one.kind : 'PK', sscc: one.sscc.slice(0, 20), weight: isHeldDecimal(one.weight) ? one.weight : '', size: '' })), // prettier-ignore
      lines,
    },
  }
}
