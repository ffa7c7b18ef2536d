import { type Reason, note, stop } from '#core/reasons.ts'

/** What a requester allows to happen next with a line. */
export const ROUTES = ['orderNow', 'askForQuotes', 'callOff', 'setUpAgreement'] as const
export type Route = (typeof ROUTES)[number]

/** Narrows routes for lines of a category and from a value on. The base currency's smallest unit; no category means all. */
export interface RouteRule {
  readonly name: string
  readonly categories: readonly string[]
  readonly from: bigint
  readonly upTo: bigint | null
  readonly allowed: readonly Route[]
}
export interface RouteFacts {
  readonly position: number
  readonly category: string
  readonly amount: bigint
  /** The offer's framework agreement, if it has one. */
  readonly agreement: string
  readonly wanted: readonly Route[]
}
export interface AllowedRoutes {
  readonly routes: readonly Route[]
  /** Why a route that was wanted is not there. */
  readonly reasons: Reason[]
}

const applies = (rule: RouteRule, facts: RouteFacts): boolean =>
  (rule.categories.length === 0 || rule.categories.includes(facts.category)) &&
  facts.amount >= rule.from &&
  (rule.upTo === null || facts.amount < rule.upTo)

/**
 * The routes of a line: what the requester allows, less what rules forbid and what cannot be (a call-off without an agreement).
 * Nothing left is a stop: the line could never be bought.
 */
export function allowedRoutes(facts: RouteFacts, rules: readonly RouteRule[]): AllowedRoutes {
  const extra = { place: `lines.${facts.position}.routes` }
  const reasons: Reason[] = []
  const routes = facts.wanted.filter(route => {
    if (route === 'callOff' && facts.agreement === '') return void reasons.push(note('route.noAgreement', {}, extra))
    const against = rules.find(rule => applies(rule, facts) && !rule.allowed.includes(route))
    if (against) reasons.push(note('route.ruled', { route, rule: against.name }, extra))
    return !against
  })
  if (routes.length > 0) return { routes, reasons }
  const open = ROUTES.filter(
    route =>
      (route !== 'callOff' || facts.agreement !== '') &&
      !rules.some(rule => applies(rule, facts) && !rule.allowed.includes(route)),
  )
  return {
    routes,
    reasons: [...reasons, stop('route.none', { open: open.join(', '), wanted: facts.wanted.length }, extra)],
  }
}

/** Buying lines together allows only what all of them allow (domain page, section 5). commonRoutes([['orderNow', 'callOff'], ['orderNow']]) //=> ['orderNow'] */
export const commonRoutes = (lines: readonly (readonly Route[])[]): Route[] =>
  lines.length === 0 ? [] : ROUTES.filter(route => lines.every(line => line.includes(route)))
