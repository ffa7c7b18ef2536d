import { type DeskEntry, forRight } from '#core/desk/entry.ts'

/** A bank's message of which something stays open. */
export interface BankWaits {
  readonly id: string
  readonly kind: string
  readonly messageId: string
  readonly takenAt: string
  /** Items that nobody has looked at; the message itself where it could not be read. */
  readonly open: number
}

/** What could not be assigned waits for whoever pays. */
export const bankDesk = (message: BankWaits): DeskEntry[] =>
  message.open === 0
    ? []
    : [
        {
          key: 'bankMessage',
          stage: 'pay',
          act: 'see',
          tone: 'attention',
          audiences: [forRight('payment.propose')],
          notFor: [],
          from: null,
          amount: null,
          currency: null,
          since: message.takenAt,
          needBy: null,
          path: `/pay/bank-messages/${message.id}`,
          details: { number: message.messageId, title: message.kind, who: '', extra: message.open },
        },
      ]
