import type { Reason } from '#core/reasons.ts'
import { whyNotOrderFrom } from '#core/source/orderable.ts'
import type { SupplierState } from '#core/source/states.ts'

/** What stands against dealing with a supplier who is asked: it is paused, barred, closed or merged. One that is being taken on may be asked already. */
export const orderingReasons = (name: string, state: SupplierState): Reason[] =>
  state === 'active' || state === 'proposed' || state === 'onboarding'
    ? []
    : whyNotOrderFrom({ name, state, ordersStopped: false })
