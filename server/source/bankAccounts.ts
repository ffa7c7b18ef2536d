import { randomUUID } from 'node:crypto'
import { checkIban, normalIdentifier } from '#core/source/identifiers.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { mail } from '#server/outbox/post.ts'
import { lockSupplier, refreshSearch, touch } from '#server/source/supplierStore.ts'

export interface NewAccount {
  readonly iban: string
  readonly bic: string
  readonly holder: string
}

/** A new or changed account is unproven until a second person has checked it; the supplier's known contacts are told. */
export async function setBankAccount(call: Call, id: string, account: NewAccount & { version: number }): Promise<Done> {
  const supplier = await lockSupplier(call, id)
  await guardVersion(call, supplier, account.version)
  if (supplier.mergedInto) throw new RuleBroken(stop('merge.already', { name: supplier.name }))
  refuseStops(checkIban(account.iban, 'iban'))
  await replaceAccount(call, supplier, account)
  return touch(call, supplier)
}

/** Closes the account that is there and puts another one, unproven, in its place. The caller holds the supplier. */
export async function replaceAccount(call: Call, supplier: { id: string; name: string; version: number }, account: NewAccount): Promise<void> {
  await call.trx('supplierBankAccounts').where({ supplierId: supplier.id }).whereNot({ state: 'closed' }).update({ state: 'closed' })
  await insertAccount(call, supplier.id, account)
  await refreshSearch(call, [supplier.id])
  await record(call, { kind: 'supplier', id: supplier.id, action: 'bankAccountChanged', changes: { iban: normalIdentifier(account.iban), holder: account.holder } })
  const contacts = (await call.trx('supplierContacts').where({ supplierId: supplier.id }).whereNot({ email: '' }).orderBy('position').limit(5)) as { email: string; name: string }[]
  for (const contact of contacts)
    await mail(
      call,
      `account-told:${supplier.id}:${supplier.version + 1}:${contact.email}`,
      { kind: 'supplier', id: supplier.id },
      {
        to: contact.email,
        subject: 'Your bank account at Saltmere Aquarium Trust was changed',
        text: `Dear ${contact.name},\n\nthe account that we pay ${supplier.name} to was changed to one ending in ${normalIdentifier(account.iban).slice(-4)}. We shall pay to it only after a second person has checked it with you.\n\nIf you did not ask for this, please call us on the number that you know.\n`,
      },
    )
}

/** Records who checked an account and how. Two people at once: the second finds it checked. */
export async function proveBankAccount(call: Call, id: string, accountId: string, version: number, proof: string): Promise<Done> {
  const supplier = await lockSupplier(call, id)
  const account = found(
    (await call.trx('supplierBankAccounts').where({ id: accountId, supplierId: id }).first()) as { state: string; changedBy: string } | undefined,
    'bankAccount',
  )
  if (account.state !== 'unproven') throw new RuleBroken(stop('source.accountNotUnproven'))
  await guardVersion(call, supplier, version)
  if (account.changedBy === call.actor.id) throw new RuleBroken(stop('source.ownProof', {}, { clearedBy: ['treasurer', 'financeController'] }))
  await call.trx('supplierBankAccounts').where({ id: accountId }).update({ state: 'proven', provenBy: call.actor.id, provenAt: call.now, proof })
  await record(call, { kind: 'supplier', id, action: 'bankAccountProven', reason: proof })
  return touch(call, supplier)
}

async function insertAccount(call: Call, supplierId: string, account: NewAccount): Promise<void> {
  await call.trx('supplierBankAccounts').insert({
    id: randomUUID(),
    supplierId,
    iban: normalIdentifier(account.iban),
    bic: account.bic,
    holder: account.holder,
    state: 'unproven',
    changedBy: call.actor.id,
    changedAt: call.now,
  })
}
