import { type NewConsent, secondYes } from '#core/consent/consent.ts'
import { minor } from '#core/money/amount.ts'
import type { DecidedDocument } from '#core/rules/facts.ts'
import { withAbove } from '#core/source/categories.ts'
import type { MergeFacts } from '#core/source/merging.ts'

/** Barring a supplier takes two people. */
export const barQuestion = (supplierId: string, askedBy: string, reason: string): NewConsent =>
  secondYes({ purpose: 'bar', documentKind: 'supplier', documentId: supplierId, reason }, 'supplier.agree', [askedBy])

/** Two records with one strong number take two people; the new one is kept as `subject` until then. */
export const sharedQuestion = (id: string, subject: unknown, askedBy: string, reason: string): NewConsent =>
  secondYes({ purpose: 'sharedNumber', documentKind: 'secondYes', documentId: id, subject, reason }, 'supplier.agree', [
    askedBy,
  ])

/** A merge that moves money takes two people. */
export const mergeQuestion = (keptId: string, mergedId: string, askedBy: string, reason: string): NewConsent =>
  secondYes(
    { purpose: 'merge', documentKind: 'supplier', documentId: keptId, subject: { mergedId }, reason },
    'supplier.agree',
    [askedBy],
  )

/** A new or changed account is proved by somebody who did not enter it (domain page, section 4). */
export const accountQuestion = (supplierId: string, accountId: string, changedBy: string): NewConsent =>
  secondYes(
    { purpose: 'account', documentKind: 'supplier', documentId: supplierId, subject: { accountId }, reason: '' },
    'supplier.prove',
    [changedBy],
  )

/** Whether a merge sends money elsewhere: what the merged record is owed would be paid to the account of the one that is kept. */
export const movesMoney = (facts: Pick<MergeFacts, 'unpaidInvoices'>): boolean => facts.unpaidInvoices.length > 0

export interface OnboardingOffices {
  /** Owners of the categories that have one. */
  readonly owners: readonly { readonly category: string; readonly personId: string }[]
  readonly finance: boolean
}

/**
 * Those who decide about a new supplier: the owner of each category, and finance where a category wants it or nobody owns one. Finance does
 * not decide what it proposed or followed up itself.
 */
export const onboardingQuestion = (
  onboardingId: string,
  offices: OnboardingOffices,
  proposedBy: readonly string[],
): NewConsent => ({
  purpose: 'onboarding',
  documentKind: 'onboarding',
  documentId: onboardingId,
  reason: '',
  steps: [
    ...offices.owners.map(owner => ({
      stage: 1,
      asked: [{ kind: 'person' as const, personId: owner.personId }],
      notBy: [],
      label: owner.category,
    })),
    ...(offices.finance
      ? [
          {
            stage: 1,
            asked: [{ kind: 'right' as const, right: 'supplier.approve', costCentre: null }],
            notBy: proposedBy,
            label: '',
          },
        ]
      : []),
  ],
})

/** An onboarding as rules see it: a line for each category, without an amount. */
export const decidedOnboarding = (
  id: string,
  requesterId: string,
  supplier: { readonly number: string; readonly state: string; readonly categories: readonly string[] },
  parents: ReadonlyMap<string, string | null>,
): Omit<DecidedDocument, 'facts'> => ({
  kind: 'onboarding',
  requesterId,
  total: minor(0),
  lines: supplier.categories.map(category => ({
    id: `${id} ${category}`,
    facts: { category: withAbove(category, parents), supplier: supplier.number, supplierState: supplier.state },
    parts: [{ amount: minor(0), facts: {} }],
  })),
})

/** Which offices decide, by what the supplier sells. */
export function officesFor(
  categories: readonly { readonly name: string; readonly ownerId: string | null; readonly needsFinance: boolean }[],
): OnboardingOffices {
  const owners = categories.flatMap(one =>
    one.ownerId === null ? [] : [{ category: one.name, personId: one.ownerId }],
  )
  return { owners, finance: owners.length === 0 || categories.some(one => one.needsFinance) }
}
