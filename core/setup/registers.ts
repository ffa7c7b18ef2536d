import { isDay } from '#core/calendar/days.ts'
import { NUMBERED_KINDS } from '#core/documents/kinds.ts'
import { kindsWithPrefix } from '#core/documents/numbers.ts'
import { currencies } from '#core/money/currency.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { isCode } from '#core/people/setupImport.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { readHours } from '#core/setup/hours.ts'
import { TOLERANCES, whyNotTolerance } from '#core/bill/toleranceEntry.ts'
import { checkIban, normalIdentifier } from '#core/source/identifiers.ts'
import { table } from '#core/text/table.ts'
import { UNIT_CODES } from '#core/units/units.ts'

/** What a field of a register holds. `entry` names an entry of another register by its code. */
export type FieldType =
  | 'code'
  | 'words'
  | 'country'
  | 'zone'
  | 'day'
  | 'percent'
  | 'hours'
  | 'restDays'
  | 'iban'
  | 'bic'
  | 'currency'
  | 'prefix'
  | 'text'
  | 'digits'
  | 'number'
  | 'decimal'
  | 'choice'
  | 'entry'

export interface Field {
  readonly key: string
  readonly type: FieldType
  readonly optional?: true
  /** The register whose entries it names. */
  readonly of?: RegisterKey
  readonly options?: readonly string[]
  /** What people call its options. */
  readonly words?: 'kind' | 'tax category' | 'unit' | 'tolerance' | 'limits'
}

export interface Register {
  readonly fields: readonly Field[]
  /** The fields that tell one entry from another. */
  readonly by: readonly string[]
  /** Fields that no two entries have alike. */
  readonly distinct?: readonly string[]
}

export const REGISTER_KEYS = [
  'sites',
  'docks',
  'calendars',
  'holidays',
  'taxRates',
  'ownAccounts',
  'numberRanges',
  'units',
  'mailTexts',
  'countryCosts',
  'tagRanges',
  'tolerances',
] as const
export type RegisterKey = (typeof REGISTER_KEYS)[number]

/** VAT categories: UNCL 5305, as EN 16931-1 uses it (BT-118, BT-151). */
export const TAX_CATEGORIES = ['S', 'Z', 'E', 'AE', 'K', 'G', 'O'] as const
/** The calendar of the house: days by which deliveries and decisions are counted where nothing else is said. */
export const HOUSE_CALENDAR = 'HOUSE'

/** What a house keeps about itself, entry by entry. Every register is entered, changed, closed, imported and exported in the same way. */
export const REGISTERS: Readonly<Record<RegisterKey, Register>> = {
  sites: {
    by: ['code'],
    fields: [
      { key: 'code', type: 'code' },
      { key: 'name', type: 'words' },
      { key: 'country', type: 'country' },
      { key: 'zone', type: 'zone' },
      { key: 'calendar', type: 'entry', of: 'calendars' },
    ],
  },
  docks: {
    by: ['code'],
    fields: [
      { key: 'code', type: 'code' },
      { key: 'name', type: 'words' },
      { key: 'site', type: 'entry', of: 'sites' },
      { key: 'hours', type: 'hours' },
    ],
  },
  calendars: {
    by: ['code'],
    fields: [
      { key: 'code', type: 'code' },
      { key: 'name', type: 'words' },
      { key: 'restDays', type: 'restDays', optional: true },
    ],
  },
  holidays: {
    by: ['calendar', 'day'],
    fields: [
      { key: 'calendar', type: 'entry', of: 'calendars' },
      { key: 'day', type: 'day' },
      { key: 'name', type: 'words' },
    ],
  },
  taxRates: {
    by: ['country', 'category', 'percent', 'from'],
    fields: [
      { key: 'country', type: 'country' },
      { key: 'category', type: 'choice', options: TAX_CATEGORIES, words: 'tax category' },
      { key: 'percent', type: 'percent' },
      { key: 'from', type: 'day' },
      { key: 'name', type: 'words' },
    ],
  },
  ownAccounts: {
    by: ['code'],
    fields: [
      { key: 'code', type: 'code' },
      { key: 'name', type: 'words' },
      { key: 'iban', type: 'iban' },
      { key: 'bic', type: 'bic', optional: true },
      { key: 'currency', type: 'currency' },
    ],
  },
  /** The units that are offered where one is chosen; what was written in another stays as it is. */
  units: {
    by: ['code'],
    fields: [{ key: 'code', type: 'choice', options: UNIT_CODES, words: 'unit' }],
  },
  /** A house's own words for mails; which there are, and what they can name, is the contract's. */
  mailTexts: {
    by: ['template', 'language'],
    fields: [
      { key: 'template', type: 'words' },
      { key: 'language', type: 'words' },
      { key: 'subject', type: 'words' },
      { key: 'text', type: 'text' },
    ],
  },
  /** What goods from a country cost beside their price where the supplier does not bear it: of all categories, or of one. */
  countryCosts: {
    by: ['country', 'category'],
    fields: [
      { key: 'country', type: 'country' },
      { key: 'category', type: 'words', optional: true },
      { key: 'freight', type: 'percent' },
      { key: 'duty', type: 'percent' },
    ],
  },
  /** How far invoices may differ: for all, or for a supplier, category, currency or value; each from a day on. */
  tolerances: {
    by: ['of', 'supplier', 'category', 'currency', 'above', 'from'],
    fields: [
      { key: 'of', type: 'choice', options: TOLERANCES, words: 'tolerance' },
      { key: 'supplier', type: 'words', optional: true },
      { key: 'category', type: 'words', optional: true },
      { key: 'currency', type: 'currency', optional: true },
      { key: 'above', type: 'number', optional: true },
      { key: 'percent', type: 'percent', optional: true },
      { key: 'absolute', type: 'decimal', optional: true },
      { key: 'combine', type: 'choice', options: ['stricter', 'looser'], words: 'limits', optional: true },
      { key: 'ways', type: 'choice', options: ['up', 'both'], words: 'limits', optional: true },
      { key: 'from', type: 'day' },
    ],
  },
  tagRanges: {
    by: ['code'],
    distinct: ['prefix'],
    fields: [
      { key: 'code', type: 'code' },
      { key: 'name', type: 'words' },
      { key: 'prefix', type: 'prefix' },
      { key: 'digits', type: 'digits' },
      { key: 'first', type: 'number' },
      { key: 'last', type: 'number' },
    ],
  },
  numberRanges: {
    by: ['kind'],
    distinct: ['prefix'],
    fields: [
      { key: 'kind', type: 'choice', options: NUMBERED_KINDS, words: 'kind' },
      { key: 'prefix', type: 'prefix' },
      { key: 'digits', type: 'digits', optional: true },
    ],
  },
}

export type Values = Readonly<Record<string, string>>
/** An entry as it is kept. */
export interface Entry {
  readonly values: Values
  readonly open: boolean
}
/** Codes of the open entries of each register, to which others may point. */
export type KnownCodes = ReadonlyMap<RegisterKey, ReadonlySet<string>>

/** Weekdays as iCalendar writes them (RFC 5545, 3.3.10), Sunday first: their place is the number of the day. */
export const WEEKDAYS = ['SU', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA'] as const

const isZone = (text: string): boolean => {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: text }).resolvedOptions().timeZone !== ''
  } catch {
    return false
  }
}
const isPercent = (text: string): boolean =>
  isDecimalText(text) &&
  new Decimal(text).gte(0) &&
  new Decimal(text).lte(100) &&
  new Decimal(text).decimalPlaces() <= 2

const FITS: Readonly<Record<Exclude<FieldType, 'choice' | 'entry'>, (text: string) => boolean>> = table({
  code: isCode,
  words: text => text.length <= 120,
  text: text => text.length <= 4000,
  country: text => /^[A-Z]{2}$/.test(text),
  zone: isZone,
  day: isDay,
  percent: isPercent,
  hours: text => readHours(text) !== undefined,
  iban: text => checkIban(text).length === 0,
  // ISO 9362
  bic: text => /^[A-Z]{6}[A-Z0-9]{2}([A-Z0-9]{3})?$/.test(text),
  currency: text => (currencies as readonly string[]).includes(text),
  prefix: text => /^[A-Z][A-Z0-9]{0,6}-?$/.test(text),
  digits: text => /^[0-9]$/.test(text),
  number: text => /^[0-9]{1,12}$/.test(text),
  decimal: text => /^[0-9]{1,12}(\.[0-9]{1,6})?$/.test(text),
  restDays: text => text.split(' ').every(day => (WEEKDAYS as readonly string[]).includes(day)),
})

/**
 * What somebody entered, field by field, in the form in which it is kept; or what is wrong, each with its field as the place. Codes, countries
 * and weekdays are written in capitals. What an entry points to already may stay, also when it was closed meanwhile.
 *
 * readEntry('holidays', { calendar: 'house', day: '2026-12-25', name: 'Christmas' }, known)
 *   //=> { values: { calendar: 'HOUSE', day: '2026-12-25', name: 'Christmas' }, reasons: [] }
 */
export function readEntry(
  register: RegisterKey,
  row: Values,
  known: KnownCodes,
  before?: Values,
): { values: Values; reasons: Reason[] } {
  const reasons: Reason[] = []
  const values: Record<string, string> = {}
  for (const field of REGISTERS[register].fields) {
    const text = written(field, row[field.key] ?? '')
    values[field.key] = text
    const stays = field.type === 'entry' && text !== '' && text === before?.[field.key]
    const reason = stays ? undefined : whyNotField(field, text, known)
    if (reason) reasons.push(reason)
  }
  if (register === 'numberRanges') reasons.push(...whyNotPrefix(values))
  if (register === 'tolerances') reasons.push(...whyNotTolerance(values))
  return { values, reasons }
}

const CAPITALS: readonly FieldType[] = ['code', 'country', 'entry', 'restDays', 'bic', 'currency', 'prefix']
const written = ({ type }: Field, text: string): string => {
  if (type === 'text') return text.replace(/\r\n?/g, '\n').trim()
  const tidy = text.trim().replace(/\s+/g, ' ')
  if (type === 'iban') return normalIdentifier(tidy)
  return CAPITALS.includes(type)
    ? tidy.toUpperCase()
    : type === 'percent' || type === 'decimal'
      ? tidy.replace(',', '.')
      : tidy
}

/** Plain numbers of another kind begin with a prefix: two kinds would look alike. */
const whyNotPrefix = ({ kind = '', prefix = '' }: Values): Reason[] =>
  kindsWithPrefix(prefix).some(other => other !== kind)
    ? [stop('register.there', { code: prefix }, { place: 'prefix' })]
    : []

function whyNotField(field: Field, text: string, known: KnownCodes): Reason | undefined {
  const fault = (code: string): Reason =>
    stop(code, { column: field.key, value: text.slice(0, 60) }, { place: field.key })
  if (text === '') return field.optional ? undefined : fault('register.missing')
  if (field.type === 'entry') return known.get(field.of!)?.has(text) ? undefined : fault('register.noSuch')
  if (field.type === 'choice') return field.options!.includes(text) ? undefined : fault('register.choice')
  return FITS[field.type](text) ? undefined : fault(`register.${field.type}`)
}

/** What tells an entry from the others of its register. identityOf('holidays', { calendar: 'HOUSE', day: '2026-12-25' }) //=> 'HOUSE 2026-12-25' */
export const identityOf = (register: RegisterKey, values: Values): string =>
  REGISTERS[register].by.map(key => values[key] ?? '').join(' ')

/** Fields by which other registers point to this one. pointersTo('calendars') //=> [['sites', 'calendar'], ['holidays', 'calendar']] */
export const pointersTo = (register: RegisterKey): [RegisterKey, string][] =>
  REGISTER_KEYS.flatMap(other =>
    REGISTERS[other].fields.flatMap((field): [RegisterKey, string][] =>
      field.of === register ? [[other, field.key]] : [],
    ),
  )

/** What stands against dropping an entry: something points to it, or the work rests on it. Such an entry is closed instead. */
export function whyNotDrop(register: RegisterKey, values: Values, pointed: number): Reason[] {
  if (register === 'calendars' && values.code === HOUSE_CALENDAR) return [stop('register.house')]
  return pointed > 0 ? [stop('register.used', { count: pointed })] : []
}

/** What stands against another identity of an entry that others point to. */
export const whyNotRename = (before: string, after: string, pointed: number): Reason[] =>
  before !== after && pointed > 0 ? [stop('register.used', { count: pointed }, { place: 'code' })] : []
