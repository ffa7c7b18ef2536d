/** Tries that are free, before each wrong one makes the next wait longer: of one account, and of one network that many people share. */
export const FREE_TRIES = { account: 5, network: 30 } as const
/** Seconds: the first wait, the longest one, and after how long without a try everything is forgotten. */
const FIRST_WAIT = 15
const LONGEST_WAIT = 900
export const FORGOTTEN_AFTER = 24 * 3600

/**
 * Seconds to wait after so many wrong tries in a row: nothing while they are free, then twice as long each time (OWASP ASVS 4.0.3, V2.2.1).
 *
 * waitAfter(5, 5) //=> 0 · waitAfter(6, 5) //=> 15 · waitAfter(8, 5) //=> 60 · waitAfter(40, 5) //=> 900
 */
export function waitAfter(failures: number, free: number): number {
  const over = failures - free
  return over <= 0 ? 0 : Math.min(FIRST_WAIT * 2 ** Math.min(over - 1, 20), LONGEST_WAIT)
}
