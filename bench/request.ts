import { readQuickLine } from '#core/request/quickLine.ts'
import type { Figure } from '#bench/figures.ts'
import { dice, inventedFirm } from '#bench/suppliers.ts'

const LINES = 5_000

/** Reading five thousand different quick lines, against one second. Looking their items up is not in it. */
export function quickLines(): Figure {
  const roll = dice(5)
  const lines = Array.from(
    { length: LINES },
    (_, index) =>
      `${1 + roll(500)} x ${inventedFirm(roll).name} ${roll(90)} mm to Fennick by ${1 + roll(28)} Dec on LS-${100 + roll(900)}/6020 at ${roll(900)}.${10 + roll(90)} EUR ${index % 3 === 0 ? '#SKID-26' : ''}`,
  )
  const start = performance.now()
  const understood = lines.filter(line => readQuickLine(line, '2026-11-23').reasons.length === 0).length
  const ours = Math.round(performance.now() - start)
  return { name: 'request.quick-lines-5k', ours, baseline: 1000, ratio: ours / 1000, limit: 1, ok: ours <= 1000, unit: 'ms', note: `${understood} of ${LINES} lines understood` }
}
