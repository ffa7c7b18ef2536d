import type { TOLD_BY } from '#core/source/invitedActs.ts'

/** Who told us something that is typed in for them, when and how. */
export interface Told {
  who: string
  on: string | null
  how: (typeof TOLD_BY)[number]
}
