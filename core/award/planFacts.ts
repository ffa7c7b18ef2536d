/** A line that a plan is made for. Quantities as decimals in the unit that is asked for. */
export interface PlanLine {
  readonly id: string
  readonly quantity: string
  /** Who delivers it now. */
  readonly incumbentId: string | null
}

/** A level of a rebate on all that is bought from a supplier. */
export interface RebateTerms {
  readonly from: string
  readonly percent: string
}

/** A supplier with what its offers have in common. Amounts in the currency of the plan. */
export interface PlanSupplier {
  readonly id: string
  readonly country: string
  /** From 0 to 100; null: nobody scored it. */
  readonly score: string | null
  /** Nothing was ever ordered there. */
  readonly isNew: boolean
  /** Once, if anything is awarded to it. */
  readonly charge: string
  readonly rebates: readonly RebateTerms[]
  /** Whether a level counts for everything, or for what is above it. */
  readonly rebateOn: 'everything' | 'above'
}

/** What a supplier offers for a line. */
export interface PlanBid {
  readonly lineId: string
  readonly supplierId: string
  /** Cost of one unit when it is here (landed), with four digits: by quantity, from the least on. */
  readonly tiers: readonly { readonly from: string; readonly unitCost: string }[]
  readonly tierPrices: 'allUnits' | 'incremental'
  readonly capacity: string
  /** Empty: whatever one wants. */
  readonly minimum: string
  /** Only whole multiples of it can be had; left out or empty: any quantity. */
  readonly multiple?: string
  readonly leadDays: number | null
}

/** What falls due once, if any of some lines is awarded to a supplier. */
export interface PlanCharge {
  readonly supplierId: string
  readonly lineIds: readonly string[]
  readonly amount: string
}

/** Some lines together: per cent off where all of them are awarded to a supplier whole. */
export interface PlanBundle {
  readonly supplierId: string
  readonly lineIds: readonly string[]
  readonly percent: string
}

/** Everything that a plan is computed from, apart from wishes; kept with the plan, so that it can be computed again. */
export interface PlanFacts {
  readonly currency: string
  readonly lines: readonly PlanLine[]
  readonly suppliers: readonly PlanSupplier[]
  readonly bids: readonly PlanBid[]
  readonly charges: readonly PlanCharge[]
  readonly bundles: readonly PlanBundle[]
}
