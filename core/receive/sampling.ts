/** Acceptance quality limits of ISO 2859-1, table 2-A, in per cent nonconforming. */
export const AQLS = ['0.25', '0.40', '0.65', '1.0', '1.5', '2.5', '4.0', '6.5'] as const
export type Aql = (typeof AQLS)[number]

/** How many to look at, and how many of them may fail. */
export interface SamplingPlan {
  readonly sample: number
  readonly acceptUpTo: number
}

/** Lot sizes up to which each code letter goes at general inspection level II (ISO 2859-1, table 1), letters A to Q. */
const LOTS = [8, 15, 25, 50, 90, 150, 280, 500, 1200, 3200, 10_000, 35_000, 150_000, 500_000, Infinity]
/** Sample sizes of the letters A to H, J to N, P and Q (table 2-A). */
const SAMPLES = [2, 3, 5, 8, 13, 20, 32, 50, 80, 125, 200, 315, 500, 800, 1250]
/** The letter at which a limit accepts with no nonconforming item. */
const AT_NOUGHT: Readonly<Record<Aql, number>> = {
  '0.25': 7,
  '0.40': 6,
  '0.65': 5,
  '1.0': 4,
  '1.5': 3,
  '2.5': 2,
  '4.0': 1,
  '6.5': 0,
}
/** Acceptance numbers down the diagonal from there; the two letters after nought go up and down in the table. */
const NUMBERS = [0, null, null, 1, 2, 3, 5, 7, 10, 14, 21] as const

/**
 * The single sampling plan for normal inspection, general level II (ISO 2859-1:1999, tables 1 and 2-A). Lots that are no larger than the sample are
 * looked at wholly, with the same acceptance number. Whole pieces: part of one counts as one.
 *
 * samplingPlan(500, '1.0') //=> { sample: 50, acceptUpTo: 1 }
 */
export function samplingPlan(lot: number, aql: Aql): SamplingPlan {
  const pieces = Math.max(1, Math.ceil(lot))
  const letter = LOTS.findIndex(most => pieces <= most)
  const nought = AT_NOUGHT[aql]
  const along = Math.max(0, letter - nought)
  // an arrow up takes the plan above it, one down that below
  const step = along === 1 ? 0 : along === 2 ? 3 : Math.min(along, NUMBERS.length - 1)
  return { sample: Math.min(pieces, SAMPLES[nought + step]!), acceptUpTo: NUMBERS[step]! }
}
