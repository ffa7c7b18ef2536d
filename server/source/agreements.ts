import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { AnswerAgreement, ReadAgreement } from '#contract/source/endpoints.ts'
import type { SupplierBody } from '#contract/source/record.ts'
import { normalIdentifier } from '#core/source/identifiers.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { type Call, found, guardVersion, may, need } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { createSupplier, checkBody, moveSupplier, sharedAccount, sharedIdentifiers } from '#server/source/supplierService.ts'
import { lockSupplier } from '#server/source/supplierStore.ts'

interface AgreementRow {
  id: string
  kind: 'bar' | 'sharedIdentifier'
  supplierId: string | null
  subject: { supplier?: SupplierBody & { iban?: string | undefined } }
  reason: string
  askedBy: string
  askedAt: string
  state: 'waiting' | 'agreed' | 'refused' | 'withdrawn'
  version: number
}

/** Asks for a second person's agreement; one that waits already for the same thing is refused. */
export async function askAgreement(
  call: Call,
  asked: { kind: AgreementRow['kind']; supplierId: string | null; subject: AgreementRow['subject']; reason: string },
): Promise<{ id: string; version: number }> {
  const waiting = asked.supplierId
    ? ((await call.trx('agreements').where({ kind: asked.kind, supplierId: asked.supplierId, state: 'waiting' }).first('id')) as { id: string } | undefined)
    : undefined
  if (waiting) throw new RuleBroken(stop('agreement.waiting'))
  const id = randomUUID()
  await call.trx('agreements').insert({ id, ...asked, subject: JSON.stringify(asked.subject), askedBy: call.actor.id, askedAt: call.now, state: 'waiting' })
  await call.trx.raw('select pg_notify(?, ?)', ['ivory', JSON.stringify({ kind: 'agreement', id })])
  return { id, version: 1 }
}

/** Keeps a new supplier that shares a strong identifier until a second person agrees. */
export async function askForShared(call: Call, supplier: SupplierBody & { iban?: string | undefined }, reason: string): Promise<{ id: string; version: number }> {
  refuseStops(checkBody(supplier, 'active'))
  if ((await sharedIdentifiers(call, supplier, null)).length + (await sharedAccount(call, supplier.iban ?? '')).length === 0) throw new RuleBroken(stop('agreement.notShared'))
  return askAgreement(call, { kind: 'sharedIdentifier', supplierId: null, subject: { supplier }, reason })
}

type Answer = BodyOf<typeof AnswerAgreement>['answer']

/** Agrees, refuses or takes back. Nobody agrees to what they asked for themselves. */
export async function answerAgreement(
  call: Call,
  id: string,
  version: number,
  answer: Answer,
  reason: string,
): Promise<{ id: string; version: number; supplierId: string | null }> {
  const row = found((await call.trx('agreements').where({ id }).forNoKeyUpdate().first()) as AgreementRow | undefined, 'agreement')
  if (row.state !== 'waiting') throw new RuleBroken(stop('agreement.answered', { state: row.state }))
  await guardVersion(call, row, version)
  const own = row.askedBy === call.actor.id
  if (answer === 'withdraw' && !own) throw new RuleBroken(stop('agreement.notYours'))
  if (answer !== 'withdraw') need(call, 'supplier.agree')
  if (answer === 'agree' && own) throw new RuleBroken(stop('agreement.own', {}, { clearedBy: ['buyer', 'sourcingLead', 'treasurer', 'financeController'] }))
  const state = ({ agree: 'agreed', refuse: 'refused', withdraw: 'withdrawn' } as const)[answer]
  await call
    .trx('agreements')
    .where({ id })
    .update({ state, answeredBy: call.actor.id, answeredAt: call.now, answerReason: reason, version: version + 1 })
  const supplierId = answer === 'agree' ? await carryOut(call, row, reason) : row.supplierId
  if (answer !== 'agree' && row.supplierId) await record(call, { kind: 'supplier', id: row.supplierId, action: answer === 'refuse' ? 'barRefused' : 'barWithdrawn', reason })
  return { id, version: version + 1, supplierId }
}

async function carryOut(call: Call, row: AgreementRow, reason: string): Promise<string> {
  if (row.kind === 'bar') {
    const supplier = await lockSupplier(call, row.supplierId!)
    await moveSupplier(call, supplier, 'bar', `${row.reason} Agreed: ${reason}`)
    return supplier.id
  }
  const made = await createSupplier(call, row.subject.supplier!, { agreementId: row.id })
  await record(call, { kind: 'supplier', id: made.id, action: 'sharedAgreed', changes: { askedBy: row.askedBy, why: row.reason }, reason })
  await call.trx('agreements').where({ id: row.id }).update({ supplierId: made.id })
  return made.id
}

export async function readAgreement(call: Call, id: string): Promise<ResponseOf<typeof ReadAgreement>> {
  const row = found(
    (await call
      .trx('agreements')
      .join('people', 'people.id', 'agreements.askedBy')
      .leftJoin('suppliers', 'suppliers.id', 'agreements.supplierId')
      .where('agreements.id', id)
      .first('agreements.*', 'people.name as asker', 'suppliers.name as supplierName')) as (AgreementRow & { asker: string; supplierName: string | null }) | undefined,
    'agreement',
  )
  const body = row.subject.supplier
  const values = [...(body?.identifiers ?? []).map(one => normalIdentifier(one.value)), ...(body?.iban ? [normalIdentifier(body.iban)] : [])]
  const { rows: others } = (await call.trx.raw(
    `select distinct s.id, s.number, s.name from suppliers s where s.merged_into is null and (exists (select 1 from supplier_identifiers where supplier_id = s.id and value = any(:values)) or exists (select 1 from supplier_bank_accounts where supplier_id = s.id and state <> 'closed' and iban = any(:values)))`,
    { values },
  )) as { rows: { id: string; number: string; name: string }[] }
  return {
    id,
    kind: row.kind,
    supplierId: row.supplierId,
    name: row.supplierName ?? body?.name ?? '',
    subject: values.join(', '),
    others: others.filter(other => other.id !== row.supplierId),
    reason: row.reason,
    askedBy: row.asker,
    askedAt: row.askedAt,
    state: row.state,
    mine: row.askedBy === call.actor.id,
    mayAnswer: row.state === 'waiting' && may(call, 'supplier.agree') && row.askedBy !== call.actor.id,
    version: row.version,
  }
}

/** The agreement that waits for this supplier, if any. */
export async function waitingAgreement(call: Call, supplierId: string): Promise<ResponseOf<typeof ReadAgreement> | null> {
  const row = (await call.trx('agreements').where({ supplierId, state: 'waiting' }).first('id')) as { id: string } | undefined
  return row ? readAgreement(call, row.id) : null
}
