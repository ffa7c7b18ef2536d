// What a thread runs: it learns TypeScript first, because it does not take that over from the process that starts it.
import { register } from 'tsx/esm/api'

register()
const tasks = await import('./tasks.ts')
const { RuleBroken } = await import('../../core/reasons.ts')

/** Refusals are handed back as data: an error that crosses over loses what it carries. */
export default async ({ task, input }) => {
  try {
    return { answer: await tasks[task](input) }
  } catch (error) {
    if (error instanceof RuleBroken) return { reasons: error.reasons }
    throw error
  }
}
