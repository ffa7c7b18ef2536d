import type { GlanceJson, GlancePart, GlanceStage } from '#contract/glances/endpoints.ts'
import { ReadGlance } from '#contract/glances/endpoints.ts'
import type { Sentence } from '#contract/fields.ts'
import type { Bar } from '#core/glances/series.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import type { Read } from '#server/call.ts'
import { reads, type Route } from '#server/http/route.ts'

/** What a stage shows at a glance; nothing where the reader has no part in it. */
export type Glance = (call: Read) => Promise<Omit<GlanceJson, 'currency'>>
type Rows = Extract<GlancePart, { kind: 'rows' }>
type Row = Rows['rows'][number]
type Tone = Row['tone']

export const says = (
  code: string,
  details: Sentence['details'],
  to: string | null = null,
  tone: Tone = 'plain',
): GlanceJson['says'][number] => ({ sentence: { code, details }, to, tone })

/** A row of a part; what it does not say stays empty. */
export const row = (title: string, to: string, more: Partial<Omit<Row, 'title' | 'to'>> = {}): Row => ({
  title,
  to,
  says: null,
  count: null,
  amount: null,
  tone: 'plain',
  ...more,
})
export const rowsPart = (
  key: string,
  rows: readonly Row[],
  more: string | null = null,
  together: Rows['together'] = null,
): Rows => ({ kind: 'rows', key, rows: [...rows], more, together })

/** Bars of a series, each opening the list that `to` leads to. */
export const barsPart = (
  call: Read,
  key: string,
  bars: readonly Bar[],
  to: (bar: Bar) => string,
): Extract<GlancePart, { kind: 'bars' }> => ({
  kind: 'bars',
  key,
  bars: bars.map(bar => ({
    key: bar.key,
    amount: inBase(call, bar.amount),
    part: inBase(call, bar.part),
    tone: bar.key === 'late' || bar.key === 'longer' ? 'stop' : 'plain',
    to: to(bar),
  })),
})

export const inBase = (call: Read, amount: bigint): string => formatAmount(minor(amount), call.base)
/** A path with a query, its values written as addresses write them. */
export const listAt = (path: string, query: Readonly<Record<string, string>>): string =>
  `${path}?${new URLSearchParams(query).toString()}`
/** A value inside a condition (core/lists/conditions.ts). */
export const valued = (text: string): string => encodeURIComponent(text)

export const glanceRoutes = (glances: Readonly<Record<GlanceStage, Glance>>): Route[] => [
  reads(ReadGlance, async (call, { params }) => ({ ...(await glances[params.stage](call)), currency: call.base })),
]
