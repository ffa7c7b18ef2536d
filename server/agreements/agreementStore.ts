import type { AgreementContent } from '#core/agreements/content.ts'
import { agreementDesk } from '#core/agreements/desk.ts'
import type { AgreementFacts } from '#core/agreements/facts.ts'
import type { OpenOrders } from '#core/agreements/next.ts'
import type { AgreementState, AmendmentState } from '#core/agreements/states.ts'
import type { WindDownStep } from '#core/agreements/windDown.ts'
import type { Reason } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { consentsById, type KeptConsent } from '#server/consent/consentStore.ts'
import { keepDesk } from '#server/desk/deskStore.ts'
import { hold } from '#server/documents/hold.ts'
import { calledAgreements } from '#server/ledger/consumptionStore.ts'
import { documentTopic, tell } from '#server/news/tell.ts'

export interface AgreementRow {
  id: string
  number: string
  formerNumber: string | null
  title: string
  state: AgreementState
  amendment: AmendmentState
  supplierId: string
  ownerId: string
  eventId: string | null
  currency: string
  startsOn: string
  endsOn: string
  revision: number
  content: AgreementContent
  wanted: AgreementContent | null
  askedReason: string
  openOrders: OpenOrders
  consentId: string | null
  consumed: bigint
  usedPercent: string
  warnedDays: number[]
  warnedPercent: boolean
  /** Who winds it down. */
  woundDownBy: string | null
  version: number
  createdAt: string
  changedAt: string
  search: string
}
interface AgreementLineRow {
  id: string
  agreementId: string
  position: number
  itemId: string | null
  description: string
  category: string
  unit: string
  inForce: boolean
}
interface StepRow {
  agreementId: string
  position: number
  kind: WindDownStep['kind']
  documentId: string
  number: string
  state: WindDownStep['state']
  reasons: Reason[]
  at: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    agreements: AgreementRow
    agreementLines: AgreementLineRow
    agreementRevisions: {
      agreementId: string
      revision: number
      content: AgreementContent
      reason: string
      byId: string
      at: string
    }
    windDownSteps: StepRow
  }
}

/** An agreement with everything that the core needs of it. */
export type KnownAgreement = AgreementFacts & { readonly row: AgreementRow; readonly consent: KeptConsent | null }

export async function knownAgreement(call: Read, id: string): Promise<KnownAgreement> {
  const row = found(await call.trx('agreements').where({ id }).first(), 'agreement')
  const supplier = found(await call.trx('suppliers').where({ id: row.supplierId }).first('name'), 'supplier')
  const called = found((await calledAgreements(call, [id])).get(id), 'agreement')
  const consents = await consentsById(call, row.consentId === null ? [] : [row.consentId])
  const steps = await call.trx('windDownSteps').where({ agreementId: id }).orderBy('position')
  return {
    ...called,
    title: row.title,
    supplier: supplier.name,
    ownerId: row.ownerId,
    revision: row.revision,
    content: row.content,
    wanted: row.wanted,
    amendment: row.amendment,
    consent: row.consentId === null ? null : (consents.get(row.consentId) ?? null),
    supplierReasons: [],
    warned: { days: row.warnedDays, percent: row.warnedPercent },
    steps,
    createdAt: row.createdAt,
    row,
  }
}

/** Holds an agreement, and says what is known of it. */
export async function heldAgreement(call: Write, id: string, version?: number): Promise<KnownAgreement> {
  await hold(call, 'agreement', id, version)
  return await knownAgreement(call, id)
}

/** Keeps what waits because of an agreement, and tells whoever looks at it. */
export async function keepAgreementDesk(call: Write, id: string, known?: KnownAgreement): Promise<void> {
  await keepDesk(call, { kind: 'agreement', id }, agreementDesk(known ?? (await knownAgreement(call, id))))
  await tell(call, [documentTopic(id)])
}

export const searchText = (
  row: Pick<AgreementRow, 'number' | 'title'>,
  supplier: string,
  lines: readonly { readonly description: string }[],
): string =>
  `${row.number} ${row.title} ${supplier} ${lines.map(line => line.description).join(' ')}`.toLowerCase().slice(0, 4000)
