import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { CompareEvent, GivePoints, ReadLanded } from '#contract/source/comparing.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { type ComparedCell, whyNotCompare } from '#core/source/compareAnswers.ts'
import { whyNotGivePoints } from '#core/source/givePoints.ts'
import type { LandedLine } from '#core/source/landedCost.ts'
import { scoredQuestions, scoreEvent } from '#core/source/scoreEvent.ts'
import type { Read, Write } from '#server/call.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { refuse } from '#server/documents/obey.ts'
import { needVisible } from '#server/documents/visible.ts'
import { documentTopic, tell } from '#server/news/tell.ts'
import { type Compared, compared, scorersOf } from '#server/source/comparisonStore.ts'
import { log } from '#server/source/eventLogStore.ts'
import { heldEvent, type KnownEvent, knownEvent } from '#server/source/eventStore.ts'
import { namesOfFiles } from '#server/source/messageStore.ts'

type Answer = ResponseOf<typeof CompareEvent>
/** Digits of amounts and unit costs as they are shown; they are reckoned exactly. */
const AMOUNT_DIGITS = 2
const UNIT_DIGITS = 4
const NOTHING = new Decimal(0).toFixed(AMOUNT_DIGITS)
const amount = (value: Decimal): string => (value.isZero() ? NOTHING : value.toFixed(AMOUNT_DIGITS))
const perUnit = (value: Decimal): string => tidy(value.toDecimalPlaces(UNIT_DIGITS))

/** Lines × suppliers with totals and scores, for whoever sees the event. */
export async function readComparison(call: Read, id: string): Promise<Answer> {
  await needVisible(call, 'event', id)
  const event = await knownEvent(call, id)
  const all = await compared(call, event)
  const reasons = whyNotCompare(event, all.answers.size, call.now)
  // who was never asked has nothing to show
  const suppliers = all.suppliers.filter((one, index) => one.answer !== null || event.rows[index]!.sentAt !== null)
  const asked = new Set(event.rows.flatMap(one => (one.sentAt === null ? [] : [one.supplierId])))
  const order = suppliers.map(one => one.supplierId)
  const files = new Map((await namesOfFiles(call, [...all.answers.values()].flatMap(one => [...one.fileIds]))).map(one => [one.id, one])) // prettier-ignore
  return {
    reasons: reasonsJson(reasons),
    currency: event.currency,
    ratesOn: all.ratesOn,
    common: all.comparison.common,
    suppliers: suppliers.map(one => {
      const total = all.comparison.totals.find(other => other.supplierId === one.supplierId)!
      return {
        supplierId: one.supplierId,
        name: one.name,
        standing: one.standing,
        onBehalf: one.onBehalf,
        asked: asked.has(one.supplierId),
        knockedOut: total.knockedOut,
        currency: one.answer?.currency ?? '',
        rate: one.rate === null ? null : tidy(one.rate),
        paymentDays: one.answer?.paymentDays ?? null,
        validUntil: one.answer?.validUntil ?? '',
        note: one.answer?.note ?? '',
        lines: total.lines,
        own: one.answer === null ? null : amount(total.own),
        common: total.common === null ? null : amount(total.common),
        reference: total.reference === null ? null : amount(total.reference),
        ownLines: (one.answer?.ownLines ?? []).map(({ description, quantity, unit, price }) => ({ description, quantity, unit, price })), // prettier-ignore
        files: (one.answer?.fileIds ?? []).flatMap(file => files.get(file) ?? []),
      }
    }),
    lines: linesOf(event, all, order),
    scores: reasons.length > 0 || event.kind.criteria.length === 0 ? null : await scoresJson(call, event, all),
  }
}

/** Lines as they are sent, by the comparison that they are of: they are the same for everybody who reads it. */
const linesSent = new WeakMap<Compared, Answer['lines']>()

function linesOf(event: KnownEvent, all: Compared, order: readonly string[]): Answer['lines'] {
  const before = linesSent.get(all)
  if (before) return before
  const lots = new Map(event.lots.map(lot => [lot.id, lot.title]))
  const minimums = new Map([...all.answers].map(([id, one]) => [id, new Map(one.lines.map(line => [line.lineId, line.minimum]))])) // prettier-ignore
  const lines = all.comparison.lines.map(({ line, cells, spread }) => ({
    id: line.id,
    position: line.position,
    lot: event.lots.length > 1 ? (lots.get(line.lotId) ?? '') : '',
    description: line.description,
    quantity: line.quantity,
    unit: line.unit,
    reference: line.reference,
    spread,
    cells: order.map(supplierId => cellJson(cells.get(supplierId), minimums.get(supplierId)?.get(line.id) ?? '')),
  }))
  linesSent.set(all, lines)
  return lines
}

type CellJson = Answer['lines'][number]['cells'][number]
function cellJson(cell: ComparedCell | undefined, minimum: string): CellJson {
  if (!cell) return null
  const { price, priceBase, quantity, part, leadDays, note, best, landed } = cell
  return {
    price,
    priceBase,
    quantity,
    part,
    leadDays,
    minimum,
    note,
    best,
    landed: landed && perUnit(landed.perUnit),
    alternatives: cell.alternatives.map(one => ({ description: one.description, price: one.price, priceBase: one.priceBase || '1', leadDays: one.leadDays, note: one.note })), // prettier-ignore
  }
}

/** A figure as it is shown, where there is one. */
const tidied = (figure: string | null | undefined): string | null => (figure ? tidy(figure) : null)

const landedJson = (line: LandedLine): NonNullable<ResponseOf<typeof ReadLanded>['landed']> => ({
  goods: amount(line.goods),
  goodsNow: amount(line.goodsNow),
  freight: amount(line.freight),
  other: amount(line.other),
  insurance: amount(line.insurance),
  duty: amount(line.duty),
  total: amount(line.total),
  perUnit: perUnit(line.perUnit),
})

/** How one figure of the comparison comes about. */
export async function readLanded(
  call: Read,
  id: string,
  lineId: string,
  supplierId: string,
): Promise<ResponseOf<typeof ReadLanded>> {
  await needVisible(call, 'event', id)
  const { comparison } = await compared(call, await knownEvent(call, id))
  const cell = comparison.lines.find(one => one.line.id === lineId)?.cells.get(supplierId)
  return {
    landed: cell?.landed ? landedJson(cell.landed) : null,
    tiers: (cell?.tiers ?? []).map(tier => ({ from: tidy(tier.from), perUnit: perUnit(tier.perUnit) })),
  }
}

async function scoresJson(call: Read, event: KnownEvent, all: Compared): Promise<NonNullable<Answer['scores']>> {
  const scorers = await scorersOf(call, event.id)
  const given = await call.trx('eventScores').where({ eventId: event.id })
  const scores = scoreEvent(event.kind, all.comparison, all.answers, scorers, given)
  const names = new Map(scorers.map(one => [one.personId, one.name]))
  const mine = (supplierId: string, question: string): string | null =>
    given.find(one => one.personId === call.actor.id && one.supplierId === supplierId && one.question === question)?.points ?? null // prettier-ignore
  const sections = new Map(event.kind.sections.flatMap(section => section.questions.map(one => [one.key, section.title]))) // prettier-ignore
  return {
    formula: event.kind.formula,
    criteria: event.kind.criteria.map(({ key, weight }) => ({ key, weight })),
    rows: scores.scored.map(one => ({
      supplierId: one.supplierId,
      total: one.total === null ? null : amount(one.total),
      place: one.place,
      points: Object.fromEntries([...(one.points ?? [])].map(([key, points]) => [key, amount(points)])),
    })),
    turns: scores.turns.map(one => ({ from: amount(one.from), supplierId: one.supplierId })),
    questions: scoredQuestions(event.kind).map(question => ({
      key: question.key,
      section: sections.get(question.key) ?? '',
      label: question.label,
      weight: question.weight,
      most: question.most,
      scoredBy: question.scoredBy as 'rule' | 'people',
      answers: [...all.answers].map(([supplierId, answer]) => {
        const got = scores.questions.get(question.key)?.get(supplierId)
        return {
          supplierId,
          answer: answer.questions[question.key] ?? '',
          points: tidied(got?.points),
          spread: tidied(got?.spread),
          given: scores.complete
            ? given
                .filter(one => one.supplierId === supplierId && one.question === question.key)
                .map(one => ({ by: names.get(one.personId) ?? '', points: tidy(one.points), note: one.note }))
            : [],
          mine: tidied(mine(supplierId, question.key)),
        }
      }),
    })),
    scorers: scorers.map(one => ({ id: one.personId, name: one.name, done: one.done, me: one.personId === call.actor.id })), // prettier-ignore
    complete: scores.complete,
  }
}

/** A scorer's points; who says that they are done sees what the others gave as soon as all are. */
export async function givePoints(call: Write, id: string, body: BodyOf<typeof GivePoints>): Promise<{ at: string }> {
  await needVisible(call, 'event', id)
  const event = await heldEvent(call, id)
  const scorer = (await scorersOf(call, id)).find(one => one.personId === call.actor.id)
  refuse(whyNotGivePoints(event, scorer, body.points, body.done, call.now))
  await call.trx('eventScores').where({ eventId: id, personId: call.actor.id }).delete()
  if (body.points.length > 0)
    await call
      .trx('eventScores')
      .insert(body.points.map(one => ({ ...one, eventId: id, personId: call.actor.id, at: call.now })))
  if (body.done) {
    await call.trx('eventScorers').where({ eventId: id, personId: call.actor.id }).update({ doneAt: call.now })
    await log(call, event, { action: 'scored' })
  }
  await tell(call, [documentTopic(id)])
  return { at: call.now }
}
