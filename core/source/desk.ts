import { addDays } from '#core/calendar/days.ts'
import { type DeskEntry, forPerson, forRight } from '#core/desk/entry.ts'
import { REMINDER_DAYS } from '#core/source/certificates.ts'
import { type OnboardingState, SUPPLIER_GROUPS, type SupplierState } from '#core/source/states.ts'
import { isIn } from '#core/states.ts'

/** What is known of a supplier when somebody asks what waits because of it. */
export interface SupplierWaits {
  readonly id: string
  readonly number: string
  readonly name: string
  readonly state: SupplierState
  /** Who looks after the record; nobody in particular: whoever keeps suppliers. */
  readonly ownerId: string | null
  readonly certificates: readonly { readonly kind: string; readonly validTo: string }[]
  /** Fields that the supplier changed and that nobody has accepted yet. */
  readonly revisions: { readonly count: number; readonly since: string } | null
  /** Addresses that mail no longer reaches. */
  readonly bounced: { readonly emails: readonly string[]; readonly since: string } | null
}

const COMMON = { stage: 'source', act: 'see', tone: 'attention', amount: null, currency: null, notFor: [] } as const
const KEEPERS = forRight('supplier.write')

/** What waits because of a supplier: a certificate that ends soon, fields that it changed, addresses that bounce. */
export function supplierDesk(supplier: SupplierWaits): DeskEntry[] {
  const common = { ...COMMON, from: null, needBy: null, path: `/source/${supplier.id}`, audiences: [KEEPERS] }
  const details = { number: supplier.number, title: supplier.name }
  const entries: DeskEntry[] = []
  if (supplier.revisions !== null)
    entries.push({
      ...common,
      key: 'revision',
      since: supplier.revisions.since,
      details: { ...details, extra: supplier.revisions.count },
    })
  if (!isIn(SUPPLIER_GROUPS.trading, supplier.state)) return entries
  if (supplier.bounced !== null)
    entries.push({
      ...common,
      key: 'bounced',
      since: supplier.bounced.since,
      details: { ...details, extra: supplier.bounced.emails.join(', ') },
    })
  for (const certificate of supplier.certificates)
    entries.push({
      ...common,
      key: 'certificateEnds',
      audiences: [supplier.ownerId === null ? KEEPERS : forPerson(supplier.ownerId)],
      // from the second reminder on; the first one is the supplier's alone
      from: addDays(certificate.validTo, 1 - REMINDER_DAYS[1]),
      since: addDays(certificate.validTo, -REMINDER_DAYS[0]),
      needBy: certificate.validTo,
      details: { ...details, extra: certificate.kind },
    })
  return entries
}

export interface OnboardingWaits {
  readonly id: string
  readonly number: string
  readonly supplier: string
  readonly state: OnboardingState
  readonly proposedBy: string
  readonly createdAt: string
  readonly submittedAt: string | null
}

/** What waits because of an onboarding: the buyer to invite, or to read the answers. Decisions are asked as a consent. */
export function onboardingDesk(onboarding: OnboardingWaits): DeskEntry[] {
  const common = {
    ...COMMON,
    from: null,
    needBy: null,
    path: `/source/onboardings/${onboarding.id}`,
    audiences: [KEEPERS],
  }
  const details = { number: onboarding.number, title: onboarding.supplier }
  if (onboarding.state === 'proposed')
    return [
      {
        ...common,
        key: 'proposed',
        tone: 'plain',
        since: onboarding.createdAt,
        details: { ...details, who: onboarding.proposedBy },
      },
    ]
  if (onboarding.state === 'submitted')
    return [
      { ...common, key: 'answersIn', tone: 'plain', since: onboarding.submittedAt ?? onboarding.createdAt, details },
    ]
  return []
}
