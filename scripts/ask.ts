import { createInterface } from 'node:readline/promises'

/** Asks at the terminal; where there is none, nobody says yes. */
export async function asksYes(question: string): Promise<boolean> {
  if (!process.stdin.isTTY) return false
  const terminal = createInterface({ input: process.stdin, output: process.stdout })
  try {
    return /^y(es)?$/i.test((await terminal.question(`${question} [y/N] `)).trim())
  } finally {
    terminal.close()
  }
}
