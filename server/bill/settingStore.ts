import type { RuleSet } from '#core/bill/en16931.ts'
import type { Read } from '#server/call.ts'
import { readSetting } from '#server/house/house.ts'

export interface BillingSettings {
  postUntouched: boolean
  ruleSets: RuleSet[]
  remindHours: number
  escalateHours: number
}
declare module '#server/house/house.ts' {
  interface SettingValues {
    billing: BillingSettings
  }
}
const BILLING: BillingSettings = { postUntouched: false, ruleSets: [], remindHours: 16, escalateHours: 40 }

export const billingSettings = async (call: Pick<Read, 'trx'>): Promise<BillingSettings> => ({
  ...BILLING,
  ...(await readSetting(call, 'billing')),
})
