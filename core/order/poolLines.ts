import { plainWords } from '#core/request/personalFee.ts'
import type { LineKind } from '#core/request/kinds.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { LineState } from '#core/request/states.ts'

interface PoolState {
  readonly kind: LineKind
  readonly description: string
  readonly state: LineState
}

/** What stands in the way of doing anything with lines that are to be bought: they do not wait to be bought (any more). */
export const whyNotWaiting = (...lines: readonly PoolState[]): Reason[] =>
  lines
    .filter(line => line.state !== 'toBuy')
    .map(line => stop('order.lineNotToBuy', { line: plainWords(line), state: line.state }))

/** What stands in the way of buying, splitting or returning a line by hand: an event asks suppliers about it. */
export const whyNotInEvent = (
  ...lines: readonly { readonly kind: LineKind; readonly description: string; readonly event: string }[]
): Reason[] =>
  lines
    .filter(line => line.event !== '')
    .map(line => stop('pool.inEvent', { line: plainWords(line), number: line.event }, { clearedBy: ['sourcingLead'] }))

/** What stands in the way of a way of buying: requests that do not allow it. */
export const whyNotRoute = (
  route: string,
  ...lines: readonly { readonly kind: LineKind; readonly description: string; readonly routes: readonly string[] }[]
): Reason[] =>
  lines
    .filter(line => !line.routes.includes(route))
    .map(line =>
      stop(
        'pool.routeForbids',
        { line: plainWords(line), route, routes: line.routes.join(', ') },
        { clearedBy: ['requester'] },
      ),
    )

/** What stands in the way of buying a part of a line by another offer: it has to be in the unit of the line. */
export const whyNotOffer = (line: { readonly unit: string }, offer: { readonly unit: string }): Reason[] =>
  offer.unit === line.unit ? [] : [stop('units.noConversion', { from: line.unit, to: offer.unit })]
