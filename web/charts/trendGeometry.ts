import { scaleLinear } from 'd3-scale'

export interface TrendPoint {
  readonly x: number
  readonly y: number
}
export interface Trend {
  /** Runs of neighbouring quarters that have a figure, each one line. */
  readonly runs: readonly (readonly TrendPoint[])[]
  readonly last: TrendPoint | null
  /** Height of the threshold, or null where it lies outside. */
  readonly threshold: number | null
}

/** Puts figures into a box of `width` by `height`; a quarter without a figure leaves a gap. The scale holds all figures and the threshold. */
export function trendGeometry(
  figures: readonly (string | null)[],
  threshold: string,
  width: number,
  height: number,
): Trend {
  const known = figures.filter(figure => figure !== null).map(Number)
  if (known.length === 0) return { runs: [], last: null, threshold: null }
  const values = [...known, Number(threshold)]
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const y = scaleLinear([low, high === low ? low + 1 : high], [height - 3, 3])
  const x = scaleLinear([0, Math.max(1, figures.length - 1)], [3, width - 3])
  const runs: TrendPoint[][] = []
  for (const [index, figure] of figures.entries()) {
    if (figure === null) continue
    const point = { x: x(index), y: y(Number(figure)) }
    if (index > 0 && figures[index - 1] !== null) runs.at(-1)!.push(point)
    else runs.push([point])
  }
  return { runs, last: runs.at(-1)?.at(-1) ?? null, threshold: y(Number(threshold)) }
}
