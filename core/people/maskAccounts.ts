import { isValidIBAN } from 'ibantools'

/** Something that may be an account number (ISO 13616): country, check digits, and groups of letters and digits with or without blanks. */
const LIKE_IBAN = /\b[A-Z]{2}\d{2}(?: ?[A-Z0-9]{4}){2,7}(?: ?[A-Z0-9]{1,3})?\b/g
const SHOWN = 4

/**
 * A text in which account numbers keep their last four signs only. What merely looks like one, its check digits being wrong, stays.
 *
 * maskAccounts('to NL91ABNA0417164300') //=> 'to … 4300'
 */
export const maskAccounts = (text: string): string =>
  text.length < 15
    ? text
    : text.replace(LIKE_IBAN, found => {
        const bare = found.replaceAll(' ', '')
        return isValidIBAN(bare) ? `… ${bare.slice(-SHOWN)}` : found
      })

/** The same for everything in a value, however deep; what has no account in it is handed back as it was. */
export function withoutAccounts<T>(value: T): T {
  if (typeof value === 'string') return maskAccounts(value) as T
  if (value === null || typeof value !== 'object') return value
  // most answers hold no account at all: only what changes is copied
  const known = value as Record<string, unknown>
  const masked = Object.keys(known).flatMap(name => {
    const one = withoutAccounts(known[name])
    return one === known[name] ? [] : [[name, one] as const]
  })
  if (masked.length === 0) return value
  return Object.assign(
    (Array.isArray(value) ? [...(value as unknown[])] : { ...value }) as object,
    Object.fromEntries(masked),
  ) as T
}

/** Rights that need whole account numbers: those who pay, and those who prove accounts. */
const SEES_ACCOUNTS = ['payment.propose', 'payment.approve', 'supplier.prove'] as const

/** Whether somebody sees whole account numbers of others. A supplier's people see their own company's, and nobody else's reaches them. */
export const seesAccounts = (actor: { readonly realm: string; readonly rights: ReadonlySet<string> }): boolean =>
  actor.realm === 'supplier' || SEES_ACCOUNTS.some(right => actor.rights.has(right))
