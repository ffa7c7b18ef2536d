import type { FormJson } from '#contract/request/forms.ts'

type AskedSection = FormJson['sections'][number]
export type AskedQuestion = AskedSection['questions'][number]

/** A question that asks nothing yet. */
export const newQuestion = (key: string): AskedQuestion => ({
  key,
  kind: 'text',
  label: '',
  help: '',
  required: true,
  when: null,
  choices: [],
  fills: null,
})

/** Questions that come before one. */
export function before(sections: readonly AskedSection[], key: string): AskedQuestion[] {
  const all = sections.flatMap(section => section.questions)
  return all.slice(
    0,
    all.findIndex(one => one.key === key),
  )
}

/** What a question can be answered with, where that is known beforehand. */
export const choicesOf = (question: AskedQuestion | undefined): string[] =>
  question?.kind === 'yesNo' ? ['yes', 'no'] : (question?.choices ?? [])

/** Something with questions that is kept in versions. */
export interface Kept {
  readonly id: string
  readonly code: string
  readonly name: string
  readonly number: number
  readonly state: string
  readonly sections: readonly { readonly questions: readonly unknown[] }[]
  readonly changedBy: string
  readonly changedAt: string
  readonly used: number
}
