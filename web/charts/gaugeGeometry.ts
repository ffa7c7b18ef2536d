import { scaleLinear } from 'd3-scale'

export interface GaugeFigures {
  readonly ordered: string
  readonly confirmed: string
  readonly received: string
  readonly accepted: string
  readonly billed: string
  readonly paid: string
}
export interface GaugeShape {
  readonly frame: number
  readonly confirmed: number
  readonly proven: number
  readonly billed: number
  readonly paid: number
  readonly over: number
}

/** Lengths of the nested bars of a Gauge, in pixels; what goes over the ordered quantity sticks out of the frame. */
export function gaugeGeometry(figures: GaugeFigures, width: number): GaugeShape {
  const number = (text: string): number => Math.max(0, Number(text))
  const ordered = number(figures.ordered) || 1
  const proven = Math.max(number(figures.received), number(figures.accepted))
  const most = Math.max(ordered, proven, number(figures.billed), number(figures.confirmed))
  const scale = scaleLinear().domain([0, most]).range([0, width])
  return {
    frame: scale(ordered),
    confirmed: scale(number(figures.confirmed)),
    proven: scale(proven),
    billed: scale(number(figures.billed)),
    paid: scale(number(figures.paid)),
    over: Math.max(0, scale(most) - scale(ordered)),
  }
}
