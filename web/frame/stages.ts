import type { Permission } from '#contract/permissions.ts'

export interface Stage {
  readonly key: string
  readonly path: string
  readonly side: boolean
  readonly right?: Permission
}

/** The places of the Course, in working order; Alt+1…7 go to the stages. */
export const ALL_STAGES: readonly Stage[] = [
  { key: 'source', path: '/source', side: false },
  { key: 'request', path: '/request', side: false },
  { key: 'decide', path: '/decide', side: false },
  { key: 'order', path: '/order', side: false },
  { key: 'receive', path: '/receive', side: false },
  { key: 'bill', path: '/bill', side: false },
  { key: 'pay', path: '/pay', side: false },
  { key: 'insight', path: '/insight', side: true, right: 'budget.read' },
  { key: 'setup', path: '/setup', side: true, right: 'setup.read' },
]
export const STAGES = ALL_STAGES.filter(stage => !stage.side)
