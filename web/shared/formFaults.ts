import type { InjectionKey } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'

/** What a form tells its fields: which of the refusals are theirs. */
export interface FormFaults {
  readonly at: (place: string) => readonly ReasonJson[]
  readonly add: (place: string) => void
  readonly drop: (place: string) => void
}
export const FAULTS: InjectionKey<FormFaults> = Symbol('faults of a form')
