import { type Reason, stop } from '#core/reasons.ts'

/** An account at a supplier, as far as it matters who may change it. */
export interface CompanyAccount {
  readonly id: string
  readonly administrator: boolean
  readonly email: string
}
export interface CompanyAccountChange {
  readonly email: string
  readonly active: boolean
}

/**
 * What stands against a change of somebody's account by a person of the same company. The administrator's address is where the company's keys
 * are sent: only the administrator changes it, and nobody closes the administrator's account before another one has the office.
 */
export function whyNotChangeAccount(account: CompanyAccount, change: CompanyAccountChange, actorId: string): Reason[] {
  if (!account.administrator) return []
  if (!change.active) return [stop('company.administratorStays')]
  const moved = change.email.trim().toLowerCase() !== account.email.toLowerCase()
  return moved && account.id !== actorId
    ? [stop('company.administratorAddress', {}, { place: 'email', clearedBy: ['supplierAdministrator', 'steward'] })]
    : []
}
