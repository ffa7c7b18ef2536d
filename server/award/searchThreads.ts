import { Worker } from 'node:worker_threads'
import type { SearchTask, SearchWord } from '#server/award/search.ts'

/** Megabytes that a thread may take. */
const MOST_MEMORY = 1024
/** Milliseconds after which a thread that has nothing to do ends: the next problem of a plan comes sooner. */
const IDLE = 5000
const THREAD = new URL('./searchThread.mjs', import.meta.url)

const idle: Worker[] = []

/** A search under way. `ended` comes true when it has said its last word, false when it broke. */
export interface Searching {
  readonly ended: Promise<boolean>
  /** Ends it at once, whatever it is doing. */
  readonly stop: () => void
}

/** Searches in a thread of its own; one that has finished a problem takes the next, as starting one takes longer than most problems do. */
export function searchInThread(task: SearchTask, told: (word: SearchWord) => void): Searching {
  const thread = idle.pop() ?? new Worker(THREAD, { resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY } })
  thread.ref()
  thread.removeAllListeners()
  let over = false
  const ended = new Promise<boolean>(resolve => {
    const end = (well: boolean): void => {
      over = true
      resolve(well)
    }
    thread.on('message', (word: SearchWord) => {
      told(word)
      if (!word.ended) return
      end(true)
      rest(thread)
    })
    thread.on('error', () => end(false))
    thread.on('exit', () => end(false))
  })
  thread.postMessage(task)
  return { ended, stop: () => (over ? undefined : void thread.terminate()) }
}

/** Keeps a thread for the next problem, for a while; it keeps no process from ending. */
function rest(thread: Worker): void {
  const leave = (): boolean => {
    const at = idle.indexOf(thread)
    if (at >= 0) idle.splice(at, 1)
    return at >= 0
  }
  thread.removeAllListeners()
  thread.on('error', leave)
  // one that has ended takes no problem any more
  thread.on('exit', leave)
  thread.unref()
  idle.push(thread)
  setTimeout(() => {
    if (leave()) void thread.terminate()
  }, IDLE).unref()
}
