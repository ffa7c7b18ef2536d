import { randomUUID } from 'node:crypto'
import type { JobParts } from '#server/jobs/parts.ts'

interface BeatRow {
  id: string
  /** What the queue calls the hands of this process. */
  hands: string[]
  startedAt: string
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    workerBeats: BeatRow
  }
}

/** Milliseconds between two signs of life of a worker. */
const BEAT = 10_000
/** Seconds of silence after which a worker counts as dead, and what it had in hand goes on elsewhere. */
const SILENCE = 40

/**
 * Says every ten seconds that this worker lives, and frees what dead ones had in hand: the queue itself would leave it to them for four hours.
 */
export class Beats {
  private readonly id = randomUUID()
  private readonly hands = new Set<string>()
  private timer: NodeJS.Timeout | undefined

  constructor(private readonly parts: Pick<JobParts, 'db' | 'log'>) {}

  /** A hand of this process began to work. */
  add(hand: string): void {
    this.hands.add(hand)
  }

  async start(every = BEAT): Promise<void> {
    await this.beat()
    this.timer = setInterval(
      () => void this.beat().catch((error: unknown) => this.parts.log('a sign of life could not be given', error)),
      every,
    )
  }

  private async beat(): Promise<void> {
    const now = this.parts.db.raw('now()') as never
    await this.parts
      .db('workerBeats')
      .insert({ id: this.id, hands: [...this.hands], startedAt: now, at: now })
      .onConflict('id')
      .merge(['hands', 'at'])
    const freed = await freeDead(this.parts)
    if (freed > 0) this.parts.log(`${freed} workers died; what they had in hand goes on`, {})
  }

  async stop(): Promise<void> {
    clearInterval(this.timer)
    await this.parts.db('workerBeats').where({ id: this.id }).delete()
  }
}

/** Frees what workers had in hand that gave no sign of life, and says how many they were. */
export async function freeDead(parts: Pick<JobParts, 'db'>, silence = SILENCE): Promise<number> {
  const { rows } = await parts.db.raw<{ rows: { hands: string[] }[] }>(
    `delete from worker_beats where at < now() - ? * interval '1 second' returning hands`,
    [silence],
  )
  const hands = rows.flatMap(row => row.hands)
  if (hands.length > 0) await parts.db.raw('select graphile_worker.force_unlock_workers(?)', [hands])
  return rows.length
}

/** Whether some worker gave a sign of life in the last minute. */
export async function someWorkerLives(db: JobParts['db']): Promise<boolean> {
  const { rows } = await db.raw<{ rows: unknown[] }>(
    `select 1 from worker_beats where at > now() - interval '1 minute' limit 1`,
  )
  return rows.length > 0
}
