import { scaleBand, scaleLinear } from 'd3-scale'

export interface DrawnBar {
  readonly key: string
  readonly x: number
  readonly width: number
  readonly top: number
  readonly height: number
  readonly partTop: number
  readonly partHeight: number
}

/** Where bars stand: as high as their amounts beside each other, the part that is filled from the ground up. */
export function drawBars(
  bars: readonly { readonly key: string; readonly amount: string; readonly part: string }[],
  size: { readonly width: number; readonly height: number },
): DrawnBar[] {
  const across = scaleBand<string>()
    .domain(bars.map(bar => bar.key))
    .range([0, size.width])
    .paddingInner(0.24)
    .paddingOuter(0.1)
  const most = Math.max(1, ...bars.map(bar => Number(bar.amount)))
  const up = scaleLinear().domain([0, most]).range([0, size.height])
  return bars.map(bar => {
    const height = Number(bar.amount) > 0 ? Math.max(2, up(Number(bar.amount))) : 0
    const partHeight = Math.min(height, up(Number(bar.part)))
    return {
      key: bar.key,
      x: across(bar.key) ?? 0,
      width: across.bandwidth(),
      top: size.height - height,
      height,
      partTop: size.height - partHeight,
      partHeight,
    }
  })
}

/** An amount short enough to stand over a bar: thousands with one decimal. shortAmount('34912.50') //=> '34.9' */
export function shortAmount(text: string): string {
  const value = Number(text) / 1000
  if (value === 0) return ''
  return value < 0.05
    ? '<0.1'
    : value >= 1000
      ? Math.round(value).toLocaleString('en').replaceAll(',', '\u00a0')
      : value.toFixed(1)
}
