import { type DeskEntry, forPerson } from '#core/desk/entry.ts'

export const LONG_JOBS = ['duplicates', 'supplierImport', 'awardPlan', 'workbook'] as const
export type LongJobKind = (typeof LONG_JOBS)[number]

export const LONG_JOB_STATES = ['waiting', 'running', 'applying', 'done', 'failed'] as const
export type LongJobState = (typeof LONG_JOB_STATES)[number]

export const LONG_JOB_GROUPS = {
  /** It is not over: whoever started it may wait. */
  going: ['waiting', 'running', 'applying'],
  ended: ['done', 'failed'],
} as const satisfies Readonly<Record<string, readonly LongJobState[]>>

/** How far a job is for whoever started it. */
const SAID: Readonly<Record<LongJobState, 'runs' | 'done' | 'failed'>> = {
  waiting: 'runs',
  running: 'runs',
  applying: 'runs',
  done: 'done',
  failed: 'failed',
}

export interface LongJobWaits {
  readonly id: string
  readonly kind: LongJobKind
  readonly state: LongJobState
  readonly byId: string
  readonly createdAt: string
  /** Whoever started it has seen how it ended. */
  readonly seen: boolean
}

/** A job that runs long stands on the Desk of whoever started it until they have seen how it ended. */
export const longJobDesk = (job: LongJobWaits): DeskEntry[] =>
  job.seen
    ? []
    : [
        {
          key: `longJob.${job.kind}.${SAID[job.state]}`,
          stage: 'source',
          act: 'see',
          tone: job.state === 'failed' ? 'attention' : 'plain',
          audiences: [forPerson(job.byId)],
          notFor: [],
          from: null,
          amount: null,
          currency: null,
          since: job.createdAt,
          needBy: null,
          path: `/source/jobs/${job.id}`,
          details: {},
        },
      ]
