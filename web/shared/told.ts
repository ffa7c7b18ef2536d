export const TOLD_BY = ['telephone', 'mail', 'letter', 'visit'] as const

/** Who told us something that is typed in for them, when and how. */
export interface Told {
  who: string
  on: string | null
  how: (typeof TOLD_BY)[number]
}
