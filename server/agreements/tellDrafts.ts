import { insteadOf, type Instead } from '#core/agreements/instead.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { unitLabel } from '#core/units/units.ts'
import type { Read, Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { baseRates } from '#server/house/rates.ts'
import { say } from '#server/mail/mail.ts'
import type { KnownAgreement } from '#server/agreements/agreementStore.ts'
import { type OfferFact, openOffers } from '#server/request/openOfferStore.ts'

interface NamingLine {
  requisitionId: string
  number: string
  title: string
  requesterId: string
  itemId: string
  description: string
  quantity: string
  unit: string
}

/** Tells everybody whose draft names an agreement that is spent now, and what there is in its place. What was submitted has its share reserved and goes on. */
export async function tellDrafts(call: Write, agreement: KnownAgreement): Promise<void> {
  const lines = await naming(call, agreement)
  const offers = groupBy(await openOffers(call, [...new Set(lines.map(line => line.itemId))]), offer => offer.itemId)
  const rates = await baseRates(call, [...offers.values()].flat().map(offer => offer.currency)) // prettier-ignore
  const inPlace = (line: NamingLine): string => {
    const others = (offers.get(line.itemId) ?? []).map((offer: OfferFact) => ({ ...offer, rate: rates.get(offer.currency) ?? null })) // prettier-ignore
    return insteadText(line, insteadOf(line, others))
  }
  for (const [requisitionId, own] of groupBy(lines, line => line.requisitionId)) {
    const [{ number, title, requesterId }] = own as [NamingLine, ...NamingLine[]]
    await say(
      call,
      [
        {
          template: 'agreement.spent',
          to: { kind: 'person', id: requesterId },
          key: `agreement-spent:${agreement.id}:${agreement.row.version}:${requisitionId}`,
          details: {
            number: agreement.number,
            who: agreement.supplier,
            request: number,
            title,
            lines: own.map(inPlace).join('\n'),
            path: pathOf('requisition', requisitionId),
          },
        },
      ],
      { kind: 'requisition', id: requisitionId },
    )
  }
}

const naming = (call: Read, agreement: KnownAgreement): Promise<NamingLine[]> =>
  call
    .trx('requisitionLines')
    .join('requisitions', 'requisitions.id', 'requisitionLines.requisitionId')
    .join('offers', 'offers.id', 'requisitionLines.offerId')
    .join('agreementLines', 'agreementLines.id', 'offers.agreementLineId')
    .where('agreementLines.agreementId', agreement.id)
    .whereIn('requisitions.state', [...REQUISITION_GROUPS.drafts])
    .orderBy(['requisitions.number', 'requisitionLines.position'])
    .select<NamingLine[]>(
      'requisitionLines.requisitionId',
      'requisitions.number',
      'requisitions.title',
      'requisitions.requesterId',
      'offers.itemId',
      'requisitionLines.description',
      'requisitionLines.quantity',
      'requisitionLines.unit',
    )

function insteadText({ description }: NamingLine, instead: Instead | null): string {
  if (instead === null) return `- ${description}: nobody else offers it; ask for quotes`
  const { supplier, price, currency, priceBase, unit } = instead
  const base = priceBase === '1' ? '' : `${priceBase} `
  return `- ${description}: ${supplier} offers it at ${currency} ${price} for ${base}${unitLabel(unit)}`
}
