/** An account of ours from which payments leave. A bank identifier is only needed outside the single payments area. */
export interface OwnAccount {
  readonly name: string
  readonly iban: string
  readonly bic: string
  /** ISO 4217. */
  readonly currency: string
}

/**
 * The account from which money in a currency leaves: ours in that currency, else ours in the house's own, which the bank converts from; of
 * several the first as they are given.
 *
 * accountFor([{ …, currency: 'EUR' }, { …, currency: 'USD' }], 'USD', 'EUR')?.currency //=> 'USD'
 */
export const accountFor = <Account extends OwnAccount>(
  accounts: readonly Account[],
  currency: string,
  base: string,
): Account | undefined => accounts.find(one => one.currency === currency) ?? accounts.find(one => one.currency === base)

/** Whether each of these currencies has an account from which it can be paid. */
export const canPayIn = (accounts: readonly OwnAccount[], currencies: Iterable<string>, base: string): boolean =>
  [...currencies].every(currency => accountFor(accounts, currency, base) !== undefined)
