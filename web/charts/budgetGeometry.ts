import { scaleLinear } from 'd3-scale'

export interface BudgetShape {
  readonly spent: [number, number]
  readonly committed: [number, number]
  readonly reserved: [number, number]
  readonly here: [number, number]
  readonly end: number
  readonly overdrawn: boolean
  readonly frame: number
}

/** Lengths of a budget bar in pixels: what is spent, committed and reserved inside the allotment, and this document's part of it. */
export function budgetGeometry(
  figures: {
    allotted: string
    spent: string
    committed: string
    reserved: string
    here: string
    available: string
    after: string
  },
  width: number,
): BudgetShape {
  const allotted = Math.max(0, Number(figures.allotted))
  const counted = Number(figures.after) === Number(figures.available)
  const [spent, committed, reserved, here] = [
    Number(figures.spent),
    Number(figures.committed),
    Number(figures.reserved),
    Math.max(0, Number(figures.here)),
  ]
  const used = spent + committed + reserved
  const total = counted ? used : used + here
  const scale = scaleLinear()
    .domain([0, Math.max(allotted, total, 1)])
    .range([0, width])
  const hereEnd = scale(total)
  return {
    spent: [0, scale(spent)],
    committed: [scale(spent), scale(spent + committed)],
    reserved: [scale(spent + committed), scale(used)],
    here: [Math.max(0, hereEnd - scale(here)), hereEnd],
    end: hereEnd,
    overdrawn: total > allotted,
    frame: scale(allotted),
  }
}
