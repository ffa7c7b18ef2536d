import type { StateTable } from '#core/states.ts'

export type SupplierState = 'active' | 'paused' | 'barred' | 'closed'
export type SupplierAction = 'pause' | 'resume' | 'bar' | 'close' | 'reopen'

export const SUPPLIER_STATES: StateTable<SupplierState, SupplierAction> = {
  active: { pause: 'paused', bar: 'barred', close: 'closed' },
  paused: { resume: 'active', bar: 'barred', close: 'closed' },
  barred: { reopen: 'paused' },
  closed: { reopen: 'paused' },
}
