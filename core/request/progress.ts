import type { RequisitionState } from '#core/request/states.ts'

/**
 * Which sentence says how far a request has come. Of one that is ordered it says whether anything is still to come, or everything is in and
 * only bills are open.
 *
 * boughtCode('ordered', [{ comes: false }]) //=> 'requisition.is.allIn'
 */
export const boughtCode = (state: RequisitionState, bought: readonly { readonly comes: boolean }[]): string =>
  state === 'ordered' && bought.length > 0 && bought.every(line => !line.comes)
    ? 'requisition.is.allIn'
    : `requisition.is.${state}`
