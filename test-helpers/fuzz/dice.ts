/** Numbers that look random and come again with the same seed (mulberry32, public domain). */
export interface Dice {
  /** A whole number from 0 up to, not including, `limit`. */
  readonly below: (limit: number) => number
  readonly of: <T>(choices: readonly T[]) => T
}

export function dice(seed: number): Dice {
  let state = seed >>> 0
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0
    let mixed = Math.imul(state ^ (state >>> 15), state | 1)
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32
  }
  const below = (limit: number): number => Math.floor(next() * limit)
  return { below, of: choices => choices[below(choices.length)]! }
}
