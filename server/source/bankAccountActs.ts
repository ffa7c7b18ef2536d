import { randomUUID } from 'node:crypto'
import { answerConsent, endConsent, type ConsentNext } from '#core/consent/consent.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { checkIban, normalIdentifier } from '#core/source/identifiers.ts'
import { whyNotChange } from '#core/source/merging.ts'
import { accountQuestion } from '#core/source/questions.ts'
import { refreshThread } from '#server/thread/refresh.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { askAll, type Asking, latestConsent, settleConsent } from '#server/consent/consentStore.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { mail } from '#server/mail/mail.ts'
import { refreshSearch, type SupplierRow } from '#server/source/supplierStore.ts'

export interface NewAccount {
  readonly iban: string
  readonly bic: string
  readonly holder: string
}
type Holder = Pick<SupplierRow, 'id' | 'name' | 'number'>

/** A new or changed account is unproven until a second person has checked it; the supplier's known contacts are told. */
export async function setBankAccount(
  call: Write,
  id: string,
  account: NewAccount & { version: number },
): Promise<Done> {
  const supplier = await hold(call, 'supplier', id, account.version)
  refuse(whyNotChange(supplier))
  refuseStops(checkIban(account.iban, 'iban'))
  await replaceAccount(call, supplier, account)
  return await move(call, 'supplier', supplier, {}, changed(account))
}

const changed = (account: NewAccount) => ({
  action: 'bankAccountChanged',
  changes: { iban: normalIdentifier(account.iban), holder: account.holder },
  reason: null,
})

/** Takes an account over where it is another one than is there. The caller holds the supplier. */
export async function takeAccount(call: Write, supplier: SupplierRow, account: NewAccount): Promise<void> {
  const current = await call
    .trx('supplierBankAccounts')
    .where({ supplierId: supplier.id })
    .whereNot({ state: 'closed' })
    .first('iban')
  if (current?.iban === normalIdentifier(account.iban)) return
  await replaceAccount(call, supplier, { ...account, holder: account.holder || supplier.name })
  await record(call, { kind: 'supplier', id: supplier.id, ...changed(account) })
}

/** Closes the account that is there and puts another one, unproven, in its place; a second person is asked to prove it. */
export async function replaceAccount(call: Write, supplier: Holder, account: NewAccount): Promise<void> {
  await call
    .trx('supplierBankAccounts')
    .where({ supplierId: supplier.id })
    .whereNot({ state: 'closed' })
    .update({ state: 'closed' })
  await settleProof(call, supplier.id, consent => endConsent(consent, 'dropped'))
  const accountId = randomUUID()
  const iban = normalIdentifier(account.iban)
  await call.trx('supplierBankAccounts').insert({
    id: accountId,
    supplierId: supplier.id,
    iban,
    bic: account.bic,
    holder: account.holder,
    state: 'unproven',
    changedBy: call.actor.id,
    changedAt: call.now,
  })
  await askAll(call, [proofAsked(call, supplier, { id: accountId, iban })])
  await refreshSearch(call, [supplier.id])
  await refreshThread(call, { judgedOf: [supplier.id] })
  await tellContacts(call, supplier, { id: accountId, iban })
}

/** Asks a second person to check an account. */
export const proofAsked = (
  call: Write,
  supplier: Holder,
  account: { readonly id: string; readonly iban: string },
): Asking => ({
  question: accountQuestion(supplier.id, account.id, call.actor.id),
  about: {
    number: supplier.number,
    title: supplier.name,
    who: call.actor.name,
    extra: account.iban.slice(-4),
    amount: null,
    currency: null,
    needBy: null,
    path: pathOf('supplier', supplier.id),
  },
})

/** Ends the question about an account, if one is open. */
async function settleProof(
  call: Write,
  supplierId: string,
  next: (consent: NonNullable<Awaited<ReturnType<typeof latestConsent>>>) => ConsentNext,
): Promise<void> {
  const consent = await latestConsent(call, supplierId, 'account')
  if (consent?.state === 'open') await settleConsent(call, consent, next(consent))
}

async function tellContacts(
  call: Write,
  supplier: Holder,
  account: { readonly id: string; readonly iban: string },
): Promise<void> {
  const contacts = await call
    .trx('supplierContacts')
    .where({ supplierId: supplier.id })
    .whereNot({ email: '' })
    .orderBy('position')
    .limit(5)
  for (const contact of contacts)
    await mail(
      call,
      contact,
      'supplier.accountChanged',
      `account-told:${account.id}:${contact.email}`,
      { kind: 'supplier', id: supplier.id },
      { supplier: supplier.name, ending: account.iban.slice(-4) },
    )
}

/** Records who checked an account and how. Two people at once: the second finds it checked. */
export async function proveBankAccount(
  call: Write,
  id: string,
  accountId: string,
  version: number,
  proof: string,
): Promise<Done> {
  const supplier = await hold(call, 'supplier', id)
  const account = found(
    await call.trx('supplierBankAccounts').where({ id: accountId, supplierId: id }).first(),
    'bankAccount',
  )
  if (account.state !== 'unproven') throw new RuleBroken(stop('source.accountNotUnproven'))
  await hold(call, 'supplier', id, version)
  const question = found(await latestConsent(call, id, 'account'), 'bankAccount')
  const answered = answerConsent(question, call.actor, 'approve', proof)
  if (!answered.ok) throw new RuleBroken(answered.reasons)
  await settleConsent(call, question, answered.next)
  await call
    .trx('supplierBankAccounts')
    .where({ id: accountId })
    .update({ state: 'proven', provenBy: call.actor.id, provenAt: call.now, proof })
  return await move(call, 'supplier', supplier, {}, { action: 'bankAccountProven', changes: {}, reason: proof })
}
