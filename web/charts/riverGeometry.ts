import { scaleSqrt } from 'd3-scale'
import { area, curveMonotoneX } from 'd3-shape'

/** The line under the stages: as thick in each stage as the value that is open there. Widths in pixels, values in any unit. */
export function riverGeometry(
  values: readonly number[],
  size: { width: number; height: number },
): { path: string; thickness: number[] } {
  const most = Math.max(1, ...values)
  const scale = scaleSqrt().domain([0, most]).range([1.5, size.height])
  const thickness = values.map(value => scale(value))
  const step = size.width / values.length
  const points: [number, number][] = [
    [0, 1.5],
    ...thickness.map((thick, index): [number, number] => [step * (index + 0.5), thick]),
    [size.width, 1.5],
  ]
  const middle = size.height / 2
  const path =
    area<[number, number]>()
      .x(point => point[0])
      .y0(point => middle - point[1] / 2)
      .y1(point => middle + point[1] / 2)
      .curve(curveMonotoneX)(points) ?? ''
  return { path, thickness }
}
