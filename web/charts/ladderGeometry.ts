import { scaleLinear, scaleSqrt } from 'd3-scale'
import type { LadderStep } from '#core/request/comparison.ts'

export interface LadderShape {
  /** Cost of a quantity, drawn step by step: each part is a straight line at one price. */
  readonly parts: readonly { x1: number; y1: number; x2: number; y2: number; price: string }[]
  /** Stretches in which buying up to the next step costs less. */
  readonly cheaper: readonly { x1: number; x2: number; y: number; from: string; upTo: string }[]
  readonly marks: readonly { x: number; y: number; label: string }[]
  readonly wanted: { x: number; y: number } | null
  readonly ticks: readonly { x: number; label: string }[]
}

/**
 * The total cost over the quantity for a price ladder: it falls where a tier begins. Quantities stand on a root scale, so that small first
 * tiers can be seen beside large last ones.
 */
export function ladderGeometry(
  steps: readonly LadderStep[],
  wanted: { quantity: string; total: bigint } | null,
  width: number,
  height: number,
): LadderShape {
  const quantities = steps.map(step => Number(step.from))
  const last = Math.max(...quantities, Number(wanted?.quantity ?? 0), 1) * 1.25
  const unitCost = (index: number): number => Number(steps[index]!.total) / Math.max(Number(steps[index]!.from), 1e-9)
  const costAt = (index: number, quantity: number): number => unitCost(index) * quantity
  const top = Math.max(
    ...steps.map((_, index) => costAt(index, quantities[index + 1] ?? last)),
    Number(wanted?.total ?? 0),
    1,
  )
  const x = scaleSqrt([0, last], [34, width - 10])
  const y = scaleLinear([0, top], [height - 20, 8])
  const parts = steps.map((step, index) => {
    const [from, to] = [quantities[index]!, quantities[index + 1] ?? last]
    return { x1: x(from), y1: y(costAt(index, from)), x2: x(to), y2: y(costAt(index, to)), price: step.price }
  })
  const cheaper = steps.flatMap((step, index) =>
    step.cheaperFrom === null
      ? []
      : [
          {
            x1: x(Number(step.cheaperFrom)),
            x2: x(quantities[index]!),
            y: y(Number(step.total)),
            from: step.cheaperFrom,
            upTo: step.from,
          },
        ],
  )
  return {
    parts,
    cheaper,
    marks: steps.map((step, index) => ({ x: x(quantities[index]!), y: y(Number(step.total)), label: step.price })),
    wanted: wanted ? { x: x(Number(wanted.quantity)), y: y(Number(wanted.total)) } : null,
    ticks: quantities.map((quantity, index) => ({ x: x(quantity), label: steps[index]!.from })),
  }
}
