import type { CostedBuild } from '#core/build/costBuild.ts'
import { needWithoutItem } from '#core/build/costingRows.ts'
import type { BuildFacts } from '#core/build/facts.ts'
import { lineName } from '#core/build/partsList.ts'
import type { ReadyBuild } from '#core/build/prepareBuild.ts'
import { stepsText } from '#core/build/steps.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'

/** A line to ask suppliers about. */
export interface AskedPart {
  readonly itemId: string | null
  readonly category: string
  readonly description: string
  readonly quantity: string
  readonly unit: string
}

/** What to ask suppliers about: every part that has no price and of which something is needed. */
export function partsToAsk(facts: BuildFacts, ready: ReadyBuild, costed: CostedBuild): AskedPart[] {
  return ready.parts.flatMap((part, at): AskedPart[] => {
    const bought = costed.parts[at]!
    const line = facts.lines[part.needed.uses[0]!.line]!
    if (bought.noPrice === null) return []
    const choice = part.choices[0]
    const quantity =
      choice && Number.isFinite(bought.need)
        ? stepsText(bought.need, choice.digits)
        : needWithoutItem(part, costed.builds)
    if (new Decimal(quantity).lte(0)) return []
    const said = [lineName(line), line.maker, line.makerNumber].map(text => text.trim()).filter(Boolean)
    return [
      {
        itemId: part.item?.id ?? null,
        category: part.category,
        description: part.item?.name ?? [...new Set(said)].join(', '),
        quantity,
        unit: choice?.item.unit ?? line.unit,
      },
    ]
  })
}

/** A line of a request: so much of an offer, in the offer's unit. */
export interface RequestedPart {
  readonly supplierId: string
  readonly itemId: string
  readonly offerId: string
  readonly quantity: string
}

/** What to request, supplier by supplier in the order in which the list names their parts. Exact: what is bought is a whole multiple of what the offer is sold by. */
export function partsToRequest(ready: ReadyBuild, costed: CostedBuild): Map<string, RequestedPart[]> {
  const bySupplier = new Map<string, RequestedPart[]>()
  for (const [at, bought] of costed.parts.entries()) {
    const choice = ready.parts[at]!.choices[bought.choice]
    for (const { prepared, quantity } of choice ? bought.buys : []) {
      const { id, itemId, supplierId, holds } = prepared.offer
      const own = bySupplier.get(supplierId) ?? []
      own.push({
        supplierId,
        itemId,
        offerId: id,
        quantity: tidy(new Decimal(stepsText(quantity, choice!.digits)).div(holds)),
      })
      bySupplier.set(supplierId, own)
    }
  }
  return bySupplier
}
