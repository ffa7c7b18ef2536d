import type { Message } from '#core/acts/decision.ts'

/** Something that is said because of an order. */
export interface OrderMessage {
  readonly orderId: string
  readonly message: Message
}

/**
 * Revisions of many orders that go out at once: a supplier with several gets one mail about all of them, with every document; one with a single one
 * gets what it always gets. Other messages stay as they are. `key`: of what was done, once and for all.
 */
export function togetherMails(said: readonly OrderMessage[], key: string): OrderMessage[] {
  const own = new Map<string, OrderMessage[]>()
  const others: OrderMessage[] = []
  for (const one of said) {
    const { template, to } = one.message
    if (template === 'order.revised' && to.kind === 'supplier') own.set(to.id, [...(own.get(to.id) ?? []), one])
    else others.push(one)
  }
  return [...others, ...[...own.values()].map(some => (some.length === 1 ? some[0]! : together(some, key)))]
}

function together(some: readonly OrderMessage[], key: string): OrderMessage {
  const { orderId, message } = some[0]!
  const addressee = message.to.kind === 'supplier' ? message.to.id : ''
  return {
    orderId,
    message: {
      template: 'order.revisedTogether',
      to: message.to,
      key: `${key}:${addressee}`,
      details: {
        count: some.length,
        numbers: some.map(one => `${one.message.details.number} revision ${one.message.details.revision}`).join(', '),
        reason: message.details.reason ?? '',
        by: message.details.by ?? '',
        path: '/supplier',
      },
      attach: some.flatMap(one => one.message.attach ?? []),
    },
  }
}
