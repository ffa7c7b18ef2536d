import { area, curveMonotoneX } from 'd3-shape'

/** Pixels of a stage in which nothing is open. */
const THIN = 1.5

/** The line under the stages: as thick in each stage as the value that is open there. Widths in pixels, values in any unit. */
export function riverGeometry(
  values: readonly number[],
  size: { width: number; height: number },
): { path: string; thickness: number[] } {
  const most = Math.max(1, ...values)
  // by the root, as areas are compared; the first page does without the package of scales for this one line
  const thickness = values.map(value => THIN + (size.height - THIN) * Math.sqrt(Math.max(0, value) / most))
  const step = size.width / values.length
  const points: [number, number][] = [
    [0, THIN],
    ...thickness.map((thick, index): [number, number] => [step * (index + 0.5), thick]),
    [size.width, THIN],
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
