import { isDay } from '#core/calendar/days.ts'
import type { LineKind } from '#core/request/kinds.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { withAbove } from '#core/source/categories.ts'

/** What orders buy for which a clause stands. */
export const CLAUSE_SCOPES = ['all', 'goods', 'work'] as const
export type ClauseScope = (typeof CLAUSE_SCOPES)[number]

/** One version of a clause: what orders say where it applies, from a day on. A version is never changed; the next one follows it. */
export interface ClauseVersion {
  readonly clauseId: string
  readonly version: number
  readonly name: string
  /** The first day on which orders get it. */
  readonly from: string
  /** From that day on no order gets it any more. */
  readonly ended: boolean
  readonly scope: ClauseScope
  /** Categories, with all below them, and countries of suppliers; none is all. */
  readonly categories: readonly string[]
  readonly countries: readonly string[]
  /** By language. */
  readonly text: Readonly<Record<string, string>>
}

/** What decides which clauses an order gets. */
export interface ClauseFacts {
  readonly day: string
  readonly country: string
  readonly lines: readonly { readonly kind: LineKind; readonly category: string }[]
  /** Each category with the one above it. */
  readonly above: ReadonlyMap<string, string | null>
}

/** A clause that an order gets, with what it is for where it is not for all orders. */
export interface AttachedClause extends ClauseVersion {
  readonly because: readonly string[]
}

/** Of each clause the version that is in force on a day: the last that began; ended ones are left out. By name. */
export function inForce(versions: readonly ClauseVersion[], day: string): ClauseVersion[] {
  const latest = new Map<string, ClauseVersion>()
  for (const one of versions) {
    const known = latest.get(one.clauseId)
    if (one.from <= day && (!known || one.version > known.version)) latest.set(one.clauseId, one)
  }
  return [...latest.values()].filter(one => !one.ended).sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))
}

/** The clauses of an order on a day. It is enough that one line is of what a clause is for; country and what is bought have to fit, too. */
export const clausesFor = (versions: readonly ClauseVersion[], facts: ClauseFacts): AttachedClause[] =>
  inForce(versions, facts.day).flatMap(one => {
    if (one.countries.length > 0 && !one.countries.includes(facts.country)) return []
    const bought = facts.lines.filter(line => one.scope === 'all' || (one.scope === 'goods') === isGoods(line.kind))
    const categories = new Set(bought.flatMap(line => withAbove(line.category, facts.above)))
    const met = one.categories.filter(category => categories.has(category))
    if (bought.length === 0 || (one.categories.length > 0 && met.length === 0)) return []
    return [{ ...one, because: [...met, ...(one.countries.length > 0 ? [facts.country] : [])] }]
  })

const isGoods = (kind: LineKind): boolean => kind === 'goods' || kind === 'goodsByAmount'

/** The text of a clause in a language; in the house's first where it has none in that one. */
export const clauseText = (text: ClauseVersion['text'], language: string, first: string): string =>
  text[language] || text[first] || ''

/**
 * What stands against the next version of a clause. It begins today or later and not before the version it follows: what was issued keeps what it said.
 * `first`: the house's first language, in which each clause is written.
 */
export function whyNotClause(
  wanted: Omit<ClauseVersion, 'clauseId' | 'version'>,
  before: ClauseVersion | null,
  known: { readonly today: string; readonly first: string; readonly categories: ReadonlySet<string> },
): Reason[] {
  const at = (place: string): { place: string } => ({ place })
  const foreign = wanted.categories.find(one => !known.categories.has(one))
  return [
    ...(wanted.name.trim() === '' ? [stop('clause.name', {}, at('name'))] : []),
    ...((wanted.text[known.first] ?? '').trim() === '' && !wanted.ended ? [stop('clause.text', {}, at('text'))] : []),
    ...(isDay(wanted.from) && wanted.from >= known.today
      ? []
      : [stop('clause.from', { today: known.today }, at('from'))]),
    ...(before !== null && wanted.from < before.from ? [stop('clause.before', { from: before.from }, at('from'))] : []),
    ...(foreign === undefined ? [] : [stop('clause.category', { category: foreign }, at('categories'))]),
    ...(wanted.countries.every(one => /^[A-Z]{2}$/.test(one)) ? [] : [stop('clause.country', {}, at('countries'))]),
  ]
}
