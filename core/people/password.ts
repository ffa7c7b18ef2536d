import { type Reason, stop } from '#core/reasons.ts'

/** Fewest and most letters of a password (NIST SP 800-63B, 5.1.1.2: length, not mixtures; OWASP ASVS 4.0.3, V2.1.1 and V2.1.2). */
export const PASSWORD_LETTERS = { least: 12, most: 128 } as const

/** Whom a password belongs to: their own name and address are the first that somebody tries. */
export interface PasswordOwner {
  readonly name: string
  readonly email: string
}

const plain = (text: string): string =>
  text
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[\s._@-]+/g, '')

/**
 * What stands against a password: too short or too long, blanks only, one letter again and again, one that many people use, or the owner's own
 * name or address. Nothing is asked about capitals, digits or signs.
 *
 * whyNotPassword('krill', { name: 'Ines', email: 'ines@a.example' }, new Set()) //=> [password.short]
 */
export function whyNotPassword(password: string, owner: PasswordOwner, common: ReadonlySet<string>): Reason[] {
  const letters = [...password.normalize('NFC')].length
  const refuse = (code: string, details = {}): Reason[] => [stop(code, details, { place: 'password' })]
  if (password.trim() === '') return refuse('password.blank')
  if (letters < PASSWORD_LETTERS.least) return refuse('password.short', { least: PASSWORD_LETTERS.least })
  if (letters > PASSWORD_LETTERS.most) return refuse('password.long', { most: PASSWORD_LETTERS.most })
  const bare = plain(password)
  if (new Set(bare).size < 4) return refuse('password.common')
  if (common.has(bare) || common.has(password.toLowerCase())) return refuse('password.common')
  const own = [plain(owner.email), plain(owner.email.split('@')[0] ?? ''), plain(owner.name)].filter(
    one => one.length > 3,
  )
  const left = own.reduce((rest, one) => rest.replaceAll(one, ''), bare)
  if (left.length < bare.length && left.replace(/\d/g, '').length < 4) return refuse('password.own')
  return []
}
