import { countriesOf } from '#core/source/legalForms.ts'
import { nameLikeness, wordWeight } from '#core/source/likeness.ts'
import { normalName, type NormalName, plainLetters } from '#core/source/names.ts'
import { type IdentifierScheme, STRONG_SCHEMES } from '#core/source/schemes.ts'

/** What is known of a supplier, as far as it helps to tell whether two records are one. Empty texts and lists say nothing. */
export interface Party {
  /** The registered name first, then the names it trades under. */
  readonly names: readonly string[]
  readonly country: string
  readonly postalCode: string
  readonly city: string
  readonly street: string
  readonly identifiers: readonly { readonly scheme: IdentifierScheme; readonly value: string }[]
  readonly ibans: readonly string[]
  readonly domains: readonly string[]
}

/** One fact that speaks for or against, with its weight in bits (positive: for). */
export interface MatchReason {
  readonly code: string
  readonly bits: number
  readonly details: Readonly<Record<string, string>>
}

export interface Match {
  /** 1 … 99: how sure it is that both are the same; 100 only by a shared strong identifier together with the name. */
  readonly percent: number
  readonly reasons: readonly MatchReason[]
  /** Strong identifiers (VAT, LEI, GLN, IBAN) that both have. */
  readonly shared: readonly { readonly scheme: string; readonly value: string }[]
}

/**
 * Weights in bits, log2(m/u) after Fellegi and Sunter, "A Theory for Record Linkage" (1969): m is how often a fact agrees among records of
 * one supplier, u among those of two. They were set from plausible shares (a postcode agrees in 7 of 10 duplicates and in 1 of 40
 * shortlisted strangers: about 5 bits) and are held by the labelled pairs of the tests.
 */
export const WEIGHTS = {
  prior: -5 as number,
  sameName: 10,
  country: { same: 1, other: -7 },
  form: { same: 0.5, other: -1.5, otherCountry: -3 },
  postalCode: { same: 5, other: -1.5 },
  city: { same: 2.5, other: -2 },
  street: { same: 2.5, other: -1 },
  vat: { same: 14, other: -8 },
  registration: { same: 12, other: -7 },
  lei: { same: 14, other: -9 },
  gln: { same: 13, other: -1.5 },
  other: { same: 4, other: 0 },
  iban: { same: 12, other: -0.5 },
  domain: { same: 7, other: -2.5 },
} as const

/** Likeness of names to bits: points of a line, joined straight. Below 0.55 names speak against. */
const NAME_LINE: readonly (readonly [likeness: number, share: number])[] = [[0, -1], [0.5, -0.8], [0.65, -0.35], [0.75, 0], [0.85, 0.4], [0.93, 0.65], [0.96, 0.85], [1, 1]] // prettier-ignore

/** Mail providers whose domain says nothing about the firm. */
const EVERYBODYS =
  /^(gmail|googlemail|outlook|hotmail|live|yahoo|icloud|gmx|web|mail|proton|protonmail|posteo|zoho|aol)\.[a-z.]+$/

/** domainOf('https://www.Krillfisk.example/om') //=> 'krillfisk.example'; also takes a mail address. Empty for providers that anybody uses. */
export function domainOf(text: string): string {
  const host = (text.trim().toLowerCase().split('@').at(-1) ?? '')
    .replace(/^[a-z]+:\/\//, '')
    .replace(/^www\d?\./, '')
    .split(/[/?#:]/)[0]!
  return /^[\p{L}\d-]+(\.[\p{L}\d-]+)+$/u.test(host) && !EVERYBODYS.test(host) ? host : ''
}

/** A party made ready once, so that a thousand candidates can be compared with it quickly. */
export interface ReadyParty extends Party {
  readonly normal: readonly NormalName[]
}
export const ready = (party: Party): ReadyParty => ({ ...party, normal: party.names.map(normalName) })

/**
 * How likely it is that two parties are one, with the reasons for and against, the weightiest first.
 *
 * The bits of all facts that both have are added to the prior and turned into per cent: 100 / (1 + 2^−bits), rounded to whole per cent.
 * Facts that one side lacks count nothing.
 *
 * Example: match(ready(a), ready(b)).percent //=> 97
 */
export function match(a: ReadyParty, b: ReadyParty): Match {
  const reasons = [
    ...nameReasons(a, b),
    ...placeReasons(a, b),
    ...identifierReasons(a, b),
    ...setReasons('iban', a.ibans, b.ibans),
    ...setReasons('domain', a.domains, b.domains),
  ]
  const bits = reasons.reduce((sum, reason) => sum + reason.bits, WEIGHTS.prior)
  const shared = [
    ...a.identifiers.filter(
      one =>
        STRONG_SCHEMES.has(one.scheme) &&
        b.identifiers.some(other => other.scheme === one.scheme && other.value === one.value),
    ),
    ...a.ibans.filter(one => b.ibans.includes(one)).map(value => ({ scheme: 'iban', value })),
  ]
  const certain = shared.length > 0 && reasons.some(reason => reason.code.startsWith('name.') && reason.bits > 5)
  const percent = certain ? 100 : Math.min(99, Math.max(1, Math.round(100 / (1 + 2 ** -bits))))
  return {
    percent,
    shared,
    reasons: reasons.filter(reason => reason.bits !== 0).sort((x, y) => Math.abs(y.bits) - Math.abs(x.bits)),
  }
}

/** From this percentage on two records are shown as probably one. */
export const PROBABLY = 60

function nameReasons(a: ReadyParty, b: ReadyParty): MatchReason[] {
  let best: { likeness: number; x: NormalName; y: NormalName; i: number; j: number } | undefined
  for (const [i, x] of a.normal.entries())
    for (const [j, y] of b.normal.entries()) {
      const likeness = nameLikeness(x, y)
      if (!best || likeness > best.likeness) best = { likeness, x, y, i, j }
    }
  if (!best || best.x.joined === '' || best.y.joined === '') return []
  const telling = Math.min(
    1,
    Math.max(...[best.x, best.y].map(name => name.words.reduce((sum, word) => sum + wordWeight(word), 0))),
  )
  const share = onLine(best.likeness)
  const bits = WEIGHTS.sameName * share * (share > 0 ? telling : 1)
  const form = formReason(best.x, best.y, a, b)
  const trade = best.i > 0 || best.j > 0
  const code =
    best.likeness > 0.999
      ? trade
        ? 'name.sameTrade'
        : form?.code === 'form.other'
          ? 'name.sameButForm'
          : 'name.same'
      : best.likeness >= 0.75
        ? 'name.alike'
        : 'name.other'
  const details = { name: b.names[best.j] ?? '', likeness: String(Math.round(best.likeness * 100)) }
  return [{ code, bits, details }, ...(form ? [form] : [])]
}

function formReason(x: NormalName, y: NormalName, a: Party, b: Party): MatchReason | undefined {
  if (x.form === '' || y.form === '') return undefined
  const details = { mine: x.form.toUpperCase(), other: y.form.toUpperCase() }
  if (x.form === y.form) return { code: 'form.same', bits: WEIGHTS.form.same, details }
  const ours = countriesOf(x.form)
  const apart =
    (a.country === '' || b.country === '') &&
    ours.length > 0 &&
    countriesOf(y.form).length > 0 &&
    !ours.some(country => countriesOf(y.form).includes(country))
  return { code: 'form.other', bits: apart ? WEIGHTS.form.otherCountry : WEIGHTS.form.other, details }
}

function onLine(likeness: number): number {
  for (let index = 1; index < NAME_LINE.length; index++) {
    const [x0, y0] = NAME_LINE[index - 1]!
    const [x1, y1] = NAME_LINE[index]!
    if (likeness <= x1) return y0 + ((likeness - x0) / (x1 - x0)) * (y1 - y0)
  }
  return 1
}

const plainPostcode = (text: string): string => text.toUpperCase().replace(/[^A-Z\d]/g, '')
const plainPlace = (text: string): string => normalName(text).joined
const plainStreet = (text: string): string =>
  plainLetters(text)
    .replace(
      /stra(ss|ß)e|str\b\.?|straat|street|road|\brd\b|vegen|veien|gatan|gata|vej\b|rue|via|calle|rua|lane|\bln\b/g,
      '',
    )
    .replace(/[^a-z\d]/g, '')

function placeReasons(a: Party, b: Party): MatchReason[] {
  const reasons: MatchReason[] = []
  const add = (field: 'country' | 'postalCode' | 'city' | 'street', same: boolean): void => {
    reasons.push({
      code: `${field}.${same ? 'same' : 'other'}`,
      bits: WEIGHTS[field][same ? 'same' : 'other'],
      details: { mine: a[field], other: b[field] },
    })
  }
  const sameCountry = a.country === '' || b.country === '' || a.country === b.country
  if (a.country && b.country) add('country', sameCountry)
  if (!sameCountry) return reasons
  const postcode =
    a.postalCode && b.postalCode ? plainPostcode(a.postalCode) === plainPostcode(b.postalCode) : undefined
  if (postcode !== undefined) add('postalCode', postcode)
  if (a.city && b.city && postcode !== true) {
    const [mine, other] = [normalName(a.city), normalName(b.city)]
    const same = plainPlace(a.city) === plainPlace(b.city) || nameLikeness(mine, other) >= 0.9
    if (!(postcode === false && !same)) add('city', same)
  }
  if (a.street && b.street) {
    const same = plainStreet(a.street) === plainStreet(b.street)
    if (same || postcode !== false) add('street', same)
  }
  return reasons
}

function identifierReasons(a: Party, b: Party): MatchReason[] {
  return (['vat', 'registration', 'lei', 'gln', 'other'] as const).flatMap(scheme => {
    const mine = a.identifiers.filter(one => one.scheme === scheme).map(one => one.value)
    const other = b.identifiers.filter(one => one.scheme === scheme).map(one => one.value)
    return setReasons(scheme, mine, other)
  })
}

function setReasons(
  field: 'iban' | 'domain' | 'vat' | 'registration' | 'lei' | 'gln' | 'other',
  mine: readonly string[],
  other: readonly string[],
): MatchReason[] {
  if (mine.length === 0 || other.length === 0) return []
  const common = mine.find(one => other.includes(one))
  const details = { mine: common ?? mine[0]!, other: common ?? other[0]! }
  return [{ code: `${field}.${common ? 'same' : 'other'}`, bits: WEIGHTS[field][common ? 'same' : 'other'], details }]
}
