import { Mendable } from '#scripts/cluster.ts'
import { DatabaseTooNew } from '#server/database/migrate.ts'

/** Runs a command; a fault that a person can mend is one sentence, anything else is printed whole. Returns the exit code through the process, `fault` where it was one. */
export async function command(work: () => Promise<number | undefined>, fault = 1): Promise<void> {
  try {
    process.exitCode = (await work()) ?? 0
  } catch (error) {
    if (error instanceof Mendable || error instanceof DatabaseTooNew) process.stderr.write(`${error.message}\n`)
    else console.error(error)
    process.exitCode = fault
  }
}
