/**
 * `reaches` of core/acts/actor.ts for an amount, where SQL has to filter by it: columns or expressions with how far somebody reaches and in
 * which currency, and with the amount and its currency. What is in another currency is beyond a limit.
 */
export const withinLimit = (limit: string, limitCurrency: string, amount: string, currency: string): string =>
  `(${limit} is null or ${amount} is null or (${currency} = ${limitCurrency} and ${amount} <= ${limit}))`
