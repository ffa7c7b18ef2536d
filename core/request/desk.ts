import { type DeskEntry, forPerson, forRight } from '#core/desk/entry.ts'
import { minor } from '#core/money/amount.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'

export interface RequisitionWaits {
  readonly changedAt: string
  readonly decidedAt: string | null
  /** Why it was sent back. */
  readonly returnedWith: string
  /** A question that the requester has not answered: who asks, what, since when. */
  readonly question: { readonly who: string; readonly text: string; readonly at: string } | null
}

/** What waits for somebody because of a request: its requester to go on or answer, purchasing to buy. Decisions are asked as a consent. */
export function requisitionDesk(request: RequisitionFacts & RequisitionWaits): DeskEntry[] {
  const common = {
    stage: 'request' as const,
    amount: request.total,
    currency: request.base,
    needBy: request.needBy,
    notFor: [],
    from: null,
    path: `/request/${request.id}`,
    audiences: [forPerson(request.requesterId)],
    since: request.changedAt,
    details: { number: request.number, title: request.title || request.number },
  }
  const entries: DeskEntry[] = []
  if (request.state === 'draft' && request.lines.length > 0)
    entries.push({ ...common, key: 'draft', act: 'submit', tone: 'plain' })
  if (request.state === 'returned')
    entries.push({
      ...common,
      key: 'returned',
      act: 'mend',
      tone: 'attention',
      details: { ...common.details, extra: request.returnedWith },
    })
  if (request.question !== null)
    entries.push({
      ...common,
      key: 'question',
      act: 'answer',
      tone: 'attention',
      since: request.question.at,
      details: { ...common.details, who: request.question.who, extra: request.question.text },
    })
  const toBuy = request.lines.filter(line => line.state === 'toBuy')
  if (toBuy.length > 0)
    entries.push({
      ...common,
      key: 'toBuy',
      stage: 'order',
      act: 'buy',
      tone: 'plain',
      audiences: [forRight('order.write')],
      amount: minor(toBuy.reduce<bigint>((sum, line) => sum + line.baseAmount, 0n)),
      since: request.decidedAt ?? request.changedAt,
      path: '/order/to-buy',
      details: { ...common.details, who: request.requester, extra: toBuy.length },
    })
  return entries
}
