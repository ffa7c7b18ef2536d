import type { Dice } from '#test-helpers/fuzz/dice.ts'

/** What of a JSON Schema the values are made by. */
export interface Schema {
  readonly type?: string
  readonly format?: string
  readonly enum?: readonly unknown[]
  readonly const?: unknown
  readonly anyOf?: readonly Schema[]
  readonly oneOf?: readonly Schema[]
  readonly allOf?: readonly Schema[]
  readonly items?: Schema
  readonly properties?: Readonly<Record<string, Schema>>
  readonly required?: readonly string[]
  readonly additionalProperties?: Schema | boolean
  readonly minItems?: number
  readonly maxItems?: number
  readonly minimum?: number
  readonly maximum?: number
  readonly pattern?: string
}

/** Values that answers have shown, by the name of their field; ids of what a path names under `path:<segment>`. */
export type Seen = Map<string, string[]>

const DAYS = ['2026-11-27', '2026-12-01', '2027-02-28', '2025-01-01']
const WORDS = ['Kelp', 'north dock', 'EUR', 'NO', '2026', '12 buckets', 'because it broke']
const DECIMALS = ['1', '12.5', '0.000001', '250', '0']

/** Text that has broken programs before: names of prototypes, halves of letters, what no column holds, what no parser likes. */
export const NASTY_TEXT: readonly string[] = [
  '',
  ' ',
  '\u0000',
  'a\u0000b',
  '\ud800',
  '\uffff',
  '\u202e',
  '\u200b',
  '__proto__',
  'constructor',
  'toString',
  'hasOwnProperty',
  "' or 1=1 --",
  '%',
  '\\',
  '%00',
  '../../etc/passwd',
  '=1+1',
  'NaN',
  'Infinity',
  '1e9999',
  '-0',
  '1,'.repeat(2000),
  '9'.repeat(16),
  '999999999999999.999999',
  '9'.repeat(400),
  'x'.repeat(5000),
  'ü'.repeat(3000),
  '👩‍🚀'.repeat(200),
  '2026-02-30',
  '0000-00-00',
  '9999-12-31',
  '-2026-01-01',
  '275760-09-14',
  '00000000-0000-0000-0000-000000000000',
  '<a><b/></a>',
  '{"a":1}',
  'a\r\nb: c',
]

/** What may stand where something else was asked for. */
const NASTY: readonly (() => unknown)[] = [
  () => null,
  () => true,
  () => -1,
  () => 0,
  () => 0.1,
  () => 2147483648,
  () => -2147483649,
  () => Number.MAX_SAFE_INTEGER,
  () => 1e308,
  () => [],
  () => ({}),
  () => JSON.parse('{"__proto__":{"a":1}}') as unknown,
  () => ({ constructor: { prototype: 1 } }),
  () => Array.from({ length: 1000 }, () => 'a'),
  () => nested(60),
]
const nested = (depth: number): unknown => (depth === 0 ? 1 : [nested(depth - 1)])

/** A value that a schema takes, of what has been seen where that helps; `name` is the field that it is for. */
export function fitting(schema: Schema, dice: Dice, seen: Seen, name = ''): unknown {
  if (schema.const !== undefined) return schema.const
  if (schema.enum) return dice.of(schema.enum)
  const choices = schema.anyOf ?? schema.oneOf
  if (choices) return fitting(dice.of(choices), dice, seen, name)
  if (schema.allOf) return fitting(schema.allOf[0]!, dice, seen, name)
  if (schema.type === 'object' || schema.properties) return fittingObject(schema, dice, seen)
  if (schema.type === 'array')
    return Array.from({ length: dice.below(3) + (schema.minItems ?? 0) }, () =>
      fitting(schema.items ?? {}, dice, seen, name.replace(/s$/, '')),
    )
  if (schema.type === 'integer' || schema.type === 'number') return fittingNumber(schema, dice, seen, name)
  if (schema.type === 'boolean') return dice.below(2) === 0
  if (schema.type === 'null') return null
  return fittingText(schema, dice, seen, name)
}

function fittingObject(schema: Schema, dice: Dice, seen: Seen): unknown {
  const required = new Set(schema.required ?? [])
  const entries = Object.entries(schema.properties ?? {})
    .filter(([key]) => required.has(key) || dice.below(2) === 0)
    .map(([key, one]) => [key, fitting(one, dice, seen, key)])
  if (typeof schema.additionalProperties === 'object')
    entries.push([dice.of(WORDS), fitting(schema.additionalProperties, dice, seen)])
  return Object.fromEntries(entries) as unknown
}

function fittingNumber(schema: Schema, dice: Dice, seen: Seen, name: string): number {
  const known = seen.get(name)
  if (known && dice.below(3) > 0) return Number(dice.of(known))
  const least = Math.max(schema.minimum ?? 0, -1000)
  return least + dice.below(Math.min((schema.maximum ?? 12) - least, 1000) + 1)
}

function fittingText(schema: Schema, dice: Dice, seen: Seen, name: string): string {
  const known = seen.get(name)
  if (known && dice.below(4) > 0) return dice.of(known)
  if (schema.format === 'uuid') return dice.of(seen.get('id') ?? ['11111111-1111-4111-8111-111111111111'])
  if (schema.format === 'date') return dice.of(DAYS)
  if (schema.format === 'decimal' || schema.pattern?.includes('\\d{1,15}')) return dice.of(DECIMALS)
  return dice.of(WORDS)
}

/** The same value with one place of it made something that nobody asked for. */
export function spoilt(value: unknown, dice: Dice): unknown {
  if (value === null || typeof value !== 'object' || dice.below(8) === 0) return nasty(dice)
  if (Array.isArray(value)) {
    if (value.length === 0) return [nasty(dice)]
    const at = dice.below(value.length)
    return value.map((one, index) => (index === at ? spoilt(one, dice) : (one as unknown)))
  }
  const names = Object.keys(value)
  if (names.length === 0 || dice.below(12) === 0) return { ...value, [dice.of(NASTY_TEXT)]: nasty(dice) }
  const name = dice.of(names)
  return { ...value, [name]: spoilt((value as Record<string, unknown>)[name], dice) }
}

export const nasty = (dice: Dice): unknown => (dice.below(3) > 0 ? dice.of(NASTY_TEXT) : dice.of(NASTY)())

/** Remembers what an answer shows: ids by the name of their field and by the kind of thing that the path names, versions and numbers. */
export function remember(answer: unknown, seen: Seen, segment: string, depth = 0): void {
  if (answer === null || typeof answer !== 'object' || depth > 8) return
  if (Array.isArray(answer)) return answer.slice(0, 40).forEach(one => remember(one, seen, segment, depth + 1))
  for (const [name, value] of Object.entries(answer)) {
    if (typeof value === 'object') remember(value, seen, segment, depth + 1)
    else if (name === 'id' && typeof value === 'string') keep(seen, [`path:${segment}`, 'id'], value)
    else if (/Id$|^version$|^revision$|^number$|^currency$|^unit$|^country$|^costCentre$|^code$|^role$/.test(name))
      keep(seen, [name], String(value))
  }
}

const MOST_SEEN = 60
function keep(seen: Seen, names: readonly string[], value: string): void {
  for (const name of names) {
    const known = seen.get(name) ?? []
    if (known.includes(value) || known.length >= MOST_SEEN) continue
    seen.set(name, [...known, value])
  }
}
