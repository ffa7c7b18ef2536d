import { computed } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import { KINDS, type LineField } from '#core/request/kinds.ts'
import type { EditedLine } from '#web/request/useDraft.ts'
import { words } from '#web/shared/words.ts'

/** What every part of a line's form is given. */
export interface LineProps {
  readonly line: EditedLine
  readonly index: number
  readonly reasons: readonly ReasonJson[]
}
export interface LineEmit {
  (event: 'change', line: Partial<EditedLine>): void
}

/** What the parts of a line's form share: which fields its kind has, where each is, and how it is changed. */
export function useLine(props: LineProps, emit: LineEmit) {
  const fields = computed(() => KINDS[props.line.kind].fields)
  const place = (field: string): string => `lines.${props.index + 1}.${field}`
  const set = (part: Partial<EditedLine>): void => emit('change', part)
  return {
    place,
    set,
    setDetails: (part: Partial<EditedLine['details']>): void => set({ details: { ...props.line.details, ...part } }),
    has: (field: LineField): boolean => fields.value.includes(field),
    /** What is worth knowing about a field without stopping anything. */
    hints: (field: string): string =>
      props.reasons
        .filter(reason => reason.place === place(field) && reason.level !== 'stop')
        .map(reason => words(reason))
        .join(' '),
  }
}
