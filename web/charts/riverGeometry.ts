/** Pixels of a stage in which nothing is open. */
const THIN = 1.5

type Point = readonly [x: number, y: number]
/** From point to point in bends that leave and arrive level, so that none rises above what it stands for. */
const bends = (points: readonly Point[]): string =>
  points
    .slice(1)
    .map(([x, y], index) => {
      const [fromX, fromY] = points[index]!
      const middle = (fromX + x) / 2
      return `C${middle},${fromY} ${middle},${y} ${x},${y}`
    })
    .join('')

/**
 * The line under the stages: as thick in each stage as the value that is open there. Widths in pixels, values in any unit. It stands on the
 * first page, which does without the packages of scales and shapes for it.
 */
export function riverGeometry(
  values: readonly number[],
  size: { width: number; height: number },
): { path: string; thickness: number[] } {
  const most = Math.max(1, ...values)
  // by the root, as areas are compared
  const thickness = values.map(value => THIN + (size.height - THIN) * Math.sqrt(Math.max(0, value) / most))
  const step = size.width / values.length
  const middle = size.height / 2
  const upper: Point[] = [
    [0, middle - THIN / 2],
    ...thickness.map((thick, index): Point => [step * (index + 0.5), middle - thick / 2]),
    [size.width, middle - THIN / 2],
  ]
  const lower = upper.map(([x, y]): Point => [x, size.height - y]).reverse()
  const path = `M${upper[0]!.join()}${bends(upper)}L${lower[0]!.join()}${bends(lower)}Z`
  return { path, thickness }
}
