import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { DraftFromAward } from '#contract/agreements/agreements.ts'
import type { AgreementLine } from '#core/agreements/content.ts'
import { tidy } from '#core/money/decimal.ts'
import { Decimal } from '#core/money/decimal.ts'
import { stop } from '#core/reasons.ts'
import { EVENT_GROUPS } from '#core/source/eventStates.ts'
import { isIn } from '#core/states.ts'
import type { Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { refuse } from '#server/documents/obey.ts'
import { firstContent, insertAgreement } from '#server/agreements/agreementActs.ts'
import { answersTo } from '#server/source/comparisonStore.ts'
import { heldEvent } from '#server/source/eventStore.ts'

/** Makes a draft of an agreement for each supplier that an event was awarded to, with what it offered; ceilings are the quantities of the award. */
export async function draftFromAward(
  call: Write,
  { eventId, version }: BodyOf<typeof DraftFromAward>,
): Promise<ResponseOf<typeof DraftFromAward>> {
  const event = await heldEvent(call, eventId, version)
  const award = event.row.award
  const there = await call.trx('agreements').where({ eventId }).pluck<string[]>('number')
  refuse([
    ...(award !== null && isIn(EVENT_GROUPS.awarding, event.state) && event.state !== 'deciding'
      ? []
      : [stop('agreement.noAward', { number: event.number })]),
    ...(there.length > 0 ? [stop('agreement.draftedAlready', { numbers: there.join(', ') })] : []),
  ])
  const answers = await answersTo(call, event)
  const lines = new Map(event.lines.map(line => [line.id, line]))
  const made: { id: string; number: string }[] = []
  for (const [supplierId, shares] of groupBy(award!.shares, one => one.supplierId)) {
    const answer = answers.get(supplierId)!
    const agreed = shares.flatMap(share => {
      const asked = lines.get(share.lineId)!
      const given = answer.lines.find(one => one.lineId === share.lineId)
      if (!given || given.price === '') return []
      const line: AgreementLine = {
        id: randomUUID(),
        itemId: asked.itemId,
        description: asked.description,
        category: asked.category,
        unit: asked.unit,
        currency: answer.currency,
        pricing: { kind: 'tiers', tiers: [{ from: '0', price: given.price }] },
        priceBase: given.priceBase || '1',
        listPrice: asked.reference === '' || answer.currency !== event.currency ? '' : tidy(new Decimal(asked.reference).times(given.priceBase || '1')), // prettier-ignore
        minimum: given.minimum === '' ? '1' : given.minimum,
        multiple: '0',
        leadTimeDays: given.leadDays ?? 0,
        incoterm: asked.incoterm ?? '',
        incotermPlace: asked.incotermPlace,
      }
      return [{ line, quantity: share.quantity }]
    })
    if (agreed.length === 0) continue
    const content = {
      ...firstContent(event.title, answer.currency, call.today),
      lines: agreed.map(one => one.line),
      ceilings: agreed.map(({ line, quantity }) => ({
        scope: 'line' as const,
        category: '',
        lineId: line.id,
        amount: '',
        quantity,
      })),
    }
    const { id, number } = await insertAgreement(call, supplierId, content, eventId)
    made.push({ id, number })
  }
  await record(call, {
    kind: 'event',
    id: eventId,
    action: 'agreementDrafted',
    changes: { numbers: made.map(one => one.number) },
  })
  return { made }
}
