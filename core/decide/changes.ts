import { canonicalJson } from '#core/ledger/canonical.ts'
import type { EditField } from '#core/consent/settings.ts'

/** A line as those who decide have it in front of them. */
export interface SeenLine {
  readonly id: string
  readonly description: string
  /** In the base currency's smallest unit, as text. */
  readonly baseAmount: string
  /** It was refused, or is not wanted any more. */
  readonly gone: boolean
  readonly splits: readonly { readonly accountId: string; readonly share: string }[]
  /** Everything else that was asked for, by its name. */
  readonly [key: string]: unknown
}

/** What somebody who decides a request has in front of them. */
export interface SeenContent {
  readonly title: string
  readonly reason: string
  /** In the base currency's smallest unit, as text. */
  readonly total: string
  readonly lines: readonly SeenLine[]
}

/** What is compared of a line, and what a change of it means. What follows from something else (amounts) is not compared by itself. */
export const COMPARED = {
  description: 'words',
  routeReason: 'words',
  kind: 'thing',
  itemId: 'thing',
  category: 'thing',
  unit: 'thing',
  details: 'thing',
  routes: 'thing',
  proof: 'thing',
  quantity: 'amount',
  price: 'amount',
  priceBase: 'amount',
  currency: 'amount',
  needBy: 'needBy',
  addressId: 'place',
  incoterm: 'place',
  incotermPlace: 'place',
  freight: 'place',
  offerId: 'supplier',
  supplierId: 'supplier',
  splits: 'account',
  splitBy: 'account',
} as const satisfies Readonly<Record<string, EditField>>
export type ComparedKey = keyof typeof COMPARED
const KEYS = Object.keys(COMPARED) as ComparedKey[]

/** One thing that is otherwise now. `line`: the whole line came or went; `title`, `reason`: of the request itself. */
export interface Change {
  readonly lineId: string | null
  /** How the line reads, for those who look at the change later. */
  readonly line: string
  readonly key: ComparedKey | 'line' | 'title' | 'reason'
  readonly field: EditField
  /** As it was and as it is, as text; null: it was not there, or is not any more. */
  readonly before: string | null
  readonly after: string | null
}

const text = (value: unknown): string | null =>
  value === null || value === undefined ? null : typeof value === 'string' ? value : canonicalJson(value)
/** Accounts by what each pays; in which order they were given means nothing. */
const comparable = (line: SeenLine, key: ComparedKey): unknown =>
  key === 'splits'
    ? [...line.splits]
        .map(({ accountId, share }) => ({ accountId, share }))
        .sort((a, b) => (a.accountId < b.accountId ? -1 : 1))
    : line[key]

/**
 * What is otherwise in the later of two contents, line by line in the order of the later one. The same content gives nothing.
 *
 * changesBetween(one, { ...one, title: 'Salt' }) //=> [{ key: 'title', field: 'words', before: 'Sand', after: 'Salt', … }]
 */
export function changesBetween(before: SeenContent, after: SeenContent): Change[] {
  const was = new Map(before.lines.filter(line => !line.gone).map(line => [line.id, line]))
  const is = new Map(after.lines.filter(line => !line.gone).map(line => [line.id, line]))
  const head = (['title', 'reason'] as const)
    .filter(key => before[key] !== after[key])
    .map((key): Change => ({ lineId: null, line: '', key, field: 'words', before: before[key], after: after[key] }))
  const whole = (line: SeenLine, came: boolean): Change => ({
    lineId: line.id,
    line: line.description,
    key: 'line',
    field: came ? 'thing' : 'amount',
    before: came ? null : line.description,
    after: came ? line.description : null,
  })
  return [
    ...head,
    ...[...is.values()].flatMap(line => {
      const old = was.get(line.id)
      return old ? lineChanges(old, line) : [whole(line, true)]
    }),
    ...[...was.values()].filter(line => !is.has(line.id)).map(line => whole(line, false)),
  ]
}

const lineChanges = (before: SeenLine, after: SeenLine): Change[] =>
  KEYS.flatMap((key): Change[] => {
    const [was, is] = [text(comparable(before, key)), text(comparable(after, key))]
    return was === is
      ? []
      : [{ lineId: after.id, line: after.description, key, field: COMPARED[key], before: was, after: is }]
  })
