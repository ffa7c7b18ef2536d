import type { ResponseOf } from '#contract/endpoint.ts'
import type { CallableLines } from '#contract/agreements/agreements.ts'
import { ceilingUse, fullLines } from '#core/agreements/ceilings.ts'
import { tiersOn } from '#core/agreements/prices.ts'
import { whyNotCaller } from '#core/agreements/callers.ts'
import type { Read } from '#server/call.ts'
import { knownAgreement } from '#server/agreements/agreementStore.ts'
import { indexValues, indicesOf } from '#server/ledger/agreedTermsStore.ts'

/** Lines of agreements in force that this person may call off although no item of the catalogue stands for them. */
export async function callableLines(call: Read): Promise<ResponseOf<typeof CallableLines>> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select distinct a.id from agreements a join agreement_lines l on l.agreement_id = a.id where a.state = 'active' and a.starts_on <= :today and a.ends_on >= :today and l.in_force and l.item_id is null`,
    { today: call.today },
  )
  const lines = []
  for (const { id } of rows) {
    const agreement = await knownAgreement(call, id)
    const { content, number, supplier, supplierId } = agreement
    if (whyNotCaller({ number, callers: content.callers }, { personId: call.actor.id, costCentres: [], addressId: null }).length > 0) continue // prettier-ignore
    const full = new Set(fullLines(agreement))
    const whole = ceilingUse(agreement).find(use => use.ceiling.scope === 'whole')
    const values = await indexValues(call, indicesOf(content.lines))
    for (const line of content.lines)
      if (line.itemId === null && !full.has(line.id))
        lines.push({
          id: line.id,
          number,
          supplierId,
          supplier,
          description: line.description,
          category: line.category,
          unit: line.unit,
          currency: line.currency,
          price: tiersOn(line.pricing, values, call.today)[0]!.price,
          priceBase: line.priceBase,
          left: whole ? whole.percent : '',
        })
  }
  return { lines }
}
