import type { AuditDifference } from '#contract/insight/endpoints.ts'
import { callOffEntries } from '#core/agreements/callOff.ts'
import { consumedOf } from '#core/agreements/ceilings.ts'
import { agreementDesk } from '#core/agreements/desk.ts'
import type { DeskEntry } from '#core/desk/entry.ts'
import type { Read } from '#server/call.ts'
import { knownAgreement } from '#server/agreements/agreementStore.ts'
import { calling, callingRows } from '#server/ledger/callingStore.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'

/** What stands in the ledger of agreements on the lines of some requests and orders is what has to stand there by the quantities and bills of today. */
export async function auditCallOffs(
  call: Read,
  documents: { readonly requisitionIds: readonly string[]; readonly orderIds: readonly string[] },
): Promise<AuditDifference[]> {
  const rows = await callingRows(call, documents)
  if (rows.length === 0) return []
  const sums = await quantitySums(
    call,
    rows.map(row => row.lineId),
  )
  const { lines } = await calling(call, rows, sums)
  return callOffEntries(lines).map(({ lineId, kind, amount, quantity }) => ({
    check: 'calledOff',
    document: `${lineId} ${kind}`,
    expected: 'nothing more',
    found: `${amount} for ${quantity} are missing`,
  }))
}

export interface AuditedAgreement {
  readonly id: string
  readonly number: string
  readonly entries: readonly DeskEntry[]
  readonly differences: readonly AuditDifference[]
}

/** What is kept beside an agreement is what its lines add up to. */
export async function auditAgreement(call: Read, id: string): Promise<AuditedAgreement> {
  const agreement = await knownAgreement(call, id)
  const expected = consumedOf(agreement).amount
  const found = agreement.row.consumed
  return {
    id,
    number: agreement.number,
    entries: agreementDesk(agreement),
    differences:
      expected === found
        ? []
        : [
            {
              check: 'agreementConsumed',
              document: agreement.number,
              expected: String(expected),
              found: String(found),
            },
          ],
  }
}
