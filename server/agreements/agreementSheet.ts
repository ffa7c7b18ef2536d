import type { ResponseOf } from '#contract/endpoint.ts'
import type { Sentence } from '#contract/fields.ts'
import type { ReadAgreement } from '#contract/agreements/agreements.ts'
import { agreementActions } from '#core/agreements/actions.ts'
import { ceilingUse, type CeilingUse, consumedOf, fullest, fullLines } from '#core/agreements/ceilings.ts'
import { type Consumed, type ConsumedByKind, NOTHING_CONSUMED, plus } from '#core/agreements/consumption.ts'
import type { AgreementContent } from '#core/agreements/content.ts'
import { contentDifferences } from '#core/agreements/differences.ts'
import { forecastUse } from '#core/agreements/forecast.ts'
import { type IndexValue, indexPriceOn, tiersOn } from '#core/agreements/prices.ts'
import { savedOn } from '#core/agreements/saved.ts'
import { whyNotProposed } from '#core/agreements/write.ts'
import { addDays } from '#core/calendar/days.ts'
import { formatAmount, minor, type Minor } from '#core/money/amount.ts'
import { tidy } from '#core/money/decimal.ts'
import { found, type Read } from '#server/call.ts'
import { waitsFor } from '#server/consent/consentStore.ts'
import { namedIn, stepsJson } from '#server/consent/stepJson.ts'
import { actionsJson, pathOf, reasonsJson, sheetParts } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { type KnownAgreement, knownAgreement } from '#server/agreements/agreementStore.ts'
import { indexValues, indicesOf } from '#server/ledger/agreedTermsStore.ts'
import { personNames } from '#server/people/peopleStore.ts'

type Sheet = ResponseOf<typeof ReadAgreement>
const MOST_ORDERS = 60

/** An agreement with what it says, what is called off of it, and what hangs on it. */
export async function readAgreement(call: Read, id: string): Promise<Sheet> {
  await needVisible(call, 'agreement', id)
  const agreement = await knownAgreement(call, id)
  const { row, content, currency } = agreement
  const values = await indexValues(call, indicesOf(content.lines))
  const points = await usePoints(call, agreement)
  const lines = await linesJson(call, agreement, values)
  const orders = await ordersJson(call, id)
  const names = await personNames(call, [agreement.ownerId, ...namedIn(agreement.consent), ...content.callers.personIds, ...(agreement.wanted?.callers.personIds ?? [])]) // prettier-ignore
  const saved = lines.reduce((sum, line) => sum + (line.savedMinor ?? 0n), 0n)
  return {
    kind: 'agreement',
    id,
    number: agreement.number,
    title: agreement.title,
    state: agreement.state,
    version: row.version,
    ...(await sheetParts(call, 'agreement', id)),
    thread: null,
    budgets: [],
    steps: stepsJson(agreement.consent, call.base, names),
    sentence: sentenceOf(agreement),
    tone: toneOf(agreement),
    actions: actionsJson(agreementActions(agreement, call.actor, call.today)),
    supplierId: agreement.supplierId,
    supplier: agreement.supplier,
    ownerId: agreement.ownerId,
    owner: names.get(agreement.ownerId) ?? '',
    revision: agreement.revision,
    amendment: agreement.amendment,
    content: content as Sheet['content'],
    wanted: agreement.wanted as Sheet['wanted'],
    faults:
      agreement.state === 'draft' || agreement.amendment === 'writing'
        ? reasonsJson(whyNotProposed(agreement, call.today))
        : [],
    askedReason: row.askedReason,
    openOrders: row.openOrders,
    uses:
      agreement.state === 'draft' ? [] : ceilingUse(agreement).map(use => useJson(agreement, use, points, call.today)),
    lines: lines.map(({ savedMinor: _saved, ...line }) => line),
    points: points.map(one => ({ day: one.day, total: formatAmount(one.total, currency) })),
    consumed: formatAmount(consumedOf(agreement).amount, currency),
    saved: formatAmount(saved, currency),
    ...orders,
    revisions: await revisionsJson(call, id),
    differences: agreement.wanted ? contentDifferences(content, agreement.wanted) : [],
    names: await namesOf(call, [content, ...(agreement.wanted ? [agreement.wanted] : [])]),
    event: await eventOf(call, row.eventId),
    windDown: agreement.steps.map(step => ({
      position: step.position,
      kind: step.kind,
      number: step.number,
      path: pathOf(step.kind === 'order' ? 'order' : 'agreement', step.documentId),
      state: step.state,
      reasons: reasonsJson(step.reasons),
      at: step.at,
    })),
  }
}

function sentenceOf(agreement: KnownAgreement): Sentence {
  const { state, endsOn, consent, amendment } = agreement
  const details = {
    endsOn,
    percent: fullest(ceilingUse(agreement)),
    supplier: agreement.supplier,
    who: waitsFor(consent).join(', '),
    left: agreement.steps.filter(step => step.state !== 'done').length,
    steps: agreement.steps.length,
  }
  if (consent?.state === 'open') return { code: 'agreement.is.asked', details }
  if (amendment === 'writing') return { code: 'agreement.is.amended', details }
  if (state === 'windingDown' && agreement.steps.some(step => step.state === 'person'))
    return { code: 'agreement.is.stopped', details }
  return { code: `agreement.is.${state}`, details }
}

function toneOf({ state, steps, content, ...agreement }: KnownAgreement): Sheet['tone'] {
  if (state === 'sealed') return 'settled'
  if (state === 'cancelled') return 'stop'
  const near = Number(fullest(ceilingUse(agreement))) >= content.warnPercent
  const waits = state === 'usedUp' || state === 'ended' || steps.some(step => step.state === 'person')
  return waits || (state === 'active' && near) ? 'attention' : 'plain'
}

interface Point {
  day: string
  total: Minor
  quantity: string
  lines: ReadonlyMap<string, Consumed>
}

/** How much had been called off by the end of each day, over all and line by line. */
async function usePoints(call: Read, agreement: KnownAgreement): Promise<Point[]> {
  const { rows } = await call.trx
    .raw<{ rows: { day: string; agreementLineId: string; amount: bigint; quantity: string }[] }>(
      `select (e.at at time zone ?)::date::text as day, e.agreement_line_id, sum(e.amount)::bigint as amount, sum(e.quantity) as quantity
       from agreement_entries e join agreement_lines l on l.id = e.agreement_line_id where l.agreement_id = ? group by 1, 2 order by 1, 2`,
      [call.house.zone, agreement.id],
    )
    .options({ name: 'agreement-points' })
  const lines = new Map<string, Consumed>()
  const points = new Map<string, Point>()
  for (const row of rows) {
    const before = lines.get(row.agreementLineId) ?? { amount: minor(0), quantity: '0' }
    lines.set(row.agreementLineId, plus(before, { amount: minor(row.amount), quantity: row.quantity }))
    const all = [...lines.values()].reduce(plus, { amount: minor(0), quantity: '0' })
    points.set(row.day, { day: row.day, total: all.amount, quantity: all.quantity, lines: new Map(lines) })
  }
  return [...points.values()]
}

const text = ({ amount, quantity }: Consumed, currency: string): { amount: string; quantity: string } => ({
  amount: formatAmount(amount, currency),
  quantity: tidy(quantity),
})
const byKindJson = (by: ConsumedByKind, currency: string) => ({
  reserved: text(by.reserved, currency),
  committed: text(by.committed, currency),
  used: text(by.used, currency),
})

function useJson(
  agreement: KnownAgreement,
  use: CeilingUse,
  points: readonly Point[],
  today: string,
): Sheet['uses'][number] {
  const { ceiling } = use
  const { currency } = agreement
  const counted = agreement.lines.filter(
    line =>
      ceiling.scope === 'whole' ||
      (ceiling.scope === 'category' ? line.category === ceiling.category : line.id === ceiling.lineId),
  )
  const ids = counted.map(line => line.id)
  const series = points.map(point => {
    const own = ids
      .map(id => point.lines.get(id) ?? { amount: minor(0), quantity: '0' })
      .reduce(plus, { amount: minor(0), quantity: '0' })
    return { day: point.day, total: ceiling.amount === '' ? own.quantity : formatAmount(own.amount, currency) }
  })
  const forecast = forecastUse(series, ceiling.amount === '' ? ceiling.quantity : ceiling.amount, today)
  const by = counted.reduce<ConsumedByKind>(
    (sum, line) => ({
      reserved: plus(sum.reserved, line.consumed.reserved),
      committed: plus(sum.committed, line.consumed.committed),
      used: plus(sum.used, line.consumed.used),
    }),
    NOTHING_CONSUMED,
  )
  return {
    scope: ceiling.scope,
    of:
      ceiling.scope === 'whole'
        ? ''
        : ceiling.scope === 'category'
          ? ceiling.category
          : (counted[0]?.description ?? ''),
    unit: ceiling.scope === 'line' ? (counted[0]?.unit ?? '') : '',
    amount: ceiling.amount,
    quantity: ceiling.quantity,
    taken: text(use.taken, currency),
    byKind: byKindJson(by, currency),
    percent: use.percent,
    full: use.full,
    usedUpOn: forecast?.usedUpOn ?? null,
    perDay: forecast?.perDay ?? '',
  }
}

async function linesJson(call: Read, agreement: KnownAgreement, values: readonly IndexValue[]) {
  const { content, currency } = agreement
  const ids = content.lines.flatMap(line => line.itemId ?? [])
  const numbers = new Map(
    (await call.trx('items').whereIn('id', ids).select('id', 'number')).map(row => [row.id, row.number]),
  )
  const consumed = new Map(agreement.lines.map(line => [line.id, line.consumed]))
  const full = new Set(fullLines(agreement))
  const yearAgo = addDays(call.today, -365)
  const before = await contentOn(call, agreement.id, yearAgo)
  const old = new Map((before?.lines ?? []).map(line => [line.id, line]))
  return content.lines.map(line => {
    const by = consumed.get(line.id) ?? NOTHING_CONSUMED
    const was = old.get(line.id)
    const savedMinor = savedOn(line, plus(by.committed, by.used), currency)
    return {
      id: line.id,
      itemNumber: numbers.get(line.itemId ?? '') ?? '',
      description: line.description,
      unit: line.unit,
      currency: line.currency,
      priceBase: line.priceBase,
      tiers: tiersOn(line.pricing, values, call.today).map(tier => ({ ...tier })),
      index: line.pricing.kind === 'index' ? indexJson(line.pricing, values, call.today) : null,
      yearAgo: was ? tiersOn(was.pricing, values, yearAgo)[0]!.price : '',
      listPrice: line.listPrice,
      consumed: byKindJson(by, currency),
      saved: savedMinor === null ? '' : formatAmount(savedMinor, currency),
      savedMinor,
      leadTimeDays: line.leadTimeDays,
      full: full.has(line.id),
    }
  })
}

function indexJson(pricing: Parameters<typeof indexPriceOn>[0], values: readonly IndexValue[], today: string) {
  const { month, provisional, held } = indexPriceOn(pricing, values, today)
  return { code: pricing.index, month, provisional, held }
}

/** What it said on a day; nothing where it was not in force then. */
async function contentOn(call: Read, agreementId: string, day: string): Promise<AgreementContent | undefined> {
  const row = await call
    .trx('agreementRevisions')
    .where({ agreementId })
    .where('at', '<', `${addDays(day, 1)}T00:00:00Z`)
    .orderBy('revision', 'desc')
    .first('content')
  return row?.content
}

async function ordersJson(call: Read, agreementId: string): Promise<Pick<Sheet, 'orders' | 'moreOrders'>> {
  const { rows } = await call.trx.raw<{
    rows: {
      id: string
      number: string
      title: string
      state: string
      amount: bigint
      currency: string
      on: string
      count: string
    }[]
  }>(
    `select o.id, o.number, o.title, o.state, o.currency, sum(l.amount)::bigint as amount, coalesce(o.issued_at, o.created_at)::date::text as "on", count(*) over ()::text as count
     from orders o join order_lines l on l.order_id = o.id join agreement_lines al on al.id = l.agreement_line_id where al.agreement_id = ?
     group by o.id order by coalesce(o.issued_at, o.created_at) desc, o.id limit ${MOST_ORDERS}`,
    [agreementId],
  )
  return {
    orders: rows.map(({ amount, count: _count, ...row }) => ({
      ...row,
      path: pathOf('order', row.id),
      amount: formatAmount(amount, row.currency),
    })),
    moreOrders: Math.max(0, Number(rows[0]?.count ?? 0) - rows.length),
  }
}

async function revisionsJson(call: Read, agreementId: string): Promise<Sheet['revisions']> {
  const rows = await call
    .trx('agreementRevisions')
    .join('people', 'people.id', 'agreementRevisions.byId')
    .where({ agreementId })
    .orderBy('revision')
    .select<{ revision: number; content: AgreementContent; reason: string; at: string; by: string }[]>(
      'revision',
      'content',
      'reason',
      'at',
      'people.name as by',
    )
  return rows
    .map((row, at) => ({
      revision: row.revision,
      reason: row.reason,
      by: row.by,
      at: row.at,
      differences: at === 0 ? [] : contentDifferences(rows[at - 1]!.content, row.content),
    }))
    .reverse()
}

/** Names of the items, places and people that it speaks of. */
async function namesOf(call: Read, contents: readonly AgreementContent[]): Promise<Record<string, string>> {
  const items = contents.flatMap(one => one.lines.flatMap(line => line.itemId ?? []))
  const places = contents.flatMap(one => one.callers.addressIds)
  const people = contents.flatMap(one => one.callers.personIds)
  const rows = [
    ...(await call.trx('items').whereIn('id', items).select('id', 'name')),
    ...(await call.trx('addresses').whereIn('id', places).select('id', 'name')),
    ...(await call.trx('people').whereIn('id', people).select('id', 'name')),
  ]
  return Object.fromEntries(rows.map(row => [row.id, row.name]))
}

async function eventOf(call: Read, eventId: string | null): Promise<Sheet['event']> {
  if (eventId === null) return null
  const row = found(await call.trx('events').where({ id: eventId }).first('number'), 'event')
  return { number: row.number, path: pathOf('event', eventId) }
}
