import { scaleLinear } from 'd3-scale'
import { area, curveMonotoneX } from 'd3-shape'

export interface ThreadBand {
  readonly x: number
  readonly width: number
  readonly height: number
  readonly missing: number
  readonly path: string
}

/**
 * Bands of the thread strip: one per step, as high as the value that has come so far; between two steps the band narrows by what is
 * missing. Values in any unit, sizes in pixels; `top` is where bands begin.
 */
export function threadGeometry(
  values: readonly number[],
  size: { width: number; height: number; gap: number; top: number },
): ThreadBand[] {
  const most = Math.max(1, ...values)
  const scale = scaleLinear().domain([0, most]).range([0, size.height])
  const step = size.width / values.length
  const band = step - size.gap
  return values.map((value, index) => {
    const x = step * index
    const height = scale(value)
    const before = index === 0 ? height : scale(values[index - 1]!)
    const path =
      area<[number, number]>()
        .x(point => point[0])
        .y0(size.top)
        .y1(point => size.top + point[1])
        .curve(curveMonotoneX)([
        [x, height],
        [x + band, height],
      ]) ?? ''
    return { x, width: band, height, missing: Math.max(0, before - height), path }
  })
}
