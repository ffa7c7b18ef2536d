import type { StateTable } from '#core/states.ts'

export type OrderState = 'draft' | 'issued' | 'acknowledged' | 'closed' | 'sealed' | 'cancelled'
export type OrderAction = 'issue' | 'change' | 'acknowledge' | 'close' | 'reopen' | 'seal' | 'cancel'

/** Each change after issue makes a new revision and asks the supplier again, so it leads back to `issued`. */
export const ORDER_STATES: StateTable<OrderState, OrderAction> = {
  draft: { issue: 'issued', cancel: 'cancelled' },
  issued: { acknowledge: 'acknowledged', change: 'issued', close: 'closed', cancel: 'cancelled' },
  acknowledged: { change: 'issued', acknowledge: 'acknowledged', close: 'closed', cancel: 'cancelled' },
  closed: { reopen: 'acknowledged', seal: 'sealed' },
  sealed: {},
  cancelled: {},
}
