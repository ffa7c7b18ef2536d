import { type Child, startChild } from '#scripts/instance.ts'

/** A process of ours that is kept alive. */
export interface Kept {
  readonly script: string
  child: Child
}

/** Milliseconds before a process that died is started again, and how many deaths within which time are too many. */
const PAUSE = 500
const MOST_DEATHS = 5
const WITHIN = 60_000
/** Milliseconds that a process has to let requests and jobs end, a little more than it gives them. */
const LEAVE = 35_000

/**
 * Keeps processes alive: one that dies is started again and said so; one that dies again and again ends the watch, because something is wrong
 * that starting does not mend.
 */
export class Supervisor {
  private readonly kept: Kept[] = []
  private ending = false
  private giveUp: (script: string) => void = () => undefined
  /** Settles with the process that could not be kept alive. */
  readonly gaveUp = new Promise<string>(resolve => {
    this.giveUp = resolve
  })

  constructor(
    private readonly environment: Record<string, string>,
    private readonly tell: (text: string) => void,
  ) {}

  async start(script: string): Promise<void> {
    const kept: Kept = { script, child: await startChild(script, this.environment) }
    this.kept.push(kept)
    this.watch(kept, [])
  }

  private watch(kept: Kept, deaths: readonly number[]): void {
    kept.child.process.once('exit', (code, signal) => {
      if (this.ending) return
      const recent = [...deaths, Date.now()].filter(at => at > Date.now() - WITHIN)
      if (recent.length >= MOST_DEATHS) return this.giveUp(kept.script)
      this.tell(`${kept.script} ended by itself (${signal ?? code}); it is started again.`)
      setTimeout(() => void this.again(kept, recent), PAUSE)
    })
  }

  private async again(kept: Kept, deaths: readonly number[]): Promise<void> {
    if (this.ending) return
    try {
      kept.child = await startChild(kept.script, this.environment)
      this.watch(kept, deaths)
    } catch {
      const recent = [...deaths, Date.now()]
      if (recent.length >= MOST_DEATHS) return this.giveUp(kept.script)
      setTimeout(() => void this.again(kept, recent), PAUSE * 4)
    }
  }

  /** Asks every process to leave, and waits until what was under way has ended. */
  async end(): Promise<void> {
    this.ending = true
    await Promise.all(this.kept.map(kept => leave(kept.child)))
  }
}

function leave({ process: child }: Child): Promise<void> {
  return new Promise(resolve => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve()
    child.once('exit', () => resolve())
    child.kill('SIGTERM')
    setTimeout(() => child.kill('SIGKILL'), LEAVE).unref()
  })
}
