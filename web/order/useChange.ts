import { useDebounceFn } from '@vueuse/core'
import { type Ref, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { KeepChange, LookAtChange, type ReadOrder } from '#contract/order/endpoints.ts'
import type { ReasonJson } from '#contract/fields.ts'
import { api, Refused } from '#web/api.ts'
import { type OrderForm, orderForm, wantedOf, withWanted } from '#web/order/orderForm.ts'

type Sheet = ResponseOf<typeof ReadOrder>
/** Milliseconds after the last key before what was typed is kept and looked at. */
const WAIT = 500

/** A change of an issued order while it is written: kept as it is typed, and shown with all that it would do. */
export function useChange(
  sheet: Ref<Sheet | undefined>,
  form: Ref<OrderForm>,
  editing: Ref<boolean>,
  busy: Readonly<Ref<boolean>>,
) {
  const look = shallowRef<ResponseOf<typeof LookAtChange>>()
  /** What stood against keeping it. */
  const against = shallowRef<readonly ReasonJson[]>([])
  /** The state of the kept change that this page knows. */
  const seen = ref<string | null>(null)
  let begun = ''
  const text = (): string => JSON.stringify([wantedOf(form.value), form.value.reason, form.value.needRemains])

  /** The form to begin with: what is kept, or the order as it is. */
  function begin(): OrderForm {
    const kept = sheet.value!.keptChange
    const form = orderForm(sheet.value)
    look.value = undefined
    seen.value = kept?.at ?? null
    if (!kept) {
      begun = JSON.stringify([wantedOf(form), form.reason, form.needRemains])
      return form
    }
    begun = ''
    return { ...withWanted(form, kept.wanted), reason: kept.reason, needRemains: kept.needRemains }
  }
  async function keep(): Promise<void> {
    const order = sheet.value
    if (!order || !editing.value || busy.value || order.state === 'draft' || text() === begun) return
    begun = ''
    const params = { id: order.id }
    const { reason, needRemains } = form.value
    const wanted = wantedOf(form.value)
    const { revision } = order
    try {
      seen.value = (
        await api(KeepChange, { params, body: { wanted, reason, needRemains, revision, seen: seen.value } })
      ).at
      look.value = await api(LookAtChange, { params, body: { wanted, needRemains } })
      against.value = []
    } catch (error) {
      // a figure that is half typed is no news; that somebody else wrote on is
      look.value = undefined
      against.value = error instanceof Refused && error.status !== 400 ? error.reasons : []
    }
  }
  const soon = useDebounceFn(keep, WAIT)
  watch(form, () => void soon(), { deep: true })
  return { look, against, begin }
}
