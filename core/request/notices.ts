/** A word from purchasing: between two days (both count), for those whose cost centre, category or supplier it is about; none named means everybody. */
export interface Notice {
  readonly from: string
  readonly to: string
  readonly costCentres: readonly string[]
  readonly categories: readonly string[]
  readonly suppliers: readonly string[]
}
export interface NoticeFacts {
  readonly today: string
  readonly costCentres: readonly string[]
  readonly categories: readonly string[]
  readonly suppliers: readonly string[]
}

const meets = (wanted: readonly string[], has: readonly string[]): boolean =>
  wanted.length === 0 || wanted.some(one => has.includes(one))

/** Whether a notice is shown here: it runs today, and each kind of audience that it names is met. */
export const isShown = (notice: Notice, facts: NoticeFacts): boolean =>
  notice.from <= facts.today &&
  facts.today <= notice.to &&
  meets(notice.costCentres, facts.costCentres) &&
  meets(notice.categories, facts.categories) &&
  meets(notice.suppliers, facts.suppliers)
