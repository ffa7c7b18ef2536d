import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import type * as tasks from '#server/compute/tasks.ts'

type Tasks = typeof tasks

let threads: Piscina | undefined

/** Threads of one process; two leave a core for everything else on a small machine. */
const MOST_THREADS = 2
/** Megabytes that one thread may take, and milliseconds that one task may: what needs more was made to need it. */
const MOST_MEMORY = 768
const MOST_TIME = 120_000
/** Milliseconds after which a thread that has nothing to do ends. */
const IDLE = 30_000

/**
 * Computes something heavy in a worker thread, so that requests and jobs beside it go on. What goes in and comes out is copied: plain data only.
 *
 * @throws RuleBroken compute.tooHeavy where it takes more memory or time than one thing may, and what the task itself refuses
 */
export async function compute<K extends keyof Tasks>(
  task: K,
  input: Parameters<Tasks[K]>[0],
): Promise<Awaited<ReturnType<Tasks[K]>>> {
  threads ??= new Piscina({
    filename: fileURLToPath(new URL('./thread.mjs', import.meta.url)),
    minThreads: 0,
    maxThreads: MOST_THREADS,
    idleTimeout: IDLE,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY },
  })
  const done = (await threads
    .run({ task, input }, { signal: AbortSignal.timeout(MOST_TIME) })
    .catch(refuseTooHeavy)) as { answer: Awaited<ReturnType<Tasks[K]>> } | { reasons: Reason[] }
  if ('reasons' in done) throw new RuleBroken(done.reasons)
  return done.answer
}

function refuseTooHeavy(error: unknown): never {
  const { code, name } = error as { code?: string; name?: string }
  if (code === 'ERR_WORKER_OUT_OF_MEMORY' || name === 'AbortError')
    throw new RuleBroken(stop('compute.tooHeavy'), { cause: error })
  throw error
}

/** Ends the threads, when a process ends. */
export async function endThreads(): Promise<void> {
  await threads?.destroy()
  threads = undefined
}
