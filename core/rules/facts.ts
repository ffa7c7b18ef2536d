import type { Minor } from '#core/money/amount.ts'

/** What the rules of Setup find deciders for. */
export const DECIDED_KINDS = [
  'requisition',
  'orderExcess',
  'award',
  'agreement',
  'amendment',
  'transfer',
  'onboarding',
  'run',
  'billDifference',
] as const
export type DecidedKind = (typeof DECIDED_KINDS)[number]

/** Where a fact is told: of the document, of a line, or of the part of a line that one account pays. */
type Level = 'document' | 'line' | 'part'

/** What conditions ask about. */
export const RULE_FACTS = {
  requester: 'document',
  requesterRole: 'document',
  overBudget: 'document',
  lineKind: 'line',
  category: 'line',
  item: 'line',
  supplier: 'line',
  supplierState: 'line',
  soleSource: 'line',
  site: 'line',
  costCentre: 'part',
  account: 'part',
  project: 'part',
} as const satisfies Readonly<Record<string, Level>>
export type RuleFact = keyof typeof RULE_FACTS
export const RULE_FACT_KEYS = Object.keys(RULE_FACTS) as readonly RuleFact[]

/** Facts that are only true or not. */
export const YES_NO_FACTS: ReadonlySet<RuleFact> = new Set(['overBudget', 'soleSource'])

type At<L extends Level> = { [F in RuleFact]: (typeof RULE_FACTS)[F] extends L ? F : never }[RuleFact]
/** Values of the facts of one level; what is not known is left out. Several where the fact has several: the roles of a requester, a category and those above it. */
export type FactsAt<L extends Level> = { readonly [F in At<L>]?: string | readonly string[] }

/** What rules know of an account that pays; nothing where it is not known. */
export const partFacts = (
  account: { readonly costCentre: string; readonly account: string; readonly project: string | null } | undefined,
): FactsAt<'part'> =>
  account
    ? {
        costCentre: account.costCentre,
        account: account.account,
        ...(account.project === null ? {} : { project: account.project }),
      }
    : {}

/** What one account pays of a line, in the base currency's smallest unit. */
export interface DecidedPart {
  readonly amount: Minor
  readonly facts: FactsAt<'part'>
}
export interface DecidedLine {
  readonly id: string
  readonly facts: FactsAt<'line'>
  readonly parts: readonly DecidedPart[]
}

/** A document as rules see it. */
export interface DecidedDocument {
  readonly kind: DecidedKind
  readonly requesterId: string
  /** In the base currency's smallest unit. */
  readonly total: Minor
  readonly facts: FactsAt<'document'>
  readonly lines: readonly DecidedLine[]
}
