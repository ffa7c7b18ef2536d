import type { FormJson } from '#contract/request/forms.ts'
import { filledForm } from '#core/request/forms.ts'
import type { Read } from '#server/call.ts'
import type { RequisitionRow } from '#server/request/requisitionStore.ts'

/** One version of a form; who changed it last is kept by id. */
export type FormRow = Omit<FormJson, 'used'>
declare module 'knex/types/tables.js' {
  interface Tables {
    requestForms: FormRow
  }
}

/** What was answered in the form that a request was made with. */
export async function formSaid(
  call: Read,
  requisition: Pick<RequisitionRow, 'formId' | 'answers'>,
): Promise<{ name: string; number: number; said: { question: string; answer: string }[] } | null> {
  if (!requisition.formId) return null
  const form = (await call.trx('requestForms').where({ id: requisition.formId }).first())!
  return { name: form.name, number: form.number, said: [...filledForm(form, requisition.answers).said] }
}
