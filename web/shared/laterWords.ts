import { translation } from '#web/shared/language.ts'
import { LATER_LABELS } from '#web/shared/laterLabels.ts'

/** The label of a code that no first page shows. */
export const laterLabel = (group: keyof typeof LATER_LABELS, code: string): string =>
  translation()?.labels[`${group}.${code}`] ?? LATER_LABELS[group][code] ?? code
