import type { AgreementContent } from '#core/agreements/content.ts'
import { offerEndsOn, standsAs } from '#core/agreements/standing.ts'
import { pricesAhead } from '#core/agreements/prices.ts'
import { ceilingUse, consumedOf, fullest } from '#core/agreements/ceilings.ts'
import { addDays } from '#core/calendar/days.ts'
import { AGREEMENT_GROUPS } from '#core/agreements/states.ts'
import { isIn } from '#core/states.ts'
import type { Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { type KnownAgreement, knownAgreement, searchText } from '#server/agreements/agreementStore.ts'
import { tellDrafts } from '#server/agreements/tellDrafts.ts'
import { indexValues, indicesOf } from '#server/ledger/agreedTermsStore.ts'
import { endAgreedOffers, keepAgreedOffers } from '#server/request/agreementOfferStore.ts'

/** Writes what comes into force: its lines, its revision for good, and what the catalogue offers of it. */
export async function bringInForce(
  call: Write,
  agreement: KnownAgreement,
  content: AgreementContent,
  reason: string,
): Promise<void> {
  const { id } = agreement
  const revision = agreement.revision + 1
  await call.trx('agreementRevisions').insert({
    agreementId: id,
    revision,
    content: json(content),
    reason,
    byId: call.actor.id,
    at: call.now,
  })
  await call.trx('agreementLines').where({ agreementId: id }).update({ inForce: false })
  const rows = content.lines.map((line, at) => ({
    id: line.id,
    agreementId: id,
    position: at + 1,
    itemId: line.itemId,
    description: line.description,
    category: line.category,
    unit: line.unit,
    inForce: true,
  }))
  if (rows.length > 0) await call.trx('agreementLines').insert(rows).onConflict('id').merge()
  await call
    .trx('agreements')
    .where({ id })
    .update({
      title: content.title,
      currency: content.currency,
      startsOn: content.startsOn,
      endsOn: content.endsOn,
      content: json(content),
      revision,
      warnedDays: [],
      warnedPercent: false,
      search: searchText({ number: agreement.number, title: content.title }, agreement.supplier, content.lines),
    })
  await keepOffers(call, await knownAgreement(call, id))
}

/** What the catalogue offers of an agreement in force: its items at the prices of today and those that begin later. Lines that are no longer in it end. */
export async function keepOffers(call: Write, agreement: KnownAgreement): Promise<void> {
  const { content } = agreement
  const values = await indexValues(call, indicesOf(content.lines))
  const own = new Map(
    (
      await call
        .trx('offers')
        .where({ supplierId: agreement.supplierId, agreement: '' })
        .orderBy('supplierItem')
        .select('itemId', 'supplierItem', 'countries')
    ).map(row => [row.itemId, row]),
  )
  await keepAgreedOffers(
    call,
    content.lines.flatMap(line =>
      line.itemId === null
        ? []
        : [
            {
              agreementLineId: line.id,
              agreement: agreement.number,
              itemId: line.itemId,
              supplierItem: own.get(line.itemId)?.supplierItem ?? '',
              countries: own.get(line.itemId)?.countries ?? [],
              supplierId: agreement.supplierId,
              unit: line.unit,
              currency: line.currency,
              minimum: line.minimum,
              multiple: line.multiple,
              leadTimeDays: line.leadTimeDays,
              incoterm: line.incoterm === '' ? content.incoterm : line.incoterm,
              incotermPlace: line.incoterm === '' ? content.incotermPlace : line.incotermPlace,
              validFrom: content.startsOn,
              validTo: offerEndsOn(agreement, line.id, call.today),
              prices: pricesAhead(line, content, values, call.today),
            },
          ],
    ),
  )
  const kept = new Set(content.lines.map(line => line.id))
  const gone = agreement.lines.filter(line => !kept.has(line.id))
  await endAgreedOffers(call, new Map(gone.map(line => [line.id, addDays(call.today, -1)])))
}

/** What its ceilings and the day make of an agreement that is in force: its state, how much is used, and how long the catalogue offers it. */
export async function keepStanding(call: Write, id: string): Promise<KnownAgreement> {
  const agreement = await knownAgreement(call, id)
  const state = standsAs(agreement, call.today)
  const change = { consumed: consumedOf(agreement).amount, usedPercent: fullest(ceilingUse(agreement)) }
  if (state === agreement.state) await call.trx('agreements').where({ id }).update(change)
  else {
    await call
      .trx('agreements')
      .where({ id })
      .update({ ...change, state, version: agreement.row.version + 1, changedAt: call.now })
    const action = state === 'usedUp' ? 'useUp' : state === 'ended' ? 'end' : 'reopen'
    await record(call, { kind: 'agreement', id, action, changes: { from: agreement.state, to: state } })
  }
  const now: KnownAgreement = { ...agreement, state, row: { ...agreement.row, ...change, state } }
  const kept = new Set(agreement.content.lines.map(line => line.id))
  await endAgreedOffers(
    call,
    new Map(
      agreement.lines.filter(line => kept.has(line.id)).map(line => [line.id, offerEndsOn(now, line.id, call.today)]),
    ),
  )
  if (state !== agreement.state && isIn(AGREEMENT_GROUPS.spent, state)) await tellDrafts(call, now)
  return now
}
